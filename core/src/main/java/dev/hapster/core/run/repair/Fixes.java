package dev.hapster.core.run.repair;

import java.util.List;

/**
 * What could be changed so that what a run rejected for one reason would fit.
 *
 * @param level {@code row} or {@code file}: what is counted
 * @param rejected rows or files that are still rejected, and do not fit the rules as they are now
 * @param passing rows or files that are still rejected, but fit by now: a retry loads them
 * @param fixes the most helpful first; none where nothing is obvious
 */
public record Fixes(String level, long rejected, long passing, List<Fix> fixes) {
    public Fixes {
        fixes = List.copyOf(fixes);
    }
}
