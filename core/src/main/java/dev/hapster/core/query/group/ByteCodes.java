package dev.hapster.core.query.group;

import dev.hapster.core.row.Vector;
import dev.hapster.core.row.Words;
import java.util.Arrays;

/** Numbers for texts and other bytes, counted from 0 as they are met. Open addressing. Not thread-safe. */
public final class ByteCodes {

    private static final int FIRST = 256;

    private byte[][] keys = new byte[FIRST][];
    private int[] hashes = new int[FIRST];
    /** The number of a key and one more; 0 where there is no key. A power of two, at most half of them taken. */
    private int[] slots = new int[FIRST * 2];

    private int size;

    /** How many numbers were given. */
    public int size() {
        return size;
    }

    /** The bytes that have a number. */
    public byte[] key(int code) {
        return keys[code];
    }

    /** The number of a value; -1 where it has none. */
    public int find(Vector.Bytes values, int row) {
        return find(values, row, hash(values, row));
    }

    private static int hash(Vector.Bytes values, int row) {
        byte[] data = values.data;
        int from = values.from[row];
        int length = values.length[row];
        return Words.hash(data, from, length, Words.first(data, from, length), Words.last(data, from, length));
    }

    private int find(Vector.Bytes values, int row, int hash) {
        int from = values.from[row];
        int to = from + values.length[row];
        int slot = hash & slots.length - 1;
        while (slots[slot] != 0) {
            int code = slots[slot] - 1;
            if (hashes[code] == hash && Arrays.equals(keys[code], 0, keys[code].length, values.data, from, to)) {
                return code;
            }
            slot = slot + 1 & slots.length - 1;
        }
        return -1;
    }

    /** The number of a value, which gets the next one where it has none. */
    public int of(Vector.Bytes values, int row) {
        int hash = hash(values, row);
        int known = find(values, row, hash);
        if (known >= 0) {
            return known;
        }
        int from = values.from[row];
        if (size == keys.length) {
            keys = Arrays.copyOf(keys, 2 * size);
            hashes = Arrays.copyOf(hashes, 2 * size);
            slots = new int[4 * size];
            for (int code = 0; code < size; code++) {
                enter(code);
            }
        }
        keys[size] = Arrays.copyOfRange(values.data, from, from + values.length[row]);
        hashes[size] = hash;
        enter(size);
        return size++;
    }

    private void enter(int code) {
        int slot = hashes[code] & slots.length - 1;
        while (slots[slot] != 0) {
            slot = slot + 1 & slots.length - 1;
        }
        slots[slot] = code + 1;
    }
}
