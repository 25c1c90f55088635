package dev.hapster.core.query.part;

import java.util.Arrays;
import org.apache.parquet.column.values.bitpacking.BytePacker;
import org.apache.parquet.column.values.bitpacking.Packer;

/** Reads whole numbers that stand as runs and in packed bits (the RLE/bit-packing hybrid of the Parquet format). */
@SuppressWarnings("deprecation") // numbers are unpacked out of an array
final class Runs {

    private static final int GROUP = 8;
    private static final int MOST_BITS = 32;

    private Runs() {}

    /**
     * Reads numbers.
     *
     * @param width bits of each, 0 to 32
     * @param to where they go; there must be room for seven more than {@code count}
     * @throws IllegalArgumentException where the bytes hold fewer, or are no such runs
     */
    static void read(byte[] bytes, int from, int end, int width, int[] to, int count) {
        if (width < 0 || width > MOST_BITS) {
            throw new IllegalArgumentException("numbers of " + width + " bits");
        }
        if (width == 0) {
            Arrays.fill(to, 0, count, 0);
            return;
        }
        BytePacker packer = Packer.LITTLE_ENDIAN.newBytePacker(width);
        int at = from;
        int done = 0;
        while (done < count) {
            int header = 0;
            for (int shift = 0; ; shift += 7) {
                if (at >= end || shift >= MOST_BITS) {
                    throw new IllegalArgumentException("a run that ends early");
                }
                int next = bytes[at++];
                header |= (next & 0x7f) << shift;
                if (next >= 0) {
                    break;
                }
            }
            if ((header & 1) == 0) {
                int run = Math.min(header >>> 1, count - done);
                int value = 0;
                int wide = (width + 7) / 8;
                if (at + wide > end || run <= 0) {
                    throw new IllegalArgumentException("a run without a value");
                }
                for (int i = 0; i < wide; i++) {
                    value |= (bytes[at++] & 0xff) << (8 * i);
                }
                Arrays.fill(to, done, done + run, value);
                done += run;
                continue;
            }
            int groups = header >>> 1;
            if (groups <= 0) {
                throw new IllegalArgumentException("no packed numbers where some should be");
            }
            for (int group = 0; group < groups && done < count; group++) {
                if (at + width <= end) {
                    packer.unpack8Values(bytes, at, to, done);
                } else {
                    packer.unpack8Values(Arrays.copyOf(Arrays.copyOfRange(bytes, at, end), width), 0, to, done);
                }
                at += width;
                done += GROUP;
                if (at >= end + width) {
                    throw new IllegalArgumentException("packed numbers that end early");
                }
            }
        }
    }
}
