package dev.hapster.core.definition.key;

import java.util.HashMap;
import java.util.Map;

/**
 * The values of keys; one that is not set has its usual value. Immutable, and equal to others that give the same value
 * for every key.
 */
public final class Settings {

    /** Every key has its usual value. */
    public static final Settings USUAL = new Settings(Map.of());

    private final Map<Key<?>, Object> values;

    private Settings(Map<Key<?>, Object> values) {
        this.values = values;
    }

    /** What was set, or what usually holds; never null. */
    @SuppressWarnings("unchecked") // only `with` puts values in, each for its own key
    public <T> T get(Key<T> key) {
        return (T) values.getOrDefault(key, key.usual());
    }

    /** The same, but for one key. */
    public <T> Settings with(Key<T> key, T value) {
        Map<Key<?>, Object> others = new HashMap<>(values);
        if (value.equals(key.usual())) {
            others.remove(key); // so that what is written out and what is left out are the same
        } else {
            others.put(key, value);
        }
        return new Settings(Map.copyOf(others));
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Settings settings && settings.values.equals(values);
    }

    @Override
    public int hashCode() {
        return values.hashCode();
    }

    @Override
    public String toString() {
        return values.toString();
    }
}
