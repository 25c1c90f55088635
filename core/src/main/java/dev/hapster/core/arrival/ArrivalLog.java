package dev.hapster.core.arrival;

import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Everything that ever happened to a dataset, or to a part of it that can be judged by itself.
 *
 * @param undone entries of the history that were taken back, by the number of the entry that did so; an entry that
 *     takes back another one may be taken back itself
 * @param removed arrivals whose rows were taken out, by the number of the entry that did so
 */
public record ArrivalLog(
        Collection<Arrival> arrivals, List<Look> looks, Map<Long, Long> undone, Map<Long, Set<Long>> removed) {

    /** Entries that are taken back as things stand. */
    public Set<Long> off() {
        Set<Long> off = new HashSet<>();
        undone.keySet().stream().sorted((a, b) -> Long.compare(b, a)).forEach(entry -> {
            if (!off.contains(entry)) {
                off.add(undone.get(entry));
            }
        });
        return off;
    }

    /** The same after one more entry of the history took back another one. */
    public ArrivalLog undoing(long entry, long number) {
        Map<Long, Long> more = new HashMap<>(undone);
        more.put(number, entry);
        return new ArrivalLog(arrivals, looks, more, removed);
    }

    /** The same after rows of arrivals were taken out. */
    public ArrivalLog removing(Set<Long> ids, long number) {
        Map<Long, Set<Long>> more = new HashMap<>(removed);
        more.put(number, ids);
        return new ArrivalLog(arrivals, looks, undone, more);
    }
}
