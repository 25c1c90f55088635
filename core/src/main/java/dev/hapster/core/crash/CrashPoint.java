package dev.hapster.core.crash;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * The moments of a run at which something has just become true on disk, or is about to. A service that is cut off at
 * any of them must lose and double nothing. So that this can be tried, a process started with
 * {@code -Dhapster.pauses=FOLDER} stands still at a moment of which a file in that folder has the name, and says so by
 * giving the file the ending {@code .reached}; it goes on once that is removed.
 */
public enum CrashPoint {
    /** A file is about to be read. */
    FILE_OPENED,
    /** A part is complete in staging, not yet forced to disk. */
    PART_WRITTEN,
    /** The rejects of a file are forced to disk, under a name that does not count. */
    REJECTS_WRITTEN,
    /** They have their name. */
    REJECTS_NAMED,
    /** A part has its final name; no transaction knows of it. */
    PART_NAMED,
    /** The transaction that makes files count is about to begin. */
    BEFORE_COMMIT,
    /** It has written everything and is not committed. */
    IN_COMMIT,
    /** It is committed. */
    COMMITTED,
    /** Files that may be copies are read; none of them is committed. */
    COPIES_READ,
    /** A file is about to be moved, copied or deleted. */
    BEFORE_ROUTING,
    /** A copy is whole, under a name that does not count. */
    COPY_WRITTEN,
    /** The target exists, and the source still does. */
    TARGET_NAMED,
    /** The source is gone. */
    SOURCE_GONE,
    /** The reasons are beside the file; the catalogue does not know that it was dealt with. */
    REASONS_WRITTEN,
    /** The catalogue knows. */
    ROUTED,
    /** All files are dealt with; the rejects are not put together. */
    BEFORE_MERGE,
    /** The rejects are put together, under a name that does not count. */
    MERGE_WRITTEN,
    /** They have their name; the pieces are still there. */
    MERGED,
    /** The catalogue has let go of rows that nobody needs; their files are still there. */
    SWEPT,
    /** What an undo or a removal changes is written, and not committed. */
    IN_ACT,
    /** The parts of small files stand in another one, too; the catalogue knows them where they were. */
    FILES_MERGED,
    /** It knows them in the other one; the small files are still there. */
    PARTS_MOVED,
    /** It is written down that a job or a dataset gets another name; its files still have the old one. */
    RENAME_NOTED,
    /** Its files have the new name; the catalogue knows the old one. */
    FILES_RENAMED,
    /** Files of a delivery are whole, under names that do not count. */
    DELIVERY_WRITTEN,
    /** One of them has its name; the catalogue knows that it was to get it. */
    DELIVERY_NAMED,
    /** Rows of a delivery stand in a table, in a transaction that is not committed. */
    TABLE_WRITTEN,
    /** It is committed; the catalogue does not know. */
    TABLE_COMMITTED,
    /** Only the run's own end is not recorded. */
    BEFORE_END;

    private static final String PAUSES = System.getProperty("hapster.pauses", "");

    /** Says that the moment has come. */
    public void reached() {
        if (!PAUSES.isEmpty()) {
            pause(Path.of(PAUSES, name()));
        }
    }

    private static synchronized void pause(Path asked) {
        if (!Files.exists(asked)) {
            return;
        }
        try {
            Path reached = Files.move(asked, asked.resolveSibling(asked.getFileName() + ".reached"));
            while (Files.exists(reached)) {
                Thread.sleep(10);
            }
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
        }
    }
}
