package dev.hapster.core.catalogue;

import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Look;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The log of a dataset, or of one job of it, with what is known of each arrival.
 *
 * @param entries in the order of arrival
 * @param undone as in {@link ArrivalLog}
 * @param removed as in {@link ArrivalLog}
 * @param dismissed arrivals of which the rejects need nobody's attention any more, by the number of the entry that says
 *     so; this has no part in what counts
 */
public record History(
        List<LedgerEntry> entries,
        List<Look> looks,
        Map<Long, Long> undone,
        Map<Long, Set<Long>> removed,
        Map<Long, Set<Long>> dismissed) {

    public static final History EMPTY = new History(List.of(), List.of(), Map.of(), Map.of(), Map.of());

    /** What the counting needs of it. */
    public ArrivalLog log() {
        return new ArrivalLog(entries.stream().map(LedgerEntry::arrival).toList(), looks, undone, removed);
    }
}
