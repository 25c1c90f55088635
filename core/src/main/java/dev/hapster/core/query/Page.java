package dev.hapster.core.query;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalLong;

/**
 * Some rows of a dataset.
 *
 * @param fields the columns, where a row comes from first
 * @param total rows that satisfy the conditions; nothing where that was not found out
 * @param rows values in the order of {@code fields}; null where empty
 */
public record Page(List<Field> fields, OptionalLong total, List<List<Comparable<?>>> rows) {

    /**
     * The same with some columns only, behind those that say where a row comes from.
     *
     * @param columns names, in the order wanted; empty for all
     */
    public Page only(List<String> columns) throws QueryException {
        if (columns.isEmpty()) {
            return this;
        }
        List<Integer> places = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            if (fields.get(i).name().startsWith("_")) {
                places.add(i);
            }
        }
        for (String column : columns) {
            Field field = Fields.among(fields, column);
            if (!field.name().startsWith("_")) {
                places.add(fields.indexOf(field));
            }
        }
        return new Page(
                places.stream().map(fields::get).toList(),
                total,
                rows.stream().map(row -> some(row, places)).toList());
    }

    private static List<Comparable<?>> some(List<Comparable<?>> row, List<Integer> places) {
        List<Comparable<?>> some = new ArrayList<>();
        places.forEach(place -> some.add(row.get(place)));
        return some;
    }
}
