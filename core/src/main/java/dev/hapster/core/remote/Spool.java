package dev.hapster.core.remote;

import dev.hapster.core.work.Wanted;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicLong;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Copies of files from other machines. One is fetched when it is first asked for, as a whole, and from where it broke
 * off when the connection was lost; it stays for a while, since a file is often read several times. Those not used for
 * longest go when all together are too large. Thread-safe.
 */
final class Spool {

    private static final Logger LOG = LoggerFactory.getLogger(Spool.class);
    /** Bytes of all copies together, not counting the one fetched last. */
    private static final long LIMIT = 1L << 30;

    private static final Duration KEPT_UNUSED = Duration.ofMinutes(5);
    private static final int BLOCK = 1 << 17;
    /** A server that sends so little for so long is given up. */
    private static final Duration SLOW = Duration.ofHours(1);

    private static final long SLOW_BYTES_A_SECOND = 10_000;

    private final Remotes remotes;
    private final Optional<Path> folder;
    private final AtomicLong names = new AtomicLong();
    /** Those whose content is there, the one not used for longest first; guarded by itself. */
    private final Map<RemotePath, Copy> copies = new LinkedHashMap<>(16, 0.75f, true);

    /** Of all copies; guarded by them. */
    private long bytes;
    /** One at a time fetches a file. */
    private final Map<RemotePath, Object> fetching = new HashMap<>();

    /** A copy that is whole. */
    private static final class Copy {
        private final RemoteFile version;
        private final Path file;
        private final boolean doubtful;
        private long used = System.nanoTime();

        Copy(RemoteFile version, Path file) {
            this.version = version;
            doubtful = version.mayLookLikeAnother(Instant.now());
            this.file = file;
        }

        /**
         * Whether it is a copy of a version. While the file may change without looking any different, the copy serves
         * whoever knows the file from the same look at it, and nobody who looked again.
         */
        @SuppressWarnings("ReferenceEquality") // one look, not two that saw the same
        boolean isOf(RemoteFile other) {
            return doubtful ? version == other : version.isSameVersion(other);
        }
    }

    /** @param folder its own; empty where nothing can be reached */
    Spool(Remotes remotes, Optional<Path> folder) {
        this.remotes = remotes;
        this.folder = folder;
    }

    /** Removes what an earlier process left. */
    void clear() throws IOException {
        Path at = folder.orElseThrow();
        if (Files.isDirectory(at)) {
            try (DirectoryStream<Path> left = Files.newDirectoryStream(at, "*.copy")) {
                for (Path one : left) {
                    Files.delete(one);
                }
            }
        }
    }

    FileChannel open(RemotePath path) throws IOException {
        Object lock;
        synchronized (fetching) {
            lock = fetching.computeIfAbsent(path, fresh -> new Object());
        }
        synchronized (lock) {
            try {
                if (path.listed().isPresent()) {
                    try {
                        return open(path, path.listed().get());
                    } catch (RemoteChanged since) {
                        LOG.debug("{} is fetched as it is now", path, since);
                    }
                }
                RemoteFile now = remotes.look(path).orElseThrow(() -> new NoSuchFileException(path.toString()));
                if (!now.isRegularFile()) {
                    throw new RemoteFault(path + " is no ordinary file", false, null);
                }
                return open(path, now);
            } finally {
                synchronized (fetching) {
                    fetching.remove(path, lock);
                }
            }
        }
    }

    private FileChannel open(RemotePath path, RemoteFile version) throws IOException {
        Optional<FileChannel> there = kept(path, version);
        if (there.isPresent()) {
            return there.get();
        }
        Path file = fetch(path, version);
        FileChannel channel = FileChannel.open(file);
        synchronized (copies) {
            Copy old = copies.put(path, new Copy(version, file));
            bytes += version.size();
            if (old != null) {
                drop(old);
            }
            shrink();
        }
        return channel;
    }

    private Optional<FileChannel> kept(RemotePath path, RemoteFile version) {
        synchronized (copies) {
            Copy copy = copies.get(path);
            if (copy == null || !copy.isOf(version)) {
                return Optional.empty();
            }
            try {
                FileChannel channel = FileChannel.open(copy.file);
                copy.used = System.nanoTime();
                return Optional.of(channel);
            } catch (IOException removed) { // by whoever cleans up by hand; it is fetched again
                drop(copies.remove(path));
                return Optional.empty();
            }
        }
    }

    /** An empty file. */
    Path fresh() throws IOException {
        Path at = folder.orElseThrow();
        Files.createDirectories(at);
        return Files.createFile(at.resolve(names.incrementAndGet() + ".copy"));
    }

    /** Fetches a file as a whole; what came before a fault stays for the next try. */
    private Path fetch(RemotePath path, RemoteFile version) throws IOException {
        Path file = fresh();
        boolean whole = false;
        try (FileChannel copy = FileChannel.open(file, StandardOpenOption.WRITE)) {
            Remotes.patiently(() -> more(path, version, copy));
            whole = true;
            return file;
        } finally {
            if (!whole) {
                Files.deleteIfExists(file);
            }
        }
    }

    private boolean more(RemotePath path, RemoteFile version, FileChannel copy) throws IOException {
        byte[] block = new byte[BLOCK];
        long began = System.nanoTime();
        long before = copy.size();
        try (InputStream in = remotes.store(path).read(version, copy.size())) {
            for (int count = in.read(block); count >= 0; count = in.read(block)) {
                if (Wanted.isOver()) {
                    throw new GivenUp(path);
                }
                write(path, copy, ByteBuffer.wrap(block, 0, count));
                if (copy.size() > version.size()) {
                    throw new RemoteChanged(path);
                }
                Duration passed = Duration.ofNanos(System.nanoTime() - began);
                if (passed.compareTo(SLOW) > 0 && copy.size() - before < passed.toSeconds() * SLOW_BYTES_A_SECOND) {
                    throw new RemoteFault(
                            path + " comes too slowly: " + (copy.size() - before) + " bytes in " + passed.toMinutes()
                                    + " minutes",
                            true,
                            null);
                }
            }
        }
        if (copy.size() < version.size()) {
            throw new RemoteFault(
                    "Of " + path + " only " + copy.size() + " of " + version.size() + " bytes came", true, null);
        }
        return true;
    }

    private static void write(RemotePath path, FileChannel copy, ByteBuffer block) throws RemoteFault {
        try {
            copy.position(copy.size());
            while (block.hasRemaining()) {
                copy.write(block);
            }
        } catch (IOException full) { // it is not the file that is at fault
            throw new RemoteFault(
                    "The copy of " + path + " could not be written to the store: " + full.getMessage(), true, full);
        }
    }

    /** Of all copies together. */
    long bytes() {
        synchronized (copies) {
            return bytes;
        }
    }

    /** A file is not needed any more. */
    void release(RemotePath path) {
        synchronized (copies) {
            Copy copy = copies.remove(path);
            if (copy != null) {
                drop(copy);
            }
        }
    }

    /** Lets go of the oldest ones until the others fit; the one just fetched stays. */
    private void shrink() {
        Iterator<Copy> oldest = copies.values().iterator();
        while (bytes > LIMIT && copies.size() > 1) {
            drop(oldest.next());
            oldest.remove();
        }
    }

    /** Lets go of those that nobody has used for a while. */
    void rest() {
        synchronized (copies) {
            long now = System.nanoTime();
            copies.values().removeIf(copy -> {
                boolean old = now - copy.used > KEPT_UNUSED.toNanos();
                if (old) {
                    drop(copy);
                }
                return old;
            });
        }
    }

    private void drop(Copy copy) {
        bytes -= copy.version.size();
        try {
            Files.deleteIfExists(copy.file); // whoever has it open reads on
        } catch (IOException wrong) {
            LOG.warn("{} could not be removed", copy.file, wrong);
        }
    }
}
