package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.reason.Reasons;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * The keys of {@code read}. To add one, declare it here, list it in {@link #SECTION}, and use it where files are read.
 */
public final class ReadSection {

    static final String AS_NAME = "as";
    private static final Format[] TEXTS = {Format.DELIMITED, Format.LINES, Format.FIXED};
    private static final Format[] GRIDS = {Format.DELIMITED, Format.LINES, Format.FIXED, Format.WORKBOOK};
    private static final Format[] TREES = {Format.JSON, Format.JSON_LINES, Format.XML, Format.PARQUET};
    public static final int LONGEST_SEPARATOR = 8;

    public static final Key<Format> AS =
            Key.of(AS_NAME, format(), Format.DELIMITED, "what the files are ([reading.md](reading.md))");

    public static final Key<List<String>> SEPARATOR = Key.of(
                    "separator",
                    separators(),
                    List.of(","),
                    "what stands between fields: one character or several, such as `\"\\t\"`, `\"||\"`, `\"¦\"`; of a "
                            + "list such as `[\",\", \";\"]` the first under which a file's header fits")
            .with(Format.DELIMITED);

    public static final Key<Optional<Character>> QUOTE = Key.of(
                    "quote",
                    quote(),
                    Optional.of('"'),
                    "one ASCII character, or `none`; within a quoted value it is doubled")
            .with(Format.DELIMITED);

    public static final Key<Optional<Character>> ESCAPE = Key.of(
                    "escape",
                    Shapes.character('\\').optional('\\'),
                    Optional.<Character>empty(),
                    "one ASCII character that takes away the meaning of the next one, in quotes and outside, "
                            + "such as `\"\\\\\"`")
            .with(Format.DELIMITED);

    public static final Key<Optional<String>> COMMENT = Key.of(
                    "comment",
                    Shapes.line(),
                    Optional.<String>empty(),
                    "what lines begin with that are not rows, such as `\"#\"`")
            .with(TEXTS)
            .says(start -> "Skips lines that begin with \"" + start.orElseThrow() + "\".");

    public static final Key<List<Charset>> ENCODING = Key.of(
                    "encoding",
                    Shapes.encodings(),
                    List.of(StandardCharsets.UTF_8),
                    "any that Java knows, such as `windows-1252`; of a list such as `[utf-8, windows-1252]` the first in "
                            + "which all bytes of a file are characters; byte-order marks are taken off")
            .with(Format.DELIMITED, Format.LINES, Format.FIXED, Format.JSON, Format.JSON_LINES);

    public static final Key<Integer> LINES_ABOVE = Key.of(
                    "lines_above",
                    Shapes.whole(0, 1_000_000),
                    0,
                    "lines above the header, or above the first row where there is no header")
            .with(GRIDS)
            .says(count -> "Skips the first " + (count == 1 ? "line" : count + " lines") + ".");

    public static final Key<Boolean> HEADER_ONCE = Key.of(
                    "header",
                    Shapes.either("every", "once", "Where no file has a header, name the columns with `names`"),
                    false,
                    "`every` file names its columns, or one of the job's files names those of all: `once`")
            .with(Format.DELIMITED);

    public static final Key<Optional<String>> HEADER_CONTAINS = Key.of(
                    "header_contains",
                    Shapes.line(),
                    Optional.<String>empty(),
                    "a text that only the header holds: the first line with it names the columns, however many "
                            + "lines lie above")
            .with(Format.DELIMITED, Format.WORKBOOK);

    public static final Key<List<String>> NAMES = Key.of(
                    "names",
                    names(),
                    List.<String>of(),
                    "the columns' names where the files have no header; otherwise the first line names them")
            .with(Format.DELIMITED, Format.LINES, Format.WORKBOOK);

    public static final Key<Integer> LINES_BELOW = Key.of(
                    "lines_below", Shapes.whole(0, 10_000), 0, "lines at the end that are not rows, such as a total")
            .with(GRIDS)
            .says(count -> "Skips the last " + (count == 1 ? "line" : count + " lines") + ".");

    public static final Key<Optional<String>> ENDS_AT = Key.of(
                    "ends_at",
                    Shapes.line(),
                    Optional.<String>empty(),
                    "what the first line below the rows begins with; that line and all behind it are not rows")
            .with(GRIDS)
            .says(start -> "Rows end at the line that begins with \"" + start.orElseThrow() + "\".");

    public static final Key<Boolean> FILL_SHORT = Key.of(
                    "short_rows",
                    Shapes.either("reject", "fill"),
                    false,
                    "rows with fewer fields than the header: `reject`, or `fill` with nothing")
            .with(Format.DELIMITED, Format.FIXED)
            .says(fill -> "Rows with too few fields are filled up.");

    public static final Key<Boolean> CUT_LONG = Key.of(
                    "long_rows",
                    Shapes.either("reject", "cut"),
                    false,
                    "rows with more fields than the header: `reject`, or `cut`")
            .with(Format.DELIMITED, Format.FIXED, Format.WORKBOOK)
            .says(cut -> "Rows with too many fields are cut.");

    public static final Key<Boolean> SKIP_EMPTY = Key.of(
                    "empty_rows",
                    Shapes.either("reject", "skip"),
                    false,
                    "rows in which no field holds anything, such as `;;;`: `reject` them (`row-empty`), or `skip` them")
            .with(Format.DELIMITED, Format.FIXED, Format.WORKBOOK)
            .says(skip -> "Skips rows in which no field holds anything.");

    public static final Key<List<Span>> COLUMNS = Key.of(
                    "columns",
                    Span.shape(),
                    List.<Span>of(),
                    "where each column stands in the line, in characters counted from 1: "
                            + "`{station: 1-6, unit: 7, note: 8-}`")
            .with(Format.FIXED)
            .says(spans ->
                    "Columns stand at " + spans.stream().map(Span::toString).collect(Collectors.joining(", ")) + ".");

    public static final Key<Optional<Range>> RANGE = Key.of(
                    "range",
                    Range.shape(),
                    Optional.<Range>empty(),
                    "the cells to read: `B3:G200`, `B3:G` to the last row, `B:G` whole columns")
            .with(Format.WORKBOOK);

    public static final Key<Optional<String>> TABLE = Key.of(
                    "table", Shapes.some(), Optional.<String>empty(), "the name of a formatted table (xlsx)")
            .with(Format.WORKBOOK);

    public static final Key<Boolean> REPEAT_MERGED = Key.of(
                    "merged",
                    Shapes.either("first", "repeat"),
                    false,
                    "whether only the `first` cell of a merged area has its value, or each of them: `repeat`")
            .with(Format.WORKBOOK);

    public static final Key<List<String>> ROWS = Key.of(
                    "rows",
                    RowPath.shape(),
                    List.<String>of(),
                    "which elements become rows: `visits[].samples[]`, in XML `report/visit/sample`; "
                            + "without it, those of the outermost list")
            .with(TREES);

    public static final Key<Map<String, String>> NAMESPACES = Key.of(
                    "namespaces",
                    Shapes.pairs(),
                    Map.<String, String>of(),
                    "namespaces by the prefix that paths use for them")
            .with(Format.XML);

    /** What stands beside the table. */
    public static final Key<Map<String, FactPlace>> FACTS = Key.of(
                    "facts",
                    FactPlace.shape(),
                    Map.<String, FactPlace>of(),
                    "values that stand beside the table, by name: in lines (`client: {line: 2, after: \"Client:\"}`) or, "
                            + "in workbooks, in cells (`quarter: {cell: Summary!B2}`). A column takes them with `fact`")
            .with(Format.DELIMITED, Format.LINES, Format.FIXED, Format.WORKBOOK)
            .says(facts -> "Each file says beside its table: "
                    + facts.entrySet().stream()
                            .map(fact -> fact.getKey() + " (" + fact.getValue() + ")")
                            .collect(Collectors.joining("; "))
                    + ".");

    public static final Key<Extra> EXTRA_COLUMNS = Key.of(
                    "extra_columns",
                    Extra.shape(),
                    Extra.REJECT,
                    "columns of a file that are not mapped: they `reject` it, `ignore` skips them, "
                            + "a list skips those that it names")
            .says(extra -> "Skips "
                    + (extra.ignoreExtra()
                            ? "columns that are not mapped"
                            : (extra.ignored().size() == 1 ? "the column " : "the columns ") + list(extra.ignored()))
                    + ".");

    public static final Key<Boolean> EMPTY_MISSING = Key.of(
                    "missing_columns",
                    Shapes.either("reject", "empty"),
                    false,
                    "columns that `map` names and a file lacks: they `reject` it, or are left `empty`")
            .says(empty -> "Columns that a file lacks are left empty, unless they are required.");

    public static final Key<List<String>> EMPTY_AS = Key.of(
                    "empty_as", Shapes.texts(), List.of(""), "texts that mean nothing, compared exactly")
            .says(texts -> "Takes " + list(texts) + " as empty.");

    public static final Key<Duration> SLOW = Key.of(
                    "slow",
                    Shapes.duration(),
                    Duration.ofHours(1),
                    "how long reading one file may take; one that takes longer is rejected")
            .says(most -> "Rejects a file that takes longer than " + Durations.format(most) + " to read.");

    /** All of them, in the order in which documents and explanations give them. */
    public static final Section SECTION = Section.of(
            AS,
            SEPARATOR,
            QUOTE,
            ESCAPE,
            COMMENT,
            ENCODING,
            LINES_ABOVE,
            HEADER_ONCE,
            HEADER_CONTAINS,
            NAMES,
            LINES_BELOW,
            ENDS_AT,
            FILL_SHORT,
            CUT_LONG,
            SKIP_EMPTY,
            COLUMNS,
            RANGE,
            TABLE,
            REPEAT_MERGED,
            ROWS,
            NAMESPACES,
            EXTRA_COLUMNS,
            EMPTY_MISSING,
            EMPTY_AS,
            FACTS,
            SLOW);

    private ReadSection() {}

    /** Reads the section, with every mistake in it reported. */
    public static Read read(YamlMap map) {
        Format format = AS.in(map);
        Read read = new Read(SECTION.read(SECTION.check(map, format, format.noun())));
        checkMarks(map, read);
        checkHeader(map, read);
        if (FACTS.isIn(map)) {
            FactPlace.check(map, FACTS.name(), format);
        }
        if (format == Format.FIXED && !COLUMNS.isIn(map)) {
            map.missing(COLUMNS.name(), "Say where each column stands: `columns: {station: 1-6, value: 7-14}`");
        }
        if (TABLE.isIn(map) && RANGE.isIn(map)) {
            map.wrongKey(RANGE.name(), "'table' says where the cells are, and so does 'range'", "Keep one of them");
        }
        return read;
    }

    private static void checkMarks(YamlMap map, Read read) {
        read.get(SEPARATOR).forEach(separator -> checkMarks(map, separator, read.get(QUOTE), read.get(ESCAPE)));
    }

    private static void checkMarks(
            YamlMap map, String separator, Optional<Character> quote, Optional<Character> escape) {
        if (quote.isPresent() && separator.indexOf(quote.get()) >= 0) {
            map.wrong(
                    SEPARATOR.name(),
                    separator.length() == 1
                            ? "separator and quote are the same character"
                            : "'separator' must not hold the quote",
                    "");
        }
        if (escape.isPresent() && (escape.equals(quote) || separator.indexOf(escape.get()) >= 0)) {
            map.wrong(
                    ESCAPE.name(),
                    "'escape' is the same character as " + (escape.equals(quote) ? "the quote" : "the separator"),
                    escape.equals(quote) ? "A quote is doubled within a quoted value anyway" : "");
        }
    }

    private static void checkHeader(YamlMap map, Read read) {
        int count = read.get(NAMES).size();
        if (read.get(SEPARATOR).size() > 1 && (NAMES.isIn(map) || read.get(HEADER_ONCE))) {
            map.wrong(
                    SEPARATOR.name(),
                    "which of several separators a file has is known by its header, and not every file has one",
                    "Name one separator; files with another one can have a job of their own");
        }
        if (read.as() == Format.LINES && count > 1) {
            map.wrong(NAMES.name(), "lines are one column, and 'names' has " + count, "Name one");
        }
        for (Key<?> key : List.of(HEADER_CONTAINS, HEADER_ONCE)) {
            if (NAMES.isIn(map) && key.isIn(map)) {
                map.wrongKey(
                        key.name(),
                        "'names' says that there is no header, '" + key.name() + "' that there is one",
                        "Keep one of them");
            }
        }
    }

    private static Shape<Format> format() {
        return Shape.of(
                (map, key, usual) -> {
                    String word = map.text(key, usual.word());
                    Optional<Format> format = Format.of(word);
                    if (format.isEmpty()) {
                        map.wrong(
                                key,
                                "unknown format '" + word + "'",
                                Nearest.word(word, Format.words())
                                        .map(near -> "Did you mean '" + near + "'?")
                                        .orElse("Formats are " + String.join(", ", Format.words())));
                    }
                    return format.orElse(usual);
                },
                Map.of("enum", Format.words()),
                Format::word);
    }

    private static Shape<List<String>> separators() {
        Map<String, Object> one = Map.of("type", "string", "minLength", 1, "maxLength", LONGEST_SEPARATOR);
        return Shape.of(
                (map, key, usual) -> {
                    List<String> all = map.texts(key).stream()
                            .map(text -> separator(map, key, text, usual.get(0)))
                            .toList();
                    if (all.isEmpty() || new HashSet<>(all).size() < all.size()) {
                        map.wrong(key, "'" + key + "' needs " + (all.isEmpty() ? "a text" : "each text once"), "");
                        return usual;
                    }
                    return all;
                },
                Shapes.oneOrMore(one, 1),
                separators -> String.join(" ", separators));
    }

    private static String separator(YamlMap map, String key, String text, String usual) {
        if (text.length() <= 1 && text.chars().allMatch(c -> c < 0x7f)) {
            return String.valueOf(Shapes.character(map, key, text, usual.charAt(0)));
        }
        if (text.length() > LONGEST_SEPARATOR || text.indexOf('\n') >= 0 || text.indexOf('\r') >= 0) {
            map.wrong(
                    key,
                    "'" + key + "' must be at most " + LONGEST_SEPARATOR + " characters without line breaks, not "
                            + Reasons.quote(text),
                    "");
        }
        return text;
    }

    private static Shape<Optional<Character>> quote() {
        return Shape.of(
                (map, key, usual) -> {
                    String text = map.text(key, "\"");
                    return text.equals("none")
                            ? Optional.empty()
                            : Optional.of(Shapes.character(map, key, text, usual.orElse('"')));
                },
                Map.of("type", "string"),
                quote -> quote.map(String::valueOf).orElse("none"));
    }

    private static Shape<List<String>> names() {
        Shape<List<String>> texts = Shapes.texts();
        return Shape.of(
                (map, key, usual) -> {
                    List<String> names = texts.read(map, key, usual);
                    if (names.isEmpty()) {
                        map.wrong(key, "'" + key + "' is empty", "Leave it out where the first line names the columns");
                    }
                    Set<String> seen = new HashSet<>();
                    names.stream()
                            .filter(name -> !seen.add(name))
                            .forEach(name -> map.wrong(key, "'" + name + "' stands twice in '" + key + "'", ""));
                    return names;
                },
                texts.schema(),
                texts::words);
    }

    private static String list(List<String> texts) {
        return texts.stream().map(text -> "\"" + text + "\"").collect(Collectors.joining(", "));
    }
}
