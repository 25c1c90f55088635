package dev.hapster.core.run.open;

import dev.hapster.core.disk.ContentHash;
import dev.hapster.core.read.bytes.BlockInput;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.AccessDeniedException;
import java.nio.file.NoSuchFileException;

/** The bytes of a source file, counted and hashed as they pass. Not thread-safe. */
public final class SourceStream extends BlockInput {

    private final InputStream source;
    private final Watch watch;
    private final ContentHash hash = new ContentHash();
    private long bytes;

    private SourceStream(InputStream source, Watch watch) {
        this.source = source;
        this.watch = watch;
    }

    static SourceStream of(InputStream source, Watch watch) {
        return new SourceStream(source, watch);
    }

    /** The source could not be read; told apart from what fails on our own side. */
    public static class SourceException extends IOException {
        public SourceException(IOException cause) {
            super(cause.getMessage(), cause);
        }

        /** Why the file as a whole is rejected. */
        public Reason reason() {
            if (getCause() instanceof NoSuchFileException) {
                return Reasons.gone();
            }
            return Reasons.unreadable(
                    getCause() instanceof AccessDeniedException
                            ? "the account that runs the service may not read it"
                            : "reading it failed: " + getMessage());
        }
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        watch.check();
        int count;
        try {
            count = source.read(target, offset, length);
        } catch (IOException wrong) {
            if (Unpacked.isDamage(wrong)) {
                throw wrong;
            }
            throw new SourceException(wrong);
        }
        if (count > 0) {
            hash.add(target, offset, count);
            bytes += count;
        }
        return count;
    }

    long bytes() {
        return bytes;
    }

    /** XXH3-128 of what was read so far and of a text behind it, in hexadecimal. */
    String hash(String behind) {
        byte[] more = behind.getBytes(StandardCharsets.UTF_8);
        hash.add(more, 0, more.length);
        return hash.value();
    }

    @Override
    public void close() throws IOException {
        source.close();
    }
}
