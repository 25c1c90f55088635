package dev.hapster.core.workspace;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.expression.Expression;
import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.nio.charset.Charset;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * Short names for rules, by which it is told whether they have changed: the same rules have the same name on every
 * machine and after every start. The rules are written down in one canonical way: records with the names of their
 * components, maps sorted by key, everything else by its value. A rule of a kind that is not known here is a fault that
 * the tests find, so that no key can be forgotten.
 */
public final class RulesVersion {

    /** Belongs in front of all; to be raised where the way of writing changes. */
    private static final String FORM = "2";

    private RulesVersion() {}

    /**
     * Everything that decides how the bytes of a file become rows: of the rules for reading, a dash, and of the others.
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
        return of(List.of(job.read(), header)) + "-" + of(others);
    }

    /** What becomes of files. */
    public static String after(Handling.After after) {
        return of(after);
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

    private static String record(Record record) {
        StringBuilder text = new StringBuilder(record.getClass().getSimpleName()).append('{');
        for (RecordComponent component : record.getClass().getRecordComponents()) {
            try {
                component.getAccessor().setAccessible(true);
                text.append(component.getName())
                        .append('=')
                        .append(canonical(component.getAccessor().invoke(record)))
                        .append(';');
            } catch (IllegalAccessException | InvocationTargetException impossible) {
                throw new IllegalStateException("The components of records can be read", impossible);
            }
        }
        return text.append('}').toString();
    }
}
