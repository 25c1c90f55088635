package dev.hapster.core.catalogue;

import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * How an arrival currently stands. Derived from the log: it can be made anew at any time ({@code hapster verify
 * --rebuild}), and is kept only so that it need not be.
 *
 * @param stands whether it holds the place of its file, so that its rows are needed
 * @param counts whether its rows are in the dataset, but for those that are masked
 * @param current whether it is the last word on its file
 * @param copyOf the arrival with the same content that counts instead; 0 where there is none
 * @param masked rows of its part that do not count, by number, counted from 0; empty where all do
 */
public record Standing(boolean stands, boolean counts, boolean current, long copyOf, Optional<RoaringBitmap> masked) {

    /** It has no part in the dataset. */
    public static final Standing NOWHERE = new Standing(false, false, false, 0, Optional.empty());

    /** Rows of a part with so many rows that count. */
    public long rows(long ofPart) {
        return counts ? ofPart - masked.map(RoaringBitmap::getLongCardinality).orElse(0L) : 0;
    }

    Standing masking(Optional<RoaringBitmap> rows) {
        return new Standing(stands, counts, current, copyOf, rows.filter(some -> counts && !some.isEmpty()));
    }
}
