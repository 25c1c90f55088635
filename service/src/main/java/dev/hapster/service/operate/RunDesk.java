package dev.hapster.service.operate;

import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.run.Prepared;
import dev.hapster.core.run.RunListener;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.RunState;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.UnknownNameException;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartStore.Swept;
import dev.hapster.core.store.RejectStore;
import dev.hapster.service.records.Records;
import dev.hapster.service.records.RunRecord;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Starts runs, one of a job at a time, and keeps sight of them. What an interrupted service left behind is put in order
 * before the first run: the run is shown as failed, its rejects are put together, files that nobody knows of are removed.
 */
@ApplicationScoped
public class RunDesk {

    private static final Logger LOG = LoggerFactory.getLogger(RunDesk.class);
    private static final int AT_ONCE = 4;
    /** Somebody may still be reading a part that was just replaced. */
    private static final Duration RETIRED_KEPT = Duration.ofHours(1);

    private final Runner runner;
    private final Records records;
    private final PartStore parts;
    private final RejectStore rejects;
    private final Clock clock;
    private final Map<String, ActiveRun> byJob = new ConcurrentHashMap<>();
    private final ExecutorService runs = Executors.newFixedThreadPool(AT_ONCE, work -> {
        Thread thread = new Thread(work, "run");
        thread.setDaemon(true);
        return thread;
    });

    RunDesk(Runner runner, Records records, PartStore parts, RejectStore rejects, Clock clock) {
        this.runner = runner;
        this.records = records;
        this.parts = parts;
        this.rejects = rejects;
        this.clock = clock;
    }

    /** The job is being run already. */
    public static final class BusyException extends Exception {
        private final long run;

        BusyException(String job, long run) {
            super(job + " is being run already, as run " + run);
            this.run = run;
        }

        public long run() {
            return run;
        }
    }

    void onStart(@Observes StartupEvent start) throws IOException {
        for (RunRecord run : records.unfinished()) {
            Set<Long> committed = records.committed(run.id);
            rejects.merge(run.id, committed::contains);
            records.brokenOff(run.id, RunState.FAILED, "The service was stopped while this run was going on. The "
                    + committed.size() + " files it had finished are kept whole; run " + run.job + " again for the rest");
            LOG.warn("Run {} of {} was cut off; {} files of it are kept", run.id, run.job, committed.size());
        }
        dropRetired();
        Swept swept = parts.sweep(records.partNames(), run -> records.run(run).filter(known -> known.state != RunState.FINISHED).isPresent());
        if (!swept.removed().isEmpty()) {
            LOG.info("Removed {} unfinished files of an interrupted run", swept.removed().size());
        }
        if (!swept.strangers().isEmpty()) {
            LOG.warn("{} parts are in the store that the catalogue does not know, the first is {}. They are left alone and belong to no dataset; "
                    + "was catalogue.mv.db removed or replaced?", swept.strangers().size(), swept.strangers().get(0));
        }
    }

    void onStop(@Observes ShutdownEvent stop) {
        byJob.values().forEach(ActiveRun::cancel);
        runs.shutdown();
        try {
            if (!runs.awaitTermination(10, java.util.concurrent.TimeUnit.SECONDS)) {
                LOG.warn("Some runs did not end in time; they will be shown as failed");
            }
        } catch (InterruptedException hurried) {
            Thread.currentThread().interrupt();
        }
    }

    private void dropRetired() throws IOException {
        List<String> old = records.retiredBefore(clock.instant().minus(RETIRED_KEPT));
        for (String part : old) {
            parts.drop(part);
        }
        records.forget(old);
    }

    /**
     * Starts a run; it goes on in the background.
     *
     * @param again  whether unchanged files are loaded anew too
     * @param values values given for this run alone
     * @return its number
     * @throws DefinitionException with everything that keeps the job from running
     */
    public synchronized long start(String job, boolean again, Map<String, String> values) throws IOException, DefinitionException, UnknownNameException, BusyException {
        ActiveRun busy = byJob.get(job);
        if (busy != null) {
            throw new BusyException(job, busy.number());
        }
        Prepared prepared = runner.prepare(job, values);
        long number = records.queue(prepared.job(), prepared.dataset(), again);
        ActiveRun active = new ActiveRun(number, job);
        byJob.put(job, active);
        runs.execute(() -> execute(prepared, active, again));
        return number;
    }

    private void execute(Prepared prepared, ActiveRun active, boolean again) {
        long number = active.number();
        String job = prepared.job().name();
        try {
            records.started(number);
            active.state(RunState.RUNNING);
            RunResult result = runner.run(prepared, number, again, active, active::isCancelled);
            Set<Long> committed = records.committed(number);
            rejects.merge(number, committed::contains);
            records.ended(number, result);
            dropRetired();
        } catch (IOException | RuntimeException wrong) {
            LOG.error("Run {} of {} failed", number, job, wrong);
            try {
                records.brokenOff(number, RunState.FAILED, "Unexpected: " + wrong);
            } catch (RuntimeException worse) {
                LOG.error("The failure of run {} could not be recorded; it will be at the next start", number, worse);
            }
        } finally {
            byJob.remove(job, active);
        }
    }

    /**
     * Everything that a run does, with nothing written.
     *
     * @param again  whether unchanged files are tried too
     * @param values values given for this trial alone
     */
    public RunResult trial(String job, boolean again, Map<String, String> values) throws IOException, DefinitionException, UnknownNameException {
        return runner.trial(runner.prepare(job, values), again, RunListener.NONE, () -> false);
    }

    /** Asks a run to stop; what it has committed stays. False where it is not going on. */
    public boolean cancel(long run) {
        Optional<ActiveRun> active = active(run);
        active.ifPresent(ActiveRun::cancel);
        return active.isPresent();
    }

    public Optional<ActiveRun> active(long run) {
        return byJob.values().stream().filter(active -> active.number() == run).findFirst();
    }

    public Optional<ActiveRun> activeOf(String job) {
        return Optional.ofNullable(byJob.get(job));
    }
}
