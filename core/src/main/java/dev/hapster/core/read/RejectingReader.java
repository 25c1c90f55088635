package dev.hapster.core.read;

import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/**
 * Makes of every damage that comes to light while a file is read the reason to reject it, wherever it does; otherwise
 * it would be taken for a fault of our own. Used by one thread.
 */
record RejectingReader(RecordReader all) implements RecordReader {

    @Override
    public Header header() throws IOException, FileRejectedException {
        try {
            return all.header();
        } catch (Unpacked.DamagedException damaged) {
            throw rejected(damaged);
        }
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        try {
            return all.next(batch);
        } catch (Unpacked.DamagedException damaged) {
            throw rejected(damaged);
        }
    }

    static FileRejectedException rejected(Unpacked.DamagedException damaged) {
        return new FileRejectedException(Reasons.damaged(damaged.getMessage()));
    }

    @Override
    public Optional<Bookmark> bookmark() {
        return all.bookmark();
    }

    @Override
    public boolean readsAhead() {
        return all.readsAhead();
    }

    @Override
    public long records() {
        return all.records();
    }

    @Override
    public List<String> notes() {
        return all.notes();
    }

    @Override
    public List<String> choices() {
        return all.choices();
    }

    @Override
    public void close() throws IOException {
        all.close();
    }
}
