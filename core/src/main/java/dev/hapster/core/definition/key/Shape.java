package dev.hapster.core.definition.key;

import dev.hapster.core.definition.yaml.YamlMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * How the value of a key is written. Immutable, and safe for use by several threads.
 *
 * @param <T> what it is once it is read
 */
public interface Shape<T> {

    /**
     * Reads the value of a key that is there. Never throws for what people wrote: a value that is wrong becomes a
     * problem of the file, and the usual value is given.
     *
     * @param key its name
     * @param usual what holds where the key is not there; never null
     */
    T read(YamlMap map, String key, T usual);

    /** The shape as a JSON Schema (draft 2020-12): texts, numbers, booleans, and lists and maps of these. */
    Map<String, Object> schema();

    /** A value as a file would say it; empty where that needs no saying. */
    String words(T value);

    /** The same shape for a key that may be absent, where its absence means something of its own. */
    default Shape<Optional<T>> optional(T fallback) {
        Shape<T> shape = this;
        return of((map, key, usual) -> Optional.of(shape.read(map, key, fallback)), schema(), value -> value.map(
                        shape::words)
                .orElse(""));
    }

    /** A reader of values. */
    @FunctionalInterface
    interface Reader<T> {
        T read(YamlMap map, String key, T usual);
    }

    static <T> Shape<T> of(Reader<T> reader, Map<String, Object> schema, Function<T, String> words) {
        return new Shape<>() {
            @Override
            public T read(YamlMap map, String key, T usual) {
                return reader.read(map, key, usual);
            }

            @Override
            public Map<String, Object> schema() {
                return schema;
            }

            @Override
            public String words(T value) {
                return words.apply(value);
            }
        };
    }
}
