package dev.hapster.core.definition.section;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef.Retain;
import dev.hapster.core.definition.DeliveryDef.Mode;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of a dataset's file. */
public final class DatasetSection {

    /** What a column or a value may be called. A leading underscore is kept for Hapster's own columns. */
    public static final String NAME_RULE = "[A-Za-z][A-Za-z0-9_]{0,62}";
    /** What a job, a dataset or a place may be called. */
    public static final String FILE_NAME_RULE = "[A-Za-z0-9][A-Za-z0-9_-]{0,62}";

    public static final int MOST_COLUMNS = 2_000;
    public static final int MOST_DELIVERIES = 100;

    private DatasetSection() {}

    /** The keys of one column. */
    public static final class Column {
        public static final Key<String> NAME =
                Key.of("name", Shapes.matching(NAME_RULE), "", "letters, digits and `_`, beginning with a letter");
        public static final Key<String> TYPE = Key.of("type", Shapes.text(), "", ColumnType.WORDS);
        public static final Key<String> ABOUT = Key.of("about", Shapes.text(), "", "what the column means");
        public static final Key<Boolean> REQUIRED =
                Key.of("required", Shapes.flag(), false, "whether a row without a value is rejected");
        public static final Key<Optional<Integer>> LENGTH = Key.of(
                "length",
                Shapes.whole(1, 1_000_000).optional(1),
                Optional.<Integer>empty(),
                "for text: most characters (code points)");
        public static final Key<Optional<String>> MATCHES = Key.of(
                "matches",
                Shapes.some(),
                Optional.<String>empty(),
                "for text: a regular expression (RE2) that the whole text must match");
        public static final Key<List<String>> ONE_OF =
                Key.of("one_of", Shapes.texts(), List.<String>of(), "for text: the only allowed values");
        public static final Key<Optional<String>> MIN = Key.of(
                "min",
                Shapes.some(),
                Optional.<String>empty(),
                "for numbers, dates and times: the least allowed value; dates and times as ISO 8601");
        public static final Key<Optional<String>> MAX = Key.of(
                "max",
                Shapes.some(),
                Optional.<String>empty(),
                "for numbers, dates and times: the greatest allowed value");
        public static final Key<Optional<String>> DEFAULT = Key.of(
                "default",
                Shapes.some(),
                Optional.<String>empty(),
                "the value of rows for which there is no such column: older rows, and files that lack it");
        public static final Key<List<String>> WAS = Key.of(
                "was",
                Shapes.texts(),
                List.<String>of(),
                "a name, or a list of names, that the column had before: rows and files that have it under that "
                        + "name still count. Any text that a header can hold, such as `[\"Sample No.\", smp]`");

        public static final Section SECTION = Section.of(
                        NAME, TYPE, ABOUT, REQUIRED, LENGTH, MATCHES, ONE_OF, MIN, MAX, DEFAULT, WAS)
                .requiring(NAME, TYPE);

        private Column() {}
    }

    /** How long what no longer counts is kept. */
    public static final class Keep {
        public static final Key<Duration> REPLACED = Key.of(
                "replaced",
                Shapes.duration(),
                Retain.USUAL.replaced(),
                "how long rows that were replaced, undone or removed are kept, so that this can be taken back");
        public static final Key<Duration> HISTORY = Key.of(
                "history",
                Shapes.duration(),
                Retain.USUAL.history(),
                "how long it is kept what single runs did with single files, where nothing refers to it any more");

        public static final Section SECTION = Section.of(REPLACED, HISTORY);

        private Keep() {}
    }

    /** The keys of one delivery. */
    public static final class Deliver {
        public static final Key<String> NAME = Key.of(
                "name",
                Shapes.matching(FILE_NAME_RULE),
                "",
                "its name, by which it is called and found in the history");
        public static final Key<String> ABOUT = Key.of("about", Shapes.text(), "", "whom it is for");
        public static final Key<Boolean> TO = Key.of(
                "to",
                Shapes.form(Map.of("oneOf", List.of(Shapes.scalar(), Table.SECTION.schema()))),
                false,
                "the file, relative to the workspace. With pieces such as `{lab}`, `{sampled_at:yyyy-MM}`, "
                        + "`{file.stem}` or `{file.name}`, one file for each value. Or a table: "
                        + "`{database: warehouse, table: samples}`, see below");
        public static final Key<Optional<String>> AS = Key.of(
                "as",
                Shapes.some(),
                Optional.<String>empty(),
                "`csv`, `xlsx`, `json`, `json_lines`, `xml` or `parquet`; by the file's ending where it is not said");
        public static final Key<Optional<String>> SHEET = Key.of(
                "sheet",
                Shapes.some(),
                Optional.<String>empty(),
                "of a workbook: the sheet to write into; the workbook is there already, and all else in it stays");
        public static final Key<List<String>> WHERE =
                Key.of("where", Shapes.texts(), List.<String>of(), "a condition, or several of which all must hold");
        public static final Key<List<String>> COLUMNS = Key.of(
                "columns",
                Shapes.texts(),
                List.<String>of(),
                "which columns, in this order, each also as `lab as Laboratory`; all where none is named");
        public static final Key<List<String>> SORT = Key.of(
                "sort", Shapes.texts(), List.<String>of(), "columns to sort by, with `-` in front for descending");
        public static final Key<Boolean> ORIGINS = Key.of(
                "origins", Shapes.flag(), false, "whether the columns that say where a row comes from go with them");
        public static final Key<Boolean> WHEN = Key.of(
                "when",
                Shapes.either("on call", "after each run"),
                true,
                "`after each run`, and after an undo or a removal too, or `on call`: `hapster deliver`");
        public static final Key<Optional<String>> SEPARATOR =
                Key.of("separator", Shapes.some(), Optional.<String>empty(), "of CSV: one character, or `tab`");
        public static final Key<Optional<String>> ENCODING =
                Key.of("encoding", Shapes.some(), Optional.<String>empty(), "of CSV");
        public static final Key<Optional<String>> DECIMAL =
                Key.of("decimal", Shapes.some(), Optional.<String>empty(), "of CSV: the decimal mark, `.` or `,`");
        public static final Key<Optional<String>> DATES =
                Key.of("dates", Shapes.some(), Optional.<String>empty(), "a pattern for dates, such as `dd.MM.yyyy`");
        public static final Key<Optional<String>> TIMESTAMPS =
                Key.of("timestamps", Shapes.some(), Optional.<String>empty(), "one for timestamps");
        public static final Key<Boolean> QUOTE_ALL =
                Key.of("quote_all", Shapes.flag(), false, "of CSV: whether every field is quoted");
        public static final Key<Boolean> HEADER =
                Key.of("header", Shapes.flag(), true, "of CSV: whether it begins with the names of the columns");
        public static final Key<Boolean> SAFE = Key.of(
                "safe_for_spreadsheets",
                Shapes.flag(),
                false,
                "of CSV: whether texts that a spreadsheet would take for a formula get an apostrophe in front");
        public static final Key<String> ROOT = Key.of("root", Shapes.text(), "rows", "of XML: the outermost element");
        public static final Key<String> ROW = Key.of("row", Shapes.text(), "row", "of XML: the element of a row");

        public static final Section SECTION = Section.of(
                        NAME,
                        ABOUT,
                        TO,
                        AS,
                        SHEET,
                        WHERE,
                        COLUMNS,
                        SORT,
                        ORIGINS,
                        WHEN,
                        SEPARATOR,
                        ENCODING,
                        DECIMAL,
                        DATES,
                        TIMESTAMPS,
                        QUOTE_ALL,
                        HEADER,
                        SAFE,
                        ROOT,
                        ROW)
                .requiring(NAME, TO);

        /** Those that go with files alone. */
        public static final List<Key<?>> OF_FILES = List.of(
                AS, SHEET, SORT, SEPARATOR, ENCODING, DECIMAL, DATES, TIMESTAMPS, QUOTE_ALL, HEADER, SAFE, ROOT, ROW);

        private Deliver() {}
    }

    /** The keys of a table to which a delivery goes. */
    public static final class Table {
        public static final Key<String> DATABASE =
                Key.of("database", Shapes.text(), "", "the account in `accounts.yaml` by which to sign in, see below");
        public static final Key<String> TABLE =
                Key.of("table", Shapes.text(), "", "the table, as the database spells it, also as `schema.table`");
        public static final Key<Mode> MODE = Key.of(
                "mode",
                Shapes.word(Mode.class),
                Mode.FOLLOW,
                "`follow`: the table has the dataset's rows, and only those that changed are carried over. "
                        + "`replace`: the same, but all rows are carried over where one changed, and no column is "
                        + "added. `append`: the rows of each arrival are added once, and none is removed");

        public static final Section SECTION = Section.of(DATABASE, TABLE, MODE).requiring(DATABASE, TABLE);

        private Table() {}
    }

    public static final Key<String> DATASET =
            Key.of("dataset", Shapes.matching(FILE_NAME_RULE), "", "its name, the same as the file's");
    public static final Key<String> ABOUT = Key.of("about", Shapes.text(), "", "what a row of it is");
    public static final Key<Boolean> COLUMNS = Key.of(
            "columns",
            Shapes.form(
                    Map.of("type", "array", "minItems", 1, "maxItems", MOST_COLUMNS, "items", Column.SECTION.schema())),
            false,
            "the columns, in their order");
    public static final Key<List<String>> KEY = Key.of(
            "key",
            Shapes.texts(),
            List.<String>of(),
            "the columns by which a row is known, for `load: update` and `duplicates: {by: key}`");
    public static final Key<Optional<YamlMap>> RETAIN = Key.of(
            "retain",
            Shapes.section(Keep.SECTION),
            Optional.<YamlMap>empty(),
            "how long what no longer counts is kept, see below");

    public static final Key<Boolean> DELIVER = Key.of(
            "deliver",
            Shapes.form(Map.of("type", "array", "maxItems", MOST_DELIVERIES, "items", Deliver.SECTION.schema())),
            false,
            "files for others and tables that follow, see below");

    public static final Section SECTION =
            Section.of(DATASET, ABOUT, COLUMNS, KEY, RETAIN, DELIVER).requiring(DATASET, COLUMNS);
}
