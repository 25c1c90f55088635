package dev.hapster.core.query;

import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.QueryException;
import java.util.Comparator;
import java.util.List;

/**
 * Rows counted by columns.
 *
 * @param by the columns, such as {@code lab} or {@code sampled_at:month}
 * @param total rows counted
 * @param groups in the order asked for; otherwise in ascending order of their values, empty ones last
 */
public record Counts(List<String> by, long total, List<Group> groups) {

    /** @param values one for each column counted by; null where empty */
    public record Group(List<Comparable<?>> values, long rows) {}

    /** @param sort columns counted by, or {@code rows}; with a {@code -} in front for descending */
    static Comparator<Group> order(List<String> by, List<String> sort) throws QueryException {
        Comparator<Group> order = null;
        for (String text : sort) {
            boolean descending = text.startsWith("-");
            String name = descending ? text.substring(1) : text;
            int place = by.indexOf(name);
            if (place < 0 && !name.equals("rows")) {
                throw new QueryException("Groups can be sorted by rows, or by what is counted by ("
                        + String.join(", ", by) + "), not by '" + name + "'");
            }
            Comparator<Group> one = place < 0
                    ? (a, b) -> descending ? Long.compare(b.rows, a.rows) : Long.compare(a.rows, b.rows)
                    : (a, b) -> Ordering.compareEmptyLast(a.values.get(place), b.values.get(place), descending);
            order = order == null ? one : order.thenComparing(one);
        }
        Comparator<Group> usual = (a, b) -> Ordering.compare(a.values, b.values);
        return order == null ? usual : order.thenComparing(usual);
    }
}
