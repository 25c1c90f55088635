package dev.hapster.service.api.call;

import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import jakarta.ws.rs.NotFoundException;

/** The run that a caller names by its number. */
public final class NamedRun {

    private NamedRun() {}

    /** @throws NotFoundException where the history has none of this number */
    public static RunRecord of(long run, StoredRuns records) {
        return records.run(run).orElseThrow(() -> new NotFoundException("There is no run " + run));
    }
}
