package dev.hapster.core.definition.parse;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.Completeness;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Book;
import dev.hapster.core.definition.JobDef.Clean;
import dev.hapster.core.definition.JobDef.Format;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Range;
import dev.hapster.core.definition.JobDef.Read;
import dev.hapster.core.definition.JobDef.Sheets;
import dev.hapster.core.definition.JobDef.Span;
import dev.hapster.core.definition.JobDef.Surplus;
import dev.hapster.core.definition.JobDef.Tree;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.Nearest;
import dev.hapster.core.definition.Problem;
import dev.hapster.core.definition.Values;
import dev.hapster.core.pattern.ByteSize;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.StandardCharsets;
import java.nio.charset.UnsupportedCharsetException;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.HexFormat;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Reads job and dataset files. Every mistake of a file is reported at once. */
public final class Definitions {

    /** What a job, a dataset or a column may be called. A leading underscore is kept for Hapster's own columns. */
    public static final String NAME_RULE = "[A-Za-z][A-Za-z0-9_]{0,62}";

    public static final String FILE_NAME_RULE = "[A-Za-z0-9][A-Za-z0-9_-]{0,62}";

    static final List<String> DATASET_KEYS = List.of("dataset", "about", "columns", "key", "retain");
    static final List<String> COLUMN_KEYS =
            List.of("name", "type", "about", "required", "length", "matches", "one_of", "min", "max", "default", "was");
    static final List<String> RETAIN_KEYS = List.of("replaced", "history");
    static final List<String> JOB_KEYS = List.of(
            "job",
            "about",
            "into",
            "values",
            "find",
            "read",
            "map",
            "keep",
            "duplicates",
            "load",
            "newest_by",
            "same_name",
            "deleted",
            "commit",
            "rejects",
            "after");
    static final List<String> PLACE_KEYS = List.of(
            "name",
            "folder",
            "list",
            "depth",
            "any_case",
            "zone",
            "settle",
            "unfinished",
            "copies",
            "scan_at_most",
            "sheets",
            "skip_sheets",
            "take",
            "skip",
            "size",
            "modified",
            "created",
            "rank");
    static final List<String> LIST_KEYS = List.of("file", "column", "separator", "encoding", "sheet", "missing");
    static final List<String> NAME_KEYS = List.of("regex");
    static final List<String> SIZE_KEYS = List.of("from", "to");
    static final List<String> RANK_KEYS = List.of("keep", "per");
    static final List<String> SHEET_KEYS = List.of("position");
    static final List<String> READ_KEYS = List.of(
            "as",
            "separator",
            "quote",
            "escape",
            "comment",
            "encoding",
            "lines_above",
            "header",
            "header_contains",
            "lines_below",
            "ends_at",
            "short_rows",
            "long_rows",
            "names",
            "columns",
            "range",
            "table",
            "merged",
            "rows",
            "namespaces",
            "extra_columns",
            "missing_columns",
            "empty_as");
    private static final Set<Format> TEXTS = EnumSet.of(Format.DELIMITED, Format.LINES, Format.FIXED);
    private static final Set<Format> GRIDS = EnumSet.of(Format.DELIMITED, Format.LINES, Format.FIXED, Format.WORKBOOK);
    private static final Set<Format> TREES = EnumSet.of(Format.JSON, Format.JSON_LINES, Format.XML, Format.PARQUET);
    /** Which formats a key of {@code read} goes with; the others go with all. */
    private static final Map<String, Set<Format>> GOES_WITH = Map.ofEntries(
            Map.entry("separator", EnumSet.of(Format.DELIMITED)),
            Map.entry("quote", EnumSet.of(Format.DELIMITED)),
            Map.entry("escape", EnumSet.of(Format.DELIMITED)),
            Map.entry("header", EnumSet.of(Format.DELIMITED)),
            Map.entry("comment", TEXTS),
            Map.entry(
                    "encoding",
                    EnumSet.of(Format.DELIMITED, Format.LINES, Format.FIXED, Format.JSON, Format.JSON_LINES)),
            Map.entry("lines_above", GRIDS),
            Map.entry("header_contains", EnumSet.of(Format.DELIMITED, Format.WORKBOOK)),
            Map.entry("lines_below", GRIDS),
            Map.entry("ends_at", GRIDS),
            Map.entry("short_rows", EnumSet.of(Format.DELIMITED, Format.FIXED)),
            Map.entry("long_rows", EnumSet.of(Format.DELIMITED, Format.FIXED, Format.WORKBOOK)),
            Map.entry("names", EnumSet.of(Format.DELIMITED, Format.LINES, Format.WORKBOOK)),
            Map.entry("columns", EnumSet.of(Format.FIXED)),
            Map.entry("range", EnumSet.of(Format.WORKBOOK)),
            Map.entry("table", EnumSet.of(Format.WORKBOOK)),
            Map.entry("merged", EnumSet.of(Format.WORKBOOK)),
            Map.entry("rows", TREES),
            Map.entry("namespaces", EnumSet.of(Format.XML)));

    static final List<String> MAPPING_KEYS = List.of(
            "from", "fact", "value", "clean", "empty_as", "decimal", "thousands", "pattern", "true_as", "false_as");
    static final List<String> CLEAN_KEYS = List.of("trim", "upper", "lower", "remove", "replace");

    private static final int MOST_COLUMNS = 2_000;
    private static final java.util.regex.Pattern RANK =
            java.util.regex.Pattern.compile("(newest|oldest|largest|smallest)\\s+([1-9]\\d{0,5})");

    private Definitions() {}

    /**
     * Reads a dataset file.
     *
     * @param file name of the file for messages, such as {@code datasets/river_samples.yaml}
     */
    public static DatasetDef dataset(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = YamlMap.parse(file, text, problems).only(DATASET_KEYS);
        String name = root.required("dataset", "Write `dataset: " + stem(file) + "` as the first line");
        checkName(root, "dataset", name, file);
        List<ColumnDef> columns = new ArrayList<>();
        Set<String> names = new HashSet<>();
        if (!root.has("columns")) {
            root.missing("columns", "List at least one column: `- {name: …, type: …}`");
        } else {
            for (YamlMap column : root.maps("columns")) {
                columns.add(column(column, names));
            }
            if ((columns.isEmpty() && problems.isEmpty()) || columns.size() > MOST_COLUMNS) {
                root.wrong(
                        "columns", "a dataset has from 1 to " + MOST_COLUMNS + " columns, not " + columns.size(), "");
            }
        }
        List<String> key = root.texts("key");
        for (String column : key) {
            if (problems.isEmpty()
                    && columns.stream().noneMatch(one -> one.name().equals(column))) {
                root.wrong(
                        "key",
                        "the key names '" + column + "', which is not a column",
                        Nearest.hint(
                                column, columns.stream().map(ColumnDef::name).toList()));
            }
        }
        formerNames(root, columns);
        DatasetDef.Retain retain = retain(root);
        String about = root.text("about", "");
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return new DatasetDef(name, about, columns, key, retain, version(text), text);
    }

    /** Older parts are read by the names that columns had: no name may mean two columns. */
    private static void formerNames(YamlMap root, List<ColumnDef> columns) {
        Set<String> taken = new HashSet<>();
        columns.forEach(column -> taken.add(column.name()));
        for (ColumnDef column : columns) {
            for (String former : column.was()) {
                if (!taken.add(former)) {
                    root.wrong(
                            "columns",
                            "'" + former + "' is what " + column.name()
                                    + " was called, and another column is or was called so too",
                            "Older rows have one column of that name; give the other one a name that none ever had");
                }
            }
        }
    }

    private static DatasetDef.Retain retain(YamlMap root) {
        if (!root.has("retain")) {
            return DatasetDef.Retain.USUAL;
        }
        YamlMap map = root.map("retain").only(RETAIN_KEYS);
        return new DatasetDef.Retain(
                duration(map, "replaced", DatasetDef.Retain.USUAL.replaced()),
                duration(map, "history", DatasetDef.Retain.USUAL.history()));
    }

    private static Duration duration(YamlMap map, String key, Duration usual) {
        try {
            return map.has(key) ? Durations.parse(map.text(key, "")) : usual;
        } catch (IllegalArgumentException wrong) {
            map.wrong(key, wrong.getMessage(), "");
            return usual;
        }
    }

    private static ColumnDef column(YamlMap map, Set<String> names) {
        map.only(COLUMN_KEYS);
        String name = map.required("name", "");
        if (map.has("name")) {
            if (!name.matches(NAME_RULE)) {
                map.wrong(
                        "name",
                        "a column cannot be called '" + name + "'",
                        "Use letters, digits and _, beginning with a letter");
            } else if (!names.add(name.toLowerCase(Locale.ROOT))) {
                map.wrong("name", "the column '" + name + "' is declared twice", "Keep one of them");
            }
        }
        String written = map.required("type", "Types are " + ColumnType.WORDS);
        ColumnType type = ColumnType.parse(written).orElse(null);
        if (type == null) {
            if (map.has("type")) {
                map.wrong(
                        "type",
                        "unknown type '" + written + "'",
                        Nearest.word(
                                        written,
                                        List.of(
                                                "text",
                                                "integer",
                                                "double",
                                                "boolean",
                                                "date",
                                                "time",
                                                "timestamp",
                                                "decimal(12,4)"))
                                .map(word -> "Did you mean '" + word + "'?")
                                .orElse("Types are " + ColumnType.WORDS));
            }
            type = ColumnType.of(Kind.TEXT);
        }
        boolean isText = type.kind() == Kind.TEXT;
        boolean ranged = type.isNumber() || type.isTemporal();
        for (String key : List.of("length", "matches", "one_of")) {
            if (map.has(key) && !isText) {
                map.wrongKey(key, "'" + key + "' goes with text only; '" + name + "' is " + type, "");
            }
        }
        for (String key : List.of("min", "max")) {
            if (map.has(key) && !ranged) {
                map.wrongKey(key, "'" + key + "' goes with numbers, dates and times; '" + name + "' is " + type, "");
            } else if (map.has(key) && !readable(type, map.text(key, ""))) {
                map.wrong(
                        key,
                        "'" + map.text(key, "") + "' is not a valid " + type,
                        type.isTemporal() ? "Write it as ISO 8601, such as 2026-01-31" : "");
            }
        }
        map.text("matches").ifPresent(pattern -> {
            try {
                Pattern.compile(pattern);
            } catch (PatternSyntaxException wrong) {
                map.wrong(
                        "matches",
                        "'" + pattern + "' is not a regular expression (RE2): " + wrong.getDescription(),
                        "");
            }
        });
        Optional<Integer> length =
                map.has("length") ? Optional.of(map.number("length", 1, 1, 1_000_000)) : Optional.empty();
        checkDefault(map, type);
        map.texts("was").stream()
                .filter(former -> !former.matches(NAME_RULE) || former.equalsIgnoreCase(name))
                .forEach(former -> map.wrong("was", "'" + former + "' cannot be what " + name + " was called", ""));
        return new ColumnDef(
                name,
                type,
                map.flag("required", false),
                length,
                map.text("matches"),
                map.texts("one_of"),
                map.text("min"),
                map.text("max"),
                map.text("about", ""),
                map.text("default"),
                map.texts("was"));
    }

    private static void checkDefault(YamlMap map, ColumnType type) {
        map.text("default").ifPresent(value -> {
            boolean fits =
                    switch (type.kind()) {
                        case TEXT -> true;
                        case BOOLEAN -> value.equals("true") || value.equals("false");
                        case INTEGER -> value.matches("[+-]?\\d{1,18}");
                        case DECIMAL -> readable(type, value) && fits(new java.math.BigDecimal(value), type);
                        default -> readable(type, value);
                    };
            if (!fits) {
                map.wrong(
                        "default",
                        "'" + value + "' is not a valid " + type,
                        type.isTemporal() ? "Write it as ISO 8601, such as 2026-01-31" : "");
            }
        });
    }

    private static boolean fits(java.math.BigDecimal value, ColumnType type) {
        java.math.BigDecimal plain = value.stripTrailingZeros();
        return Math.max(0, plain.scale()) <= type.scale()
                && plain.precision() - plain.scale() <= type.precision() - type.scale();
    }

    private static boolean readable(ColumnType type, String text) {
        if (type.isTemporal()) {
            return DatePattern.ISO.parse(text) > DatePattern.NO_SUCH_DAY;
        }
        try {
            new java.math.BigDecimal(text);
            return true;
        } catch (NumberFormatException notOne) {
            return false;
        }
    }

    /**
     * Reads the file of values that all jobs share.
     *
     * @return values by name, with nothing put in yet
     */
    public static Map<String, String> values(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        Map<String, String> values = text.isBlank() ? Map.of() : values(YamlMap.parse(file, text, problems));
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return values;
    }

    private static Map<String, String> values(YamlMap map) {
        Map<String, String> values = new LinkedHashMap<>();
        for (String name : map.keys()) {
            if (!name.matches(Values.NAME_RULE)) {
                map.wrongKey(
                        name,
                        "a value cannot be called '" + name + "'",
                        "Use letters, digits and _, beginning with a letter");
            } else {
                map.text(name).ifPresent(value -> values.put(name, value));
            }
        }
        return values;
    }

    /**
     * What a job's file says about where to look, whatever else is wrong with it.
     *
     * @param places those that are declared without mistakes, by their position in the file
     * @param problems mistakes of {@code values} and {@code find}
     */
    public record Search(Map<Integer, Place> places, List<Values.Used> values, List<Problem> problems) {}

    /** Reads no more of a job file than {@code values} and {@code find}. */
    public static Search search(String file, String text, Values values) {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = YamlMap.parse(file, text, problems);
        Values.Expansion expansion = values.new Expansion(root.has("values") ? values(root.map("values")) : Map.of());
        Map<Integer, Place> places = new LinkedHashMap<>();
        YamlMap expanded = root.expanding(expansion::expand);
        List<Problem> elsewhere = new ArrayList<>();
        YamlMap quiet = YamlMap.parse(file, text, elsewhere).expanding(expansion::expand);
        Format format = quiet.has("read") ? format(quiet.map("read")) : Format.DELIMITED;
        List<YamlMap> declared = root.has("find") ? expanded.maps("find") : List.of();
        for (int i = 0; i < declared.size(); i++) {
            int before = problems.size();
            Place place = place(declared.get(i), format);
            if (problems.size() == before) {
                places.put(i + 1, place);
            }
        }
        return new Search(places, expansion.used(), problems);
    }

    /** Reads a job file with no values but those it declares itself. */
    public static JobDef job(
            String file, String text, Function<String, Optional<DatasetDef>> datasets, Set<String> known)
            throws DefinitionException {
        return job(file, text, datasets, known, Values.none());
    }

    /**
     * Reads a job file and checks it against the dataset that it loads into.
     *
     * @param file name of the file for messages, such as {@code jobs/east-lab.yaml}
     * @param datasets gives a dataset by its name; empty where there is none or it has mistakes of its own
     * @param known names of all datasets, for the nearest right word
     * @param values what its <code>${names}</code> stand for
     */
    public static JobDef job(
            String file, String text, Function<String, Optional<DatasetDef>> datasets, Set<String> known, Values values)
            throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap plain = YamlMap.parse(file, text, problems).only(JOB_KEYS);
        Values.Expansion expansion = values.new Expansion(plain.has("values") ? values(plain.map("values")) : Map.of());
        YamlMap root = plain.expanding(expansion::expand);
        String name = root.required("job", "Write `job: " + stem(file) + "` as the first line");
        checkName(root, "job", name, file);
        String into = root.required("into", "Name the dataset: `into: …`");
        Optional<DatasetDef> dataset = datasets.apply(into);
        if (root.has("into") && !known.contains(into)) {
            root.wrong(
                    "into",
                    "there is no dataset '" + into + "' (no file datasets/" + into + ".yaml)",
                    Nearest.hint(into, known));
        }
        Format format = root.has("read") ? format(root.map("read")) : Format.DELIMITED;
        List<Place> find = new ArrayList<>();
        if (!root.has("find")) {
            root.missing("find", "Say where to look: `find: [{folder: …, take: [\"*.csv\"]}]`");
        } else {
            List<YamlMap> places = root.maps("find");
            places.forEach(place -> find.add(place(place, format)));
            if (places.isEmpty() && problems.isEmpty()) {
                root.wrong("find", "'find' names no folder", "");
            }
        }
        Read read = read(root, format);
        Map<String, Mapping> map = new LinkedHashMap<>();
        if (root.has("map")) {
            YamlMap mappings = root.map("map");
            for (String column : mappings.keys()) {
                ColumnDef target =
                        dataset.flatMap(found -> found.column(column)).orElse(null);
                if (target == null && dataset.isPresent()) {
                    mappings.wrongKey(
                            column,
                            "the dataset " + into + " has no column '" + column + "'",
                            Nearest.hint(
                                    column,
                                    dataset.get().columns().stream()
                                            .map(ColumnDef::name)
                                            .toList()));
                }
                Mapping mapping = mapping(mappings, column, target);
                map.put(column, mapping);
                if (mapping instanceof Mapping.Fact fact) {
                    checkFact(mappings.map(column), fact.name(), find);
                }
            }
        }
        Handling handling = HandlingKeys.read(root, dataset, facts(find), read);
        String about = root.text("about", "");
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return new JobDef(name, about, into, expansion.used(), find, read, map, handling, version(text), text);
    }

    /** What the names of the job's files may say. */
    private static Set<String> facts(List<Place> places) {
        Set<String> known = new java.util.TreeSet<>();
        for (Place place : places) {
            place.rules().forEach(rule -> names(rule).forEach(name -> known.addAll(name.facts())));
            place.sheets().ifPresent(sheets -> sheets.names().forEach(name -> known.addAll(name.facts())));
        }
        return known;
    }

    /** Each pattern that takes files must yield a fact that a column needs. */
    private static void checkFact(YamlMap mapping, String fact, List<Place> places) {
        Set<String> known = facts(places);
        for (Place place : places) {
            List<List<NamePattern>> takes = place.rules().stream()
                    .filter(FindRule.Take.class::isInstance)
                    .map(Definitions::names)
                    .toList();
            boolean yields = takes.stream().anyMatch(names -> names.stream()
                    .allMatch(name -> name.facts().contains(fact)));
            boolean titles = place.sheets().isPresent()
                    && place.sheets().get().names().stream()
                            .anyMatch(name -> name.facts().contains(fact));
            if (!yields && !titles) {
                String lacking = takes.stream()
                        .flatMap(List::stream)
                        .filter(name -> !name.facts().contains(fact))
                        .findFirst()
                        .map(name -> "the pattern " + name.words() + " yields no '" + fact + "'")
                        .orElse("the place " + place.folder() + " has no pattern that yields '" + fact + "'");
                mapping.wrong(
                        "fact",
                        lacking,
                        known.contains(fact) || Nearest.word(fact, known).isEmpty()
                                ? "Put a piece {" + fact + "} into it, or give those files a job of their own"
                                : Nearest.hint(fact, known));
            }
        }
    }

    private static List<NamePattern> names(FindRule rule) {
        return rule instanceof FindRule.Take take ? take.names() : List.of();
    }

    private static Place place(YamlMap map, Format format) {
        map.only(PLACE_KEYS);
        String folder = map.required("folder", "Name the folder to look into");
        if (map.text("folder").filter(String::isBlank).isPresent()) {
            map.wrong("folder", "'folder' is empty", "Use . for the workspace itself");
        }
        Optional<String> name = map.text("name");
        if (name.filter(word -> !word.matches(FILE_NAME_RULE)).isPresent()) {
            map.wrong("name", "'" + name.get() + "' cannot be the name of a place", "Use letters, digits, - and _");
        }
        int depth = map.number("depth", 0, 0, 32);
        boolean anyCase = map.flag("any_case", false);
        Optional<ZoneId> zone = zone(map);
        Optional<NameList> list = map.has("list") ? list(map) : Optional.empty();
        if (!map.has("take") && !map.has("list")) {
            map.missing("take", "Say which names to take, for example `take: [\"*.csv\"]`");
        }
        if (list.isPresent() && map.has("depth")) {
            map.wrongKey("depth", "'depth' does not go with 'list': the list names each file", "");
        }
        List<FindRule> rules = new ArrayList<>();
        for (String key : map.keys()) {
            switch (key) {
                case "take" -> rules.add(new FindRule.Take(names(map, key, anyCase, depth)));
                case "skip" -> rules.add(new FindRule.Skip(names(map, key, anyCase, depth)));
                case "size" -> size(map).ifPresent(rules::add);
                case "modified" -> range(map, key).map(FindRule.Modified::new).ifPresent(rules::add);
                case "created" -> range(map, key).map(FindRule.Created::new).ifPresent(rules::add);
                case "rank" -> rank(map).ifPresent(rules::add);
                default -> { // no rule: the other keys say where to look and how the rules are meant
                }
            }
        }
        String copies = map.text("copies", "reject");
        if (!copies.equals("reject") && !copies.equals("load")) {
            map.wrong("copies", "'copies' must be reject or load, not '" + copies + "'", "");
        }
        return new Place(
                folder,
                depth,
                rules,
                zone,
                list,
                arrival(map, anyCase),
                copies.equals("load"),
                map.number("scan_at_most", Place.MOST_ENTRIES, 1, 10_000_000),
                sheets(map, format),
                name);
    }

    private static Optional<Sheets> sheets(YamlMap map, Format format) {
        if (format != Format.WORKBOOK) {
            for (String key : List.of("sheets", "skip_sheets")) {
                if (map.has(key)) {
                    map.wrongKey(
                            key,
                            "'" + key + "' goes with workbooks; the job reads " + format.noun(),
                            "Write `read: {as: workbook}`");
                }
            }
            return Optional.empty();
        }
        List<NamePattern> names = new ArrayList<>();
        List<Integer> positions = new ArrayList<>();
        for (YamlMap item : map.has("sheets") ? map.words("sheets") : List.<YamlMap>of()) {
            if (!item.isWord() && !item.has("regex")) {
                item.only(SHEET_KEYS);
                boolean last = item.text("position", "").equals("last");
                positions.add(last ? -1 : item.has("position") ? item.number("position", 1, 1, 10_000) : 1);
            } else {
                name(item, true, 32).ifPresent(names::add);
            }
        }
        return Optional.of(
                new Sheets(names, positions, map.has("skip_sheets") ? names(map, "skip_sheets", true, 32) : List.of()));
    }

    private static Completeness arrival(YamlMap map, boolean anyCase) {
        Duration settle = Completeness.SETTLE;
        if (map.has("settle")) {
            try {
                settle = Durations.parse(map.text("settle", ""));
            } catch (IllegalArgumentException wrong) {
                map.wrong("settle", wrong.getMessage(), "");
            }
            if (settle.compareTo(Duration.ofDays(1)) > 0) {
                map.wrong(
                        "settle",
                        "'settle' is longer than a day",
                        "A run waits so long for young files; give it seconds or minutes");
            }
        }
        return new Completeness(
                settle,
                map.has("unfinished") ? names(map, "unfinished", anyCase, 32) : Completeness.USUAL.unfinished());
    }

    private static Optional<NameList> list(YamlMap place) {
        boolean isText = place.isText("list");
        YamlMap map = isText ? place : place.map("list").only(LIST_KEYS);
        String file = map.required(isText ? "list" : "file", "Name the file that holds the list");
        String missing = isText ? "stop" : map.text("missing", "stop");
        if (!missing.equals("stop") && !missing.equals("report")) {
            map.wrong("missing", "'missing' must be stop or report, not '" + missing + "'", "");
        }
        if (isText) {
            return Optional.of(new NameList(
                    file, Optional.empty(), Optional.empty(), StandardCharsets.UTF_8, Optional.empty(), true));
        }
        if (!map.has("column")) {
            map.keys().stream()
                    .filter(List.of("separator", "sheet")::contains)
                    .findFirst()
                    .ifPresent(key -> map.wrongKey(
                            key,
                            "'" + key + "' goes with a column only",
                            "Name it with `column`; without one each line is a name"));
        }
        Optional<Character> separator =
                map.has("separator") ? Optional.of(character(map, "separator", ',')) : Optional.empty();
        return Optional.of(new NameList(
                file, map.text("column"), separator, encoding(map), map.text("sheet"), missing.equals("stop")));
    }

    private static Optional<ZoneId> zone(YamlMap map) {
        if (!map.has("zone")) {
            return Optional.empty();
        }
        try {
            return Optional.of(ZoneId.of(map.text("zone", "")));
        } catch (java.time.DateTimeException unknown) {
            map.wrong(
                    "zone",
                    "unknown time zone '" + map.text("zone", "") + "'",
                    Nearest.word(map.text("zone", ""), ZoneId.getAvailableZoneIds())
                            .map(word -> "Did you mean '" + word + "'?")
                            .orElse("Write it like Europe/Vienna or UTC"));
            return Optional.empty();
        }
    }

    /** Patterns and regular expressions, mixed as people like. */
    private static List<NamePattern> names(YamlMap map, String key, boolean anyCase, int depth) {
        List<NamePattern> names = new ArrayList<>();
        map.words(key).forEach(item -> name(item, anyCase, depth).ifPresent(names::add));
        return names;
    }

    private static Optional<NamePattern> name(YamlMap item, boolean anyCase, int depth) {
        boolean isRegex = item.has("regex");
        if (!item.isWord()) {
            item.only(NAME_KEYS);
        }
        String text = isRegex
                ? item.text("regex", "")
                : item.isWord() ? item.keys().iterator().next() : "";
        if (!isRegex && !item.isWord()) {
            return Optional.empty(); // reported above as unknown
        }
        try {
            NamePattern name = isRegex ? NamePattern.regex(text, anyCase) : NamePattern.of(text, anyCase);
            boolean folders = name.archive().map(NamePattern::hasFolders).orElseGet(name::hasFolders);
            if (folders && depth == 0) {
                item.wrong("the pattern '" + text + "' speaks of subfolders, and depth is 0", "Add `depth: 1` or more");
            }
            return Optional.of(name);
        } catch (IllegalArgumentException wrong) {
            item.wrong(wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static Optional<FindRule> size(YamlMap place) {
        YamlMap map = place.map("size").only(SIZE_KEYS);
        long from = bytes(map, "from", 0);
        long to = bytes(map, "to", Long.MAX_VALUE);
        if (from > to) {
            map.wrong("'from' is larger than 'to'", "");
        }
        String written = (map.has("from") ? "from " + map.text("from", "") : "")
                + (map.has("from") && map.has("to") ? " " : "")
                + (map.has("to") ? "to " + map.text("to", "") : "");
        return Optional.of(new FindRule.Size(from, to, written));
    }

    private static long bytes(YamlMap map, String key, long fallback) {
        try {
            return map.has(key) ? ByteSize.parse(map.text(key, "")) : fallback;
        } catch (IllegalArgumentException wrong) {
            map.wrong(key, wrong.getMessage(), "");
            return fallback;
        }
    }

    private static Optional<TimeRange> range(YamlMap place, String key) {
        try {
            return place.text(key).map(TimeRange::of);
        } catch (IllegalArgumentException wrong) {
            place.wrong(key, wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static Optional<FindRule> rank(YamlMap place) {
        boolean isText = place.isText("rank");
        YamlMap map = isText ? place : place.map("rank").only(RANK_KEYS);
        String key = isText ? "rank" : "keep";
        String text = map.required(key, "Write `newest 3`");
        String per = isText ? "all" : map.text("per", "all");
        java.util.regex.Matcher words = RANK.matcher(text);
        if (map.has(key) && !words.matches()) {
            map.wrong(key, "'" + text + "' is not a rank", "Write `newest 3`, `oldest 1`, `largest 1` or `smallest 2`");
        }
        if (!per.equals("all") && !per.equals("folder")) {
            map.wrong("per", "'per' must be folder or all, not '" + per + "'", "");
        }
        return words.matches()
                ? Optional.of(new FindRule.Rank(
                        FindRule.Order.valueOf(words.group(1).toUpperCase(Locale.ROOT)),
                        Integer.parseInt(words.group(2)),
                        per.equals("folder")))
                : Optional.empty();
    }

    private static Format format(YamlMap read) {
        String as = read.text("as", "delimited");
        for (Format format : Format.values()) {
            if (format.word().equals(as)) {
                return format;
            }
        }
        List<String> words =
                java.util.Arrays.stream(Format.values()).map(Format::word).toList();
        read.wrong(
                "as",
                "unknown format '" + as + "'",
                Nearest.word(as, words)
                        .map(word -> "Did you mean '" + word + "'?")
                        .orElse("Formats are " + String.join(", ", words)));
        return Format.DELIMITED;
    }

    private static Read read(YamlMap root, Format format) {
        if (!root.has("read")) {
            return new Read(',', Optional.of('"'), StandardCharsets.UTF_8, 0, List.of(), List.of(""));
        }
        YamlMap map = root.map("read").only(READ_KEYS);
        for (String key : map.keys()) {
            if (GOES_WITH.containsKey(key) && !GOES_WITH.get(key).contains(format)) {
                map.wrongKey(
                        key,
                        "'" + key + "' does not go with " + format.noun(),
                        "It goes with as: "
                                + GOES_WITH.get(key).stream()
                                        .map(Format::word)
                                        .collect(java.util.stream.Collectors.joining(", ")));
            }
        }
        String quoteWord = map.text("quote", "\"");
        Optional<Character> quote =
                quoteWord.equals("none") ? Optional.empty() : Optional.of(character(map, "quote", '"'));
        String separator = separator(map, quote);
        Optional<Character> escape = map.has("escape") ? Optional.of(character(map, "escape", '\\')) : Optional.empty();
        if (escape.isPresent() && (escape.equals(quote) || separator.indexOf(escape.get()) >= 0)) {
            map.wrong(
                    "escape",
                    "'escape' is the same character as " + (escape.equals(quote) ? "the quote" : "the separator"),
                    escape.equals(quote) ? "A quote is doubled within a quoted value anyway" : "");
        }
        String comment = line(map, "comment");
        String headerContains = line(map, "header_contains");
        String endsAt = line(map, "ends_at");
        Charset encoding = encoding(map);
        List<Span> spans = map.has("columns") ? spans(map) : List.of();
        if (format == Format.FIXED && !map.has("columns")) {
            map.missing("columns", "Say where each column stands: `columns: {station: 1-6, value: 7-14}`");
        }
        List<String> names = new ArrayList<>(
                format == Format.FIXED
                        ? spans.stream().map(Span::name).toList()
                        : format == Format.LINES && !map.has("names") ? List.of("line") : map.texts("names"));
        Set<String> seen = new HashSet<>();
        names.forEach(column -> {
            if (!seen.add(column)) {
                map.wrong("names", "'" + column + "' stands twice in 'names'", "");
            }
        });
        if (map.has("names") && names.isEmpty()) {
            map.wrong("names", "'names' is empty", "Leave it out where the first line names the columns");
        }
        if (format == Format.LINES && names.size() > 1) {
            map.wrong("names", "lines are one column, and 'names' has " + names.size(), "Name one");
        }
        List<String> emptyAs = map.has("empty_as") ? map.texts("empty_as") : List.of("");
        String header = map.text("header", "every");
        if (!header.equals("every") && !header.equals("once")) {
            map.wrong(
                    "header",
                    "'header' must be every or once, not '" + header + "'",
                    "Where no file has a header, name the columns with `names`");
        }
        for (String key : List.of("header_contains", "header")) {
            if (map.has("names") && map.has(key)) {
                map.wrongKey(
                        key,
                        "'names' says that there is no header, '" + key + "' that there is one",
                        "Keep one of them");
            }
        }
        return new Read(
                format,
                separator,
                quote,
                escape,
                Optional.of(comment).filter(text -> !text.isEmpty()),
                encoding,
                map.number("lines_above", 0, 0, 1_000_000),
                Optional.of(headerContains).filter(text -> !text.isEmpty()),
                map.number("lines_below", 0, 0, 10_000),
                Optional.of(endsAt).filter(text -> !text.isEmpty()),
                ragged(map, "short_rows", "fill"),
                ragged(map, "long_rows", "cut"),
                names,
                header.equals("once"),
                emptyAs,
                surplus(map),
                book(map),
                tree(map, format),
                spans);
    }

    private static Surplus surplus(YamlMap map) {
        boolean isWord = map.isText("extra_columns");
        String extra = isWord ? map.text("extra_columns", "reject") : "reject";
        boolean known = extra.equals("reject") || extra.equals("ignore");
        if (!known) {
            map.wrong(
                    "extra_columns",
                    "'extra_columns' must be reject, ignore or a list of names, not '" + extra + "'",
                    "Write `extra_columns: [" + extra + "]` to skip this one");
        }
        String missing = map.text("missing_columns", "reject");
        if (!missing.equals("reject") && !missing.equals("empty")) {
            map.wrong("missing_columns", "'missing_columns' must be reject or empty, not '" + missing + "'", "");
        }
        return new Surplus(
                extra.equals("ignore"),
                map.has("extra_columns") && !isWord ? map.texts("extra_columns") : List.of(),
                missing.equals("empty"));
    }

    private static final java.util.regex.Pattern RANGE = java.util.regex.Pattern.compile(
            "\\$?([A-Za-z]{1,3})?\\$?([1-9]\\d{0,6})?:\\$?([A-Za-z]{1,3})?\\$?([1-9]\\d{0,6})?");

    private static Book book(YamlMap map) {
        Optional<Range> range = Optional.empty();
        if (map.has("range")) {
            java.util.regex.Matcher words = RANGE.matcher(map.text("range", ""));
            boolean fits = words.matches()
                    && (words.group(1) == null) == (words.group(3) == null)
                    && (words.group(1) != null || words.group(2) != null);
            int firstRow = fits && words.group(2) != null ? Integer.parseInt(words.group(2)) : 1;
            int lastRow = fits && words.group(4) != null ? Integer.parseInt(words.group(4)) : Integer.MAX_VALUE;
            int firstColumn = fits && words.group(1) != null ? column(words.group(1)) : 1;
            int lastColumn = fits && words.group(3) != null ? column(words.group(3)) : Integer.MAX_VALUE;
            if (!fits || firstRow > lastRow || firstColumn > lastColumn) {
                map.wrong(
                        "range",
                        "'" + map.text("range", "") + "' is not a range of cells",
                        "Write it like B3:G200; B3:G goes to the last row, B:G takes whole columns");
            }
            range = Optional.of(new Range(firstRow, lastRow, firstColumn, lastColumn));
        }
        if (map.has("table") && map.has("range")) {
            map.wrongKey("range", "'table' says where the cells are, and so does 'range'", "Keep one of them");
        }
        String merged = map.text("merged", "first");
        if (!merged.equals("first") && !merged.equals("repeat")) {
            map.wrong("merged", "'merged' must be first or repeat, not '" + merged + "'", "");
        }
        return new Book(range, map.text("table"), merged.equals("repeat"));
    }

    /** The position of a column by its letters, counted from 1. */
    private static int column(String letters) {
        int column = 0;
        for (char letter : letters.toUpperCase(Locale.ROOT).toCharArray()) {
            column = column * 26 + letter - 'A' + 1;
        }
        return column;
    }

    private static Tree tree(YamlMap map, Format format) {
        List<String> rows = new ArrayList<>();
        if (map.has("rows")) {
            String text = map.text("rows", "");
            String path = text.startsWith("$") ? text.substring(1) : text;
            String separator = format == Format.XML ? "/" : "\\.";
            for (String name : path.split(separator, -1)) {
                String plain = name.replaceAll("(\\[\\*?\\])+$", "");
                if (!plain.isEmpty()) {
                    rows.add(plain);
                }
            }
            boolean broken =
                    rows.stream().anyMatch(name -> name.indexOf('[') >= 0 || name.indexOf(']') >= 0 || name.isBlank());
            if (broken || (rows.isEmpty() && !text.matches("\\$?(\\[\\*?\\])?")) || rows.size() > 32) {
                map.wrong(
                        "rows",
                        "'" + text + "' is not a path to rows",
                        format == Format.XML
                                ? "Write it like report/visit/sample"
                                : "Write it like visits[].samples[]");
            }
        }
        return new Tree(rows, map.has("namespaces") ? map.pairs("namespaces") : Map.of());
    }

    private static final java.util.regex.Pattern SPAN =
            java.util.regex.Pattern.compile("([1-9]\\d{0,5})(?:\\s*-\\s*([1-9]\\d{0,5})?)?");

    private static List<Span> spans(YamlMap read) {
        YamlMap map = read.map("columns");
        List<Span> spans = new ArrayList<>();
        for (String name : map.keys()) {
            String text = map.text(name, "");
            java.util.regex.Matcher words = SPAN.matcher(text);
            int from = words.matches() ? Integer.parseInt(words.group(1)) : 1;
            int to = !words.matches()
                    ? 1
                    : words.group(2) != null
                            ? Integer.parseInt(words.group(2))
                            : text.indexOf('-') >= 0 ? Integer.MAX_VALUE : from;
            if (!words.matches() || to < from) {
                map.wrong(
                        name,
                        "'" + text + "' is not a position",
                        "Write it like 7-14, 7 for one character, or 7- to the end of the line");
            }
            for (Span other : spans) {
                if (from <= other.to() && other.from() <= to) {
                    map.wrong(name, "the positions of '" + name + "' overlap those of '" + other.name() + "'", "");
                    break;
                }
            }
            spans.add(new Span(name, from, to));
        }
        if (spans.isEmpty()) {
            read.wrong(
                    "columns",
                    "'columns' is empty",
                    "Say where each column stands: `columns: {station: 1-6, value: 7-14}`");
        }
        spans.sort(java.util.Comparator.comparingInt(Span::from));
        return spans;
    }

    private static boolean ragged(YamlMap map, String key, String other) {
        String word = map.text(key, "reject");
        if (!word.equals("reject") && !word.equals(other)) {
            map.wrong(key, "'" + key + "' must be reject or " + other + ", not '" + word + "'", "");
        }
        return word.equals(other);
    }

    /** A text that stands on one line; empty where the key is absent. */
    private static String line(YamlMap map, String key) {
        String text = map.text(key, "");
        if (map.has(key)
                && (text.isEmpty() || text.length() > 200 || text.indexOf('\n') >= 0 || text.indexOf('\r') >= 0)) {
            map.wrong(key, "'" + key + "' must be a text of 1 to 200 characters on one line", "");
        }
        return text;
    }

    private static String separator(YamlMap map, Optional<Character> quote) {
        String text = map.text("separator", ",");
        if (text.length() <= 1 && text.chars().allMatch(c -> c < 0x7f)) {
            char one = character(map, "separator", ',');
            if (quote.isPresent() && quote.get() == one) {
                map.wrong("separator", "separator and quote are the same character", "");
            }
            return String.valueOf(one);
        }
        if (text.length() > 8
                || text.indexOf('\n') >= 0
                || text.indexOf('\r') >= 0
                || (quote.isPresent() && text.indexOf(quote.get()) >= 0)) {
            map.wrong(
                    "separator",
                    "'separator' must be at most 8 characters, without line breaks and quotes, not "
                            + dev.hapster.core.reason.Reasons.quote(text),
                    "");
        }
        return text;
    }

    private static Charset encoding(YamlMap map) {
        String charset = map.text("encoding", "UTF-8");
        try {
            return Charset.forName(charset);
        } catch (IllegalCharsetNameException | UnsupportedCharsetException unknown) {
            map.wrong(
                    "encoding",
                    "unknown encoding '" + charset + "'",
                    Nearest.word(charset, Charset.availableCharsets().keySet())
                            .map(word -> "Did you mean '" + word + "'?")
                            .orElse("Common ones are UTF-8, ISO-8859-1, windows-1252, UTF-16"));
            return StandardCharsets.UTF_8;
        }
    }

    private static char character(YamlMap map, String key, char fallback) {
        String text = map.text(key, String.valueOf(fallback));
        boolean fits = text.length() == 1 && text.charAt(0) < 0x7f && (text.charAt(0) >= ' ' || text.charAt(0) == '\t');
        if (!fits || Character.isLetterOrDigit(text.charAt(0))) {
            map.wrong(
                    key,
                    "'" + key + "' must be one ASCII character that is not a letter and no digit, not '" + text + "'",
                    "A tab is written \"\\t\", in double quotes");
            return fallback;
        }
        return text.charAt(0);
    }

    private static Mapping mapping(YamlMap mappings, String column, ColumnDef target) {
        if (mappings.isText(column)) {
            Mapping.Source plain = Mapping.Source.PLAIN;
            return new Mapping.Source(
                    Optional.of(mappings.text(column, column)),
                    plain.clean(),
                    plain.emptyAs(),
                    plain.decimal(),
                    plain.thousands(),
                    plain.patterns(),
                    plain.trueAs(),
                    plain.falseAs());
        }
        YamlMap map = mappings.map(column).only(MAPPING_KEYS);
        if (map.has("value")) {
            map.keys().stream()
                    .filter(key -> !key.equals("value") && MAPPING_KEYS.contains(key))
                    .findFirst()
                    .ifPresent(key -> map.wrongKey(
                            key,
                            "'value' is the same in every row and stands alone; '" + key + "' does not go with it",
                            ""));
            return new Mapping.Constant(map.text("value", ""));
        }
        if (target != null) {
            only(
                    map,
                    target,
                    target.type().isNumber() && target.type().kind() != Kind.INTEGER,
                    "decimal",
                    "numbers with decimals");
            only(map, target, target.type().isNumber(), "thousands", "numbers");
            only(map, target, target.type().isTemporal(), "pattern", "dates and times");
            only(map, target, target.type().kind() == Kind.BOOLEAN, "true_as", "booleans");
            only(map, target, target.type().kind() == Kind.BOOLEAN, "false_as", "booleans");
        }
        char decimal = map.has("decimal") ? oneOf(map, "decimal", ".,") : '.';
        Optional<Character> thousands = map.has("thousands")
                ? Optional.of(oneOf(map, "thousands", ".,' _\u00a0\u202f\u2019"))
                : Optional.empty();
        if (thousands.isPresent() && thousands.get() == decimal) {
            map.wrong("thousands", "'thousands' and 'decimal' are the same character", "");
        }
        for (String pattern : map.texts("pattern")) {
            try {
                DatePattern parsed = DatePattern.of(pattern);
                boolean suits =
                        target == null || (target.type().kind() == Kind.TIME ? parsed.hasTime() : parsed.hasDate());
                if (target != null && target.type().isTemporal() && !suits) {
                    map.wrong(
                            "pattern",
                            "the pattern '" + pattern + "' gives no "
                                    + (target.type().kind() == Kind.TIME ? "time" : "whole day"),
                            "Letters are yyyy, MM, dd, HH, mm, ss (CLDR)");
                }
            } catch (IllegalArgumentException wrong) {
                map.wrong("pattern", wrong.getMessage(), "");
            }
        }
        if (map.has("fact") && map.has("from")) {
            map.wrongKey(
                    "from",
                    "'fact' comes from the file's name, 'from' names a column; only one of them can be meant",
                    "");
        }
        Mapping.Source plain = Mapping.Source.PLAIN;
        Mapping.Source source = new Mapping.Source(
                map.text("from"),
                clean(map),
                map.has("empty_as") ? Optional.of(map.texts("empty_as")) : Optional.empty(),
                decimal,
                thousands,
                map.texts("pattern"),
                map.has("true_as") ? map.texts("true_as") : plain.trueAs(),
                map.has("false_as") ? map.texts("false_as") : plain.falseAs());
        return map.has("fact") ? new Mapping.Fact(map.text("fact", ""), source) : source;
    }

    private static void only(YamlMap map, ColumnDef target, boolean allowed, String key, String with) {
        if (map.has(key) && !allowed) {
            map.wrongKey(key, "'" + key + "' goes with " + with + "; " + target.name() + " is " + target.type(), "");
        }
    }

    private static char oneOf(YamlMap map, String key, String allowed) {
        String text = map.text(key, "");
        if (text.length() != 1 || allowed.indexOf(text.charAt(0)) < 0) {
            map.wrong(
                    key,
                    "'" + key + "' must be one of "
                            + allowed.chars()
                                    .mapToObj(c -> "\"" + (char) c + "\"")
                                    .collect(java.util.stream.Collectors.joining(" ")),
                    "");
            return allowed.charAt(0);
        }
        return text.charAt(0);
    }

    private static List<Clean> clean(YamlMap map) {
        if (!map.has("clean")) {
            return List.of();
        }
        List<Clean> steps = new ArrayList<>();
        for (YamlMap step : map.words("clean")) {
            step.only(CLEAN_KEYS);
            for (String key : step.keys()) {
                boolean needsValue = key.equals("remove") || key.equals("replace");
                if (CLEAN_KEYS.contains(key) && needsValue != step.has(key)) {
                    step.wrongKey(
                            key,
                            needsValue ? "'" + key + "' needs a value" : "'" + key + "' takes no value",
                            key.equals("replace")
                                    ? "Write {replace: {old: new}}"
                                    : needsValue ? "Write {remove: \"-\"}" : "");
                    continue;
                }
                switch (key) {
                    case "trim" -> steps.add(new Clean.Trim());
                    case "upper" -> steps.add(new Clean.Upper());
                    case "lower" -> steps.add(new Clean.Lower());
                    case "remove" -> steps.add(new Clean.Remove(notEmpty(step, key, step.texts(key))));
                    case "replace" -> {
                        Map<String, String> pairs = step.pairs(key);
                        notEmpty(step, key, pairs.keySet());
                        steps.add(new Clean.Replace(pairs));
                    }
                    default -> { // reported above as unknown
                    }
                }
            }
        }
        return steps;
    }

    private static List<String> notEmpty(YamlMap step, String key, java.util.Collection<String> texts) {
        if (texts.isEmpty() || texts.contains("")) {
            step.wrong(key, "'" + key + "' must name texts that are not empty", "");
        }
        return List.copyOf(texts);
    }

    private static void checkName(YamlMap root, String key, String name, String file) {
        if (!root.has(key)) {
            return;
        }
        if (!name.matches(FILE_NAME_RULE)) {
            root.wrong(key, "a " + key + " cannot be called '" + name + "'", "Use letters, digits, - and _");
        } else if (!name.equals(stem(file))) {
            root.wrong(
                    key,
                    "the " + key + " is called '" + name + "', its file '" + stem(file) + "'",
                    "Give both the same name");
        }
    }

    private static String stem(String file) {
        String name = file.substring(file.lastIndexOf('/') + 1);
        return name.endsWith(".yaml") ? name.substring(0, name.length() - 5) : name;
    }

    /** The version of a text: the first 12 hexadecimal digits of its SHA-256. */
    public static String version(String text) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(digest, 0, 6);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException("Every Java platform has SHA-256", impossible);
        }
    }
}
