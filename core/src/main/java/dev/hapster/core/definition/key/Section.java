package dev.hapster.core.definition.key;

import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** The keys of one section of a definition file, in the order in which documents and files give them. Immutable. */
public final class Section {

    private final List<Key<?>> keys;
    private final List<String> required;

    private Section(List<Key<?>> keys, List<String> required) {
        this.keys = List.copyOf(keys);
        this.required = required;
    }

    /** A section of these keys, in the order in which it is explained; none of them has to be there. */
    public static Section of(Key<?>... keys) {
        return new Section(List.of(keys), List.of());
    }

    /** The same, with keys that must be there. */
    public Section requiring(Key<?>... some) {
        return new Section(keys, Arrays.stream(some).map(Key::name).toList());
    }

    /** In the order in which they are explained. */
    public List<Key<?>> keys() {
        return keys;
    }

    /** The names of the keys, in the same order. */
    public List<String> names() {
        return keys.stream().map(Key::name).toList();
    }

    /** Reports every key of a file that does not belong here. */
    public YamlMap check(YamlMap map) {
        return map.only(names());
    }

    /** Reports also the keys that do not go with a format. */
    public YamlMap check(YamlMap map, Enum<?> format, String noun) {
        for (Key<?> key : keys) {
            if (key.isIn(map) && !key.formats().isEmpty() && !key.formats().contains(Key.word(format))) {
                map.wrongKey(
                        key.name(),
                        "'" + key.name() + "' does not go with " + noun,
                        "It goes with as: " + String.join(", ", key.formats()));
            }
        }
        return check(map);
    }

    /** Reads all keys. */
    public Settings read(YamlMap map) {
        Settings settings = Settings.USUAL;
        for (Key<?> key : keys) {
            settings = with(settings, key, map);
        }
        return settings;
    }

    private static <T> Settings with(Settings settings, Key<T> key, YamlMap map) {
        return key.isIn(map) ? settings.with(key, key.in(map)) : settings;
    }

    /** As a JSON Schema (draft 2020-12) that knows no other keys. */
    public Map<String, Object> schema() {
        Map<String, Object> properties = new LinkedHashMap<>();
        keys.forEach(key -> properties.put(key.name(), key.schema()));
        Map<String, Object> schema = new LinkedHashMap<>();
        schema.put("type", "object");
        schema.put("additionalProperties", false);
        if (!required.isEmpty()) {
            schema.put("required", required);
        }
        schema.put("properties", properties);
        return schema;
    }

    /**
     * As a table in Markdown: key, default, the formats that it goes with, meaning; only columns that hold anything.
     */
    public String table() {
        boolean usual = keys.stream().anyMatch(key -> !key.usualWords().isEmpty());
        boolean formats = keys.stream().anyMatch(key -> !key.formats().isEmpty());
        List<List<String>> rows = new ArrayList<>();
        rows.add(List.of("key", "default", "with", "meaning"));
        rows.add(List.of("---", "---", "---", "---"));
        for (Key<?> key : keys) {
            String word = key.usualWords();
            rows.add(List.of(
                    "`" + key.name() + "`",
                    word.isEmpty() ? "" : "`" + word + "`",
                    String.join(", ", key.formats()),
                    key.means()));
        }
        StringBuilder text = new StringBuilder();
        for (List<String> row : rows) {
            text.append("| ").append(row.get(0)).append(" | ");
            text.append(usual ? row.get(1) + " | " : "").append(formats ? row.get(2) + " | " : "");
            text.append(row.get(3).replace("|", "\\|")).append(" |\n");
        }
        return text.toString();
    }
}
