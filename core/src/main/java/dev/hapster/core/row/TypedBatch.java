package dev.hapster.core.row;

import java.util.List;

/**
 * Some rows in the dataset's own columns, together with the lines they came from.
 *
 * <p>Only the rows listed in {@link #good} passed every check; the others were rejected and their values mean nothing.
 * Reused between batches. Not thread-safe.
 */
public final class TypedBatch {

    /** One vector for each column of the dataset, in its order. */
    public final List<Vector> columns;
    /** Indexes of the rows that passed, ascending: {@code goodRows} entries. */
    public int[] good = new int[0];

    public int goodRows;
    /** Physical line of each row, by row index. */
    public long[] line = new long[0];

    public TypedBatch(List<Vector> columns) {
        this.columns = List.copyOf(columns);
    }
}
