package dev.hapster.core.run.stage;

import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.row.RawBatch;
import java.io.BufferedOutputStream;
import java.io.Closeable;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/**
 * Rows of a file that cannot be read from its middle (packed, a workbook, one value over all lines), written down so
 * that they can. Written by one thread, read by any; goes with its file when it is closed.
 */
final class Spool implements Closeable {

    private final Path file;
    private final FileChannel reading;
    private final DataOutputStream out;
    private long written;

    Spool(Path folder) throws IOException {
        Files.createDirectories(folder);
        file = Files.createTempFile(folder, "rows-", ".tmp");
        FileChannel writing = FileChannel.open(file, StandardOpenOption.WRITE);
        reading = FileChannel.open(file, StandardOpenOption.READ);
        out = new DataOutputStream(new BufferedOutputStream(Channels.newOutputStream(writing), 1 << 16));
    }

    /** @return where the batch begins, to be read from there */
    long write(RawBatch batch) throws IOException {
        long start = written;
        int before = out.size();
        out.writeInt(batch.rows);
        out.writeBoolean(batch.kinds != null);
        for (int row = 0; row < batch.rows; row++) {
            out.writeLong(batch.line[row]);
            out.writeInt(batch.fields[row]);
            out.writeBoolean(batch.misquoted[row]);
            bytes(batch.original(row).getBytes(java.nio.charset.StandardCharsets.UTF_8));
            for (int field = 0; field < Math.min(batch.width, batch.fields[row]); field++) {
                int at = row * batch.width + field;
                if (batch.kinds != null) {
                    out.writeByte(batch.kinds[at]);
                }
                out.writeInt(batch.to[at] - batch.from[at]);
                out.write(batch.bytes, batch.from[at], batch.to[at] - batch.from[at]);
            }
        }
        out.writeInt(batch.marks.size());
        for (RawBatch.Mark mark : batch.marks) {
            out.writeInt(mark.row());
            out.writeInt(mark.field());
            out.writeUTF(mark.reason().code().name());
            bytes(mark.reason().sentence().getBytes(java.nio.charset.StandardCharsets.UTF_8));
        }
        out.flush();
        written += Integer.toUnsignedLong(out.size() - before);
        return start;
    }

    private void bytes(byte[] bytes) throws IOException {
        out.writeInt(bytes.length);
        out.write(bytes);
    }

    long size() {
        return written;
    }

    /** The batch that was written at a place. */
    RawBatch read(long at, int width, RawBatch.Places places) throws IOException {
        DataInputStream in = new DataInputStream(new java.io.BufferedInputStream(new ChannelAt(reading, at), 1 << 16));
        int rows = in.readInt();
        RawBatch batch = new RawBatch(width, Math.max(1, rows));
        batch.rows = rows;
        batch.places = places;
        if (in.readBoolean()) {
            batch.withKinds();
        }
        java.io.ByteArrayOutputStream all = new java.io.ByteArrayOutputStream(1 << 16);
        for (int row = 0; row < rows; row++) {
            batch.line[row] = in.readLong();
            batch.fields[row] = in.readInt();
            batch.misquoted[row] = in.readBoolean();
            batch.recordFrom[row] = all.size();
            all.write(in.readNBytes(in.readInt()));
            batch.recordTo[row] = all.size();
            for (int field = 0; field < Math.min(width, batch.fields[row]); field++) {
                int place = row * width + field;
                if (batch.kinds != null) {
                    batch.kinds[place] = in.readByte();
                }
                batch.from[place] = all.size();
                all.write(in.readNBytes(in.readInt()));
                batch.to[place] = all.size();
            }
        }
        batch.bytes = java.util.Arrays.copyOf(all.toByteArray(), all.size() + 8);
        for (int marks = in.readInt(); marks > 0; marks--) {
            int row = in.readInt();
            int field = in.readInt();
            ReasonCode code = ReasonCode.valueOf(in.readUTF());
            String sentence = new String(in.readNBytes(in.readInt()), java.nio.charset.StandardCharsets.UTF_8);
            batch.marks.add(new RawBatch.Mark(row, field, new Reason(code, sentence)));
        }
        return batch;
    }

    @Override
    public void close() throws IOException {
        try (out;
                reading) {
            Files.deleteIfExists(file);
        }
    }

    /** Reads from a place on, whatever others read meanwhile. */
    private static final class ChannelAt extends java.io.InputStream {
        private final FileChannel channel;
        private long at;

        ChannelAt(FileChannel channel, long at) {
            this.channel = channel;
            this.at = at;
        }

        @Override
        public int read() throws IOException {
            byte[] one = new byte[1];
            return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
        }

        @Override
        public int read(byte[] target, int offset, int length) throws IOException {
            int count = channel.read(java.nio.ByteBuffer.wrap(target, offset, length), at);
            at += Math.max(0, count);
            return count;
        }
    }
}
