package dev.hapster.core.read.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.io.PushbackInputStream;
import org.apache.commons.compress.compressors.bzip2.BZip2CompressorInputStream;
import org.apache.commons.compress.compressors.gzip.GzipCompressorInputStream;
import org.apache.commons.compress.compressors.xz.XZCompressorInputStream;
import org.apache.commons.compress.compressors.zstandard.ZstdCompressorInputStream;

/**
 * The content of a file that may be compressed (gzip, bzip2, xz, Zstandard), told by its first bytes and not by its
 * name. Several compressed pieces one after another are one content. Memory is bounded, and so is how much a small file
 * may unpack to. Not thread-safe.
 */
public final class Unpacked extends BlockInput {

    /** The longest beginning by which a format is known. */
    private static final int LONGEST = 6;
    /** Memory that unpacking xz may take, in kB. */
    private static final int MOST_KILOBYTES = 128 * 1024;
    /** No text that anybody writes is packed tighter than this; what is, and is large, is a trap. */
    private static final long MOST_RATIO = 1_000;

    private static final long FREE = 1_000_000_000L;

    /** What is packed cannot be unpacked: it was cut off, damaged, or unpacks to far too much. */
    public static final class DamagedException extends IOException {
        public DamagedException(String what, Exception cause) {
            super(what, cause);
        }
    }

    private final Counted source;
    private final String format;
    private final InputStream content;
    private long bytes;

    private Unpacked(Counted source, String format, InputStream content) {
        this.source = source;
        this.format = format;
        this.content = content;
    }

    /** The bytes as they come, counted; remembers what its own source threw, which is not a fault of the packing. */
    private static final class Counted extends BlockInput {
        private final InputStream source;
        private long bytes;
        private IOException failure;

        Counted(InputStream source) {
            this.source = source;
        }

        @Override
        public int read(byte[] target, int offset, int length) throws IOException {
            try {
                int count = source.read(target, offset, length);
                bytes += Math.max(count, 0);
                return count;
            } catch (IOException wrong) {
                failure = wrong;
                throw wrong;
            }
        }
    }

    /**
     * @param bytes the file; closed by its owner
     * @return its content; the bytes themselves where they are not compressed
     * @throws IOException where the file cannot be read, or is only the beginning of a compressed one
     */
    public static InputStream of(InputStream bytes) throws IOException {
        Counted source = new Counted(bytes);
        PushbackInputStream whole = new PushbackInputStream(source, LONGEST);
        byte[] start = whole.readNBytes(LONGEST);
        whole.unread(start);
        String format = format(start);
        if (format.isEmpty()) {
            return whole;
        }
        try {
            return new Unpacked(
                    source,
                    format,
                    switch (format) {
                        case "gzip" ->
                            GzipCompressorInputStream.builder()
                                    .setInputStream(whole)
                                    .setDecompressConcatenated(true)
                                    .get();
                        case "bzip2" -> new BZip2CompressorInputStream(whole, true);
                        case "xz" ->
                            XZCompressorInputStream.builder()
                                    .setInputStream(whole)
                                    .setDecompressConcatenated(true)
                                    .setMemoryLimitKiB(MOST_KILOBYTES)
                                    .get();
                        default -> new ZstdCompressorInputStream(whole);
                    });
        } catch (IOException | RuntimeException wrong) {
            throw source.failure != null ? source.failure : damaged(format, 0, wrong);
        }
    }

    /** Whether reading failed because the bytes are damaged, and not because they could not be had. */
    public static boolean isDamage(IOException wrong) {
        return wrong instanceof DamagedException;
    }

    /** With what the file is compressed. */
    public String format() {
        return format;
    }

    /** With what bytes that begin so are compressed; empty where they are not. */
    public static String format(byte[] start) {
        return begins(start, 0x1f, 0x8b)
                ? "gzip"
                : begins(start, 'B', 'Z', 'h')
                        ? "bzip2"
                        : begins(start, 0xfd, '7', 'z', 'X', 'Z', 0)
                                ? "xz"
                                : begins(start, 0x28, 0xb5, 0x2f, 0xfd) ? "Zstandard" : "";
    }

    /** Whether a file begins so; each byte from 0 to 255. */
    public static boolean begins(byte[] start, int... bytes) {
        for (int i = 0; i < bytes.length; i++) {
            if (i >= start.length || (start[i] & 0xff) != bytes[i]) {
                return false;
            }
        }
        return true;
    }

    private static DamagedException damaged(String format, long bytes, Exception wrong) {
        return new DamagedException(
                "is compressed with " + format + " and cannot be unpacked behind " + bytes
                        + " bytes: it was cut off or damaged ("
                        + (wrong.getMessage() == null ? wrong.getClass().getSimpleName() : wrong.getMessage()) + ")",
                wrong);
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        try {
            int count = content.read(target, offset, length);
            bytes += Math.max(count, 0);
            if (bytes > FREE && bytes / MOST_RATIO > source.bytes) {
                throw new DamagedException(
                        "is compressed with " + format + " and unpacks to more than " + MOST_RATIO
                                + " times its size; nothing that anybody writes does",
                        null);
            }
            return count;
        } catch (DamagedException told) {
            throw told;
        } catch (IOException | RuntimeException wrong) {
            throw source.failure != null ? source.failure : damaged(format, bytes, wrong);
        }
    }

    @Override
    public void close() throws IOException {
        content.close();
    }
}
