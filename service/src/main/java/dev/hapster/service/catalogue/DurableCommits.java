package dev.hapster.service.catalogue;

import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.concurrent.Callable;
import javax.sql.DataSource;

/**
 * Changes of the catalogue that are on disk when they return, not only with the operating system: files are moved and
 * parts removed because of what it says. One force serves all that were committed before it began. Thread-safe.
 */
@ApplicationScoped
class DurableCommits {

    private final DataSource source;
    private long asked;
    private long done;
    private boolean busy;

    DurableCommits(DataSource source) {
        this.source = source;
    }

    /** Does the work as one transaction of its own. */
    void run(Runnable work) {
        QuarkusTransaction.requiringNew().run(work);
        force();
    }

    /** Does the work as one transaction of its own, and gives what it gives. */
    <T> T call(Callable<T> work) {
        T result = QuarkusTransaction.requiringNew().call(work);
        force();
        return result;
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
            throw new IllegalStateException(
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
