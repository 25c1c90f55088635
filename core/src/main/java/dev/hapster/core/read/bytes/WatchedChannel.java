package dev.hapster.core.read.bytes;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.channels.NonWritableChannelException;
import java.nio.channels.SeekableByteChannel;

/** An open file, of which every reading is looked at whether it is to go on. Not thread-safe. */
public record WatchedChannel(FileChannel file, Check check) implements SeekableByteChannel {

    /** Throws where a reading is to end. */
    public interface Check {
        void perform() throws IOException;
    }

    @Override
    public int read(ByteBuffer target) throws IOException {
        check.perform();
        return file.read(target);
    }

    @Override
    public int write(ByteBuffer source) {
        throw new NonWritableChannelException();
    }

    @Override
    public long position() throws IOException {
        return file.position();
    }

    @Override
    public SeekableByteChannel position(long place) throws IOException {
        file.position(place);
        return this;
    }

    @Override
    public long size() throws IOException {
        return file.size();
    }

    @Override
    public SeekableByteChannel truncate(long size) {
        throw new NonWritableChannelException();
    }

    @Override
    public boolean isOpen() {
        return file.isOpen();
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
