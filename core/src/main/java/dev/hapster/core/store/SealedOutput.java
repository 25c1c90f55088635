package dev.hapster.core.store;

import dev.hapster.core.disk.ContentHash;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.io.OutputFile;
import org.apache.parquet.io.PositionOutputStream;

/** A part while it is written, and the sums of what was written so far. Not thread-safe. */
final class SealedOutput implements OutputFile {

    private final OutputFile file;
    private final byte[] block = new byte[Sums.BLOCK];
    private int filled;
    private long[] sums = new long[8];
    private int count;
    private long position;
    private ContentHash rest;

    SealedOutput(Path path) {
        file = new LocalOutputFile(path);
    }

    private void add(byte[] bytes, int from, int length) {
        position += length;
        if (rest != null) {
            rest.add(bytes, from, length);
            return;
        }
        int at = from;
        for (int left = length; left > 0; ) {
            int some = Math.min(left, block.length - filled);
            System.arraycopy(bytes, at, block, filled, some);
            filled += some;
            at += some;
            left -= some;
            if (filled == block.length) {
                close();
            }
        }
    }

    private void close() {
        if (count == sums.length) {
            sums = Arrays.copyOf(sums, count * 2);
        }
        sums[count++] = Sums.of(block, filled);
        filled = 0;
    }

    /** To be called when all rows are written: their sums. What follows is not among them. */
    Sums end() {
        if (filled > 0) {
            close();
        }
        rest = new ContentHash();
        return new Sums(position, Arrays.copyOf(sums, count));
    }

    /** The hash of all that was written since, in hexadecimal. */
    String seal() {
        return rest.value();
    }

    private PositionOutputStream summed(PositionOutputStream out) {
        return new PositionOutputStream() {
            @Override
            public long getPos() throws IOException {
                return out.getPos();
            }

            @Override
            public void write(int one) throws IOException {
                write(new byte[] {(byte) one}, 0, 1);
            }

            @Override
            public void write(byte[] bytes, int from, int length) throws IOException {
                out.write(bytes, from, length);
                add(bytes, from, length);
            }

            @Override
            public void flush() throws IOException {
                out.flush();
            }

            @Override
            public void close() throws IOException {
                out.close();
            }
        };
    }

    @Override
    public PositionOutputStream create(long blockSize) throws IOException {
        return summed(file.create(blockSize));
    }

    @Override
    public PositionOutputStream createOrOverwrite(long blockSize) throws IOException {
        return summed(file.createOrOverwrite(blockSize));
    }

    @Override
    public boolean supportsBlockSize() {
        return file.supportsBlockSize();
    }

    @Override
    public long defaultBlockSize() {
        return file.defaultBlockSize();
    }

    @Override
    public String getPath() {
        return file.getPath();
    }
}
