package dev.hapster.core.run.duplicates;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.Span;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Where the rows of those arrivals are that count. */
public final class RowsThatCount {

    private RowsThatCount() {}

    /** @param staged where the rows of arrivals are that have no final name yet */
    public static List<RowResolution.Rows> of(JobLedger ledger, PartStore parts, Map<Long, Path> staged) {
        List<RowResolution.Rows> all = new ArrayList<>();
        for (LedgerEntry entry : ledger.entries()) {
            Arrival arrival = entry.arrival();
            Optional<Path> fresh = Optional.ofNullable(staged.get(arrival.id()));
            if (entry.isLoaded()
                    && !entry.isSwept()
                    && (fresh.isPresent() || !arrival.part().isEmpty())) {
                Span part = fresh.map(Span::whole).orElseGet(() -> parts.span(arrival.part()));
                Path deletions = fresh.map(PartStore::deletions).orElseGet(() -> parts.deletions(arrival.part()));
                all.add(new RowResolution.Rows(
                        arrival, part, arrival.deletes() ? Optional.of(deletions) : Optional.empty(), entry.name()));
            }
        }
        return all;
    }
}
