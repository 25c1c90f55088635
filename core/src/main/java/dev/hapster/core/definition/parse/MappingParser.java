package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef.Clean;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.section.MappingSection;
import dev.hapster.core.definition.section.MappingSection.Cleaning;
import dev.hapster.core.definition.section.MappingSection.Looking;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.pattern.DateNames;
import dev.hapster.core.pattern.DatePattern;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Reads how a column of the dataset comes about. */
final class MappingParser {

    private MappingParser() {}

    /**
     * @param target the column; null where the dataset has none of that name
     * @param dataset empty where it cannot be used
     */
    static Mapping mapping(
            YamlMap mappings, String column, ColumnDef target, Optional<DatasetDef> dataset, Lookups lookups) {
        if (mappings.isText(column)) {
            Mapping.Source plain = Mapping.Source.PLAIN;
            return new Mapping.Source(
                    List.of(mappings.text(column, column)),
                    plain.clean(),
                    plain.emptyAs(),
                    plain.decimal(),
                    plain.thousands(),
                    plain.patterns(),
                    plain.language(),
                    plain.trueAs(),
                    plain.falseAs());
        }
        YamlMap map = MappingSection.SECTION.check(mappings.map(column));
        if (map.has("value")) {
            alone(map, "value", "is the same in every row");
            return new Mapping.Constant(MappingSection.VALUE.in(map).orElse(""));
        }
        if (map.has("compute")) {
            alone(map, "compute", "is calculated");
            return target == null || dataset.isEmpty()
                    ? Mapping.Source.PLAIN
                    : ExpressionParser.read(map, "compute", dataset.get(), ExpressionParser.type(target)).stream()
                            .findFirst()
                            .<Mapping>map(Mapping.Compute::new)
                            .orElse(Mapping.Source.PLAIN);
        }
        if (map.has("lookup")) {
            alone(map, "lookup", "is looked up");
            return dataset.<Mapping>map(found -> lookup(map, found, lookups)).orElse(Mapping.Source.PLAIN);
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
            only(map, target, target.type().isTemporal(), "language", "dates and times");
            only(map, target, target.type().kind() == Kind.BOOLEAN, "true_as", "booleans");
            only(map, target, target.type().kind() == Kind.BOOLEAN, "false_as", "booleans");
        }
        char decimal = MappingSection.DECIMAL.in(map);
        Optional<Character> thousands = MappingSection.THOUSANDS.in(map);
        if (thousands.isPresent() && thousands.get() == decimal) {
            map.wrong("thousands", "'thousands' and 'decimal' are the same character", "");
        }
        Optional<String> language = MappingSection.LANGUAGE.in(map);
        boolean names = false;
        for (String pattern : MappingSection.PATTERN.in(map)) {
            try {
                DatePattern parsed = map.has("fact") ? DatePattern.partial(pattern) : DatePattern.of(pattern);
                names |= parsed.hasNames();
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
        if (language.isPresent() && DateNames.of(language.get()).isEmpty()) {
            map.wrong(
                    "language",
                    "no names of months are known of a language '" + language.get() + "'",
                    "Languages are tags of BCP 47, such as de, fr or pt-BR");
        } else if (language.isPresent() && !names) {
            map.wrongKey(
                    "language",
                    "'language' goes with a pattern that holds names (MMM, MMMM, EEE, EEEE); there is none",
                    "");
        }
        if (map.has("fact") && map.has("from")) {
            map.wrongKey(
                    "from",
                    "'fact' is the same for the whole file, 'from' names a column; only one of them can be meant",
                    "");
        }
        Mapping.Source source = new Mapping.Source(
                MappingSection.FROM.in(map),
                clean(map),
                MappingSection.EMPTY_AS.in(map),
                decimal,
                thousands,
                MappingSection.PATTERN.in(map),
                language,
                MappingSection.TRUE_AS.in(map),
                MappingSection.FALSE_AS.in(map));
        return MappingSection.FACT
                .in(map)
                .<Mapping>map(fact -> new Mapping.Fact(fact, source))
                .orElse(source);
    }

    private static void alone(YamlMap map, String word, String what) {
        map.keys().stream()
                .filter(key ->
                        !key.equals(word) && MappingSection.SECTION.names().contains(key))
                .findFirst()
                .ifPresent(key -> map.wrongKey(
                        key, "'" + word + "' " + what + " and stands alone; '" + key + "' does not go with it", ""));
    }

    private static Mapping lookup(YamlMap map, DatasetDef dataset, Lookups lookups) {
        YamlMap how = MappingSection.LOOKUP.in(map).orElseThrow();
        boolean whole = true;
        for (Key<Optional<String>> key : List.of(Looking.FILE, Looking.BY, Looking.TAKE)) {
            if (key.in(how).isEmpty()) {
                how.missing(key.name(), "Write `lookup: {file: lookups/codes.csv, by: code, take: name}`");
                whole = false;
            }
        }
        String by = Looking.BY.in(how).orElse("");
        Optional<Expression> with = Optional.empty();
        if (Looking.WITH.isIn(how)) {
            with = ExpressionParser.read(how, Looking.WITH.name(), dataset, Expression.Type.TEXT).stream()
                    .findFirst();
        } else if (whole && dataset.column(by).isEmpty()) {
            how.wrong(
                    Looking.BY.name(),
                    "the dataset has no column '" + by + "', and nothing else says what is looked up",
                    "Say it with `with: COLUMN`");
        } else if (whole) {
            with = Expression.ofColumn(
                    by, ExpressionParser.type(dataset.column(by).get()));
        }
        if (!whole || with.isEmpty()) {
            return Mapping.Source.PLAIN;
        }
        Lookups.Found found = lookups.table(
                Looking.FILE.in(how).orElseThrow(), by, Looking.TAKE.in(how).orElseThrow());
        found.problems()
                .forEach(problem -> how.wrong(
                        Looking.FILE.name(),
                        (problem.line() > 0 ? problem.file() + ", line " + problem.line() : problem.file()) + ": "
                                + problem.what(),
                        problem.hint()));
        Expression key = with.get();
        return found.table()
                .<Mapping>map(table -> new Mapping.Lookup(table, key, Looking.OTHERWISE.in(how)))
                .orElse(Mapping.Source.PLAIN);
    }

    private static void only(YamlMap map, ColumnDef target, boolean allowed, String key, String with) {
        if (map.has(key) && !allowed) {
            map.wrongKey(key, "'" + key + "' goes with " + with + "; " + target.name() + " is " + target.type(), "");
        }
    }

    private static List<Clean> clean(YamlMap map) {
        if (!map.has("clean")) {
            return List.of();
        }
        List<Clean> steps = new ArrayList<>();
        for (YamlMap step : map.words("clean")) {
            Cleaning.SECTION.check(step);
            for (String key : step.keys()) {
                boolean needsValue = !Cleaning.WORDS.contains(key);
                if (Cleaning.SECTION.names().contains(key) && needsValue != step.has(key)) {
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
}
