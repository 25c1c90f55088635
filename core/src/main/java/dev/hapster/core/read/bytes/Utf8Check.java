package dev.hapster.core.read.bytes;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/** Checks bytes for being UTF-8 text without NUL, eight at a time while they are ASCII (RFC 3629). */
public final class Utf8Check {

    private static final VarHandle LONGS = MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
    private static final long HIGH = 0x8080808080808080L;
    private static final long ONES = 0x0101010101010101L;

    private Utf8Check() {}

    /**
     * Returns the end of the part that is well-formed: {@code to} where all of it is, the start of a sequence that is
     * cut off by {@code to}, or the index of the first byte that is wrong (NUL included).
     */
    public static int wellFormedUntil(byte[] bytes, int from, int to) {
        int at = from;
        while (at < to) {
            while (at + 8 <= to) {
                long word = (long) LONGS.get(bytes, at);
                if (((word | ((word - ONES) & ~word)) & HIGH) != 0) {
                    break;
                }
                at += 8;
            }
            int stop = Math.min(at + 8, to);
            while (at < stop && bytes[at] > 0) {
                at++;
            }
            if (at < to && bytes[at] <= 0) {
                int next = bytes[at] == 0 ? at : sequence(bytes, at, to);
                if (next == at) {
                    return at;
                }
                at = next;
            }
        }
        return to;
    }

    /** The index behind the sequence that begins at {@code at}, or {@code at} where it is wrong or cut off. */
    private static int sequence(byte[] bytes, int at, int to) {
        int lead = bytes[at] & 0xff;
        int length = lead >= 0xc2 && lead <= 0xdf
                ? 2
                : lead >= 0xe0 && lead <= 0xef ? 3 : lead >= 0xf0 && lead <= 0xf4 ? 4 : 0;
        if (length == 0 || at + length > to) {
            return at;
        }
        int second = bytes[at + 1] & 0xff;
        int low = lead == 0xe0 ? 0xa0 : lead == 0xf0 ? 0x90 : 0x80;
        int high = lead == 0xed ? 0x9f : lead == 0xf4 ? 0x8f : 0xbf;
        if (second < low || second > high) {
            return at;
        }
        for (int i = 2; i < length; i++) {
            if ((bytes[at + i] & 0xc0) != 0x80) {
                return at;
            }
        }
        return at + length;
    }

    /** Whether the bytes from {@code at} on may be the beginning of a sequence of which the rest is still to come. */
    public static boolean mayContinue(byte[] bytes, int at, int to) {
        int lead = bytes[at] & 0xff;
        int length = lead >= 0xf0 && lead <= 0xf4 ? 4 : lead >= 0xe0 ? 3 : lead >= 0xc2 ? 2 : 0;
        if (lead > 0xf4 || at + length <= to) {
            return false;
        }
        for (int i = at + 1; i < to; i++) {
            if ((bytes[i] & 0xc0) != 0x80) {
                return false;
            }
        }
        return true;
    }
}
