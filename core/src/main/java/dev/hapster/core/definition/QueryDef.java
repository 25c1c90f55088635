package dev.hapster.core.definition;

import java.util.List;

/**
 * A saved question to a dataset: rows, or rows counted where {@code by} or {@code measures} says so.
 *
 * @param where conditions, all of which must hold
 * @param columns which columns of the rows, in this order; empty for all
 * @param sort columns to sort by; of counts also {@code rows} and measures; with a {@code -} in front for descending
 * @param by columns that rows are counted by
 * @param measures what is found out in each group, such as {@code mean(value)}
 * @param top how many groups are listed; 0 for all
 */
public record QueryDef(
        String name,
        String about,
        String dataset,
        List<String> where,
        List<String> columns,
        List<String> sort,
        List<String> by,
        List<String> measures,
        int top) {

    public QueryDef {
        where = List.copyOf(where);
        columns = List.copyOf(columns);
        sort = List.copyOf(sort);
        by = List.copyOf(by);
        measures = List.copyOf(measures);
    }

    /** Whether rows are counted; otherwise they are shown. */
    public boolean counts() {
        return !by.isEmpty() || !measures.isEmpty();
    }
}
