package dev.hapster.core.find;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.pattern.NamePattern;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileVisitResult;
import java.nio.file.FileVisitor;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Searches the places of a job. Folders outside the roots are refused, links are followed for files inside the roots
 * only, and no more than a stated number of entries is looked at. Immutable and thread-safe.
 */
public final class Finder {

    /** Entries (files and folders) that one place may hold before the search stops and says so. */
    public static final int MOST_ENTRIES = 100_000;

    private final Path workspace;
    private final Roots roots;
    private final int most;

    /** @param workspace the folder to which relative folders refer */
    public Finder(Path workspace, Roots roots) {
        this(workspace, roots, MOST_ENTRIES);
    }

    Finder(Path workspace, Roots roots, int most) {
        this.workspace = workspace.toAbsolutePath().normalize();
        this.roots = roots;
        this.most = most;
    }

    /** Lists every file of the places. A file that two places reach is taken by the first of them. */
    public Finding find(List<Place> places) {
        List<Candidate> candidates = new ArrayList<>();
        List<Trouble> troubles = new ArrayList<>();
        Set<Path> seen = new HashSet<>();
        for (int i = 0; i < places.size(); i++) {
            List<Candidate> here = new ArrayList<>();
            search(i + 1, places.get(i), here, troubles, seen);
            here.sort(Comparator.comparing(Candidate::relative));
            candidates.addAll(here);
        }
        return new Finding(candidates, troubles);
    }

    private void search(int number, Place place, List<Candidate> candidates, List<Trouble> troubles, Set<Path> seen) {
        Path folder;
        try {
            folder = workspace.resolve(place.folder()).normalize();
        } catch (InvalidPathException wrong) {
            troubles.add(new Trouble(number, true, "'" + place.folder() + "' is no path: " + wrong.getReason(), ""));
            return;
        }
        Optional<Trouble> refusal = refuse(number, place, folder);
        if (refusal.isPresent()) {
            troubles.add(refusal.get());
            return;
        }
        try {
            Files.walkFileTree(folder, EnumSet.noneOf(java.nio.file.FileVisitOption.class), place.depth() + 1,
                    new Walk(number, place, folder, candidates, troubles, seen));
        } catch (IOException wrong) {
            troubles.add(new Trouble(number, true, "the folder " + folder + " cannot be searched: " + wrong, ""));
        }
    }

    private Optional<Trouble> refuse(int number, Place place, Path folder) {
        try {
            if (!roots.hold(folder)) {
                return Optional.of(outside(number, folder));
            }
            if (!Files.isDirectory(folder)) {
                return Optional.of(new Trouble(number, true, folder + " is a file, not a folder",
                        "Name its folder, and the file under `take`"));
            }
        } catch (AccessDeniedException wrong) {
            return Optional.of(new Trouble(number, true, "the folder " + folder + " may not be read", "Give the service's account the right to read it"));
        } catch (IOException missing) {
            return Optional.of(!roots.holdAsWritten(folder) ? outside(number, folder) : new Trouble(number, true,
                    "the folder " + folder + " does not exist", place.folder().contains("${")
                            ? "Write the folder out; names in ${…} are not known here" : "Create it, or correct `folder`"));
        }
        return Optional.empty();
    }

    private Trouble outside(int number, Path folder) {
        return new Trouble(number, true, "the folder " + folder + " lies outside the folders that the service may read (" + roots + ")",
                "Start the service with `--root " + folder + "`");
    }

    private final class Walk implements FileVisitor<Path> {
        private final int number;
        private final Path folder;
        private final List<Candidate> candidates;
        private final List<Trouble> troubles;
        private final Set<Path> seen;
        private final List<NamePattern> take;
        private final List<NamePattern> leave;
        private int entries;

        Walk(int number, Place place, Path folder, List<Candidate> candidates, List<Trouble> troubles, Set<Path> seen) {
            this.number = number;
            this.folder = folder;
            this.candidates = candidates;
            this.troubles = troubles;
            this.seen = seen;
            take = place.take().stream().map(NamePattern::of).toList();
            leave = place.leave().stream().map(NamePattern::of).toList();
        }

        @Override
        public FileVisitResult preVisitDirectory(Path dir, BasicFileAttributes attributes) {
            return counted();
        }

        @Override
        public FileVisitResult visitFile(Path file, BasicFileAttributes attributes) {
            if (attributes.isDirectory()) {
                return FileVisitResult.CONTINUE; // a folder below the stated depth
            }
            StringBuilder relative = new StringBuilder();
            folder.relativize(file).forEach(piece -> relative.append(relative.isEmpty() ? "" : "/").append(piece));
            candidates.add(judge(file, relative.toString(), attributes));
            return counted();
        }

        private FileVisitResult counted() {
            if (++entries <= most) {
                return FileVisitResult.CONTINUE;
            }
            troubles.add(new Trouble(number, true, "the folder " + folder + " holds more than " + most + " entries; the search stopped there",
                    "Name a folder further down, or lower `depth`"));
            return FileVisitResult.TERMINATE;
        }

        private Candidate judge(Path file, String relative, BasicFileAttributes attributes) {
            for (NamePattern pattern : leave) {
                if (pattern.matches(relative)) {
                    return candidate(file, relative, attributes, false, "leave \"" + pattern + "\"");
                }
            }
            Optional<NamePattern> taking = take.stream().filter(pattern -> pattern.matches(relative)).findFirst();
            if (taking.isEmpty()) {
                return candidate(file, relative, attributes, false, "no take pattern matches");
            }
            BasicFileAttributes real = attributes;
            Path target = file;
            if (attributes.isSymbolicLink()) {
                try {
                    target = file.toRealPath();
                    real = Files.readAttributes(target, BasicFileAttributes.class);
                } catch (IOException broken) {
                    return candidate(file, relative, attributes, false, "a link that leads nowhere");
                }
                if (!roots.holdReal(target)) {
                    return candidate(file, relative, attributes, false, "a link to " + target + ", outside the roots");
                }
            }
            if (!real.isRegularFile()) {
                return candidate(file, relative, real, false, real.isDirectory() ? "a link to a folder" : "no ordinary file");
            }
            if (!seen.add(target)) {
                return candidate(file, relative, real, false, "taken already, by an earlier place or link");
            }
            return candidate(file, relative, real, true, "take \"" + taking.get() + "\"");
        }

        private Candidate candidate(Path file, String relative, BasicFileAttributes attributes, boolean taken, String rule) {
            return new Candidate(number, file, relative, attributes.size(), attributes.lastModifiedTime().toInstant(), taken, rule);
        }

        @Override
        public FileVisitResult visitFileFailed(Path file, IOException wrong) {
            if (!(wrong instanceof java.nio.file.NoSuchFileException)) {
                troubles.add(new Trouble(number, file.equals(folder), file + " cannot be looked into: "
                        + (wrong instanceof AccessDeniedException ? "reading it is not allowed" : wrong.getMessage()),
                        "Give the service's account the right to read it"));
            }
            return counted();
        }

        @Override
        public FileVisitResult postVisitDirectory(Path dir, IOException wrong) {
            if (wrong != null) {
                troubles.add(new Trouble(number, dir.equals(folder), dir + " could not be read to its end: " + wrong.getMessage(), "Run again"));
            }
            return FileVisitResult.CONTINUE;
        }
    }
}
