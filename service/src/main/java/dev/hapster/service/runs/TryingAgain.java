package dev.hapster.service.runs;

import dev.hapster.core.schedule.Start;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import jakarta.enterprise.context.ApplicationScoped;
import java.time.Clock;
import java.time.Instant;
import java.util.function.Predicate;

/**
 * Knows when runs are tried again that failed for a fault that may pass. It stands with the run that failed, so that it
 * is not forgotten when the service stops; any later run of the job takes its place. Thread-safe.
 */
@ApplicationScoped
public class TryingAgain {

    private final StoredRuns records;
    private final Clock clock;
    private volatile Instant next = Instant.MIN;

    TryingAgain(StoredRuns records, Clock clock) {
        this.records = records;
        this.clock = clock;
    }

    /** Starts a run. */
    public interface Starter {
        /** @return false where it cannot be done now, since the job is being run */
        boolean start(String job, Start start);
    }

    /** There is a run to be tried again. */
    void soon() {
        next = Instant.MIN;
    }

    /**
     * Starts what is due. To be called each second; mostly it does nothing.
     *
     * @param may whether a job may start by itself now
     */
    public void perform(Predicate<String> may, Starter starter) {
        Instant now = clock.instant();
        if (now.isBefore(next)) {
            return;
        }
        next = Instant.MAX; // whoever has one more from now on sets it again
        Instant found = Instant.MAX;
        for (RunRecord failed : records.toTryAgain()) {
            if (now.isBefore(failed.againAt)) {
                found = failed.againAt;
                break;
            }
            if (!may.test(failed.job) || !starter.start(failed.job, Start.afterFault(failed.id))) {
                found = now; // it is paused, or being run
            }
        }
        if (found.isBefore(next)) {
            next = found;
        }
    }
}
