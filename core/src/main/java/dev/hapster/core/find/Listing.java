package dev.hapster.core.find;

import dev.hapster.core.find.Finding.Trouble;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * Everything that lies in the folder of a place, before any rule has looked at it. Immutable; rules may be tried on it
 * again and again.
 */
public final class Listing {

    /**
     * A file as it was listed.
     *
     * @param real the file itself, where it was reached through a link
     * @param unusable why it can never be taken, such as a link to nowhere; empty where it can
     * @param entry its path in the archive that {@code path} names; empty for the file itself
     * @param broken whether it is an archive that should have been looked into, and could not
     */
    record Entry(
            Path path,
            Path real,
            String relative,
            long size,
            Instant modified,
            BirthTime birth,
            Optional<String> unusable,
            Optional<String> entry,
            boolean broken) {

        Entry(
                Path path,
                Path real,
                String relative,
                long size,
                Instant modified,
                BirthTime birth,
                Optional<String> unusable) {
            this(path, real, relative, size, modified, birth, unusable, Optional.empty(), false);
        }

        /** By what it is told from all others, whatever way led to it. */
        String identity() {
            return real + entry.map(name -> "!/" + name).orElse("");
        }

        String folder() {
            return relative.substring(0, Math.max(0, relative.lastIndexOf('/')));
        }

        boolean isLinked() {
            return path != real;
        }
    }

    /** By path. */
    final List<Entry> entries;

    final List<Trouble> troubles;
    /** Files that a process has open for writing, with the process. */
    final Map<Path, String> open;
    /** Names in the list; -1 where the folder was searched. */
    final long listed;

    private final Instant at;

    Listing(List<Entry> entries, List<Trouble> troubles, Map<Path, String> open, long listed, Instant at) {
        this.entries = entries.parallelStream()
                .sorted(Comparator.comparing(Entry::relative))
                .toList();
        this.troubles = List.copyOf(troubles);
        this.open = Map.copyOf(open);
        this.listed = listed;
        this.at = at;
    }

    /** The same with other files. */
    Listing with(List<Entry> others) {
        return new Listing(others, troubles, open, listed, at);
    }

    /** When the folder was looked into. */
    public Instant at() {
        return at;
    }

    /** How many files lie there. */
    public int size() {
        return entries.size();
    }
}
