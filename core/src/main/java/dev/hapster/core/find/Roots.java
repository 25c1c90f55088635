package dev.hapster.core.find;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** The folders below which files may be read. Links are resolved before a path is judged. Immutable. */
public final class Roots {

    private final List<Path> roots;

    private Roots(List<Path> roots) {
        this.roots = List.copyOf(roots);
    }

    /** @throws IOException where a root does not exist */
    public static Roots of(List<Path> folders) throws IOException {
        List<Path> real = new ArrayList<>();
        for (Path folder : folders) {
            real.add(folder.toRealPath());
        }
        return new Roots(real);
    }

    public List<Path> folders() {
        return roots;
    }

    /** Whether an existing path, with all links resolved, lies in or below one of the roots. */
    public boolean hold(Path existing) throws IOException {
        return holdReal(existing.toRealPath());
    }

    /** The same for a path whose links are resolved already. */
    boolean holdReal(Path real) {
        return roots.stream().anyMatch(real::startsWith);
    }

    /** Whether a path would lie below a root as it is written; for paths that do not exist. */
    public boolean holdAsWritten(Path path) {
        Path plain = path.toAbsolutePath().normalize();
        return roots.stream().anyMatch(plain::startsWith);
    }

    @Override
    public String toString() {
        return String.join(", ", roots.stream().map(Path::toString).toList());
    }
}
