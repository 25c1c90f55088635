package dev.hapster.core.definition;

import dev.hapster.core.pattern.NamePattern;
import java.nio.charset.Charset;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A job as its file declares it: where to look, how to read, how columns come about. Values are put in.
 *
 * @param into the dataset's name
 * @param values the values that were put in, and where each came from
 * @param map how dataset columns come about, by column name, in the order written
 * @param handling what is done with rows and files once they are read
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
        String version,
        String text) {

    public JobDef {
        values = List.copyOf(values);
        find = List.copyOf(find);
    }

    /** Whether columns come from the names of files. */
    public boolean usesFacts() {
        return map.values().stream().anyMatch(Mapping.Fact.class::isInstance);
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
            Optional<String> name) {

        /** Entries (files and folders) that are looked at where the job says nothing. */
        public static final int MOST_ENTRIES = 100_000;

        public Place {
            rules = List.copyOf(rules);
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
                    Optional.empty());
        }
    }

    /** What a file is made of, by the word of {@code as}. */
    public enum Format {
        DELIMITED("delimited text"),
        LINES("lines of text"),
        FIXED("text of fixed width"),
        WORKBOOK("a workbook"),
        JSON("JSON"),
        JSON_LINES("JSON lines"),
        XML("XML"),
        PARQUET("Parquet");

        private final String noun;

        Format(String noun) {
            this.noun = noun;
        }

        /** As a job file says it. */
        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }

        /** As a sentence says it. */
        public String noun() {
            return noun;
        }

        /** Whether its columns stand in one order, so that each has a position. */
        public boolean isOrdered() {
            return this == DELIMITED || this == LINES || this == FIXED || this == WORKBOOK;
        }
    }

    /**
     * How the bytes of a file become records. Each format looks at what concerns it.
     *
     * @param separator what stands between fields: one character or several
     * @param quote one ASCII character, or empty where the files use none
     * @param escape one ASCII character that takes away the meaning of the next one; empty where there is none
     * @param comment what lines begin with that are no rows; empty where there are none
     * @param linesAbove physical lines above the header (or above the first row, where there is no header)
     * @param headerContains a text that only the header holds, where lines above it are not always as many
     * @param linesBelow physical lines at the end that are no rows
     * @param endsAt what the first line below the rows begins with
     * @param fillShort whether a row with fewer fields than the header is taken, with nothing in those that it lacks
     * @param cutLong whether a row with more fields than the header is taken, without those that are too many
     * @param names the columns' names, where the files have no header; empty where the first line names them
     * @param headerOnce whether one of the job's files names the columns of all
     * @param emptyAs texts that mean "nothing", in every column that does not say otherwise
     * @param surplus what is done with columns that nobody asked for, or that are not there
     */
    public record Read(
            Format as,
            String separator,
            Optional<Character> quote,
            Optional<Character> escape,
            Optional<String> comment,
            Charset encoding,
            int linesAbove,
            Optional<String> headerContains,
            int linesBelow,
            Optional<String> endsAt,
            boolean fillShort,
            boolean cutLong,
            List<String> names,
            boolean headerOnce,
            List<String> emptyAs,
            Surplus surplus,
            Book book,
            Tree tree,
            List<Span> spans) {
        public Read {
            names = List.copyOf(names);
            emptyAs = List.copyOf(emptyAs);
            spans = List.copyOf(spans);
        }

        /** The same for whole files of another format, of which nothing is declared but the encoding. */
        public Read whole(Format format, Tree shape, List<String> columns) {
            return new Read(
                    format,
                    ",",
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    encoding,
                    0,
                    Optional.empty(),
                    0,
                    Optional.empty(),
                    false,
                    false,
                    columns,
                    false,
                    List.of(""),
                    surplus,
                    book,
                    shape,
                    List.of());
        }

        /** The plain case: one character between fields, rows to the end. */
        public Read(
                char separator,
                Optional<Character> quote,
                Charset encoding,
                int linesAbove,
                List<String> names,
                List<String> emptyAs) {
            this(
                    Format.DELIMITED,
                    String.valueOf(separator),
                    quote,
                    Optional.empty(),
                    Optional.empty(),
                    encoding,
                    linesAbove,
                    Optional.empty(),
                    0,
                    Optional.empty(),
                    false,
                    false,
                    names,
                    false,
                    emptyAs,
                    Surplus.USUAL,
                    Book.USUAL,
                    Tree.USUAL,
                    List.of());
        }

        public boolean hasHeader() {
            return names.isEmpty();
        }

        /** The same rules for files that do not name their columns. */
        public Read withNames(List<String> others) {
            return new Read(
                    as,
                    separator,
                    quote,
                    escape,
                    comment,
                    encoding,
                    linesAbove,
                    headerContains,
                    linesBelow,
                    endsAt,
                    fillShort,
                    cutLong,
                    others,
                    headerOnce,
                    emptyAs,
                    surplus,
                    book,
                    tree,
                    spans);
        }
    }

    /**
     * What is done with columns that the job does not use, and with those that it names and a file lacks.
     *
     * @param ignoreExtra whether any column that is not mapped is skipped; otherwise the file is rejected
     * @param ignored names of columns that are skipped though they are not mapped
     * @param missingEmpty whether a column that {@code map} names and a file lacks is left empty; otherwise the file is
     *     rejected
     */
    public record Surplus(boolean ignoreExtra, List<String> ignored, boolean missingEmpty) {
        public static final Surplus USUAL = new Surplus(false, List.of(), false);

        public Surplus {
            ignored = List.copyOf(ignored);
        }
    }

    /**
     * Where in a sheet the rows are.
     *
     * @param range a part of the sheet; empty for all of it
     * @param table name of a formatted table; empty where the cells are taken as they stand
     * @param repeatMerged whether every cell of a merged area has the value of its first one; otherwise the others are
     *     empty
     */
    public record Book(Optional<Range> range, Optional<String> table, boolean repeatMerged) {
        public static final Book USUAL = new Book(Optional.empty(), Optional.empty(), false);
    }

    /**
     * A block of cells; rows and columns are counted from 1, and the last of each may be open
     * ({@link Integer#MAX_VALUE}).
     */
    public record Range(int firstRow, int lastRow, int firstColumn, int lastColumn) {}

    /**
     * Which elements of a nested file are its rows.
     *
     * @param rows names from the outermost element inwards; empty for the outermost list
     * @param namespaces for XML the namespaces by the prefix that the job gives them
     */
    public record Tree(List<String> rows, Map<String, String> namespaces) {
        public static final Tree USUAL = new Tree(List.of(), Map.of());

        public Tree {
            rows = List.copyOf(rows);
            namespaces = Map.copyOf(namespaces);
        }
    }

    /**
     * A column of fixed width.
     *
     * @param from its first character, counted from 1
     * @param to its last; {@link Integer#MAX_VALUE} where it goes to the end of the line
     */
    public record Span(String name, int from, int to) {}

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
         * @param from its name there; empty where the dataset's own name is used
         * @param emptyAs texts that mean "nothing"; empty where the job's rule holds
         * @param decimal the decimal mark
         * @param thousands the mark between groups of three digits
         * @param patterns date patterns (CLDR, UTS #35), tried in order; empty for ISO 8601
         */
        record Source(
                Optional<String> from,
                List<Clean> clean,
                Optional<List<String>> emptyAs,
                char decimal,
                Optional<Character> thousands,
                List<String> patterns,
                List<String> trueAs,
                List<String> falseAs)
                implements Mapping {

            public static final Source PLAIN = new Source(
                    Optional.empty(),
                    List.of(),
                    Optional.empty(),
                    '.',
                    Optional.empty(),
                    List.of(),
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
