package dev.hapster.core.read;

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
final class Transcoded extends InputStream {

    private final InputStream source;
    private final CharsetDecoder decoder;
    private final CharsetEncoder encoder = StandardCharsets.UTF_8.newEncoder();
    private final ByteBuffer in = ByteBuffer.allocate(64 * 1024).flip();
    private final CharBuffer chars = CharBuffer.allocate(64 * 1024);
    private long taken;
    private boolean ended;
    private boolean flushed;

    Transcoded(InputStream source, Charset charset) {
        this.source = source;
        decoder = charset.newDecoder().onMalformedInput(CodingErrorAction.REPORT).onUnmappableCharacter(CodingErrorAction.REPORT);
        chars.flip();
    }

    @Override
    public int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        ByteBuffer out = ByteBuffer.wrap(target, offset, length);
        while (out.position() == offset) {
            if (chars.hasRemaining()) {
                CoderResult result = encoder.encode(chars, out, false);
                if (result.isOverflow() && out.position() == offset) {
                    throw new IllegalArgumentException("The target must hold at least four bytes");
                }
                if (out.position() > offset) {
                    break;
                }
            }
            if (flushed) {
                return -1;
            }
            decode();
        }
        return out.position() - offset;
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
    static final class WrongByteException extends IOException {
        /** Offset in bytes from the beginning of the file. */
        final long offset;
        final byte value;

        WrongByteException(long offset, byte value) {
            super("Byte at offset " + offset + " does not belong to the encoding");
            this.offset = offset;
            this.value = value;
        }
    }
}
