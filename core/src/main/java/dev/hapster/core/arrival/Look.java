package dev.hapster.core.arrival;

import java.util.Set;

/**
 * A complete look into a job's folders under {@code load: replace}: nothing of the job counts any more but what these
 * files brought.
 *
 * @param entry the run that looked
 * @param slots of the files that were there and were not rejected ({@link Arrival#slot})
 */
public record Look(long entry, String job, Set<String> slots) {
    public Look {
        slots = Set.copyOf(slots);
    }
}
