package dev.hapster.core.workspace;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.LookupTable;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Extra;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.expression.Expression;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.nio.charset.Charset;
import java.time.Duration;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Short names for rules, by which it is told whether they have changed: the same rules have the same name on every
 * machine and after every start. The rules are written down in one canonical way: records with the names of their
 * components, maps sorted by key, everything else by its value. A rule of a kind that is not known here is a fault that
 * the tests find, so that no key can be forgotten.
 */
public final class RulesVersion {

    /** Belongs in front of all; to be raised where the way of writing changes. */
    private static final String FORM = "2";

    /** The keys of {@code read} that the first version had, as it wrote them. Never to be changed. */
    private static final String FIRST_KEYS = "as=<as>;separator=<separator>;quote=<quote>;escape=<escape>;"
            + "comment=<comment>;encoding=<encoding>;linesAbove=<lines_above>;headerContains=<header_contains>;"
            + "linesBelow=<lines_below>;endsAt=<ends_at>;fillShort=<short_rows>;cutLong=<long_rows>;names=<names>;"
            + "headerOnce=<header>;emptyAs=<empty_as>;"
            + "surplus=Surplus{<extra_columns>missingEmpty=<missing_columns>;};"
            + "book=Book{range=<range>;table=<table>;repeatMerged=<merged>;};"
            + "tree=Tree{rows=<rows>;namespaces=<namespaces>;};spans=<columns>;";

    private static final Pattern PLACE = Pattern.compile("<(\\w+)>");

    private RulesVersion() {}

    /**
     * Everything that decides how the bytes of a file become rows: of the rules for reading, a dash, and of the others;
     * where the job looks values up, another dash and the version of what stands in the tables.
     *
     * @param header the header that one file has for all; empty where each has its own
     */
    public static String rows(JobDef job, List<?> columns, String header) {
        Map<String, Object> others = new LinkedHashMap<>();
        others.put("map", job.map());
        others.put("keep", job.handling().keep());
        others.put("deleted", job.handling().deleted());
        others.put("duplicates", job.handling().duplicates());
        others.put("file_at", job.handling().limits().fileAt());
        others.put("columns", columns);
        if (job.usesFacts()) {
            others.put(
                    "names",
                    job.find().stream()
                            .map(Place::rules)
                            .flatMap(List::stream)
                            .filter(FindRule.Take.class::isInstance)
                            .map(FindRule::words)
                            .toList());
        }
        String tables = lookups(job);
        return of(List.of(job.read(), header)) + "-" + of(others) + (tables.isEmpty() ? "" : "-" + tables);
    }

    /** The version of what stands in the tables in which a job looks values up; empty where it has none. */
    private static String lookups(JobDef job) {
        List<String> versions = job.map().values().stream()
                .filter(Mapping.Lookup.class::isInstance)
                .map(mapping -> ((Mapping.Lookup) mapping).table().version())
                .toList();
        return versions.isEmpty() ? "" : of(versions);
    }

    /** Whether two versions of rules differ in what stands in lookup tables, and in nothing else. */
    public static boolean differInTables(String one, String other) {
        return !one.equals(other) && withoutTables(one).equals(withoutTables(other));
    }

    private static String withoutTables(String rules) {
        int first = rules.indexOf('-');
        int second = rules.indexOf('-', first + 1);
        return second < 0 ? rules : rules.substring(0, second);
    }

    /** What becomes of files. */
    public static String after(Handling.After after) {
        return of(after);
    }

    /**
     * The rules for reading in the form of their first version, so that no file is read again for a key that came
     * later: such a key is written only if its value is not the default.
     */
    private static String reading(Read read) {
        Map<String, Key<?>> later = new LinkedHashMap<>();
        ReadSection.SECTION.keys().forEach(key -> later.put(key.name(), key));
        StringBuilder text = new StringBuilder("Read{");
        Matcher place = PLACE.matcher(FIRST_KEYS);
        while (place.find()) {
            place.appendReplacement(text, Matcher.quoteReplacement(reading(read, later.remove(place.group(1)))));
        }
        place.appendTail(text);
        later.forEach((name, key) -> {
            if (!read.get(key).equals(key.usual())) {
                text.append(name).append('=').append(canonical(read.get(key))).append(';');
            }
        });
        return text.append('}').toString();
    }

    private static String reading(Read read, Key<?> key) {
        if (key == ReadSection.NAMES) {
            return canonical(read.names());
        }
        if (key == ReadSection.EXTRA_COLUMNS) {
            Extra extra = read.get(ReadSection.EXTRA_COLUMNS);
            return "ignoreExtra=" + extra.ignoreExtra() + ";ignored=" + canonical(extra.ignored()) + ";";
        }
        if (key == ReadSection.SEPARATOR && read.get(ReadSection.SEPARATOR).size() == 1) {
            return canonical(read.separator()); // the first version had one
        }
        if (key == ReadSection.ENCODING && read.get(ReadSection.ENCODING).size() == 1) {
            return canonical(read.encoding()); // likewise
        }
        return canonical(read.get(key));
    }

    public static String of(Object rules) {
        return Definitions.version(FORM + canonical(rules));
    }

    public static String canonical(Object value) {
        if (value == null) {
            return "null";
        }
        if (value instanceof Optional<?> optional) {
            return optional.map(inside -> "some(" + canonical(inside) + ")").orElse("none");
        }
        if (value instanceof Read read) {
            return reading(read);
        }
        if (value instanceof LookupTable table) { // its content has a version of its own
            return "LookupTable" + canonical(List.of(table.file(), table.by(), table.take()));
        }
        if (value instanceof Record record) {
            return record(record);
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, String> sorted = new TreeMap<>();
            map.forEach((key, inside) -> sorted.put(canonical(key), canonical(inside)));
            return sorted.toString();
        }
        if (value instanceof Collection<?> all) {
            return all.stream().map(RulesVersion::canonical).toList().toString();
        }
        if (value instanceof Enum<?> word) {
            return word.name();
        }
        if (value instanceof Expression expression) {
            return text(expression.text());
        }
        if (value instanceof Charset charset) {
            return charset.name();
        }
        if (value instanceof Duration duration) {
            return duration.toString();
        }
        if (value instanceof CharSequence || value instanceof Character) {
            return text(value.toString());
        }
        if (value instanceof Number
                || value instanceof Boolean
                || value instanceof dev.hapster.core.definition.TargetPattern) {
            return value.toString();
        }
        throw new IllegalArgumentException(
                "Rules hold a " + value.getClass().getName() + ", and nothing says how that is written down");
    }

    private static String text(String value) {
        return "\"" + value.replace("\\", "\\\\").replace("\"", "\\\"") + "\"";
    }

    /** The source's column as the first version had it, which knew of one at most. */
    private static Object asFirst(Object value, RecordComponent component) {
        return component.getName().equals("from") && value instanceof List<?> names && names.size() < 2
                ? names.stream().findFirst()
                : value;
    }

    /** Whether the first version had no such component; then it is written only if it says something. */
    private static boolean isLater(Record record, RecordComponent component) {
        return record instanceof Mapping.Source && component.getName().equals("language");
    }

    private static String record(Record record) {
        StringBuilder text = new StringBuilder(record.getClass().getSimpleName()).append('{');
        for (RecordComponent component : record.getClass().getRecordComponents()) {
            try {
                component.getAccessor().setAccessible(true);
                Object value = component.getAccessor().invoke(record);
                if (isLater(record, component) && value.equals(Optional.empty())) {
                    continue;
                }
                text.append(component.getName())
                        .append('=')
                        .append(canonical(record instanceof Mapping.Source ? asFirst(value, component) : value))
                        .append(';');
            } catch (IllegalAccessException | InvocationTargetException impossible) {
                throw new IllegalStateException("The components of records can be read", impossible);
            }
        }
        return text.append('}').toString();
    }
}
