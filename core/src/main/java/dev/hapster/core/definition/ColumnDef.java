package dev.hapster.core.definition;

import java.util.List;
import java.util.Optional;

/**
 * One declared column of a dataset.
 *
 * @param length most characters (Unicode code points) of a text
 * @param matches regular expression (RE2 syntax) that the whole text must match
 * @param oneOf the only allowed texts; empty where any is allowed
 * @param min least allowed number, date or time, inclusive, as written
 * @param max greatest allowed number, date or time, inclusive, as written
 * @param about what the column means
 * @param fallback the value of rows for which there is no such column, as written
 * @param was names that the column had before
 */
public record ColumnDef(
        String name,
        ColumnType type,
        boolean required,
        Optional<Integer> length,
        Optional<String> matches,
        List<String> oneOf,
        Optional<String> min,
        Optional<String> max,
        String about,
        Optional<String> fallback,
        List<String> was) {

    public ColumnDef {
        was = List.copyOf(was);
        oneOf = List.copyOf(oneOf);
    }
}
