package dev.hapster.core.definition.parse;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.DatasetSection.Column;
import dev.hapster.core.definition.section.DatasetSection.Keep;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.pattern.RegexSize;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/** Reads a dataset's file. */
final class DatasetParser {

    private DatasetParser() {}

    /**
     * Reads a dataset file.
     *
     * @param file name of the file for messages, such as {@code datasets/river_samples.yaml}
     */
    static DatasetDef dataset(String file, String text) throws DefinitionException {
        List<Problem> problems = new ArrayList<>();
        YamlMap root = DatasetSection.SECTION.check(YamlMap.parse(file, text, problems));
        String name = root.required("dataset", "Write `dataset: " + Definitions.stem(file) + "` as the first line");
        Definitions.checkName(root, "dataset", name, file);
        List<ColumnDef> columns = new ArrayList<>();
        Set<String> names = new HashSet<>();
        if (!root.has("columns")) {
            root.missing("columns", "List at least one column: `- {name: …, type: …}`");
        } else {
            for (YamlMap column : root.maps("columns")) {
                columns.add(column(column, names));
            }
            if ((columns.isEmpty() && problems.isEmpty()) || columns.size() > DatasetSection.MOST_COLUMNS) {
                root.wrong(
                        "columns",
                        "a dataset has from 1 to " + DatasetSection.MOST_COLUMNS + " columns, not " + columns.size(),
                        "");
            }
        }
        List<String> key = DatasetSection.KEY.in(root);
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
        String about = DatasetSection.ABOUT.in(root);
        List<DeliveryDef> deliveries = DeliveryParser.deliveries(root, columns);
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return new DatasetDef(name, about, columns, key, retain, deliveries, Definitions.version(text), text);
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
        return DatasetSection.RETAIN
                .in(root)
                .map(map -> new DatasetDef.Retain(Keep.REPLACED.in(map), Keep.HISTORY.in(map)))
                .orElse(DatasetDef.Retain.USUAL);
    }

    private static ColumnDef column(YamlMap map, Set<String> names) {
        Column.SECTION.check(map);
        String name = map.required("name", "");
        if (map.has("name")) {
            if (!name.matches(DatasetSection.NAME_RULE)) {
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
                                        Arrays.stream(Kind.values())
                                                .map(Kind::form)
                                                .toList())
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
            if (RegexSize.of(pattern) > RegexSize.MOST) {
                map.wrong(
                        "matches",
                        "'" + pattern + "' has more than " + RegexSize.MOST + " steps, with all that it repeats",
                        "Repeat less: {1,1000} in {1,1000} is a million");
                return;
            }
            try {
                Pattern.compile(pattern);
            } catch (PatternSyntaxException wrong) {
                map.wrong(
                        "matches",
                        "'" + pattern + "' is not a regular expression (RE2): " + wrong.getDescription(),
                        "");
            }
        });
        Optional<Integer> length = Column.LENGTH.in(map);
        checkDefault(map, type);
        Column.WAS.in(map).stream()
                .filter(former -> former.isBlank() || former.equalsIgnoreCase(name))
                .forEach(former -> map.wrong("was", "'" + former + "' cannot be what " + name + " was called", ""));
        return new ColumnDef(
                name,
                type,
                Column.REQUIRED.in(map),
                length,
                Column.MATCHES.in(map),
                Column.ONE_OF.in(map),
                Column.MIN.in(map),
                Column.MAX.in(map),
                Column.ABOUT.in(map),
                Column.DEFAULT.in(map),
                Column.WAS.in(map));
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
}
