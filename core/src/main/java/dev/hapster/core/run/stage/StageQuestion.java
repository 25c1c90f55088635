package dev.hapster.core.run.stage;

import dev.hapster.core.expression.Expression;
import java.util.Optional;

/**
 * Which rows of a file are asked for.
 *
 * @param from the first row, counted from 1; where rows are sorted, the first of the sorted ones
 * @param line the line at or behind which the first row stands; 0 where {@code from} says it
 * @param limit how many rows at most
 * @param rejected whether only rows that are rejected are meant
 * @param where a condition that rows must satisfy
 * @param sort the column by which rows are sorted
 * @param descending whether the greatest comes first
 * @param whole whether all rows of the file are looked at to filter and sort; otherwise no more than {@link #SAMPLE}
 */
public record StageQuestion(
        Stage stage,
        long from,
        long line,
        int limit,
        boolean rejected,
        Optional<Expression> where,
        Optional<String> sort,
        boolean descending,
        boolean whole) {

    /** Rows that are looked at to filter and sort, where the whole file is not asked for. */
    public static final int SAMPLE = 50_000;
    /** Rows that a page has at most, and the last that is shown of sorted ones. */
    public static final int MOST_ROWS = 1_000;

    public static final int MOST_SORTED = 10_000;

    /** The first rows of a file. */
    public static StageQuestion first(Stage stage, int limit) {
        return new StageQuestion(stage, 1, 0, limit, false, Optional.empty(), Optional.empty(), false, false);
    }

    /** Whether rows are left out, so that more must be looked at than are shown. */
    boolean isFiltered() {
        return rejected || where.isPresent();
    }
}
