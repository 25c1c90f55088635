package dev.hapster.core.read.parquet;

import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.channels.Channels;
import java.nio.channels.SeekableByteChannel;
import org.apache.parquet.io.DelegatingSeekableInputStream;
import org.apache.parquet.io.InputFile;
import org.apache.parquet.io.SeekableInputStream;

/** An open file, as parquet-java wants it. There is one stream at a time. */
record ChannelInput(SeekableByteChannel channel) implements InputFile {

    @Override
    public long getLength() throws IOException {
        return channel.size();
    }

    @Override
    public SeekableInputStream newStream() {
        InputStream in = Channels.newInputStream(channel);
        return new DelegatingSeekableInputStream(in) {
            @Override
            public long getPos() throws IOException {
                return channel.position();
            }

            @Override
            public void seek(long place) throws IOException {
                channel.position(place);
            }

            @Override
            public int read(ByteBuffer target) throws IOException {
                return channel.read(target);
            }
        };
    }
}
