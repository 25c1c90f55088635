package dev.hapster.core.definition;

import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.util.List;
import java.util.stream.Collectors;

/**
 * One rule that decides which of the files that remain so far a job takes. Rules act in the order in which they are
 * written.
 */
public sealed interface FindRule {

    /** Its key in the job file. */
    String key();

    /** The rule in the words of the job file, for example {@code skip "*copy*"}. */
    String words();

    /** Only files of which the name matches one of the patterns. */
    record Take(List<NamePattern> names) implements FindRule {
        @Override
        public String key() {
            return "take";
        }

        @Override
        public String words() {
            return key() + " " + list(names);
        }
    }

    /** No file of which the name matches one of the patterns. */
    record Skip(List<NamePattern> names) implements FindRule {
        @Override
        public String key() {
            return "skip";
        }

        @Override
        public String words() {
            return key() + " " + list(names);
        }
    }

    /** Only files of a size between two bounds, in bytes, both inclusive. */
    record Size(long from, long to, String written) implements FindRule {
        @Override
        public String key() {
            return "size";
        }

        @Override
        public String words() {
            return key() + " " + written;
        }
    }

    /** Only files that were last written in a stretch of time. */
    record Modified(TimeRange range) implements FindRule {
        @Override
        public String key() {
            return "modified";
        }

        @Override
        public String words() {
            return key() + " " + range;
        }
    }

    /** Only files that came into being in a stretch of time, on this file system. */
    record Created(TimeRange range) implements FindRule {
        @Override
        public String key() {
            return "created";
        }

        @Override
        public String words() {
            return key() + " " + range;
        }
    }

    /** What a rank goes by. */
    enum Order {
        NEWEST,
        OLDEST,
        LARGEST,
        SMALLEST
    }

    /**
     * Only the first few by an order, over all folders or of each folder. Files that are equal in it go by their path.
     */
    record Rank(Order order, int count, boolean perFolder) implements FindRule {
        @Override
        public String key() {
            return "rank";
        }

        @Override
        public String words() {
            return key() + " " + order.name().toLowerCase(java.util.Locale.ROOT) + " " + count
                    + (perFolder ? " per folder" : "");
        }
    }

    private static String list(List<NamePattern> names) {
        return names.stream().map(NamePattern::words).collect(Collectors.joining(", "));
    }
}
