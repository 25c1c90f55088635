package dev.hapster.core.query;

import dev.hapster.core.row.Vector;
import java.nio.ByteBuffer;
import java.util.Arrays;
import java.util.List;

/**
 * Counts rows by the values of columns as they lie in vectors: a value becomes an object only the first time that it is
 * met. Open addressing, with room for twice as many groups as there are. Not thread-safe.
 */
final class GroupTable {

    private static final int FIRST = 256;
    private static final int EMPTY = 0;
    private static final int THERE = 1;

    /** What the values of a group are as objects. */
    interface AsObjects {
        List<Comparable<?>> of(int row);
    }

    /** What is done with a group. */
    interface EachGroup {
        void group(List<Comparable<?>> values, long rows);
    }

    private ByteBuffer row = ByteBuffer.allocate(FIRST);
    private byte[][] keys = new byte[FIRST][];
    private int[] hashes = new int[FIRST];
    private long[] counts = new long[FIRST];

    private List<Comparable<?>>[] values = lists(FIRST);

    private int size;

    @SuppressWarnings({"unchecked", "rawtypes"})
    private static List<Comparable<?>>[] lists(int count) {
        return new List[count];
    }

    int size() {
        return size;
    }

    /** Counts a row of vectors; {@code objects} is asked where it is the first of its group. */
    void add(Vector[] vectors, int at, AsObjects objects) {
        write(vectors, at);
        byte[] bytes = row.array();
        int length = row.position();
        int hash = hash(bytes, length);
        int slot = hash & (keys.length - 1);
        while (keys[slot] != null) {
            byte[] known = keys[slot];
            if (hashes[slot] == hash && known.length == length && Arrays.equals(known, 0, length, bytes, 0, length)) {
                counts[slot]++;
                return;
            }
            slot = (slot + 1) & (keys.length - 1);
        }
        keys[slot] = Arrays.copyOf(bytes, length);
        hashes[slot] = hash;
        counts[slot] = 1;
        values[slot] = objects.of(at);
        if (++size * 2 > keys.length) {
            grow();
        }
    }

    /** The values of a row one behind the other; those of texts with their length, so that none runs into the next. */
    private void write(Vector[] vectors, int at) {
        row.clear();
        for (Vector vector : vectors) {
            if (vector.empty[at]) {
                room(1);
                row.put((byte) EMPTY);
            } else if (vector instanceof Vector.Longs longs) {
                room(1 + Long.BYTES);
                row.put((byte) THERE).putLong(longs.values[at]);
            } else if (vector instanceof Vector.Doubles doubles) {
                room(1 + Long.BYTES);
                row.put((byte) THERE).putLong(Double.doubleToLongBits(doubles.values[at]));
            } else {
                Vector.Bytes texts = (Vector.Bytes) vector;
                room(1 + Integer.BYTES + texts.length[at]);
                row.put((byte) THERE).putInt(texts.length[at]).put(texts.data, texts.from[at], texts.length[at]);
            }
        }
    }

    private void room(int bytes) {
        if (row.remaining() < bytes) {
            row = ByteBuffer.allocate(2 * (row.position() + bytes)).put(row.flip());
        }
    }

    private static int hash(byte[] bytes, int length) {
        int hash = 1;
        for (int i = 0; i < length; i++) {
            hash = 31 * hash + bytes[i];
        }
        return hash ^ (hash >>> 15);
    }

    private void grow() {
        byte[][] oldKeys = keys;
        int[] oldHashes = hashes;
        long[] oldCounts = counts;
        List<Comparable<?>>[] oldValues = values;
        keys = new byte[2 * oldKeys.length][];
        hashes = new int[keys.length];
        counts = new long[keys.length];
        values = lists(keys.length);
        for (int i = 0; i < oldKeys.length; i++) {
            if (oldKeys[i] != null) {
                int slot = oldHashes[i] & (keys.length - 1);
                while (keys[slot] != null) {
                    slot = (slot + 1) & (keys.length - 1);
                }
                keys[slot] = oldKeys[i];
                hashes[slot] = oldHashes[i];
                counts[slot] = oldCounts[i];
                values[slot] = oldValues[i];
            }
        }
    }

    void forEach(EachGroup each) {
        for (int i = 0; i < keys.length; i++) {
            if (keys[i] != null) {
                each.group(values[i], counts[i]);
            }
        }
    }
}
