package dev.hapster.core.remote;

import dev.failsafe.Failsafe;
import dev.failsafe.FailsafeException;
import dev.failsafe.RetryPolicy;
import dev.failsafe.event.ExecutionAttemptedEvent;
import dev.failsafe.function.CheckedSupplier;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Everything on other machines that a workspace can reach. What fails for a moment is tried again a few times, with
 * growing pauses. Thread-safe.
 */
public final class Remotes implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Remotes.class);
    private static final int TRIES = 3;
    private static final Duration FIRST_PAUSE = Duration.ofMillis(500);
    private static final Duration LONGEST_PAUSE = Duration.ofSeconds(5);

    private static final RetryPolicy<Object> PATIENCE = RetryPolicy.builder()
            .handleIf(RemoteFault::isPassing)
            .abortOn(RemoteChanged.class, GivenUp.class)
            .withMaxAttempts(TRIES)
            .withBackoff(FIRST_PAUSE, LONGEST_PAUSE, 4)
            .onFailedAttempt(Remotes::tell)
            .build();

    /** Knows accounts, and speaks with the servers they lead to. */
    public interface Accounts extends AutoCloseable {
        /**
         * @param scheme how an address says that it is reached: {@code sftp} or {@code s3}
         * @throws RemoteFault where there is no such account, or it leads to something else
         */
        RemoteStore store(String scheme, String account) throws RemoteFault;

        /** Called from time to time: connections that nobody has used for a while are let go of. */
        void rest();

        @Override
        void close();
    }

    private static final class None implements Accounts {
        @Override
        public RemoteStore store(String scheme, String account) throws RemoteFault {
            throw new RemoteFault("There is no account '" + account + "'", false, null);
        }

        @Override
        public void rest() {
            // it holds nothing
        }

        @Override
        public void close() {
            // it holds nothing
        }
    }

    private final Accounts accounts;
    private final Spool spool;
    private final RemoteFileSystem system = new RemoteFileSystem(this);

    private Remotes(Accounts accounts, Optional<Path> scratch) {
        this.accounts = accounts;
        spool = new Spool(this, scratch);
    }

    /**
     * @param scratch a folder of its own for copies of what is being read; it need not exist, and what lies in it is
     *     removed
     */
    public static Remotes of(Accounts accounts, Path scratch) throws IOException {
        Remotes remotes = new Remotes(accounts, Optional.of(scratch));
        remotes.spool.clear();
        return remotes;
    }

    /** Reaches nothing. */
    public static Remotes none() {
        return new Remotes(new None(), Optional.empty());
    }

    /** To be called every few seconds: lets go of connections and copies that nobody has used for a while. */
    public void rest() {
        accounts.rest();
        spool.rest();
    }

    /** Whether a text is the address of something on another machine, or looks like one. */
    public static boolean isAddress(String text) {
        return RemotePath.isAddress(text);
    }

    /** Whether a path leads to another machine. */
    public static boolean isRemote(Path path) {
        return path instanceof RemotePath;
    }

    /**
     * The path that a text stands for.
     *
     * @param base to which relative texts refer
     * @param text an address such as {@code sftp://account/in}, or a path on this machine
     * @throws InvalidPathException where it is neither
     */
    public Path resolve(Path base, String text) {
        return RemotePath.isAddress(text)
                ? RemotePath.of(system, text).normalize()
                : base.resolve(text).normalize();
    }

    /** What speaks with the server on which a path lies. */
    public RemoteStore store(RemotePath path) throws RemoteFault {
        return accounts.store(path.scheme(), path.account());
    }

    /** What lies there; empty where nothing does. */
    public Optional<RemoteFile> look(RemotePath path) throws IOException {
        return patiently(() -> store(path).look(path.below()));
    }

    /**
     * A copy of a file's content, as it is now, or as it was listed where it has not changed since. It can be read for
     * as long as it is open, whatever becomes of the file.
     */
    public FileChannel open(RemotePath path) throws IOException {
        return spool.open(path);
    }

    /** Fetches those of the paths that lead to other machines, since they will be read soon. */
    public Ahead ahead(List<Path> paths) {
        return Ahead.begin(
                paths.stream()
                        .filter(RemotePath.class::isInstance)
                        .map(RemotePath.class::cast)
                        .toList(),
                spool);
    }

    /** Nobody is going to read a file again soon. */
    public void release(Path path) {
        if (path instanceof RemotePath elsewhere) {
            spool.release(elsewhere);
        }
    }

    /**
     * A file that nobody else uses, to be deleted by whoever asked for it; it is gone with the next start at the
     * latest.
     */
    public Path scratchFile() throws IOException {
        return spool.fresh();
    }

    /**
     * Puts a file of our own there, whole or not at all, and makes the folders that it needs.
     *
     * @param replacing whether what is there is replaced
     * @throws java.nio.file.FileAlreadyExistsException where something is there that is not to be replaced
     */
    public void send(Path file, RemotePath to, boolean replacing) throws IOException {
        String draft = ".hapster-" + UUID.randomUUID() + ".tmp";
        patiently(() -> {
            store(to).write(to.below(), RemoteStore.Outgoing.of(file), draft, replacing);
            return true;
        });
    }

    /**
     * Does something that is the same when it is done twice; faults that may pass are waited for, a little.
     *
     * @throws IOException the last fault
     */
    public static <T> T patiently(CheckedSupplier<T> act) throws IOException {
        try {
            return Failsafe.with(PATIENCE).get(act);
        } catch (FailsafeException wrong) {
            if (wrong.getCause() instanceof IOException fault) {
                throw fault;
            }
            throw new IOException(wrong.getCause());
        }
    }

    private static void tell(ExecutionAttemptedEvent<Object> attempt) {
        if (RemoteFault.isPassing(attempt.getLastException())) {
            LOG.info(
                    "{} (attempt {} of {})", attempt.getLastException().getMessage(), attempt.getAttemptCount(), TRIES);
        }
    }

    @Override
    public void close() {
        accounts.close();
    }
}
