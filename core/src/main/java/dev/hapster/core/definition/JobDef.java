package dev.hapster.core.definition;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.due.Due;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.notify.Notice;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.When;
import java.time.Duration;
import java.time.ZoneId;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;

/**
 * A job as its file declares it: where to look, how to read, how columns come about. Values are put in.
 *
 * @param into the dataset's name
 * @param values the values that were put in, and where each came from
 * @param map how dataset columns come about, by column name, in the order written
 * @param handling what is done with rows and files once they are read
 * @param when when it runs by itself; empty where somebody asks for each run
 * @param due what is to arrive, and by when; empty where nobody says
 * @param faults how often it is tried again after faults that may pass; empty where it is not
 * @param notices who is told how it went, in addition to those whom all jobs tell
 * @param version first 12 hexadecimal digits of the SHA-256 of the file's text
 * @param text the file as it stands
 */
public record JobDef(
        String name,
        String about,
        String into,
        List<Values.Used> values,
        List<Place> find,
        Read read,
        Map<String, Mapping> map,
        Handling handling,
        Optional<When> when,
        Optional<Due> due,
        Optional<Faults> faults,
        List<Notice> notices,
        String version,
        String text) {

    public JobDef {
        values = List.copyOf(values);
        find = List.copyOf(find);
        notices = List.copyOf(notices);
    }

    /** Whether columns come from the names of files. */
    public boolean usesFacts() {
        return map.values().stream()
                .anyMatch(mapping -> mapping instanceof Mapping.Fact
                        || mapping.computed()
                                .filter(one -> one.names().contains(Expression.FACT)
                                        || one.names().contains(Expression.FILE))
                                .isPresent());
    }

    /** The columns that are calculated or looked up, each behind those that it needs; there is no circle. */
    public List<String> computed() {
        Set<String> ordered = new LinkedHashSet<>();
        map.keySet().forEach(column -> order(column, ordered));
        return List.copyOf(ordered);
    }

    private void order(String column, Set<String> ordered) {
        Mapping mapping = map.get(column);
        if (mapping == null || mapping.computed().isEmpty() || ordered.contains(column)) {
            return;
        }
        mapping.computed().get().names().stream()
                .filter(needed -> !needed.equals(column))
                .forEach(needed -> order(needed, ordered));
        ordered.add(column);
    }

    /**
     * One folder with its rules.
     *
     * @param folder absolute, or relative to the workspace
     * @param depth levels of subfolders to search; 0 is the folder alone
     * @param rules which files to take, in the order in which the rules act
     * @param zone in which days begin and end; empty for the machine's own
     * @param list a file that names the files; empty where the folder is searched
     * @param arrival when a file counts as complete
     * @param loadCopies whether a file is loaded though another of the job has the same content
     * @param most entries that are looked at before the search is given up
     * @param sheets which sheets of the workbooks are taken; empty where the files are no workbooks
     * @param name by which the place is known wherever its folder lies; empty where it is known by its folder
     * @param look how often it is looked whether files have arrived; empty where as often as the job says
     */
    public record Place(
            String folder,
            int depth,
            List<FindRule> rules,
            Optional<ZoneId> zone,
            Optional<NameList> list,
            Completeness arrival,
            boolean loadCopies,
            int most,
            Optional<Sheets> sheets,
            Optional<String> name,
            Optional<Duration> look) {

        /** Entries (files and folders) that are looked at where the job says nothing. */
        public static final int MOST_ENTRIES = 100_000;

        public Place {
            rules = List.copyOf(rules);
        }

        /** The patterns by which names of files are taken. */
        public List<NamePattern> taking() {
            return rules.stream()
                    .filter(FindRule.Take.class::isInstance)
                    .flatMap(rule -> ((FindRule.Take) rule).names().stream())
                    .toList();
        }

        /** All patterns of which pieces may say something: those by which files are taken, and those of sheets. */
        public List<NamePattern> naming() {
            return Stream.concat(taking().stream(), sheets.stream().flatMap(some -> some.names().stream()))
                    .toList();
        }

        /** A folder that is searched, with everything else as usual. */
        public Place(String folder, int depth, List<FindRule> rules, Optional<ZoneId> zone) {
            this(
                    folder,
                    depth,
                    rules,
                    zone,
                    Optional.empty(),
                    Completeness.USUAL,
                    false,
                    MOST_ENTRIES,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty());
        }
    }

    /**
     * Which sheets of a workbook are taken.
     *
     * @param names patterns for their names
     * @param positions counted from 1; -1 is the last
     * @param skip patterns for the names of those that are not taken
     */
    public record Sheets(List<NamePattern> names, List<Integer> positions, List<NamePattern> skip) {
        public static final Sheets ALL = new Sheets(List.of(), List.of(), List.of());

        public Sheets {
            names = List.copyOf(names);
            positions = List.copyOf(positions);
            skip = List.copyOf(skip);
        }
    }

    /** How one column of the dataset comes about. */
    public sealed interface Mapping {

        /**
         * What its value is calculated by, or that by which it is looked up; empty where the file or the job has it.
         */
        default Optional<Expression> computed() {
            return Optional.empty();
        }

        /** Calculated from other columns. */
        record Compute(Expression value) implements Mapping {
            @Override
            public Optional<Expression> computed() {
                return Optional.of(value);
            }
        }

        /**
         * Looked up in a small table.
         *
         * @param with what is looked for among the table's keys
         * @param otherwise what holds where it is not there; empty where the row is rejected then
         */
        record Lookup(LookupTable table, Expression with, Optional<String> otherwise) implements Mapping {
            @Override
            public Optional<Expression> computed() {
                return Optional.of(with);
            }
        }

        /** The same value in every row. */
        record Constant(String value) implements Mapping {}

        /**
         * A fact from the file's name, the same in every row of the file.
         *
         * @param name the piece of the name pattern that yields it
         * @param how cleaned and converted so; its {@code from} is not used
         */
        record Fact(String name, Source how) implements Mapping {}

        /**
         * A column of the source.
         *
         * @param from its names there, of which the first that a file has is taken; empty where the dataset's own name
         *     is used
         * @param emptyAs texts that mean "nothing"; empty where the job's rule holds
         * @param decimal the decimal mark
         * @param thousands the mark between groups of three digits
         * @param patterns date patterns (CLDR, UTS #35), tried in order; empty for ISO 8601
         * @param language of the names of months and days in them, a tag of BCP 47; empty for English
         */
        record Source(
                List<String> from,
                List<Clean> clean,
                Optional<List<String>> emptyAs,
                char decimal,
                Optional<Character> thousands,
                List<String> patterns,
                Optional<String> language,
                List<String> trueAs,
                List<String> falseAs)
                implements Mapping {

            /** The patterns, which are well-formed. */
            public List<DatePattern> datePatterns() {
                return patterns.stream()
                        .map(pattern -> DatePattern.of(pattern).in(language))
                        .toList();
            }

            public static final Source PLAIN = new Source(
                    List.of(),
                    List.of(),
                    Optional.empty(),
                    '.',
                    Optional.empty(),
                    List.of(),
                    Optional.empty(),
                    List.of("true", "yes", "1"),
                    List.of("false", "no", "0"));
        }
    }

    /** One cleaning step, applied to the text before it is converted. */
    public sealed interface Clean {

        /** Takes white space (Unicode) off both ends. */
        record Trim() implements Clean {}

        /** To upper case, independent of language. */
        record Upper() implements Clean {}

        /** To lower case, independent of language. */
        record Lower() implements Clean {}

        /** Takes each of these texts out wherever it stands. */
        record Remove(List<String> texts) implements Clean {}

        /** Puts one text in place of another wherever it stands, pair after pair. */
        record Replace(Map<String, String> pairs) implements Clean {}
    }
}
