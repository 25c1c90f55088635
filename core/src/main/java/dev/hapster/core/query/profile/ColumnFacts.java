package dev.hapster.core.query.profile;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import java.util.List;

/** What the columns of rows hold that are not stored, or not yet; batch by batch. Not thread-safe. */
public final class ColumnFacts {

    private final List<Facts> facts;

    public ColumnFacts(List<ColumnDef> columns) {
        facts = columns.stream().map(column -> new Facts(Field.of(column))).toList();
    }

    /**
     * Looks at some rows of a batch.
     *
     * @param columns their values, in the order of the columns
     * @param rows their numbers in the batch; the first {@code count} of them
     */
    public void add(List<Vector> columns, int[] rows, int count) {
        for (int i = 0; i < facts.size(); i++) {
            facts.get(i).add(columns.get(i), rows, count);
        }
    }

    /** What was found, in the order of the columns. */
    public List<ColumnProfile> profiles() {
        return facts.stream().map(Profiler::profile).toList();
    }
}
