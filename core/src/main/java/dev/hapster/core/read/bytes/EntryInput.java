package dev.hapster.core.read.bytes;

import java.io.Closeable;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.util.zip.ZipException;

/** The bytes of one entry of a zip archive, unless they are damaged or become far too many. */
public final class EntryInput extends BlockInput {

    /** What unpacks to more than this many times its size is a trap, once it is large. */
    private static final long MOST_RATIO = 1_000;

    private final InputStream in;
    private final String what;
    private final long packed;
    private final long free;
    private final Closeable archive;
    private long bytes;

    /**
     * @param what for messages: "is an entry of a zip archive"
     * @param packed its size in the archive, in bytes
     * @param free bytes that it may have, however small it is there
     * @param archive closed with the stream
     */
    public EntryInput(InputStream in, String what, long packed, long free, Closeable archive) {
        this.in = in;
        this.what = what;
        this.packed = Math.max(1, packed);
        this.free = free;
        this.archive = archive;
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        int count;
        try {
            count = in.read(target, offset, length);
        } catch (ZipException | EOFException wrong) {
            throw new Unpacked.DamagedException(
                    what + " and cannot be unpacked behind " + bytes + " bytes: it was cut off or damaged ("
                            + wrong.getMessage() + ")",
                    wrong);
        }
        bytes += Math.max(0, count);
        if (bytes > free && bytes / MOST_RATIO > packed) {
            throw new Unpacked.DamagedException(
                    what + " and unpacks to more than " + MOST_RATIO
                            + " times its size; nothing that anybody writes does",
                    null);
        }
        return count;
    }

    @Override
    public void close() throws IOException {
        try {
            in.close();
        } finally {
            archive.close();
        }
    }
}
