package dev.hapster.core.read.bytes;

import java.io.IOException;
import java.io.InputStream;

/** A stream that gives its bytes in blocks; a single byte is a block of one. */
public abstract class BlockInput extends InputStream {

    @Override
    public abstract int read(byte[] target, int offset, int length) throws IOException;

    @Override
    public final int read() throws IOException {
        byte[] one = new byte[1];
        return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }
}
