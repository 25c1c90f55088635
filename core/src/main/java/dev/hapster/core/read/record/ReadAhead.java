package dev.hapster.core.read.record;

import dev.hapster.core.pattern.Fact;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.work.Meanwhile;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ExecutionException;
import java.util.function.BooleanSupplier;

/**
 * Lets another core read the next batch while the present one is worked on. Used by one thread; its reader is used by
 * several, one after the other.
 */
public final class ReadAhead implements RecordReader {

    private final RecordReader reader;
    private final BooleanSupplier spare;
    private RawBatch ahead;
    /** The bytes of the batch that was given out. */
    private byte[] own = new byte[0];
    /** Records that the reader has delivered, {@link #ahead} among them; -1 where there was none any more. */
    private Meanwhile<Long> next;

    private long records;

    /** @param spare whether another core has nothing to do; otherwise each batch is read when it is asked for */
    public ReadAhead(RecordReader reader, BooleanSupplier spare) {
        this.reader = reader;
        this.spare = spare;
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        return reader.header();
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        if (next == null && !spare.getAsBoolean()) {
            boolean there = reader.next(batch);
            records = reader.records();
            return there; // the batch is of the reader's own bytes, with which it must not go on
        }
        begin(batch);
        long read;
        try {
            read = next.get();
        } catch (ExecutionException fault) {
            if (fault.getCause() instanceof FileRejectedException wrong) {
                throw wrong;
            }
            throw new IllegalStateException(fault.getCause());
        }
        if (read < 0) {
            batch.rows = 0;
            return false;
        }
        records = read;
        batch.bytes = own; // and not those of the reader, which it goes on with
        batch.take(ahead);
        own = batch.bytes;
        next = null;
        if (spare.getAsBoolean()) {
            begin(batch);
        }
        return true;
    }

    private void begin(RawBatch like) {
        if (next != null) {
            return;
        }
        if (ahead == null) {
            ahead = new RawBatch(like.width, like.capacity);
        }
        next = Meanwhile.begin(this::read);
    }

    private long read() throws IOException, FileRejectedException {
        return reader.next(ahead) ? reader.records() : -1;
    }

    @Override
    public long records() {
        return records;
    }

    @Override
    public List<String> notes() {
        return reader.notes();
    }

    @Override
    public List<String> choices() {
        return reader.choices();
    }

    @Override
    public Map<String, Fact> facts() {
        return reader.facts();
    }

    @Override
    public void close() throws IOException {
        if (next != null) {
            next.drop();
        }
        reader.close();
    }
}
