package dev.hapster.core.read.record;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/**
 * The records of a file without those in which no field holds anything, such as {@code ;;;} at the end of an exported
 * sheet. White space (as {@link String#isBlank} has it) is nothing. What is left out is counted in the notes, and not
 * among the records. Used by one thread.
 */
public final class FilledRows implements RecordReader {

    private final RecordReader all;
    private long skipped;

    public FilledRows(RecordReader all) {
        this.all = all;
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        return all.header();
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        while (all.next(batch)) {
            int kept = compact(batch);
            skipped += batch.rows - kept;
            batch.rows = kept;
            if (kept > 0) {
                return true;
            }
        }
        return false;
    }

    /** Moves the rows that hold something to the front; gives how many there are. */
    private static int compact(RawBatch batch) {
        int[] origin = new int[batch.rows];
        BitSet marked = new BitSet(); // what is marked is something, though it cannot be read
        batch.marks.forEach(mark -> marked.set(mark.row()));
        int kept = 0;
        for (int row = 0; row < batch.rows; row++) {
            if (marked.get(row) || !isEmpty(batch, row)) {
                origin[kept] = row;
                kept++;
            }
        }
        if (kept == batch.rows) {
            return kept;
        }
        for (int to = 0; to < kept; to++) {
            move(batch, origin[to], to);
        }
        moveMarks(batch, origin, kept);
        return kept;
    }

    private static boolean isEmpty(RawBatch batch, int row) {
        if (batch.misquoted[row] || batch.fields[row] > batch.width) {
            return false; // something stands there that cannot be read
        }
        for (int column = 0; column < batch.fields[row]; column++) {
            if (!batch.isBlank(row, column)) {
                return false;
            }
        }
        return true;
    }

    private static void move(RawBatch batch, int row, int to) {
        int width = batch.width;
        System.arraycopy(batch.from, row * width, batch.from, to * width, width);
        System.arraycopy(batch.to, row * width, batch.to, to * width, width);
        if (batch.kinds != null) {
            System.arraycopy(batch.kinds, row * width, batch.kinds, to * width, width);
        }
        batch.recordFrom[to] = batch.recordFrom[row];
        batch.recordTo[to] = batch.recordTo[row];
        batch.line[to] = batch.line[row];
        batch.fields[to] = batch.fields[row];
        batch.misquoted[to] = batch.misquoted[row];
    }

    private static void moveMarks(RawBatch batch, int[] origin, int kept) {
        List<RawBatch.Mark> moved = new ArrayList<>();
        for (RawBatch.Mark mark : batch.marks) {
            int row = Arrays.binarySearch(origin, 0, kept, mark.row());
            moved.add(new RawBatch.Mark(row, mark.field(), mark.reason()));
        }
        batch.marks.clear();
        batch.marks.addAll(moved);
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
        return all.records() - skipped;
    }

    @Override
    public List<String> notes() {
        List<String> notes = new ArrayList<>(all.notes());
        RecordReader.note(notes, skipped, "row with nothing in it skipped", "rows with nothing in them skipped");
        return notes;
    }

    @Override
    public void close() throws IOException {
        all.close();
    }
}
