package dev.hapster.core.read.record;

import dev.hapster.core.reason.FileRejectedException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.SeekableByteChannel;

/** The bytes of one source, as often as a reader needs them. */
public interface Content {

    /** The name under which it was found, for messages. */
    String name();

    /** Its bytes from the first one on, unpacked where they were compressed. Closes the stream given before. */
    InputStream stream() throws IOException, FileRejectedException;

    /** The same bytes at any place, for formats that are not read from front to back. Whoever asks closes it. */
    SeekableByteChannel seekable() throws IOException, FileRejectedException;
}
