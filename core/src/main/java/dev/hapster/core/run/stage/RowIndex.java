package dev.hapster.core.run.stage;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.workspace.PreparedJob;
import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Where the rows of one file stand, so that any of them is found at once. The file is looked through once, in the
 * background: of text that is read as it lies there, places are noted; rows of other files are written down
 * ({@link Spool}). Thread-safe.
 */
final class RowIndex implements Closeable, Runnable {

    private static final Logger LOG = LoggerFactory.getLogger(RowIndex.class);

    /** Bytes of rows that are written down of one file, at most. */
    private static final long MOST_SPOOLED = 1L << 30;

    /** A batch: how many rows stand before it, its first line, and where it is found. */
    private record Mark(long row, long line, long at) {}

    /**
     * A batch of the file with how many rows stand before it.
     *
     * @param reader reads on behind it; empty where the next batch must be asked for
     */
    record Found(RawBatch batch, long before) {}

    private final PreparedJob prepared;
    private final Candidate file;
    private final Opener opener;
    private final Path scratch;
    private final List<Mark> marks = new ArrayList<>();
    private Spool spool;
    private RawBatch.Places places;
    private Header header;
    private FileSays says;
    private long rows;
    private boolean done;
    private boolean closed;
    private String trouble = "";
    private FileRejectedException rejected;

    RowIndex(PreparedJob prepared, Candidate file, Opener opener, Path scratch) {
        this.prepared = prepared;
        this.file = file;
        this.opener = opener;
        this.scratch = scratch;
    }

    @Override
    public void run() {
        try (SourceContent content = opener.unpackingTo(scratch).content(file)) {
            boolean plain = content.isPlain();
            try (RecordReader reader = FileOpening.open(prepared, file, content, Long.MAX_VALUE)) {
                Header known = reader.header();
                RawBatch raw = RecordReader.batchFor(known);
                synchronized (this) {
                    header = known;
                    says = FileOpening.says(file, reader);
                }
                Optional<Bookmark> next = plain ? reader.bookmark() : Optional.empty();
                boolean spools = next.isEmpty();
                if (spools) {
                    synchronized (this) {
                        spool = new Spool(scratch);
                    }
                }
                while (!isClosed() && reader.next(raw)) {
                    long at = spools ? spool.write(raw) : next.orElseThrow().at();
                    long line = spools ? raw.line[0] : next.orElseThrow().line();
                    synchronized (this) {
                        places = raw.places;
                        marks.add(new Mark(rows, line, at));
                        rows += raw.rows;
                        notifyAll();
                    }
                    if (spools && spool.size() > MOST_SPOOLED) {
                        end("rows behind row " + rows + " cannot be shown by their number: the file is too large, "
                                + "and can only be read from its beginning");
                        return;
                    }
                    next = spools ? next : reader.bookmark();
                }
            }
            end("");
        } catch (FileRejectedException wrong) {
            synchronized (this) {
                rejected = rows == 0 ? wrong : null;
            }
            end("behind row " + rows + ": the file " + wrong.reason().sentence());
        } catch (IOException | RuntimeException wrong) {
            LOG.info("{} could not be looked through: {}", file.key(), wrong.toString());
            end("reading the file failed: " + wrong.getMessage());
        }
    }

    private synchronized boolean isClosed() {
        return closed;
    }

    private synchronized void end(String why) {
        done = true;
        trouble = why;
        notifyAll();
    }

    /** The file's columns; null before they are known. */
    synchronized Header header() {
        return header;
    }

    /** What is the same in all its rows; null before that is known. */
    synchronized FileSays says() {
        return says;
    }

    /** Why the file cannot be read at all; empty where its rows can, as far as they go. */
    synchronized Optional<FileRejectedException> rejected() {
        return Optional.ofNullable(rejected);
    }

    /** What keeps the file from being looked through; empty where nothing does, or not yet. */
    synchronized String trouble() {
        return trouble;
    }

    synchronized boolean isDone() {
        return done;
    }

    /** Rows found so far; all of them once it is done. */
    synchronized long rows() {
        return rows;
    }

    /**
     * Waits a while until a row, or a line, has been found.
     *
     * @param line 0 where the row is meant
     * @return whether it has, or there is no such row
     */
    synchronized boolean await(long row, long line, long millis) throws InterruptedException {
        long end = System.nanoTime() + millis * 1_000_000;
        while (!done
                && !(line > 0 ? !marks.isEmpty() && marks.get(marks.size() - 1).line() > line : rows >= row)) {
            long rest = (end - System.nanoTime()) / 1_000_000;
            if (rest <= 0) {
                return false;
            }
            wait(rest);
        }
        return true;
    }

    /**
     * Reads batch after batch, from the one on that holds a row or a line.
     *
     * @param line 0 where the row is meant
     */
    Reading from(long row, long line) throws IOException, FileRejectedException {
        int at = 0;
        Mark mark;
        synchronized (this) {
            if (marks.isEmpty()) {
                return null;
            }
            int low = 0;
            int high = marks.size() - 1;
            while (low <= high) {
                int middle = (low + high) >>> 1;
                Mark one = marks.get(middle);
                if (line > 0 ? one.line() <= line : one.row() < row) {
                    at = middle;
                    low = middle + 1;
                } else {
                    high = middle - 1;
                }
            }
            mark = marks.get(at);
        }
        return new Reading(at, mark);
    }

    /** Batches one after another. */
    final class Reading implements Closeable {
        private int at;
        private final SourceContent content;
        private final RecordReader reader;
        private final RawBatch raw;
        private long before;

        private Reading(int at, Mark mark) throws IOException, FileRejectedException {
            this.at = at;
            before = mark.row();
            if (spool != null) {
                content = null;
                reader = null;
                raw = null;
                return;
            }
            content = opener.content(file);
            reader = FileOpening.reopen(prepared, file, content, new Bookmark(mark.at(), mark.line()), header);
            raw = RecordReader.batchFor(header);
        }

        /** The next batch; null behind the last that is known. */
        Found next() throws IOException, FileRejectedException {
            if (reader != null) {
                if (!reader.next(raw)) {
                    return null;
                }
                Found found = new Found(raw, before);
                before += raw.rows;
                return found;
            }
            Mark mark;
            synchronized (RowIndex.this) {
                if (at >= marks.size()) {
                    return null;
                }
                mark = marks.get(at);
            }
            at++;
            return new Found(spool.read(mark.at(), Math.max(1, header.names().size()), places), mark.row());
        }

        @Override
        public void close() throws IOException {
            try (content) {
                if (reader != null) {
                    reader.close();
                }
            }
        }
    }

    @Override
    public synchronized void close() throws IOException {
        closed = true;
        if (spool != null) {
            spool.close();
        }
    }
}
