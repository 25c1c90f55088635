package dev.hapster.core.store;

import com.dynatrace.hash4j.hashing.Hashing;
import java.nio.ByteBuffer;
import java.util.Base64;

/**
 * By what a part is known to be what was written: an XXH3-64 of every 64 KiB of its rows, which its footer holds, and
 * an XXH3-128 of all that follows the rows, the footer included, which is a piece of its name.
 *
 * @param end where the rows end and the rest begins, in bytes
 * @param blocks the sum of each block of the rows, the last of which may be shorter
 */
record Sums(long end, long[] blocks) {

    static final String NOTE = PartStore.NOTE + "sums";
    static final int BLOCK = 1 << 16;

    static long of(byte[] bytes, int length) {
        return Hashing.xxh3_64().hashBytesToLong(bytes, 0, length);
    }

    /** Bytes of a block. */
    int length(int block) {
        return (int) Math.min(BLOCK, end - (long) block * BLOCK);
    }

    String text() {
        ByteBuffer bytes = ByteBuffer.allocate(8 + blocks.length * 8).putLong(end);
        for (long block : blocks) {
            bytes.putLong(block);
        }
        return Base64.getEncoder().encodeToString(bytes.array());
    }

    /** @throws IllegalArgumentException where it is not such a text */
    static Sums parse(String text) {
        ByteBuffer bytes = ByteBuffer.wrap(Base64.getDecoder().decode(text));
        if (bytes.remaining() < 8 || bytes.remaining() % 8 != 0) {
            throw new IllegalArgumentException("the sums are not whole");
        }
        long end = bytes.getLong();
        long[] blocks = new long[bytes.remaining() / 8];
        if (end < 0 || (end + BLOCK - 1) / BLOCK != blocks.length) {
            throw new IllegalArgumentException("the sums are not those of so many bytes");
        }
        bytes.asLongBuffer().get(blocks);
        return new Sums(end, blocks);
    }
}
