package dev.hapster.core.query.sorted;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import java.util.ArrayList;
import java.util.List;

/** A column to sort by; empty values come last either way. */
public record Sort(Field field, boolean descending) {

    /** Reads names of columns, with a {@code -} in front for descending. */
    public static List<Sort> parse(List<String> texts, Fields fields) throws QueryException {
        List<Sort> sorts = new ArrayList<>();
        for (String text : texts) {
            boolean descending = text.startsWith("-");
            sorts.add(new Sort(fields.field(descending ? text.substring(1) : text), descending));
        }
        return sorts;
    }

    /** The columns, in their order. */
    public static List<Field> fields(List<Sort> sorts) {
        return sorts.stream().map(Sort::field).toList();
    }
}
