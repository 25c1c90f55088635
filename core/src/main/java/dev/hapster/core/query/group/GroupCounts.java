package dev.hapster.core.query.group;

import dev.hapster.core.query.part.PartReader;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Map;

/**
 * Counts rows by one or more columns, and adds up others in each group. Values are numbered, and pairs of numbers
 * again, column by column, so that each row costs a look into a table for each column. Not thread-safe.
 */
public final class GroupCounts {

    /** Pairs of numbers below this have a place in a table; others are looked up. */
    private static final int SMALL = 256;

    private final List<ValueCodes> columns;
    private final List<Pairs> pairs = new ArrayList<>();
    private final List<Measure> measures;
    private final List<Totals> totals = new ArrayList<>();
    private int[] codes = new int[0];
    private int[] others = new int[0];
    private long[] counts = new long[0];
    private int size;

    /** Numbers for pairs of numbers. */
    private static final class Pairs {
        private final int[] small = new int[SMALL * SMALL];
        private final LongCodes large = new LongCodes();
        /** The pair of each number, one behind the other. */
        private int[] parents = new int[2 * SMALL];

        private int size;

        int of(int a, int b) {
            if ((a | b) < SMALL) {
                int code = small[a * SMALL + b];
                if (code == 0) {
                    code = enter(a, b) + 1;
                    small[a * SMALL + b] = code;
                }
                return code - 1;
            }
            long pair = (long) a << Integer.SIZE | b;
            int code = large.find(pair);
            if (code < 0) {
                code = enter(a, b);
                large.put(pair, code);
            }
            return code;
        }

        private int enter(int a, int b) {
            if (2 * size == parents.length) {
                parents = Arrays.copyOf(parents, 4 * size);
            }
            parents[2 * size] = a;
            parents[2 * size + 1] = b;
            return size++;
        }
    }

    /**
     * @param keys of which the columns are the first that readers are asked for, in this order; without any, all rows
     *     are one group
     * @param measures what is found out besides
     * @param first the place of the column of the first measure among those that readers are asked for
     */
    public GroupCounts(List<Key> keys, List<Measure> measures, int first) {
        columns = keys.stream().map(ValueCodes::new).toList();
        for (int i = 1; i < keys.size(); i++) {
            pairs.add(new Pairs());
        }
        for (int i = 0; i < measures.size(); i++) {
            totals.add(Totals.of(measures.get(i), first + i));
        }
        this.measures = measures;
    }

    /** Counts some rows of the present batch. */
    public void count(PartReader reader, int[] rows, int count) throws IOException {
        if (codes.length < count) {
            codes = new int[count];
            others = new int[count];
        }
        if (columns.isEmpty()) {
            Arrays.fill(codes, 0, count, 0);
        } else {
            columns.get(0).of(reader, 0, rows, count, codes);
        }
        for (int column = 1; column < columns.size(); column++) {
            columns.get(column).of(reader, column, rows, count, others);
            Pairs pair = pairs.get(column - 1);
            for (int i = 0; i < count; i++) {
                codes[i] = pair.of(codes[i], others[i]);
            }
        }
        for (int i = 0; i < count; i++) {
            int code = codes[i];
            if (code >= size) {
                size = code + 1;
                counts = size <= counts.length ? counts : Arrays.copyOf(counts, 2 * size);
            }
            counts[code]++;
        }
        for (Totals measure : totals) {
            measure.add(reader, rows, count, codes, size);
        }
    }

    /** How many groups there are. */
    public int size() {
        return size;
    }

    /** Adds what was counted to what others have counted; the values of a group are its key. */
    public void addTo(Map<List<Comparable<?>>, Tally> all) {
        for (int group = 0; group < size; group++) {
            if (counts[group] > 0) {
                List<Total> found = new ArrayList<>();
                for (Totals measure : totals) {
                    found.add(measure.of(group));
                }
                all.merge(values(group), new Tally(counts[group], found), (a, b) -> a.with(b, measures));
            }
        }
    }

    private List<Comparable<?>> values(int group) {
        List<Comparable<?>> values = new ArrayList<>();
        int code = group;
        for (int column = columns.size() - 1; column > 0; column--) {
            int[] parents = pairs.get(column - 1).parents;
            values.add(columns.get(column).value(parents[2 * code + 1]));
            code = parents[2 * code];
        }
        if (!columns.isEmpty()) {
            values.add(columns.get(0).value(code));
        }
        Collections.reverse(values);
        return Collections.unmodifiableList(values);
    }
}
