package dev.hapster.service.catalogue.transaction;

import dev.hapster.core.catalogue.CatalogueException;
import dev.hapster.core.reason.Reasons;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import jakarta.persistence.PersistenceException;
import jakarta.transaction.RollbackException;
import java.sql.SQLException;
import java.util.Optional;
import java.util.concurrent.Callable;
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

    private <T> T call(Callable<T> work) {
        return told(() -> QuarkusTransaction.requiringNew().call(work));
    }

    /** Does the work as one transaction of its own, without waiting for the disk. */
    public void note(Runnable work) {
        call(() -> {
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
            T result = call(work);
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
