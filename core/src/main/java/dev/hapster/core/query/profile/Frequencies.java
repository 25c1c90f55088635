package dev.hapster.core.query.profile;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.group.ByteCodes;
import dev.hapster.core.query.group.LongCodes;
import dev.hapster.core.query.profile.ColumnProfile.Amount;
import dev.hapster.core.query.profile.ColumnProfile.Frequent;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.apache.datasketches.frequencies.ErrorType;
import org.apache.datasketches.frequencies.ItemsSketch;
import org.apache.datasketches.hll.HllSketch;
import org.apache.datasketches.hll.Union;
import org.apache.datasketches.kll.KllDoublesSketch;

/**
 * How often each value of a column occurs: exactly, as long as there are few different ones. The first of many keep
 * their exact counts, and what comes later is estimated by sketches (Apache DataSketches): how many there are by HLL,
 * which are frequent by its sketch of frequent items, ranks by KLL. Empty values are not counted here. Not thread-safe.
 */
final class Frequencies {

    /** Different values that are counted exactly. */
    static final int MOST = 20_000;

    private static final int MOST_BYTES = 4 << 20;
    /** HLL of 2^14 cells: 19 times of 20 within 1.6 %. */
    private static final int CELLS = 14;

    private static final int ITEMS = 2048;
    /** KLL with this k: 99 times of 100 within 0.35 % of all rows. */
    private static final int RANKS = 800;

    private static final int SHORT = 256;

    private final Field field;
    private final boolean ranked;
    private final LongCodes numbers = new LongCodes();
    private final ByteCodes texts = new ByteCodes();
    /** The number of each code, where values are numbers; doubles as their bits. */
    private long[] values = new long[64];

    private long[] counts = new long[64];
    /** Of which codes some occurrences may be among those that are estimated. */
    private boolean[] unsure = new boolean[64];

    /** How many occurrences of such a code may be missing. */
    private long slack;

    private int size;
    private long bytes;

    /** What is known of those that have no code. */
    private Union distinct;

    private ItemsSketch<Object> others;
    private KllDoublesSketch ranks;

    /** @param ranked whether values are numbers or times, of which quantiles are asked */
    Frequencies(Field field, boolean ranked) {
        this.field = field;
        this.ranked = ranked;
    }

    /** Whether every value is counted exactly. */
    boolean isExact() {
        return distinct == null;
    }

    /** Counts a value, which is not empty, so many times. */
    void add(Vector vector, int row, long times) {
        if (vector instanceof Vector.Bytes text) {
            add(text, row, times);
        } else {
            add(
                    vector instanceof Vector.Doubles doubles
                            ? Double.doubleToLongBits(doubles.values[row])
                            : ((Vector.Longs) vector).values[row],
                    times,
                    true);
        }
    }

    private void add(long number, long times, boolean rank) {
        if (rank && ranks != null) {
            ranks.update(real(number), times);
        }
        int code = numbers.find(number);
        if (code < 0 && distinct == null) {
            if (size < MOST) {
                code = enter();
                values[code] = number;
                numbers.put(number, code);
            } else {
                estimate();
                if (rank && ranks != null) {
                    ranks.update(real(number), times);
                }
            }
        }
        if (code < 0) {
            distinct.update(number);
            others.update(number, times);
        } else {
            counts[code] += times;
        }
    }

    private void add(Vector.Bytes text, int row, long times) {
        if (distinct == null && size < MOST && bytes < MOST_BYTES) {
            int code = texts.of(text, row);
            if (code == size) {
                enter();
                bytes += text.length[row];
            }
            counts[code] += times;
            return;
        }
        int code = texts.find(text, row);
        if (code >= 0) {
            counts[code] += times;
            return;
        }
        if (distinct == null) {
            estimate();
        }
        distinct.update(hash(text.data, text.from[row], text.length[row]));
        others.update(item(text, row), times);
    }

    private static long hash(byte[] data, int from, int length) {
        return Hashing.xxh3_64().hashBytesToLong(data, from, length);
    }

    private int enter() {
        if (size == counts.length) {
            counts = Arrays.copyOf(counts, 2 * size);
            unsure = Arrays.copyOf(unsure, 2 * size);
            values = Arrays.copyOf(values, 2 * size);
        }
        return size++;
    }

    /** From now on values without a code are estimated. */
    private void estimate() {
        distinct = new Union(CELLS);
        others = new ItemsSketch<>(ITEMS);
        boolean text = size > 0 && texts.size() > 0;
        ranks = ranked && !text ? KllDoublesSketch.newHeapInstance(RANKS) : null;
        for (int code = 0; code < size; code++) {
            if (text) {
                byte[] key = texts.key(code);
                distinct.update(hash(key, 0, key.length));
            } else {
                distinct.update(values[code]);
                if (ranks != null) {
                    ranks.update(real(values[code]), counts[code]);
                }
            }
        }
    }

    private double real(long number) {
        return isDouble() ? Double.longBitsToDouble(number) : number;
    }

    private boolean isDouble() {
        return field.type().kind() == Kind.DOUBLE;
    }

    /**
     * Takes over what another one has counted, which is not used afterwards. A value that has an exact count here and
     * may be among the estimated ones there is not known exactly any more.
     */
    void merge(Frequencies other) {
        boolean all = isExact();
        if (all && !other.isExact()) {
            estimate();
        }
        int ours = size;
        boolean[] met = new boolean[ours];
        Vector.Bytes one = new Vector.Bytes(0);
        for (int code = 0; code < other.size; code++) {
            boolean text = other.texts.size() > 0;
            if (text) {
                refer(one, other.texts.key(code));
            }
            long number = other.values[code];
            int known = text ? texts.find(one, 0) : numbers.find(number);
            if (known < 0 && all && size < MOST && bytes < MOST_BYTES) {
                known = text ? texts.of(one, 0) : size;
                enter();
                bytes += text ? one.length[0] : 0;
                if (!text) {
                    values[known] = number;
                    numbers.put(number, known);
                }
                if (distinct != null) {
                    seen(one, number, text);
                }
            } else if (known < 0) {
                if (distinct == null) {
                    estimate();
                }
                seen(one, number, text);
                others.update(text ? item(one, 0) : (Object) number, other.counts[code]);
            } else if (known < ours) {
                met[known] = true;
            }
            if (known >= 0) {
                counts[known] += other.counts[code];
            }
            if (ranks != null && other.isExact()) {
                ranks.update(real(number), other.counts[code]);
            }
        }
        if (!other.isExact()) {
            for (int code = 0; code < ours; code++) {
                unsure[code] |= !met[code];
            }
            slack += other.others.getMaximumError() + other.slack;
            distinct.update(other.distinct.getResult());
            others.merge(other.others);
            if (ranks != null && other.ranks != null) {
                ranks.merge(other.ranks);
            }
        }
    }

    private void seen(Vector.Bytes text, long number, boolean isText) {
        if (isText) {
            distinct.update(hash(text.data, text.from[0], text.length[0]));
        } else {
            distinct.update(number);
        }
    }

    private static void refer(Vector.Bytes one, byte[] key) {
        one.reset(1);
        one.refer(key);
        one.length[0] = key.length;
    }

    private Object item(Vector.Bytes text, int row) {
        return field.type().kind() == Kind.TEXT
                ? new String(text.data, text.from[row], Math.min(SHORT, text.length[row]), StandardCharsets.UTF_8)
                : field.value(text, row);
    }

    Amount distinct() {
        return isExact()
                ? new Amount(size, 0)
                : new Amount(Math.round(distinct.getEstimate()), HllSketch.getRelErr(true, true, CELLS, 2));
    }

    /** Values that have a code, in no order. */
    List<Frequent> counted() {
        List<Frequent> all = new ArrayList<>(size);
        for (int code = 0; code < size; code++) {
            all.add(new Frequent(value(code), counts[code], unsure[code] ? slack : 0));
        }
        return all;
    }

    private Comparable<?> value(int code) {
        if (texts.size() == 0) {
            return isDouble() ? (Comparable<?>) Double.longBitsToDouble(values[code]) : field.ofLong(values[code]);
        }
        Vector.Bytes one = new Vector.Bytes(0);
        refer(one, texts.key(code));
        return field.value(one, 0);
    }

    /** The most frequent values, the most frequent first, and among equals by their order. */
    List<Frequent> frequent(int most) {
        Map<Comparable<?>, Frequent> all = new HashMap<>();
        counted().forEach(one -> all.put(one.value(), one));
        if (!isExact()) {
            for (ItemsSketch.Row<Object> row : others.getFrequentItems(ErrorType.NO_FALSE_POSITIVES)) {
                Comparable<?> value = row.getItem() instanceof Long number
                        ? isDouble() ? (Comparable<?>) Double.longBitsToDouble(number) : field.ofLong(number)
                        : (Comparable<?>) row.getItem();
                long error = row.getUpperBound() - row.getLowerBound();
                all.merge(
                        value,
                        new Frequent(value, row.getLowerBound(), error),
                        (a, b) -> new Frequent(value, a.rows() + b.rows(), Math.max(a.error(), b.error())));
            }
        }
        return all.values().stream()
                .sorted(Comparator.comparingLong(Frequent::rows)
                        .reversed()
                        .thenComparing(one -> String.valueOf(one.value())))
                .limit(most)
                .toList();
    }

    /** The sketch of ranks; null where values are counted exactly. */
    KllDoublesSketch ranks() {
        return ranks;
    }
}
