package dev.hapster.core.run;

import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Look;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * The log of a dataset, or of one job of it, with what is known of each arrival.
 *
 * @param entries in the order of arrival
 * @param undone  as in {@link ArrivalLog}
 * @param removed as in {@link ArrivalLog}
 */
public record History(List<LedgerEntry> entries, List<Look> looks, Map<Long, Long> undone, Map<Long, Set<Long>> removed) {

    public static final History EMPTY = new History(List.of(), List.of(), Map.of(), Map.of());

    /** What the counting needs of it. */
    public ArrivalLog log() {
        return new ArrivalLog(entries.stream().map(LedgerEntry::arrival).toList(), looks, undone, removed);
    }
}
