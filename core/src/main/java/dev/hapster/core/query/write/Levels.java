package dev.hapster.core.query.write;

import java.util.ArrayList;
import java.util.List;
import java.util.Objects;

/** Tells at which level of lists something new begins with a row. Not thread-safe. */
final class Levels {

    private final List<List<Integer>> columns;
    private List<Comparable<?>> before;

    Levels(Nesting nesting) {
        columns = nesting.levels();
    }

    int count() {
        return columns.size();
    }

    /**
     * The outermost level of which the row has other values than the one before it; the innermost where there is none,
     * since each row is one of these.
     */
    int next(List<Comparable<?>> row) {
        int level = before == null ? 0 : columns.size() - 1;
        for (int i = 0; before != null && i < columns.size() - 1; i++) {
            for (int column : columns.get(i)) {
                if (!Objects.equals(before.get(column), row.get(column))) {
                    level = Math.min(level, i);
                }
            }
        }
        before = columns.size() > 1 ? new ArrayList<>(row) : row;
        return level;
    }
}
