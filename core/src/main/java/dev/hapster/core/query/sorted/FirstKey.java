package dev.hapster.core.query.sorted;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.util.Comparator;
import java.util.PriorityQueue;
import java.util.stream.IntStream;
import org.apache.parquet.column.statistics.Statistics;

/**
 * The column that is sorted by before all others, which is the first that readers are asked for. Tells quickly which
 * rows and row groups come behind a row that is known. Not thread-safe.
 */
final class FirstKey {

    private final Sort sort;
    private final boolean numbers;
    private final boolean doubles;

    /** Which entries of the present dictionary are not behind the row asked for last. */
    private boolean[] entries = new boolean[0];

    private PartReader of;
    private int opening = -1;
    private Comparable<?> asked;

    FirstKey(Sort sort) {
        this.sort = sort;
        Kind kind = sort.field().type().kind();
        doubles = kind == Kind.DOUBLE;
        numbers = kind != Kind.TEXT && !doubles && !sort.field().type().isWideDecimal();
    }

    private long number(Comparable<?> value) {
        return Widening.plain(value, sort.field().type());
    }

    /** Whether the values are stored as whole numbers, so that {@link Best} can be asked. */
    boolean isNumber() {
        return numbers;
    }

    /** The first values that one has come to. Not thread-safe. */
    final class Best {
        private final int keep;
        /** The last of them on top. */
        private final PriorityQueue<Long> values;

        Best(int keep) {
            this.keep = keep;
            values = sort.descending() ? new PriorityQueue<>() : new PriorityQueue<>(Comparator.reverseOrder());
        }

        boolean mayBeIn(PartReader reader, int group) {
            return values.size() < keep || !allBehind(reader, group, last());
        }

        /** The last of the first values; null where there are fewer. */
        Comparable<?> last() {
            return values.size() < keep ? null : sort.field().ofLong(values.peek());
        }

        /** Looks at some rows of the present batch. */
        void add(PartReader reader, int[] rows, int count) throws IOException {
            int some = keep(reader, rows, count, last());
            Vector.Longs vector = (Vector.Longs) reader.vector(0);
            for (int i = 0; i < some; i++) {
                if (!vector.empty[rows[i]]) {
                    add(vector.values[rows[i]]);
                }
            }
        }

        private void add(long value) {
            if (values.size() < keep) {
                values.add(value);
            } else if (sort.descending() ? value > values.peek() : value < values.peek()) {
                values.poll();
                values.add(value);
            }
        }

        /** Looks at what another one has. */
        void add(Best other) {
            other.values.forEach(this::add);
        }
    }

    /** Row groups in the order in which the first rows are to be expected. */
    int[] bestFirst(PartReader reader, int[] groups) {
        if (!numbers && !doubles) {
            return groups;
        }
        Comparator<Integer> best = Comparator.comparingDouble(group -> best(reader, group));
        return IntStream.of(groups)
                .boxed()
                .sorted(sort.descending() ? best.reversed() : best)
                .mapToInt(Integer::intValue)
                .toArray();
    }

    /** The value that comes first in a group, about; the worst one where there is none. */
    private double best(PartReader reader, int group) {
        Statistics<?> known = reader.statistics(0, group).orElse(null);
        if (known == null || !known.hasNonNullValue()) {
            return sort.descending() ? Double.NEGATIVE_INFINITY : Double.POSITIVE_INFINITY;
        }
        Object bound = sort.descending() ? known.genericGetMax() : known.genericGetMin();
        return bound instanceof Number number ? number.doubleValue() : bound.equals(true) ? 1 : 0;
    }

    /** Whether all rows of a group come behind a value, by what is known of theirs. */
    boolean allBehind(PartReader reader, int group, Comparable<?> value) {
        Statistics<?> known = reader.statistics(0, group).orElse(null);
        if (value == null || known == null || !known.hasNonNullValue()) {
            return false;
        }
        Object bound = sort.descending() ? known.genericGetMax() : known.genericGetMin();
        if (!(bound instanceof Number number)) {
            return false;
        }
        int order = doubles
                ? Double.compare(number.doubleValue(), (Double) value)
                : Long.compare(number.longValue(), number(value));
        return sort.descending() ? order < 0 : order > 0;
    }

    /** Leaves those of some rows that do not come behind a value for certain; returns how many these are. */
    int keep(PartReader reader, int[] rows, int count, Comparable<?> value) throws IOException {
        if (value == null) {
            return count; // nothing is known, or empty, which comes last
        }
        if (reader.isCoded(0)) {
            return coded(reader, rows, count, value);
        }
        Vector vector = reader.vector(0);
        int kept = 0;
        if (numbers) {
            long[] values = ((Vector.Longs) vector).values;
            long bound = number(value);
            for (int i = 0; i < count; i++) {
                int row = rows[i];
                boolean may = !vector.empty[row] && (sort.descending() ? values[row] >= bound : values[row] <= bound);
                rows[kept] = row;
                kept += may ? 1 : 0;
            }
            return kept;
        }
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += mayBeBefore(reader.value(0, row), value) ? 1 : 0;
        }
        return kept;
    }

    private boolean mayBeBefore(Comparable<?> value, Comparable<?> last) {
        return Ordering.compareEmptyLast(value, last, sort.descending()) <= 0;
    }

    private int coded(PartReader reader, int[] rows, int count, Comparable<?> value) throws IOException {
        int number = reader.entryCount(0);
        boolean fresh = of != reader || opening != reader.opening();
        if (fresh || (number < count && !value.equals(asked))) {
            of = reader;
            opening = reader.opening();
            asked = value;
            entries = new boolean[number + 1];
            for (int entry = 0; entry < number; entry++) {
                entries[entry + 1] = mayBeBefore(reader.entry(0, entry), value);
            }
        }
        int[] codes = reader.codes(0);
        int kept = 0;
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            rows[kept] = row;
            kept += entries[codes[row] + 1] ? 1 : 0;
        }
        return kept;
    }
}
