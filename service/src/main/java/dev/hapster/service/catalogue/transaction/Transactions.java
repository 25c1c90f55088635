package dev.hapster.service.catalogue.transaction;

import dev.hapster.core.catalogue.CatalogueException;
import dev.hapster.core.reason.Reasons;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import jakarta.persistence.PersistenceException;
import jakarta.transaction.RollbackException;
import java.sql.SQLException;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Supplier;
import org.apache.commons.lang3.exception.ExceptionUtils;
import org.hibernate.FlushMode;
import org.hibernate.Session;

/**
 * Questions to the catalogue, and changes that are on disk when they return, not only with the operating system: files
 * are moved and parts removed because of what it says. Thread-safe.
 */
@ApplicationScoped
public class Transactions {

    private static final int TRIES = 3;

    private final CatalogueFile file;
    private final EntityManager entities;
    private final AtomicLong begun = new AtomicLong();
    private final AtomicLong ended = new AtomicLong();

    /**
     * How a table is at a moment. H2 gives it another number with each row that is written and each transaction that
     * ends, shortly before others see what was written.
     *
     * @param opening of the catalogue's file
     * @param written H2's number
     * @param changes how many changes of the catalogue had begun
     * @param quiet whether all of them had ended
     */
    record State(long opening, long written, long changes, boolean quiet) {

        /** Whether the table holds the same. */
        boolean isSame(State later) {
            return opening == later.opening && written == later.written;
        }
    }

    Transactions(CatalogueFile file, EntityManager entities) {
        this.file = file;
        this.entities = entities;
    }

    /** Asks within a transaction of its own. What is changed of the records that it gets is not kept. */
    public <T> T read(Callable<T> question) {
        return call(() -> {
            Session session = entities.unwrap(Session.class);
            session.setDefaultReadOnly(true);
            session.setHibernateFlushMode(FlushMode.MANUAL); // nothing is looked through for changes
            return question.call();
        });
    }

    /** To be asked within a question, before the table is read. */
    State state(String table) {
        long over = ended.get();
        long changes = begun.get();
        Long written = entities.unwrap(Session.class)
                .createNativeQuery(
                        "select last_modification from information_schema.tables"
                                + " where table_schema = 'PUBLIC' and table_name = :name",
                        Long.class)
                .setParameter("name", table.toUpperCase(Locale.ROOT))
                .getSingleResult();
        return new State(file.openings(), written, changes, over == changes);
    }

    /** Whether nobody has written since, or was about to. */
    boolean isQuietSince(State before) {
        return before.quiet() && begun.get() == before.changes();
    }

    private <T> T write(Callable<T> work) {
        begun.incrementAndGet();
        try {
            return call(work);
        } finally {
            ended.incrementAndGet();
        }
    }

    private <T> T call(Callable<T> work) {
        return told(() -> QuarkusTransaction.requiringNew().call(work));
    }

    /** Does the work as one transaction of its own, without waiting for the disk. */
    public void note(Runnable work) {
        write(() -> {
            work.run();
            return null;
        });
    }

    /** Does the work as one transaction of its own. */
    public void change(Runnable work) {
        change(() -> {
            work.run();
            return null;
        });
    }

    /** Does the work as one transaction of its own, and gives what it gives. */
    public <T> T change(Callable<T> work) {
        return told(() -> {
            T result = write(work);
            file.force();
            return result;
        });
    }

    private <T> T told(Supplier<T> work) {
        for (int tries = 1; ; tries++) {
            file.enter();
            try {
                return work.get();
            } catch (RuntimeException wrong) {
                Optional<Throwable> fault = FileFault.in(wrong);
                if (fault.isPresent()) {
                    file.isClosed();
                }
                if (tries == TRIES || fault.isEmpty() || !FileFault.isLock(fault.get())) {
                    throw asCatalogueFault(wrong);
                }
            } finally {
                file.leave();
            }
        }
    }

    private static RuntimeException asCatalogueFault(RuntimeException wrong) {
        for (Throwable cause : ExceptionUtils.getThrowableList(wrong)) {
            if (cause instanceof CatalogueException) {
                return wrong;
            }
            if (cause instanceof SQLException
                    || cause instanceof PersistenceException
                    || cause instanceof RollbackException) {
                return new CatalogueException(
                        "The catalogue cannot be read or written: " + Reasons.deepest(wrong), wrong);
            }
        }
        return wrong;
    }
}
