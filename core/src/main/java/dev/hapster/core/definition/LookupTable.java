package dev.hapster.core.definition;

import java.util.Map;
import java.util.Optional;

/**
 * A small table in which values are looked up: of each line its key and one value.
 *
 * @param file as the job names it
 * @param by the name of the column that holds the keys
 * @param take the name of the column that holds the values
 * @param values by their keys
 * @param lines on which lines the keys stand, counted from 1
 * @param version of the file's content, by which it is known that the table has changed
 */
public record LookupTable(
        String file, String by, String take, Map<String, String> values, Map<String, Long> lines, String version) {

    public LookupTable {
        values = Map.copyOf(values);
        lines = Map.copyOf(lines);
    }

    /** The value of a key; empty where the table does not have it. */
    public Optional<String> find(String key) {
        return Optional.ofNullable(values.get(key));
    }
}
