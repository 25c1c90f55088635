package dev.hapster.core.workspace;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;

/**
 * By what a job knows a file again: its place, and its path below the place's folder. A place that has a {@code name}
 * is known by that; any other by its folder, as it lies below the workspace or below the root that holds it, or by its
 * address on another machine. So nothing changes where workspace and roots are moved as a whole. Immutable.
 */
public final class Sources {

    private final Path workspace;
    private final Roots roots;
    private final Map<Integer, String> places = new HashMap<>();
    private final Map<Integer, Path> folders = new HashMap<>();
    private final Set<String> several;

    private Sources(Sources other, Set<String> several) {
        workspace = other.workspace;
        roots = other.roots;
        places.putAll(other.places);
        folders.putAll(other.folders);
        this.several = Set.copyOf(several);
    }

    public Sources(Path workspace, Roots roots, List<Place> places) {
        this(workspace, roots, numbered(places));
    }

    /** @param places by their number in the job, counted from 1 */
    public Sources(Path workspace, Roots roots, Map<Integer, Place> places) {
        this.workspace = real(workspace);
        this.roots = roots;
        several = Set.of();
        places.forEach((number, place) -> {
            this.places.put(number, place(place));
            folders.put(
                    number,
                    roots.resolve(workspace, place.folder()).toAbsolutePath().normalize());
        });
    }

    private static Map<Integer, Place> numbered(List<Place> places) {
        Map<Integer, Place> numbered = new HashMap<>();
        places.forEach(place -> numbered.put(numbered.size() + 1, place));
        return numbered;
    }

    private static Path real(Path path) {
        try {
            return path.toRealPath();
        } catch (IOException missing) {
            return path.toAbsolutePath().normalize();
        }
    }

    private String place(Place place) {
        return place.name().map(name -> name + ":").orElseGet(() -> folder(roots.resolve(workspace, place.folder())));
    }

    /** A folder as it lies below the workspace, or below a root; with a slash behind. */
    private String folder(Path written) {
        Path folder = written.toAbsolutePath().normalize();
        if (Remotes.isRemote(folder)) {
            return steps(folder).replaceFirst("/+$", "/");
        }
        Path real = real(folder);
        for (Path path : List.of(folder, real)) {
            if (path.startsWith(workspace)) {
                return steps(workspace.relativize(path));
            }
            for (Path root : roots.folders()) {
                if (path.startsWith(root)) {
                    return steps((root.getFileName() == null ? Path.of("") : root.getFileName())
                            .resolve(root.relativize(path)));
                }
            }
        }
        return steps(folder.getFileName() == null ? Path.of("") : folder.getFileName());
    }

    private static String steps(Path path) {
        String text = path.toString().replace('\\', '/');
        return text.isEmpty() ? "" : text + "/";
    }

    /** The same, and knows which of these files have the same path below the folders of several places. */
    public Sources telling(List<Candidate> files) {
        Map<String, Integer> seen = new HashMap<>();
        Set<String> several = new HashSet<>();
        for (Candidate file : files) {
            Integer before = seen.putIfAbsent(file.relative(), file.place());
            if (before != null && before != file.place()) {
                several.add(file.relative());
            }
        }
        return new Sources(this, several);
    }

    /**
     * The name by which people can tell a file from the job's others: its path below its place's folder, or where
     * several places have the same, its identity.
     */
    public String name(Candidate file) {
        return several.contains(file.relative()) ? of(file) : file.relative();
    }

    /** What the identities of a place's files begin with. */
    public String prefix(int place) {
        return places.get(place);
    }

    /** Identity of a file, sheet or entry within its job. */
    public String of(Candidate file) {
        return places.get(file.place()) + file.relative();
    }

    /**
     * Identity of a file of which only the path is known.
     *
     * @param place which place of the job it was found in, counted from 1
     * @param inside its place inside the file, such as {@code !Mar}; empty where the file is meant
     */
    public String of(int place, Path file, String inside) {
        Path plain = file.toAbsolutePath().normalize();
        for (int number :
                Stream.concat(Stream.of(place), folders.keySet().stream()).toList()) {
            if (folders.containsKey(number) && plain.startsWith(folders.get(number))) {
                return places.get(number)
                        + steps(folders.get(number).relativize(plain)).replaceFirst("/$", "")
                        + inside;
            }
        }
        return folder(plain).replaceFirst("/$", "") + inside;
    }
}
