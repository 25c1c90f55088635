package dev.hapster.core.find;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Sifting.Entry;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileVisitResult;
import java.nio.file.FileVisitor;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
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
    private final Clock clock;
    private final int most;

    /**
     * @param workspace the folder to which relative folders refer
     * @param clock     the present, for rules such as {@code modified: last 7 days}
     */
    public Finder(Path workspace, Roots roots, Clock clock) {
        this(workspace, roots, clock, MOST_ENTRIES);
    }

    Finder(Path workspace, Roots roots, Clock clock, int most) {
        this.clock = clock;
        this.workspace = workspace.toAbsolutePath().normalize();
        this.roots = roots;
        this.most = most;
    }

    /** Lists every file of the places. A file that two places reach is taken by the first of them. */
    public Finding find(List<Place> places) {
        Instant now = clock.instant();
        List<Candidate> candidates = new ArrayList<>();
        List<Sieve> sieves = new ArrayList<>();
        List<Trouble> troubles = new ArrayList<>();
        Set<Path> taken = new HashSet<>();
        for (int i = 0; i < places.size(); i++) {
            Place place = places.get(i);
            Optional<List<Entry>> entries = list(i + 1, place, troubles);
            if (entries.isPresent()) {
                Sifting sifting = new Sifting(i + 1, place, entries.get());
                sieves.add(sifting.sift(now, taken));
                candidates.addAll(sifting.candidates());
            }
        }
        return new Finding(candidates, sieves, troubles);
    }

    /** Every file of a place; empty where its folder cannot be searched. */
    private Optional<List<Entry>> list(int number, Place place, List<Trouble> troubles) {
        Path folder;
        try {
            folder = workspace.resolve(place.folder()).normalize();
        } catch (InvalidPathException wrong) {
            troubles.add(new Trouble(number, true, "'" + place.folder() + "' is no path: " + wrong.getReason(), ""));
            return Optional.empty();
        }
        Optional<Trouble> refusal = refuse(number, place, folder);
        if (refusal.isPresent()) {
            troubles.add(refusal.get());
            return Optional.empty();
        }
        Walk walk = new Walk(number, folder, troubles);
        try {
            Files.walkFileTree(folder, EnumSet.noneOf(java.nio.file.FileVisitOption.class), place.depth() + 1, walk);
        } catch (IOException wrong) {
            troubles.add(new Trouble(number, true, "the folder " + folder + " cannot be searched: " + wrong, ""));
        }
        return Optional.of(walk.entries);
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
        private final List<Trouble> troubles;
        private final List<Entry> entries = new ArrayList<>();
        private int counted;

        Walk(int number, Path folder, List<Trouble> troubles) {
            this.number = number;
            this.folder = folder;
            this.troubles = troubles;
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
            entries.add(entry(file, relative.toString(), attributes));
            return counted();
        }

        private FileVisitResult counted() {
            if (++counted <= most) {
                return FileVisitResult.CONTINUE;
            }
            troubles.add(new Trouble(number, true, "the folder " + folder + " holds more than " + most + " entries; the search stopped there",
                    "Name a folder further down, or lower `depth`"));
            return FileVisitResult.TERMINATE;
        }

        private Entry entry(Path file, String relative, BasicFileAttributes attributes) {
            BasicFileAttributes real = attributes;
            Path target = file;
            Optional<String> unusable = Optional.empty();
            if (attributes.isSymbolicLink()) {
                try {
                    target = file.toRealPath();
                    real = Files.readAttributes(target, BasicFileAttributes.class);
                    unusable = roots.holdReal(target) ? Optional.empty() : Optional.of("a link to " + target + ", outside the roots");
                } catch (IOException broken) {
                    unusable = Optional.of("a link that leads nowhere");
                }
            }
            if (unusable.isEmpty() && !real.isRegularFile()) {
                unusable = Optional.of(real.isDirectory() ? "a link to a folder" : "no ordinary file");
            }
            return new Entry(file, target, relative, real.size(), real.lastModifiedTime().toInstant(), unusable);
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
