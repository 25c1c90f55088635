package dev.hapster.core.row;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * Slices of bytes seen as 8-byte words, for telling short values apart fast: a slice of up to 16 bytes is its length,
 * its {@link #first} and its {@link #last} word, and nothing else.
 */
public final class Words {

    /** Slices of up to this many bytes are equal where length, first and last word are. */
    public static final int WHOLE = 16;

    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long MIX = 0x9E3779B97F4A7C15L;
    private static final long OTHER_MIX = 0xC2B2AE3D27D4EB4FL;

    private Words() {}

    /** The first 8 bytes, or as many as there are, with zeros behind. */
    public static long first(byte[] bytes, int from, int length) {
        if (length >= 8) {
            return (long) LONGS.get(bytes, from);
        }
        if (from + 8 <= bytes.length) {
            return (long) LONGS.get(bytes, from) & (1L << (8 * length)) - 1;
        }
        long word = 0;
        for (int i = length - 1; i >= 0; i--) {
            word = word << 8 | (bytes[from + i] & 0xff);
        }
        return word;
    }

    /** The last 8 bytes of a slice that has more than 8; 0 otherwise. */
    public static long last(byte[] bytes, int from, int length) {
        return length > 8 ? (long) LONGS.get(bytes, from + length - 8) : 0;
    }

    /**
     * Copies {@link #WHOLE} bytes, which is quicker than counting those of a short value; there must be room for all of
     * them.
     */
    static void copy(byte[] source, int from, byte[] target, int to) {
        LONGS.set(target, to, (long) LONGS.get(source, from));
        LONGS.set(target, to + 8, (long) LONGS.get(source, from + 8));
    }

    /** A hash of a slice of which the first and the last word are known. */
    public static int hash(byte[] bytes, int from, int length, long first, long last) {
        long hash = (first ^ length) * MIX ^ Long.rotateLeft(last * OTHER_MIX, 31);
        for (int at = from + 8, end = from + length - 8; length > WHOLE && at < end; at += 8) {
            hash = Long.rotateLeft(hash, 27) * MIX ^ (long) LONGS.get(bytes, Math.min(at, end)) * OTHER_MIX;
        }
        hash ^= hash >>> 29;
        return (int) ((hash * MIX) >>> 32);
    }
}
