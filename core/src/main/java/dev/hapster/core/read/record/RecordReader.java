package dev.hapster.core.read.record;

import dev.hapster.core.pattern.Fact;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.Closeable;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The records of one file, batch after batch. What makes the whole file unfit is thrown as
 * {@link FileRejectedException}; rows with a wrong number of fields are delivered and marked. Used by one thread.
 */
public interface RecordReader extends Closeable {

    /** The columns. Must be asked for once, before the first batch. */
    Header header() throws IOException, FileRejectedException;

    /** Fills the batch with the next records; false where there are no more. */
    boolean next(RawBatch batch) throws IOException, FileRejectedException;

    /** Whether other cores read what comes next, while the present batch is worked on. */
    default boolean readsAhead() {
        return false;
    }

    /** Records delivered so far, the header not among them. */
    long records();

    /** What was skipped, in sentences for people. */
    List<String> notes();

    /** What was chosen for this file among what the job allows, in sentences for people; known from the start. */
    default List<String> choices() {
        return List.of();
    }

    /** What lines and cells beside the table say, by the name of the fact; known from the start. */
    default Map<String, Fact> facts() {
        return Map.of();
    }

    /** Where the next record begins; empty where the reader cannot be set on there. */
    default Optional<Bookmark> bookmark() {
        return Optional.empty();
    }

    @Override
    default void close() throws IOException {
        // what only reads a stream leaves it to the stream's owner
    }

    /** Bytes of a file that is small. */
    long SMALL = 16 << 10;

    /** A batch that suits a header. */
    static RawBatch batchFor(Header header) {
        int width = Math.max(1, header.names().size());
        return new RawBatch(width, Math.max(16, Math.min(4096, (1 << 18) / width)));
    }

    /**
     * A batch that suits a header.
     *
     * @param bytes of the file: one of few rows needs no large batch
     */
    static RawBatch batchFor(Header header, long bytes) {
        int width = Math.max(1, header.names().size());
        return bytes < SMALL ? new RawBatch(width, Math.max(16, (int) bytes / (4 * width))) : batchFor(header);
    }

    /** Adds a count in words, where there is something to count. */
    static void note(List<String> notes, long count, String one, String many) {
        if (count > 0) {
            notes.add(count + " " + (count == 1 ? one : many));
        }
    }
}
