package dev.hapster.core.read.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CharsetEncoder;
import java.nio.charset.CoderResult;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;

/**
 * A stream of bytes in one encoding, seen as UTF-8. A byte that the encoding does not know stops it with
 * {@link WrongByteException}. Not thread-safe.
 */
public final class Transcoded extends BlockInput {

    /** Bytes that one character may take in UTF-8. */
    private static final int LONGEST = 4;

    private final InputStream source;
    private final CharsetDecoder decoder;
    private final CharsetEncoder encoder = StandardCharsets.UTF_8.newEncoder();
    private final ByteBuffer in = ByteBuffer.allocate(64 * 1024).flip();
    private final CharBuffer chars = CharBuffer.allocate(64 * 1024);
    private final ByteBuffer rest = ByteBuffer.allocate(LONGEST).flip();
    private long taken;
    private boolean ended;
    private boolean flushed;

    public Transcoded(InputStream source, Charset charset) {
        this.source = source;
        decoder = charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        chars.flip();
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        if (length == 0) {
            return 0;
        }
        if (length < LONGEST && !rest.hasRemaining()) {
            // A character may need more room than the target has: it is encoded here and handed out in pieces.
            rest.clear();
            int count = encode(rest);
            rest.flip();
            if (count < 0) {
                return -1;
            }
        }
        if (rest.hasRemaining()) {
            int count = Math.min(length, rest.remaining());
            rest.get(target, offset, count);
            return count;
        }
        return encode(ByteBuffer.wrap(target, offset, length));
    }

    /** Encodes at least one character; the bytes it took, or -1 at the end. */
    private int encode(ByteBuffer out) throws IOException {
        int start = out.position();
        while (out.position() == start) {
            if (chars.hasRemaining()) {
                encoder.encode(chars, out, false);
            }
            if (out.position() == start) {
                if (flushed) {
                    return -1;
                }
                decode();
            }
        }
        return out.position() - start;
    }

    private void decode() throws IOException {
        if (!ended) {
            in.compact();
            int count = source.read(in.array(), in.position(), in.remaining());
            ended = count < 0;
            in.position(in.position() + Math.max(count, 0)).flip();
        }
        chars.compact();
        int before = in.position();
        CoderResult result = decoder.decode(in, chars, ended);
        taken += in.position() - before;
        if (result.isError()) {
            throw new WrongByteException(taken, in.get(in.position()));
        }
        if (ended && result.isUnderflow()) {
            flushed = decoder.flush(chars).isUnderflow();
        }
        chars.flip();
    }

    @Override
    public void close() throws IOException {
        source.close();
    }

    /** A byte that does not belong to the declared encoding. */
    public static final class WrongByteException extends IOException {
        /** Offset in bytes from the beginning of the file. */
        public final long offset;

        public final byte value;

        WrongByteException(long offset, byte value) {
            super("Byte at offset " + offset + " does not belong to the encoding");
            this.offset = offset;
            this.value = value;
        }
    }

    /** A text as UTF-8; the bytes themselves where they should be in a Unicode encoding already. */
    public static InputStream utf8(InputStream in, Charset encoding) {
        return encoding.name().startsWith("UTF-") || encoding.equals(StandardCharsets.US_ASCII)
                ? in
                : new Transcoded(in, encoding);
    }
}
