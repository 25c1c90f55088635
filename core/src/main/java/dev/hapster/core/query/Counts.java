package dev.hapster.core.query;

import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.QueryException;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Rows counted by columns, and what was found out of the values of others.
 *
 * @param by the columns, such as {@code lab} or {@code sampled_at:month}
 * @param measures what was found out, such as {@code mean(value)}
 * @param total all rows counted, without values counted by
 * @param groups in the order asked for; otherwise in ascending order of their values, empty ones last
 * @param rest where only the first groups were asked for: how many others there are, and all of them as one; nothing
 *     where there are none
 */
public record Counts(List<String> by, List<String> measures, Group total, List<Group> groups, Optional<Rest> rest) {

    /**
     * @param values one for each column counted by; null where empty
     * @param measures one for each measure; null where there were no values
     */
    public record Group(List<Comparable<?>> values, long rows, List<Comparable<?>> measures) {}

    /**
     * Groups that are not listed.
     *
     * @param groups how many
     * @param all all of them as one, without values counted by
     */
    public record Rest(int groups, Group all) {}

    /**
     * @param sort columns counted by, {@code rows}, or measures; with a {@code -} in front for descending
     * @throws QueryException where it is something else
     */
    static Comparator<Group> order(List<String> by, List<String> measures, List<String> sort) throws QueryException {
        Comparator<Group> order = null;
        for (String text : sort) {
            boolean descending = text.startsWith("-");
            String name = descending ? text.substring(1) : text;
            int key = by.indexOf(name);
            int measure = measures.indexOf(name);
            if (key < 0 && measure < 0 && !name.equals("rows")) {
                throw new QueryException("Groups can be sorted by rows"
                        + (by.isEmpty() ? "" : ", or by what is counted by (" + String.join(", ", by) + ")")
                        + (measures.isEmpty() ? "" : ", or by " + String.join(", ", measures)) + ", not by '" + name
                        + "'");
            }
            Comparator<Group> one = key >= 0
                    ? (a, b) -> Ordering.compareEmptyLast(a.values.get(key), b.values.get(key), descending)
                    : measure >= 0
                            ? (a, b) -> Ordering.compareEmptyLast(
                                    a.measures.get(measure), b.measures.get(measure), descending)
                            : (a, b) -> descending ? Long.compare(b.rows, a.rows) : Long.compare(a.rows, b.rows);
            order = order == null ? one : order.thenComparing(one);
        }
        Comparator<Group> usual = (a, b) -> Ordering.compare(a.values, b.values);
        return order == null ? usual : order.thenComparing(usual);
    }
}
