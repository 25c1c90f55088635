package dev.hapster.service.catalogue.transaction;

import jakarta.transaction.RollbackException;
import java.sql.SQLException;
import java.util.Optional;
import java.util.Set;
import org.apache.commons.lang3.exception.ExceptionUtils;

/** Tells what is wrong with the catalogue's file from what else goes wrong. */
public final class FileFault {

    /**
     * What H2 says where its file cannot be read or written: 90028 and 90031 input or output, 90098 closed after that,
     * 90007, 90067 and 90121 a connection that ended with it, 90097 read-only, 90020 locked, 50000 anything else within
     * its store.
     */
    private static final Set<Integer> CODES = Set.of(50000, 90007, 90020, 90028, 90031, 90067, 90097, 90098, 90121);

    private static final int LOCKED = 90020;

    private FileFault() {}

    /** The fault of the file that made something fail, or none. A commit that comes to nothing does not say why. */
    public static Optional<Throwable> in(Throwable wrong) {
        return ExceptionUtils.getThrowableList(wrong).stream()
                .filter(cause -> (cause instanceof SQLException sql && CODES.contains(sql.getErrorCode()))
                        || cause instanceof RollbackException)
                .findFirst();
    }

    /** Whether the file was found locked by an earlier opening: so there was no connection, and nothing was done. */
    static boolean isLock(Throwable fault) {
        return fault instanceof SQLException sql && sql.getErrorCode() == LOCKED;
    }
}
