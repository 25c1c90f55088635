package dev.hapster.core.schedule;

import java.time.Instant;
import java.util.Optional;

/**
 * How far a job's schedule has been followed.
 *
 * @param when the declaration that was followed, as it was written
 * @param handled times up to here are done with
 * @param afterRun runs of other jobs up to this number are done with
 * @param pause while it is paused
 */
public record Progress(String when, Instant handled, long afterRun, Optional<Pause> pause) {

    /**
     * Nothing starts by itself.
     *
     * @param until empty until somebody ends it
     * @param because empty where nobody said
     */
    public record Pause(Instant since, Optional<Instant> until, String because) {
        /** Whether it goes on at a moment. */
        public boolean holds(Instant moment) {
            return until.isEmpty() || moment.isBefore(until.get());
        }
    }

    /** The same, done with up to a moment and a run. */
    public Progress handled(Instant moment, long run) {
        return new Progress(when, moment, Math.max(run, afterRun), pause);
    }

    /** The same, paused or not. */
    public Progress with(Optional<Pause> changed) {
        return new Progress(when, handled, afterRun, changed);
    }
}
