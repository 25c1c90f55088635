package dev.hapster.core.query.group;

import java.util.Arrays;

/** Numbers for whole numbers, each the same whenever it is asked for. Open addressing. Not thread-safe. */
public final class LongCodes {

    private static final int FIRST = 256;
    private static final long MIX = 0x9E3779B97F4A7C15L;

    private long[] keys = new long[FIRST];
    /** The number of a key and one more; 0 where there is no key. A power of two, at most half of them taken. */
    private int[] codes = new int[FIRST];

    private int size;

    /** The number of a key; -1 where it has none yet. */
    public int find(long key) {
        int slot = slot(key);
        while (codes[slot] != 0) {
            if (keys[slot] == key) {
                return codes[slot] - 1;
            }
            slot = slot + 1 & codes.length - 1;
        }
        return -1;
    }

    /** Gives a number to a key that has none. */
    public void put(long key, int code) {
        if (++size * 2 > codes.length) {
            grow();
        }
        set(key, code + 1);
    }

    private void set(long key, int entry) {
        int slot = slot(key);
        while (codes[slot] != 0) {
            slot = slot + 1 & codes.length - 1;
        }
        keys[slot] = key;
        codes[slot] = entry;
    }

    private int slot(long key) {
        long mixed = key * MIX;
        return (int) (mixed ^ mixed >>> 32) & codes.length - 1;
    }

    private void grow() {
        long[] oldKeys = Arrays.copyOf(keys, keys.length);
        int[] oldCodes = Arrays.copyOf(codes, codes.length);
        keys = new long[2 * oldKeys.length];
        codes = new int[2 * oldCodes.length];
        for (int i = 0; i < oldCodes.length; i++) {
            if (oldCodes[i] != 0) {
                set(oldKeys[i], oldCodes[i]);
            }
        }
    }
}
