package dev.hapster.service.catalogue.transaction;

import dev.hapster.core.catalogue.CatalogueException;
import io.agroal.api.AgroalDataSource;
import io.agroal.api.AgroalPoolInterceptor;
import jakarta.annotation.PreDestroy;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.inject.Instance;
import jakarta.inject.Singleton;
import java.sql.Connection;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The catalogue's file in the hands of H2, which closes it after a fault of the disk and forgets what it had not
 * written yet, committed or not. The next connection opens it again as if nothing had been. Hence two rules:
 *
 * <ul>
 *   <li>A change that was committed is forced over a connection from before it. Where the file was closed in between,
 *       that connection is dead, and the change is not said to be done.
 *   <li>All connections to a closed file end before a new one opens it. H2 2.3 forgets an open file when the last
 *       connection of an earlier opening ends, and then cannot connect to it any more.
 * </ul>
 *
 * <p>Thread-safe.
 */
@ApplicationScoped
class CatalogueFile {

    private static final Logger LOG = LoggerFactory.getLogger(CatalogueFile.class);

    private final Instance<AgroalDataSource> source;
    private final Connections connections;
    private final ReentrantReadWriteLock use = new ReentrantReadWriteLock();
    private volatile boolean closed;
    private Connection opening;
    private long openings;
    private long asked;
    private long done;
    private boolean busy;

    CatalogueFile(Instance<AgroalDataSource> source, Connections connections) {
        this.source = source;
        this.connections = connections;
    }

    /** All connections to H2 that the pool has opened and not yet ended. */
    @Singleton
    static class Connections implements AgroalPoolInterceptor {

        private final Set<Connection> open = ConcurrentHashMap.newKeySet();

        @Override
        public void onConnectionCreate(Connection created) {
            open.add(of(created));
        }

        @Override
        public void onConnectionDestroy(Connection ended) {
            Connection one = of(ended);
            end(one);
            open.remove(one);
        }

        /** H2's own connection: what the pool shows of it is of no use after this call. */
        private static Connection of(Connection shown) {
            try {
                return shown.unwrap(Connection.class);
            } catch (SQLException never) {
                throw new IllegalStateException("The pool hides its connections", never);
            }
        }

        private void end() {
            for (Connection one : open) {
                end(one);
            }
        }

        private static void end(Connection one) {
            try {
                one.close();
            } catch (SQLException dead) {
                LOG.debug("A connection to the catalogue's closed file is ended", dead);
            }
        }
    }

    /**
     * To be called before the catalogue is used, and {@link #leave} afterwards by the same thread. Waits where the file
     * is being opened again.
     *
     * @throws CatalogueException where it cannot be opened
     */
    void enter() {
        use.readLock().lock();
        while (closed && use.getReadHoldCount() == 1) {
            use.readLock().unlock();
            openAgain();
            use.readLock().lock();
        }
        try {
            open();
        } catch (SQLException | RuntimeException wrong) {
            use.readLock().unlock();
            closed = true;
            throw new CatalogueException("The catalogue cannot be opened: " + wrong.getMessage(), wrong);
        }
    }

    void leave() {
        use.readLock().unlock();
    }

    /** How often it was opened. What was read before it was opened again may have got lost. */
    synchronized long openings() {
        return openings;
    }

    /** To be called after H2 said that its file cannot be read or written. */
    void isClosed() {
        closed = true;
    }

    private void openAgain() {
        use.writeLock().lock();
        try {
            if (closed) {
                end();
                connections.end(); // the pool gives none that has ended, and a flush of it would end later ones as well
                closed = false;
                LOG.warn("The catalogue's file is opened again");
            }
        } finally {
            use.writeLock().unlock();
        }
    }

    private synchronized void open() throws SQLException {
        if (opening == null) {
            opening = source.get().getConnection();
            openings++;
        }
    }

    /**
     * Returns when all that was committed before the call is on disk. One force serves all who ask before it begins.
     *
     * @throws CatalogueException where it is not, or where this is not known
     */
    void force() {
        long upTo;
        Connection connection;
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
            connection = opening;
        }
        boolean forced = false;
        try (Statement statement = connection.createStatement()) {
            statement.execute("CHECKPOINT SYNC");
            forced = true;
        } catch (SQLException wrong) {
            closed = true;
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

    @PreDestroy
    synchronized void end() {
        if (opening != null) {
            Connections.end(opening);
            opening = null;
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
