package dev.hapster.core.definition.section;

import dev.hapster.core.definition.JobDef.Mapping.Source;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of {@code map}: how one column of the dataset comes about. */
public final class MappingSection {

    private MappingSection() {}

    /** Cleaning steps; a step without a value is a word alone. */
    public static final class Cleaning {
        public static final Key<Boolean> TRIM = Key.of("trim", Shapes.flag(), false, "takes white space off both ends");
        public static final Key<Boolean> UPPER = Key.of("upper", Shapes.flag(), false, "to upper case");
        public static final Key<Boolean> LOWER = Key.of("lower", Shapes.flag(), false, "to lower case");
        public static final Key<List<String>> REMOVE = Key.of(
                "remove", Shapes.texts(), List.<String>of(), "`{remove: text}` takes texts out wherever they stand");
        public static final Key<Map<String, String>> REPLACE = Key.of(
                "replace",
                Shapes.pairs(),
                Map.<String, String>of(),
                "`{replace: {old: new}}` puts one text in place of another wherever it stands");

        public static final Section SECTION = Section.of(TRIM, UPPER, LOWER, REMOVE, REPLACE);
        /** The steps that are a word alone. */
        public static final List<String> WORDS = Section.of(TRIM, UPPER, LOWER).names();

        private static final Map<String, Object> STEP = Map.of(
                "oneOf",
                List.of(Map.of("enum", WORDS), Section.of(REMOVE, REPLACE).schema()));

        private Cleaning() {}
    }

    public static final Key<List<String>> FROM = Key.of(
            "from",
            Shapes.texts(),
            List.<String>of(),
            "the source's column; of a list such as `[Site, Station]` the first that a file has. `name: Header` is "
                    + "short for `name: {from: Header}`. In JSON `position[0]` is the first member of an array");
    public static final Key<Optional<String>> FACT = Key.of(
            "fact",
            Shapes.some(),
            Optional.<String>empty(),
            "a piece of the file's name, such as `month` for `{month:yyyy-MM}`, or one of `read: {facts: …}`; the same in "
                    + "every row of the file; "
                    + "goes with the keys below");
    public static final Key<Optional<String>> VALUE =
            Key.of("value", Shapes.some(), Optional.<String>empty(), "the same value in every row; stands alone");
    /** The keys of {@code lookup}. */
    public static final class Looking {
        public static final Key<Optional<String>> FILE = Key.of(
                "file",
                Shapes.some(),
                Optional.<String>empty(),
                "the table: delimited text in UTF-8 with a header, in the workspace, such as `lookups/codes.csv`");
        public static final Key<Optional<String>> BY = Key.of(
                "by", Shapes.some(), Optional.<String>empty(), "the table's column that holds the keys, each once");
        public static final Key<Optional<String>> TAKE =
                Key.of("take", Shapes.some(), Optional.<String>empty(), "the table's column whose value is taken");
        public static final Key<Optional<String>> WITH = Key.of(
                "with",
                Shapes.some(),
                Optional.<String>empty(),
                "what is looked up, as an [expression](expressions.md); without it the dataset's column that is called "
                        + "like `by`");
        public static final Key<Optional<String>> OTHERWISE = Key.of(
                "otherwise",
                Shapes.some(),
                Optional.<String>empty(),
                "what holds for values that the table does not have; `\"\"` for nothing. Without it their rows are "
                        + "rejected as `lookup-missing`");

        public static final Section SECTION =
                Section.of(FILE, BY, TAKE, WITH, OTHERWISE).requiring(FILE, BY, TAKE);

        private Looking() {}
    }

    public static final Key<Optional<String>> COMPUTE = Key.of(
            "compute",
            Shapes.some(),
            Optional.<String>empty(),
            "calculated from other columns of the dataset, as an [expression](expressions.md) such as "
                    + "`round(price * quantity, 2)`; stands alone");
    public static final Key<Optional<YamlMap>> LOOKUP = Key.of(
            "lookup",
            Shapes.section(Looking.SECTION),
            Optional.<YamlMap>empty(),
            "looked up in a small table: `{file: lookups/codes.csv, by: code, take: name}`; stands alone");
    public static final Key<Boolean> CLEAN = Key.of(
            "clean",
            Shapes.form(Shapes.oneOrMore(Cleaning.STEP, 0)),
            false,
            "steps in order: `trim`, `upper`, `lower`, `{remove: text}`, `{replace: {old: new}}`");
    public static final Key<Optional<List<String>>> EMPTY_AS = Key.of(
            "empty_as", Shapes.someTexts(), Optional.<List<String>>empty(), "texts that mean nothing, in this column");
    public static final Key<Character> DECIMAL =
            Key.of("decimal", Shapes.oneOf(".,"), Source.PLAIN.decimal(), "the decimal mark of numbers");
    public static final Key<Optional<Character>> THOUSANDS = Key.of(
            "thousands",
            Shapes.oneOf(".,' _\u00a0\u202f\u2019").optional('.'),
            Optional.<Character>empty(),
            "the mark between groups of three digits; groups must be whole, so that `12.34` is not taken for 1234");
    public static final Key<List<String>> PATTERN = Key.of(
            "pattern",
            Shapes.texts(),
            List.<String>of(),
            "date patterns in the letters of CLDR (UTS #35), tried in order; without one ISO 8601, which in a list is "
                    + "the word `iso`; `epoch` and `epoch_ms` are seconds and milliseconds since 1970. A `fact` may "
                    + "be less than a day: `yyyy-MM` is the first of the month. Strict: `dd` is two digits. Two-digit years: 69 to 99 are 1969 to 1999, others "
                    + "2000 to 2068");
    public static final Key<Optional<String>> LANGUAGE = Key.of(
            "language",
            Shapes.some(),
            Optional.<String>empty(),
            "the language of names in `pattern`, as a tag of BCP 47: with `de`, `d. MMMM yyyy` reads 12. März 2026. Names "
                    + "are those of CLDR, of English without it");
    public static final Key<List<String>> TRUE_AS =
            Key.of("true_as", Shapes.texts(), Source.PLAIN.trueAs(), "words for true, in any case");
    public static final Key<List<String>> FALSE_AS =
            Key.of("false_as", Shapes.texts(), Source.PLAIN.falseAs(), "words for false, in any case");

    public static final Section SECTION = Section.of(
            FROM, FACT, VALUE, COMPUTE, LOOKUP, CLEAN, EMPTY_AS, DECIMAL, THOUSANDS, PATTERN, LANGUAGE, TRUE_AS,
            FALSE_AS);
}
