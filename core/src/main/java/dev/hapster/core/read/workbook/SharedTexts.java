package dev.hapster.core.read.workbook;

import dev.hapster.core.read.bytes.Unpacked;
import java.io.IOException;
import java.util.Arrays;

/** The texts that the cells of a workbook refer to by number, in one array of bytes (UTF-8) and not as objects. */
final class SharedTexts {

    /** A share of the memory that the machine gives, and never more than an array can hold. */
    static final long MOST_BYTES = Math.min(1L << 30, Runtime.getRuntime().maxMemory() / 4);

    byte[] bytes = new byte[1 << 16];
    private int[] ends = new int[1024];
    private int used;
    private int count;

    void append(byte[] source, int from, int length) throws IOException {
        if ((long) used + length > MOST_BYTES) {
            throw new Unpacked.DamagedException(
                    "holds more text than the memory of this service allows for one workbook (" + MOST_BYTES / 1_000_000
                            + " MB); save it as CSV",
                    null);
        }
        if (bytes.length - used < length) {
            bytes = Arrays.copyOf(bytes, (int) Math.min(MOST_BYTES, Math.max(bytes.length * 2L, (long) used + length)));
        }
        System.arraycopy(source, from, bytes, used, length);
        used += length;
    }

    void end() {
        if (count == ends.length) {
            ends = Arrays.copyOf(ends, count * 2);
        }
        ends[count++] = used;
    }

    int size() {
        return count;
    }

    int from(int text) {
        return text == 0 ? 0 : ends[text - 1];
    }

    int to(int text) {
        return ends[text];
    }
}
