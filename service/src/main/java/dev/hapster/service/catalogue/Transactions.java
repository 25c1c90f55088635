package dev.hapster.service.catalogue;

import dev.hapster.core.catalogue.CatalogueException;
import dev.hapster.core.reason.Reasons;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import jakarta.persistence.PersistenceException;
import jakarta.transaction.RollbackException;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.Callable;
import java.util.function.Supplier;
import javax.sql.DataSource;
import org.hibernate.FlushMode;
import org.hibernate.Session;

/**
 * Questions to the catalogue, and changes that are on disk when they return, not only with the operating system: files
 * are moved and parts removed because of what it says. One force serves all that were committed before it began.
 * Thread-safe.
 */
@ApplicationScoped
class Transactions {

    private final DataSource source;
    private final EntityManager entities;
    private long asked;
    private long done;
    private boolean busy;

    Transactions(DataSource source, EntityManager entities) {
        this.source = source;
        this.entities = entities;
    }

    /** Asks within a transaction of its own. What is changed of the records that it gets is not kept. */
    <T> T read(Callable<T> question) {
        return call(() -> {
            Session session = entities.unwrap(Session.class);
            session.setDefaultReadOnly(true);
            session.setHibernateFlushMode(FlushMode.MANUAL); // nothing is looked through for changes
            return question.call();
        });
    }

    private static <T> T call(Callable<T> work) {
        return told(() -> QuarkusTransaction.requiringNew().call(work));
    }

    /** Does the work as one transaction of its own, without waiting for the disk. */
    void note(Runnable work) {
        told(() -> {
            QuarkusTransaction.requiringNew().run(work);
            return null;
        });
    }

    /** Does the work as one transaction of its own. */
    void change(Runnable work) {
        note(work);
        force();
    }

    /** Does the work as one transaction of its own, and gives what it gives. */
    <T> T change(Callable<T> work) {
        T result = call(work);
        force();
        return result;
    }

    private static <T> T told(Supplier<T> work) {
        try {
            return work.get();
        } catch (RuntimeException wrong) {
            for (Throwable cause = wrong; cause != null; cause = cause.getCause()) {
                if (cause instanceof SQLException
                        || cause instanceof PersistenceException
                        || cause instanceof RollbackException) {
                    throw new CatalogueException(
                            "The catalogue cannot be read or written: " + Reasons.deepest(wrong), wrong);
                }
            }
            throw wrong;
        }
    }

    private void force() {
        long upTo;
        synchronized (this) {
            long mine = ++asked;
            while (busy && done < mine) {
                await();
            }
            if (done >= mine) {
                return;
            }
            busy = true;
            upTo = asked;
        }
        boolean forced = false;
        try (Connection connection = source.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("CHECKPOINT SYNC");
            forced = true;
        } catch (SQLException wrong) {
            throw new CatalogueException(
                    "What was committed could not be forced to disk: " + wrong.getMessage(), wrong);
        } finally {
            synchronized (this) {
                busy = false;
                done = forced ? upTo : done;
                notifyAll();
            }
        }
    }

    @SuppressWarnings("WaitNotInLoop") // called in one
    private void await() {
        try {
            wait();
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("Interrupted while the catalogue was forced to disk", stopped);
        }
    }
}
