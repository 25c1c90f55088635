package dev.hapster.core.run.duplicates;

import com.dynatrace.hash4j.hashing.HashValue128;
import com.dynatrace.hash4j.hashing.Hasher128;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.row.Vector;
import java.security.SecureRandom;
import java.util.Arrays;
import java.util.List;

/**
 * Makes 128 bits of the values by which rows are compared (XXH3 with a seed that nobody knows): ten million different
 * keys share them by chance less than once in 10^24 times. Nothing is the same as nothing. Not thread-safe.
 */
public final class KeyHash {

    private static final Hasher128 HASH = Hashing.xxh3_128(new SecureRandom().nextLong());
    private byte[] key = new byte[256];

    public HashValue128 of(List<Vector> columns, int row) {
        int length = 0;
        for (Vector column : columns) {
            if (column.empty[row]) {
                length = put(length, 0, 1);
            } else if (column instanceof Vector.Bytes bytes) {
                int count = bytes.length[row];
                length = put(put(length, 2, 1), count, 4);
                room(length + count);
                System.arraycopy(bytes.data, bytes.from[row], key, length, count);
                length += count;
            } else {
                long value = column instanceof Vector.Longs longs
                        ? longs.values[row]
                        : Double.doubleToLongBits(((Vector.Doubles) column).values[row] + 0.0);
                length = put(put(length, 1, 1), value, 8);
            }
        }
        return HASH.hashBytesTo128Bits(key, 0, length);
    }

    private int put(int at, long value, int bytes) {
        room(at + bytes);
        for (int i = 0; i < bytes; i++) {
            key[at + i] = (byte) (value >>> (8 * i));
        }
        return at + bytes;
    }

    private void room(int length) {
        if (key.length < length) {
            key = Arrays.copyOf(key, Math.max(length, key.length * 2));
        }
    }
}
