package dev.hapster.core.run.load;

import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.GivenUp;
import dev.hapster.core.schedule.Faults;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import org.apache.commons.lang3.exception.ExceptionUtils;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Whether, and why, a run ends before its time: it failed, a limit stopped it, or somebody cancelled it. The first to
 * say so is heard. Thread-safe.
 */
public final class RunEnd {

    private static final Logger LOG = LoggerFactory.getLogger(RunEnd.class);

    private final AtomicReference<String> failure = new AtomicReference<>();
    private volatile boolean passing;
    private final AtomicReference<String> stopped = new AtomicReference<>();
    private final BooleanSupplier cancelled;

    /** @param cancelled whether somebody has cancelled the run; asked often, by many threads */
    public RunEnd(BooleanSupplier cancelled) {
        this.cancelled = cancelled;
    }

    /** Whether nothing more is to be begun, for whatever reason. Never false again once it was true. */
    public boolean isOver() {
        return failure.get() != null || isStopped() || cancelled.getAsBoolean();
    }

    boolean isStopped() {
        return stopped.get() != null;
    }

    /** The run failed. Only the first reason is kept. */
    public void fail(String why) {
        failure.compareAndSet(null, why);
    }

    /** A limit of the job stopped the run. Only the first reason is kept; a failure outweighs it. */
    public void stop(String why) {
        stopped.compareAndSet(null, why);
    }

    /**
     * Something went wrong.
     *
     * @param what was being done, for a fault that does not say itself what it means
     */
    public void fail(Exception wrong, String what) {
        if (wrong instanceof CancelledException || ExceptionUtils.indexOfType(wrong, GivenUp.class) >= 0) {
            return; // the run is over already
        }
        LOG.error("{}, the run failed", what, wrong);
        passing |= failure.get() == null && Faults.isPassing(wrong);
        fail(wrong instanceof RuntimeException ? Reasons.runFailed(what, wrong) : wrong.getMessage());
    }

    /** How the run ends, if it ended now: failed before stopped, stopped before cancelled. */
    public RunState state() {
        return failure.get() != null
                ? RunState.FAILED
                : isStopped() ? RunState.STOPPED : cancelled.getAsBoolean() ? RunState.CANCELLED : RunState.FINISHED;
    }

    /** Whether what it failed for may be gone after a while. */
    public boolean isPassing() {
        return passing;
    }

    /** Why it failed or was stopped, a sentence; empty where it was cancelled, or nothing happened. */
    public Optional<String> why() {
        return Optional.ofNullable(failure.get()).or(() -> Optional.ofNullable(stopped.get()));
    }
}
