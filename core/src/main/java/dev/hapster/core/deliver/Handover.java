package dev.hapster.core.deliver;

import java.nio.file.Path;
import java.util.List;

/**
 * What came of a delivery.
 *
 * @param files all of them, by path
 * @param notes what deserves attention though it is no fault, a sentence each
 */
public record Handover(List<FileChange> files, List<String> notes) {

    public Handover {
        files = List.copyOf(files);
        notes = List.copyOf(notes);
    }

    /** What became of a file. */
    public enum Change {
        /** It was not there, or has other rows now. */
        WRITTEN,
        /** It is as it was. */
        UNCHANGED,
        /** No row belongs into it any more. */
        REMOVED,
        /** No row belongs into it any more, but others have changed it since. */
        LEFT
    }

    /**
     * A file.
     *
     * @param path absolute
     * @param bytes 0 where it was not written, but would be
     * @param checksum SHA-256, in hexadecimal digits; empty where it was not written, but would be
     */
    public record FileChange(Path path, Change change, long rows, long bytes, String checksum) {}

    /** How many files that became of. */
    public long count(Change change) {
        return files.stream().filter(file -> file.change() == change).count();
    }

    /** Rows in the files that are there now. */
    public long rows() {
        return files.stream().mapToLong(FileChange::rows).sum();
    }

    /** Their size. */
    public long bytes() {
        return files.stream().mapToLong(FileChange::bytes).sum();
    }
}
