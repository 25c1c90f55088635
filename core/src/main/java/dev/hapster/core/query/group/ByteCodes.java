package dev.hapster.core.query.group;

import dev.hapster.core.row.Vector;
import dev.hapster.core.row.Words;
import java.util.Arrays;

/** Numbers for texts and other bytes, counted from 0 as they are met. Open addressing. Not thread-safe. */
final class ByteCodes {

    private static final int FIRST = 256;

    private byte[][] keys = new byte[FIRST][];
    private int[] hashes = new int[FIRST];
    /** The number of a key and one more; 0 where there is no key. A power of two, at most half of them taken. */
    private int[] slots = new int[FIRST * 2];

    private int size;

    /** How many numbers were given. */
    int size() {
        return size;
    }

    /** The number of a value, which gets the next one where it has none. */
    int of(Vector.Bytes values, int row) {
        byte[] data = values.data;
        int from = values.from[row];
        int length = values.length[row];
        int hash = Words.hash(data, from, length, Words.first(data, from, length), Words.last(data, from, length));
        int slot = hash & slots.length - 1;
        while (slots[slot] != 0) {
            int code = slots[slot] - 1;
            if (hashes[code] == hash && Arrays.equals(keys[code], 0, keys[code].length, data, from, from + length)) {
                return code;
            }
            slot = slot + 1 & slots.length - 1;
        }
        if (size == keys.length) {
            keys = Arrays.copyOf(keys, 2 * size);
            hashes = Arrays.copyOf(hashes, 2 * size);
            slots = new int[4 * size];
            for (int code = 0; code < size; code++) {
                enter(code);
            }
        }
        keys[size] = Arrays.copyOfRange(data, from, from + length);
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
