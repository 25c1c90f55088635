package dev.hapster.core.due;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What arrived of one source for one period.
 *
 * @param by when it is late; empty where nothing is due
 * @param files those that arrived, the earliest first
 * @param complete when as many were taken as are due; empty where that has not come
 */
public record Cell(State state, Optional<Instant> by, List<Landed> files, Optional<Instant> complete) {

    /** The worst that there is to say of it. */
    public enum State {
        /** Nothing is due, and nothing arrived. */
        NONE,
        /** There is still time. */
        AWAITED,
        /** All that is due arrived. */
        ARRIVED,
        /** All arrived, and more or fewer files or rows than usual. */
        UNUSUAL,
        /** All arrived, too late. */
        LATE,
        /** A file arrived and is rejected. */
        REJECTED,
        /** It is late, and not there, or not all of it. */
        MISSING;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** Whether somebody should look at it. */
        public boolean isFinding() {
            return compareTo(ARRIVED) > 0;
        }
    }

    /** Files of which the rows were taken. */
    public long taken() {
        return files.stream().filter(Landed::isTaken).count();
    }

    /** Rows that they brought. */
    public long rows() {
        return files.stream().filter(Landed::isTaken).mapToLong(Landed::rows).sum();
    }

    /** Rows of them that are rejected. */
    public long rejectedRows() {
        return files.stream().mapToLong(Landed::rejected).sum();
    }
}
