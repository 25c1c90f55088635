package dev.hapster.core.run;

import com.dynatrace.hash4j.hashing.HashValue128;
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/** The rows of one file that say that others are to go: their keys, each with how many rows of the file stand before it. Not thread-safe. */
final class Deletions {

    private final Path file;
    private DataOutputStream out;
    private DataInputStream in;
    private long left;
    private long count;
    private long nextBefore = Long.MAX_VALUE;

    private Deletions(Path file) {
        this.file = file;
    }

    static Deletions in(Path scratch, String name) {
        return new Deletions(scratch.resolve(name + ".deleted"));
    }

    void add(long before, HashValue128 key) throws IOException {
        if (out == null) {
            out = new DataOutputStream(new BufferedOutputStream(Files.newOutputStream(file)));
        }
        out.writeLong(before);
        out.writeLong(key.getMostSignificantBits());
        out.writeLong(key.getLeastSignificantBits());
        count++;
    }

    void finish() throws IOException {
        if (out != null) {
            out.close();
            out = null;
        }
    }

    /** Gives to the index what stands before row {@code row}; rows are asked for in order. */
    void before(long row, int source, KeyIndex index) throws IOException {
        if (count == 0) {
            return;
        }
        if (in == null) {
            in = new DataInputStream(new BufferedInputStream(Files.newInputStream(file)));
            left = count;
            advance();
        }
        while (nextBefore <= row) {
            index.delete(source, new HashValue128(in.readLong(), in.readLong()));
            advance();
        }
    }

    private void advance() throws IOException {
        nextBefore = left-- > 0 ? in.readLong() : Long.MAX_VALUE;
    }

    void close() throws IOException {
        finish();
        if (in != null) {
            in.close();
            in = null;
        }
        Files.deleteIfExists(file);
    }
}
