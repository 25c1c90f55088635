package dev.hapster.core.draft.column;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.Map;

/** Different values with how often each stands there, by their hashes; few of them. Not thread-safe. */
final class ValueCounts {

    /** Takes values that were met again since they were last asked for. */
    interface Again {
        void met(byte[] value, byte kind, long times);
    }

    private final int most;
    private long[] hashes = new long[16];
    /** For each place of the table which value it is. */
    private int[] slots = new int[16];

    private final long[] counts;
    private final long[] settled;
    private final byte[][] values;
    private final byte[] kinds;
    private int size;

    ValueCounts(int most) {
        this.most = most;
        counts = new long[most];
        settled = new long[most];
        values = new byte[most][];
        kinds = new byte[most];
    }

    /** Counts a value that is known; false where it is not. */
    boolean again(long hash) {
        int at = slot(hash);
        if (hashes[at] == 0) {
            return false;
        }
        counts[slots[at]]++;
        return true;
    }

    /** Takes a value that is not known yet; false where that would be too many. */
    boolean add(long hash, byte[] bytes, int from, int to, byte kind) {
        return put(hash, Arrays.copyOfRange(bytes, from, to), kind, 1, 1);
    }

    private boolean put(long hash, byte[] value, byte kind, long count, long done) {
        if (size == most) {
            return false;
        }
        if (size * 2 >= hashes.length) {
            long[] old = hashes;
            int[] oldSlots = slots;
            hashes = new long[old.length * 2];
            slots = new int[old.length * 2];
            for (int i = 0; i < old.length; i++) {
                if (old[i] != 0) {
                    int at = slot(old[i]);
                    hashes[at] = old[i];
                    slots[at] = oldSlots[i];
                }
            }
        }
        int at = slot(hash);
        hashes[at] = hash;
        slots[at] = size;
        values[size] = value;
        kinds[size] = kind;
        counts[size] = count;
        settled[size++] = done;
        return true;
    }

    private int slot(long hash) {
        int at = (int) (hash ^ hash >>> 32) & (hashes.length - 1);
        while (hashes[at] != 0 && hashes[at] != hash) {
            at = (at + 1) & (hashes.length - 1);
        }
        return at;
    }

    /** Tells of all values that were met again since the last time. */
    void settle(Again again) {
        for (int i = 0; i < size; i++) {
            if (counts[i] > settled[i]) {
                again.met(values[i], kinds[i], counts[i] - settled[i]);
                settled[i] = counts[i];
            }
        }
    }

    /** Adds those of others, of which all are settled; false where they are too many together. */
    boolean addAll(ValueCounts other) {
        for (int theirs = 0; theirs < other.size; theirs++) {
            long hash = other.hash(theirs);
            long count = other.counts[theirs];
            int at = slot(hash);
            if (hashes[at] != 0) {
                counts[slots[at]] += count;
                settled[slots[at]] += count;
            } else if (!put(hash, other.values[theirs], other.kinds[theirs], count, count)) {
                return false;
            }
        }
        return true;
    }

    private long hash(int value) {
        return ColumnProfile.hash(values[value], 0, values[value].length, kinds[value]);
    }

    /** Texts with how often each stands there, in the order in which they were met. */
    Map<String, Long> counts() {
        Map<String, Long> all = new LinkedHashMap<>();
        for (int i = 0; i < size; i++) {
            all.merge(new String(values[i], StandardCharsets.UTF_8), counts[i], Long::sum);
        }
        return all;
    }
}
