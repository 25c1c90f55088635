package dev.hapster.core.query.group;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.util.Arrays;

/** One measure of many groups, put together batch by batch. Not thread-safe. */
abstract class Totals {

    /** The place of its column among those that readers are asked for. */
    final int asked;

    final Field field;
    /** For each group how many values it has. */
    long[] counts = new long[16];

    private Totals(Field field, int asked) {
        this.field = field;
        this.asked = asked;
    }

    /** @param asked the place of its column among those that readers are asked for */
    static Totals of(Measure measure, int asked) {
        Field field = measure.field();
        ColumnType type = field.type();
        boolean least = measure.way() == Measure.Way.MIN;
        return switch (measure.way()) {
            case COUNT -> new Filled(field, asked);
            case SUM, MEAN ->
                type.kind() == Kind.DOUBLE
                        ? new DoubleSums(field, asked)
                        : type.isWideDecimal() ? new WideSums(field, asked) : new Sums(field, asked);
            default ->
                type.kind() == Kind.TEXT || type.isWideDecimal() || type.kind() == Kind.DOUBLE
                        ? new Extremes(field, asked, least)
                        : new LongExtremes(field, asked, least);
        };
    }

    /**
     * Takes some rows of the present batch.
     *
     * @param codes for each of them the number of its group
     * @param groups how many groups there are by now
     */
    final void add(PartReader reader, int[] rows, int count, int[] codes, int groups) throws IOException {
        if (groups > counts.length) {
            int size = Math.max(groups, 2 * counts.length);
            counts = Arrays.copyOf(counts, size);
            grow(size);
        }
        add(reader, rows, count, codes);
    }

    abstract void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException;

    abstract void grow(int size);

    /** What is known of a group. */
    abstract Total of(int group);

    private static final class Filled extends Totals {

        Filled(Field field, int asked) {
            super(field, asked);
        }

        @Override
        void grow(int size) {}

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            boolean[] empty = reader.vector(asked).empty;
            for (int i = 0; i < count; i++) {
                counts[codes[i]] += empty[rows[i]] ? 0 : 1;
            }
        }

        @Override
        Total of(int group) {
            return Total.count(counts[group]);
        }
    }

    /** Exact, however large they become: of what goes beyond a long it is counted how often it did. */
    private static final class Sums extends Totals {

        private long[] sums = new long[counts.length];
        private int[] beyond = new int[counts.length];

        Sums(Field field, int asked) {
            super(field, asked);
        }

        @Override
        void grow(int size) {
            sums = Arrays.copyOf(sums, size);
            beyond = Arrays.copyOf(beyond, size);
        }

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            Vector.Longs vector = (Vector.Longs) reader.vector(asked);
            for (int i = 0; i < count; i++) {
                int row = rows[i];
                if (!vector.empty[row]) {
                    int group = codes[i];
                    long value = vector.values[row];
                    long before = sums[group];
                    long sum = before + value;
                    if (((before ^ sum) & (value ^ sum)) < 0) {
                        beyond[group] += value < 0 ? -1 : 1;
                    }
                    sums[group] = sum;
                    counts[group]++;
                }
            }
        }

        @Override
        Total of(int group) {
            BigInteger sum =
                    BigInteger.valueOf(beyond[group]).shiftLeft(Long.SIZE).add(BigInteger.valueOf(sums[group]));
            return Total.exact(counts[group], new BigDecimal(sum, field.type().scale()));
        }
    }

    /** With what a double cannot hold beside them, so that the order of the values does not matter to the result. */
    private static final class DoubleSums extends Totals {

        private double[] high = new double[counts.length];
        private double[] low = new double[counts.length];

        DoubleSums(Field field, int asked) {
            super(field, asked);
        }

        @Override
        void grow(int size) {
            high = Arrays.copyOf(high, size);
            low = Arrays.copyOf(low, size);
        }

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            Vector.Doubles vector = (Vector.Doubles) reader.vector(asked);
            for (int i = 0; i < count; i++) {
                int row = rows[i];
                if (!vector.empty[row]) {
                    int group = codes[i];
                    double value = vector.values[row];
                    double before = high[group];
                    double sum = before + value;
                    high[group] = sum;
                    low[group] += Total.lost(before, value, sum);
                    counts[group]++;
                }
            }
        }

        @Override
        Total of(int group) {
            return new Total(counts[group], null, high[group], low[group], null);
        }
    }

    private static final class WideSums extends Totals {

        private BigDecimal[] sums = new BigDecimal[counts.length];

        WideSums(Field field, int asked) {
            super(field, asked);
        }

        @Override
        void grow(int size) {
            sums = Arrays.copyOf(sums, size);
        }

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            for (int i = 0; i < count; i++) {
                BigDecimal value = (BigDecimal) reader.value(asked, rows[i]);
                if (value != null) {
                    int group = codes[i];
                    sums[group] = sums[group] == null ? value : sums[group].add(value);
                    counts[group]++;
                }
            }
        }

        @Override
        Total of(int group) {
            return Total.exact(counts[group], sums[group] == null ? BigDecimal.ZERO : sums[group]);
        }
    }

    /** Of values that are stored as whole numbers. */
    private static final class LongExtremes extends Totals {

        private final boolean least;
        private long[] values = new long[counts.length];

        LongExtremes(Field field, int asked, boolean least) {
            super(field, asked);
            this.least = least;
        }

        @Override
        void grow(int size) {
            values = Arrays.copyOf(values, size);
        }

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            Vector.Longs vector = (Vector.Longs) reader.vector(asked);
            for (int i = 0; i < count; i++) {
                int row = rows[i];
                if (!vector.empty[row]) {
                    int group = codes[i];
                    long value = vector.values[row];
                    boolean first = counts[group]++ == 0;
                    if (first || (least ? value < values[group] : value > values[group])) {
                        values[group] = value;
                    }
                }
            }
        }

        @Override
        Total of(int group) {
            return Total.extreme(counts[group] == 0 ? null : field.ofLong(values[group]));
        }
    }

    private static final class Extremes extends Totals {

        private final boolean least;
        private Comparable<?>[] values = new Comparable<?>[counts.length];

        Extremes(Field field, int asked, boolean least) {
            super(field, asked);
            this.least = least;
        }

        @Override
        void grow(int size) {
            values = Arrays.copyOf(values, size);
        }

        @Override
        void add(PartReader reader, int[] rows, int count, int[] codes) throws IOException {
            for (int i = 0; i < count; i++) {
                Comparable<?> value = reader.value(asked, rows[i]);
                if (value != null) {
                    int group = codes[i];
                    Comparable<?> known = values[group];
                    if (known == null
                            || (least ? Ordering.compare(value, known) < 0 : Ordering.compare(value, known) > 0)) {
                        values[group] = value;
                    }
                }
            }
        }

        @Override
        Total of(int group) {
            return Total.extreme(values[group]);
        }
    }
}
