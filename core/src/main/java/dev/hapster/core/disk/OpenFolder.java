package dev.hapster.core.disk;

import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.SecureDirectoryStream;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributeView;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;

/**
 * A folder that is held open: whatever becomes of its path, everything done through it is done in this folder. It is
 * opened step by step from the top of the file system, and no step may be a link; nor is a link followed that has the
 * name of a file. Where the system cannot hold folders open, paths are used instead. Not thread-safe.
 */
public final class OpenFolder implements Closeable {

    private static final Set<OpenOption> READ = Set.of(StandardOpenOption.READ, LinkOption.NOFOLLOW_LINKS);
    private static final Set<OpenOption> CREATE =
            Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE, LinkOption.NOFOLLOW_LINKS);

    private final Path path;
    private final Optional<SecureDirectoryStream<Path>> held;

    private OpenFolder(Path path, Optional<SecureDirectoryStream<Path>> held) {
        this.path = path;
        this.held = held;
    }

    /**
     * Opens a folder.
     *
     * @param real its path with all links resolved, as {@link Path#toRealPath} gives it
     * @throws IOException also where a step of the path became a link since it was resolved
     */
    public static OpenFolder of(Path real) throws IOException {
        @SuppressWarnings("StreamResourceLeak") // closed below, or by whoever gets it
        DirectoryStream<Path> top = Files.newDirectoryStream(real.getRoot());
        if (!(top instanceof SecureDirectoryStream<Path> folder)) {
            top.close();
            return new OpenFolder(real, Optional.empty());
        }
        boolean whole = false;
        try {
            for (Path step : real) {
                SecureDirectoryStream<Path> next = folder.newDirectoryStream(step, LinkOption.NOFOLLOW_LINKS);
                folder.close();
                folder = next;
            }
            whole = true;
            return new OpenFolder(real, Optional.of(folder));
        } catch (FileSystemException wrong) {
            throw told(real, wrong);
        } finally {
            if (!whole) {
                folder.close();
            }
        }
    }

    /** Opens a file to be read. */
    public static FileChannel read(Path real) throws IOException {
        try (OpenFolder folder = of(real.getParent())) {
            return folder.read(real.getFileName().toString());
        }
    }

    /** What the system says where a link is met is hard to understand; other faults are as they are. */
    private static IOException told(Path path, FileSystemException wrong) {
        return wrong instanceof NoSuchFileException || wrong instanceof AccessDeniedException
                ? wrong
                : new ReplacedException(path, wrong);
    }

    /** Something has become a link, or something else than a file, since it was found. */
    public static final class ReplacedException extends IOException {
        ReplacedException(Path path, Exception cause) {
            super(path + " was replaced while it was being opened: it, or a folder above it, is now a link", cause);
        }
    }

    public Path path() {
        return path;
    }

    /** What a name in this folder stands for, a link for itself; empty where there is nothing. */
    public Optional<BasicFileAttributes> look(String name) throws IOException {
        try {
            return Optional.of(view(name).readAttributes());
        } catch (NoSuchFileException nothing) {
            return Optional.empty();
        }
    }

    private BasicFileAttributeView view(String name) {
        return held.isPresent()
                ? held.get()
                        .getFileAttributeView(Path.of(name), BasicFileAttributeView.class, LinkOption.NOFOLLOW_LINKS)
                : Files.getFileAttributeView(
                        path.resolve(name), BasicFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
    }

    /**
     * Opens a file to be read.
     *
     * @throws ReplacedException where it is not an ordinary file
     */
    public FileChannel read(String name) throws IOException {
        if (look(name).filter(file -> !file.isRegularFile()).isPresent()) { // reading a pipe would wait for ever
            throw new ReplacedException(path.resolve(name), null);
        }
        try {
            return (FileChannel) open(name, READ);
        } catch (FileSystemException wrong) {
            throw told(path.resolve(name), wrong);
        }
    }

    private SeekableByteChannel open(String name, Set<OpenOption> options) throws IOException {
        return held.isPresent()
                ? held.get().newByteChannel(Path.of(name), options)
                : Files.newByteChannel(path.resolve(name), options);
    }

    /**
     * A file that was not there before, under a name that nobody can guess, to be renamed once it is whole.
     *
     * @param name of the file, as it is to be removed or renamed
     * @param channel to write it
     */
    public record Draft(String name, FileChannel channel) {}

    /**
     * Makes a draft. Its name begins with a dot, which no job takes unless it asks for such files.
     *
     * @param of what it belongs to, by which drafts that were cut off are found again
     */
    public Draft draft(String of) throws IOException {
        String name = beginning(of) + UUID.randomUUID() + ".tmp";
        return new Draft(name, (FileChannel) open(name, CREATE));
    }

    /** Removes the drafts of something that was cut off. */
    public void dropDrafts(String of) throws IOException {
        List<String> drafts = new ArrayList<>();
        try (DirectoryStream<Path> all = held.isPresent()
                ? held.get().newDirectoryStream(Path.of("."), LinkOption.NOFOLLOW_LINKS)
                : Files.newDirectoryStream(path)) {
            for (Path one : all) {
                String name = one.getFileName().toString();
                if (name.startsWith(beginning(of)) && name.endsWith(".tmp")) {
                    drafts.add(name);
                }
            }
        } catch (DirectoryIteratorException wrong) {
            throw wrong.getCause();
        }
        for (String draft : drafts) {
            delete(draft);
        }
    }

    private static String beginning(String of) {
        return ".hapster-" + of + "-";
    }

    /**
     * Gives a file of this folder another name; what had that name is replaced, a link itself and not what it leads to.
     */
    public void rename(String from, String to) throws IOException {
        if (held.isPresent()) {
            held.get().move(Path.of(from), held.get(), Path.of(to));
        } else {
            Files.move(
                    path.resolve(from),
                    path.resolve(to),
                    StandardCopyOption.ATOMIC_MOVE,
                    StandardCopyOption.REPLACE_EXISTING);
        }
    }

    /** Deletes a file, or a link itself. */
    public void delete(String name) throws IOException {
        if (held.isPresent()) {
            held.get().deleteFile(Path.of(name));
        } else {
            Files.delete(path.resolve(name));
        }
    }

    /** Deletes a file where there is one. */
    public void deleteIfThere(String name) throws IOException {
        if (look(name).isPresent()) {
            delete(name);
        }
    }

    /** Says when a file was last written, or a link itself. */
    public void modified(String name, FileTime time) throws IOException {
        view(name).setTimes(time, null, null);
    }

    /** Sees to it that names are on disk, where the system lets folders be opened for that. */
    public void force() throws IOException {
        try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
            channel.force(true);
        } catch (FileSystemException folders) {
            return; // such systems make renames durable by themselves
        }
    }

    @Override
    public void close() throws IOException {
        if (held.isPresent()) {
            held.get().close();
        }
    }
}
