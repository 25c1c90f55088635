package dev.hapster.core.query.profile;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.math.BigDecimal;
import org.roaringbitmap.RoaringBitmap;

/**
 * What is known of the values of one column, batch by batch. Of a column with a dictionary, each entry is looked at
 * once in each row group. Not thread-safe.
 */
final class Facts {

    final Field field;
    final Frequencies frequencies;
    final TextFacts texts;
    /** Days with rows, counted from 1970; null where the column has none. */
    final RoaringBitmap days;

    long rows;
    long empty;
    private final Kind kind;
    private final boolean wide;
    private int lastDay = Integer.MIN_VALUE;

    /** Of values stored as whole numbers. */
    private long least = Long.MAX_VALUE;

    private long most = Long.MIN_VALUE;
    /** Of doubles. */
    private double first = Double.POSITIVE_INFINITY;

    private double last = Double.NEGATIVE_INFINITY;
    /** Of decimals that no long holds. */
    private BigDecimal low;

    private BigDecimal high;
    /** Count, mean and sum of squared distances of numbers, as B. P. Welford (1962) has it, with weights. */
    private long weighed;

    private double mean;
    private double squares;

    /** The present dictionary, how often each entry of it occurs, and of which row group it is. */
    private Vector entries;

    private int[] tally = new int[0];
    private int entryCount;
    private PartReader of;
    private int opening = -1;

    Facts(Field field) {
        this.field = field;
        kind = field.type().kind();
        wide = field.type().isWideDecimal();
        frequencies = new Frequencies(field, kind != Kind.TEXT && kind != Kind.BOOLEAN && !wide);
        texts = kind == Kind.TEXT ? new TextFacts() : null;
        days = kind == Kind.DATE || kind == Kind.TIMESTAMP ? new RoaringBitmap() : null;
    }

    boolean isNumber() {
        return kind == Kind.INTEGER || kind == Kind.DECIMAL || kind == Kind.DOUBLE;
    }

    /** Whether values lie in stretches of equal width: numbers and times. */
    boolean isRanked() {
        return isNumber() || field.type().isTemporal();
    }

    /** Looks at some rows of the present batch. */
    void add(PartReader reader, int asked, int[] selected, int count) throws IOException {
        if (!reader.isCoded(asked)) {
            add(reader.vector(asked), selected, count);
            return;
        }
        rows += count;
        if (of != reader || opening != reader.opening()) {
            settle();
            of = reader;
            opening = reader.opening();
            entries = reader.entries(asked);
            entryCount = reader.entryCount(asked);
            tally = new int[entryCount + 1];
        }
        int[] codes = reader.codes(asked);
        for (int i = 0; i < count; i++) {
            tally[codes[selected[i]] + 1]++;
        }
    }

    /** Takes over what was counted of the present dictionary. */
    void settle() {
        if (entries == null) {
            return;
        }
        empty += tally[0];
        for (int entry = 0; entry < entryCount; entry++) {
            if (tally[entry + 1] > 0) {
                value(entries, entry, tally[entry + 1]);
            }
        }
        entries = null;
    }

    /** Looks at some rows of a batch. */
    void add(Vector vector, int[] selected, int count) {
        rows += count;
        for (int i = 0; i < count; i++) {
            int row = selected[i];
            if (vector.empty[row]) {
                empty++;
            } else {
                value(vector, row, 1);
            }
        }
    }

    private void value(Vector vector, int row, long times) {
        frequencies.add(vector, row, times);
        if (vector instanceof Vector.Longs longs) {
            number(longs.values[row], times);
        } else if (vector instanceof Vector.Doubles doubles) {
            double value = doubles.values[row];
            first = Math.min(first, value);
            last = Math.max(last, value);
            weigh(value, times);
        } else if (texts != null) {
            texts.add((Vector.Bytes) vector, row, times);
        } else {
            BigDecimal value = (BigDecimal) field.value(vector, row);
            low = low == null ? value : low.min(value);
            high = high == null ? value : high.max(value);
            weigh(value.doubleValue(), times);
        }
    }

    private void number(long value, long times) {
        least = Math.min(least, value);
        most = Math.max(most, value);
        if (days != null) {
            int day = (int) (kind == Kind.DATE ? value : Math.floorDiv(value, DatePattern.MICROS_PER_DAY));
            if (day != lastDay) {
                days.add(shifted(day));
                lastDay = day;
            }
        } else if (kind == Kind.INTEGER || kind == Kind.DECIMAL) {
            weigh((double) value, times);
        }
    }

    /** Days before 1970 are negative, and bitmaps have no negative numbers: their order stays. */
    static int shifted(int day) {
        return day - Integer.MIN_VALUE / 2;
    }

    private void weigh(double value, long times) {
        weighed += times;
        double distance = value - mean;
        mean += distance * times / weighed;
        squares += distance * (value - mean) * times;
    }

    /** Takes over what another one has found, which is not used afterwards. */
    void merge(Facts other) {
        settle();
        other.settle();
        rows += other.rows;
        empty += other.empty;
        frequencies.merge(other.frequencies);
        least = Math.min(least, other.least);
        most = Math.max(most, other.most);
        first = Math.min(first, other.first);
        last = Math.max(last, other.last);
        low = low == null ? other.low : other.low == null ? low : low.min(other.low);
        high = high == null ? other.high : other.high == null ? high : high.max(other.high);
        if (texts != null) {
            texts.merge(other.texts);
        }
        if (days != null) {
            days.or(other.days);
        }
        if (other.weighed > 0) {
            long both = weighed + other.weighed;
            double distance = other.mean - mean;
            squares += other.squares + distance * distance * weighed * other.weighed / both;
            mean += distance * other.weighed / both;
            weighed = both;
        }
    }

    Comparable<?> smallest() {
        return bound(least, first, low, texts == null ? null : texts.first());
    }

    Comparable<?> largest() {
        return bound(most, last, high, texts == null ? null : texts.last());
    }

    private Comparable<?> bound(long number, double real, BigDecimal decimal, String text) {
        if (rows == empty) {
            return null;
        }
        if (texts != null) {
            return text;
        }
        if (wide) {
            return decimal;
        }
        return kind == Kind.DOUBLE ? (Comparable<?>) real : field.ofLong(number);
    }

    /** The mean in the unit of the column. */
    double mean() {
        return mean / unit();
    }

    double deviation() {
        return Math.sqrt(squares / weighed) / unit();
    }

    /** How many of the numbers that are stored make one of the column's. */
    private double unit() {
        return kind == Kind.DECIMAL && !wide ? Math.pow(10, field.type().scale()) : 1;
    }
}
