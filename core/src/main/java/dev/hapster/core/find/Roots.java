package dev.hapster.core.find;

import dev.hapster.core.disk.OpenFolder;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.NotDirectoryException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/**
 * The folders below which files may be read. Links are resolved before a path is judged. What accounts lead to may be
 * read as well: whoever made an account allows it. Immutable.
 */
public final class Roots {

    /** What lies in a workspace and is Hapster's own: its store and the definitions. */
    private static final List<String> OWN =
            List.of("store", "jobs", "datasets", "queries", "accounts.yaml", "values.yaml");

    private final List<Path> roots;
    private final List<Path> own;
    private final Remotes remotes;

    private Roots(List<Path> roots, List<Path> own, Remotes remotes) {
        this.roots = List.copyOf(roots);
        this.own = List.copyOf(own);
        this.remotes = remotes;
    }

    /** The same, and what accounts lead to on other machines. */
    public Roots reaching(Remotes others) {
        return new Roots(roots, own, others);
    }

    /** What leads to folders on other machines. */
    public Remotes remotes() {
        return remotes;
    }

    /**
     * The path that a text stands for.
     *
     * @param base to which relative texts refer
     * @throws java.nio.file.InvalidPathException where it is none
     */
    public Path resolve(Path base, String text) {
        return remotes.resolve(base, text);
    }

    /** The same, but for what is Hapster's own in a workspace: no job may read it, move it, or write there. */
    public Roots keepingOf(Path workspace) throws IOException {
        Path real = workspace.toRealPath();
        return new Roots(
                roots,
                OWN.stream()
                        .flatMap(name -> Stream.of(
                                real.resolve(name),
                                workspace.toAbsolutePath().normalize().resolve(name)))
                        .distinct()
                        .toList(),
                remotes);
    }

    /** Whether a path, with all links resolved or as it is written, is Hapster's own. */
    public boolean own(Path path) {
        Path plain = path.toAbsolutePath().normalize();
        return own.stream().anyMatch(plain::startsWith);
    }

    /** @throws IOException where a root does not exist */
    public static Roots of(List<Path> folders) throws IOException {
        List<Path> real = new ArrayList<>();
        for (Path folder : folders) {
            real.add(folder.toRealPath());
        }
        return new Roots(real, List.of(), Remotes.none());
    }

    /** Absolute, with all links resolved. */
    public List<Path> folders() {
        return roots;
    }

    /** Whether an existing path, with all links resolved, lies in or below one of the roots. */
    public boolean hold(Path existing) throws IOException {
        return holdReal(existing.toRealPath());
    }

    /** The same for a path whose links are resolved already. */
    boolean holdReal(Path real) {
        return Remotes.isRemote(real) || (roots.stream().anyMatch(real::startsWith) && !own(real));
    }

    /** A file that was to be opened lies outside the roots, or is Hapster's own. */
    public static final class OutsideException extends IOException {
        OutsideException(Path path, Path real) {
            super(path + (path.equals(real) ? "" : " leads to " + real + ", which")
                    + " lies outside the folders that the service may use");
        }
    }

    /**
     * Opens a file to be read: links are resolved once, what they lead to is judged, and exactly that is opened.
     *
     * @throws OutsideException where it lies outside the roots now, wherever it lay when it was found
     */
    public FileChannel open(Path file) throws IOException {
        if (file instanceof RemotePath elsewhere) {
            return remotes.open(elsewhere);
        }
        return OpenFolder.read(inside(file));
    }

    /** Holds a folder open. */
    public OpenFolder openFolder(Path folder) throws IOException {
        return OpenFolder.of(inside(folder));
    }

    private Path inside(Path path) throws IOException {
        Path real = path.toRealPath();
        if (!holdReal(real)) {
            throw new OutsideException(path, real);
        }
        return real;
    }

    /** Makes and opens the folder, which must lie below the roots also when links are followed. */
    public OpenFolder makeFolder(Path folder) throws IOException {
        Path existing = folder;
        while (existing != null && !Files.exists(existing)) {
            existing = existing.getParent();
        }
        if (own(folder) || (existing != null && own(existing.toRealPath()))) {
            throw new IOException(folder + " belongs to Hapster's own store or definitions");
        }
        if (existing == null || !hold(existing)) {
            throw new IOException(folder + " lies outside the folders that the service may use (" + this + ")");
        }
        if (!Files.isDirectory(existing)) {
            throw new NotDirectoryException(existing.toString());
        }
        try {
            Files.createDirectories(folder);
        } catch (FileAlreadyExistsException file) {
            throw new NotDirectoryException(file.getFile());
        }
        return openFolder(folder);
    }

    /** Whether a path would lie below a root as it is written; for paths that do not exist. */
    public boolean holdAsWritten(Path path) {
        Path plain = path.toAbsolutePath().normalize();
        return Remotes.isRemote(plain) || (roots.stream().anyMatch(plain::startsWith) && !own(plain));
    }

    @Override
    public String toString() {
        return String.join(", ", roots.stream().map(Path::toString).toList());
    }
}
