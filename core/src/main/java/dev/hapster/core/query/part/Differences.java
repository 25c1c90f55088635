package dev.hapster.core.query.part;

import java.util.Arrays;
import org.apache.parquet.column.values.bitpacking.BytePackerForLong;
import org.apache.parquet.column.values.bitpacking.Packer;

/** Reads whole numbers that stand as differences in packed bits (DELTA_BINARY_PACKED of the Parquet format). */
@SuppressWarnings("deprecation") // numbers are unpacked out of an array
final class Differences {

    private static final int GROUP = 8;
    private static final int MOST_BITS = 64;
    private static final int MOST_IN_BLOCK = 1 << 16;

    private final byte[] bytes;
    private final int end;
    private int at;

    private Differences(byte[] bytes, int from, int end) {
        this.bytes = bytes;
        this.end = end;
        at = from;
    }

    /**
     * Reads numbers.
     *
     * @param narrow whether they are of 32 bits, and their differences too
     * @param to where they go
     * @throws IllegalArgumentException where the bytes hold another number of them, or no such differences
     */
    static void read(byte[] bytes, int from, int end, boolean narrow, long[] to, int count) {
        new Differences(bytes, from, end).read(narrow, to, count);
    }

    private void read(boolean narrow, long[] to, int count) {
        long block = unsigned();
        long minis = unsigned();
        long there = unsigned();
        long value = signed();
        if (there != count || block <= 0 || block > MOST_IN_BLOCK || minis <= 0 || minis > block) {
            throw new IllegalArgumentException("differences of " + there + " numbers where there are " + count);
        }
        int inMini = (int) (block / minis);
        if (inMini % GROUP != 0) {
            throw new IllegalArgumentException("differences in packs of " + inMini);
        }
        long[] packed = new long[inMini];
        int done = 0;
        if (count > 0) {
            to[done++] = value;
        }
        while (done < count) {
            long least = signed();
            int widths = at;
            at += (int) minis;
            for (int mini = 0; mini < minis && done < count; mini++) {
                int width = at <= end ? bytes[widths + mini] & 0xff : MOST_BITS + 1;
                if (width > MOST_BITS || at + width * (inMini / GROUP) > end) {
                    throw new IllegalArgumentException("differences that end early");
                }
                unpack(packed, width);
                int some = Math.min(inMini, count - done);
                for (int i = 0; i < some; i++) {
                    long next = value + least + packed[i];
                    value = narrow ? (int) next : next;
                    to[done++] = value;
                }
            }
        }
    }

    private void unpack(long[] packed, int width) {
        if (width == 0) {
            Arrays.fill(packed, 0); // the packer leaves them as they were
            return;
        }
        BytePackerForLong packer = Packer.LITTLE_ENDIAN.newBytePackerForLong(width);
        for (int i = 0; i < packed.length; i += GROUP) {
            packer.unpack8Values(bytes, at, packed, i);
            at += width;
        }
    }

    private long unsigned() {
        long value = 0;
        for (int shift = 0; shift < MOST_BITS; shift += 7) {
            if (at >= end) {
                throw new IllegalArgumentException("a number that ends early");
            }
            byte next = bytes[at++];
            value |= (long) (next & 0x7f) << shift;
            if (next >= 0) {
                return value;
            }
        }
        throw new IllegalArgumentException("a number of too many bytes");
    }

    private long signed() {
        long zigzag = unsigned();
        return zigzag >>> 1 ^ -(zigzag & 1);
    }
}
