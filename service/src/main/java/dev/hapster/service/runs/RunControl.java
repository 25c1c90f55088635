package dev.hapster.service.runs;

import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.Progress;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.work.LittleMemoryException;
import dev.hapster.core.work.LogMark;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.StoredSchedules;
import dev.hapster.service.catalogue.Upgrade;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.history.Repository;
import dev.hapster.service.log.RunLog;
import dev.hapster.service.log.RunLogs;
import dev.hapster.service.runs.Renames.Renamed;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Event;
import jakarta.enterprise.event.Observes;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Starts runs, one of a job at a time, and keeps sight of them. */
@ApplicationScoped
public class RunControl {

    private static final Logger LOG = LoggerFactory.getLogger(RunControl.class);
    private static final int AT_ONCE = 4;

    private final Runner runner;
    private final StoredRuns records;
    private final StoredCatalogue catalogue;
    private final Workspace workspace;
    private final Upgrade upgrade;
    private final Housekeeping housekeeping;
    private final StoredSchedules schedules;
    private final TryingAgain tryingAgain;
    private final StoreCheck store;
    private final Renames renames;
    private final RejectStore rejects;
    private final RunLogs logs;
    private final Repository repository;
    private final Clock clock;
    private final Event<DatasetChanged> changed;
    private final Event<JobRenamed> renamed;
    private volatile boolean stopping;
    private final Map<String, ActiveRun> byJob = new ConcurrentHashMap<>();
    /** Of each job at most one run that begins when the one that is going on ends. */
    private final Map<String, Waiting> waiting = new ConcurrentHashMap<>();

    private final ExecutorService runs = Executors.newFixedThreadPool(AT_ONCE, work -> {
        Thread thread = new Thread(work, "run");
        thread.setDaemon(true);
        return thread;
    });

    RunControl(
            Workspace workspace,
            Runner runner,
            StoredRuns records,
            StoredCatalogue catalogue,
            Upgrade upgrade,
            Housekeeping housekeeping,
            StoredSchedules schedules,
            TryingAgain tryingAgain,
            StoreCheck store,
            Renames renames,
            RejectStore rejects,
            RunLogs logs,
            Repository repository,
            Event<DatasetChanged> changed,
            Event<JobRenamed> renamed,
            Clock clock) {
        this.changed = changed;
        this.renamed = renamed;
        this.workspace = workspace;
        this.upgrade = upgrade;
        this.housekeeping = housekeeping;
        this.schedules = schedules;
        this.tryingAgain = tryingAgain;
        this.store = store;
        this.renames = renames;
        this.runner = runner;
        this.records = records;
        this.catalogue = catalogue;
        this.rejects = rejects;
        this.logs = logs;
        this.repository = repository;
        this.clock = clock;
    }

    void onStart(@Observes StartupEvent start) throws IOException {
        upgrade.run();
        housekeeping.start();
    }

    /** The job is being run already. */
    public static final class BusyException extends Exception {
        private final long run;

        public BusyException(String job, long run) {
            super(job + " is being run already, as run " + run);
            this.run = run;
        }

        public long run() {
            return run;
        }
    }

    void onStop(@Observes ShutdownEvent stop) {
        stopping = true;
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

    /** How a run does its work once it is started. */
    private interface Work {
        RunResult run(long number, ActiveRun active) throws IOException;
    }

    /**
     * Starts a run; it goes on in the background. While the job is being run, it waits; asked for the same once more,
     * it is that one.
     *
     * @param applyAfter whether what the job says now of what becomes of files is done also with files that were loaded
     *     when it said otherwise
     * @param values values given for this run alone
     * @return its number
     * @throws DefinitionException with everything that keeps the job from running
     */
    public synchronized long start(String job, Again again, boolean applyAfter, Map<String, String> values)
            throws QueryException, IOException, DefinitionException, UnknownNameException, BusyException {
        renames.complete();
        Waiting before = waiting.get(job);
        if (before != null && before.isFor(again, applyAfter, values)) {
            return before.active().number();
        }
        if (before != null) {
            throw new BusyException(job, before.active().number());
        }
        PreparedJob prepared = runner.prepare(job, values, again.all());
        Predicate<Candidate> which = again.which(prepared);
        if (byJob.containsKey(job)) {
            long number = records.queue(prepared.job(), prepared.dataset(), again.any(), null);
            waiting.put(job, new Waiting(new ActiveRun(number, job), again, applyAfter, values));
            return number;
        }
        RunRequest asked = RunRequest.again(which).applyingAfter(applyAfter);
        return start(
                prepared,
                again.any(),
                null,
                !again.any() && !applyAfter && values.isEmpty(),
                (number, active) -> runner.run(prepared, number, asked, active, active::isCancelled));
    }

    /** A run that waits, and what was asked for. */
    private record Waiting(ActiveRun active, Again again, boolean applyAfter, Map<String, String> values) {
        boolean isFor(Again otherwise, boolean after, Map<String, String> given) {
            return again.equals(otherwise) && applyAfter == after && values.equals(given);
        }
    }

    /** Begins the run that waits for a job, where there is one. */
    private synchronized void beginWaiting(String job) {
        Waiting next = waiting.get(job);
        if (next != null && !stopping && !byJob.containsKey(job)) {
            waiting.remove(job);
            byJob.put(job, next.active());
            runs.execute(() -> begin(next));
        }
    }

    /** By the definitions and with the files as they are now. */
    private void begin(Waiting next) {
        ActiveRun active = next.active();
        try {
            PreparedJob prepared =
                    runner.prepare(active.job(), next.values(), next.again().all());
            RunRequest asked = RunRequest.again(next.again().which(prepared)).applyingAfter(next.applyAfter());
            records.definitions(active.number(), prepared.job(), prepared.dataset());
            execute(prepared, active, (number, run) -> runner.run(prepared, number, asked, run, run::isCancelled));
        } catch (DefinitionException | UnknownNameException | QueryException | IOException | RuntimeException wrong) {
            breakOff(active, "It could not begin: " + why(wrong));
            byJob.remove(active.job(), active);
            beginWaiting(active.job());
        }
    }

    private static String why(Exception wrong) {
        if (wrong instanceof DefinitionException mistakes) {
            return mistakes.problems().stream().map(Problem::toString).collect(Collectors.joining("; "));
        }
        return wrong instanceof UnknownNameException || wrong instanceof QueryException || wrong instanceof RemoteFault
                ? wrong.getMessage()
                : Reasons.deepest(wrong);
    }

    /**
     * Takes again what a run rejected and what still is rejected.
     *
     * @return number of the run that does so
     */
    public synchronized long retry(RunRecord of, Map<String, String> values)
            throws IOException, DefinitionException, UnknownNameException, BusyException {
        refuseBusy(of.job);
        PreparedJob prepared = runner.prepare(of.job, values);
        Set<Long> arrivals = records.rejectedArrivals(of);
        return start(
                prepared,
                false,
                of.id,
                false,
                (number, active) -> runner.retry(prepared, number, arrivals, active, active::isCancelled));
    }

    private void refuseBusy(String job) throws IOException, BusyException {
        renames.complete();
        ActiveRun busy = byJob.get(job);
        if (busy != null) {
            throw new BusyException(job, busy.number());
        }
    }

    /**
     * Starts a run that nobody asked for. What keeps the job from running is entered as a run that failed.
     *
     * @param then how far the job's schedule has been followed with it, which is kept together with the run
     * @return whether it was started or entered; otherwise the job is being run
     */
    public synchronized boolean startBy(String job, Start start, Optional<Progress> then) {
        if (stopping || byJob.containsKey(job)) {
            return false;
        }
        PreparedJob prepared;
        try {
            renames.complete();
            prepared = runner.prepare(job, Map.of());
        } catch (DefinitionException | UnknownNameException | IOException | UncheckedIOException wrong) {
            notBegun(job, wrong, start, then);
            return true;
        }
        begin(prepared, start, then);
        return true;
    }

    /** The same for a job that is made ready. */
    public synchronized boolean startBy(PreparedJob prepared, Start start) {
        if (stopping || byJob.containsKey(prepared.job().name())) {
            return false;
        }
        begin(prepared, start, Optional.empty());
        return true;
    }

    private void begin(PreparedJob prepared, Start start, Optional<Progress> then) {
        start(
                prepared,
                records.queue(prepared.job(), prepared.dataset(), false, null, start, then),
                true,
                (number, active) -> runner.run(prepared, number, RunRequest.NOTHING, active, active::isCancelled));
    }

    /** Enters that a run could not begin. */
    public void notBegun(String job, Exception wrong, Start start, Optional<Progress> then) {
        LOG.warn("{} cannot run: {}", job, wrong.getMessage());
        String dataset = "";
        try {
            dataset = workspace.into(job);
        } catch (IOException | DefinitionException | UnknownNameException unreadable) {
            LOG.debug("The dataset of {} is not known", job, unreadable);
        }
        Optional<Faults> faults = Faults.isPassing(wrong) ? workspace.faults(job) : Optional.empty();
        records.notBegun(job, dataset, "It could not begin: " + why(wrong), faults, start, then);
        faults.ifPresent(any -> tryingAgain.soon());
    }

    private long start(PreparedJob prepared, boolean again, Long retryOf, boolean plain, Work work) {
        return start(prepared, records.queue(prepared.job(), prepared.dataset(), again, retryOf), plain, work);
    }

    private long start(PreparedJob prepared, long number, boolean plain, Work work) {
        ActiveRun active = new ActiveRun(number, prepared.job().name());
        active.plain(plain);
        byJob.put(prepared.job().name(), active);
        runs.execute(LogMark.marked(number, () -> execute(prepared, active, work)));
        return number;
    }

    private void execute(PreparedJob prepared, ActiveRun active, Work work) {
        long number = active.number();
        String job = prepared.job().name();
        try {
            records.started(number, repository.commit(texts(prepared)));
            active.state(RunState.RUNNING);
            RunLog log = logs.begin(number);
            active.log(log);
            log.started("Run " + number + " of " + job + ", by job "
                    + prepared.job().version() + " and dataset "
                    + prepared.dataset().version());
            List<String> undone = runner.finishRoutes(job);
            List<String> first = new ArrayList<>(store.problems());
            first.addAll(undone);
            RunResult result = work.run(number, active).withNotes(first, log.trouble());
            CrashPoint.BEFORE_MERGE.reached();
            Set<Long> committed = records.committed(number);
            rejects.merge(number, committed::contains);
            housekeeping.sweep(job, prepared.dataset().name());
            CrashPoint.BEFORE_END.reached();
            if (stopping && result.state() == RunState.CANCELLED) {
                records.run(number).ifPresent(schedules::takeBack);
            }
            byJob.remove(job, active); // whoever hears that it has ended may start the next one
            Optional<Faults> faults = active.isPlain() && result.state() == RunState.FAILED && result.passing()
                    ? workspace.faults(job)
                    : Optional.empty();
            log.ended(result);
            records.ended(number, result, faults);
            logs.close(number);
            faults.ifPresent(any -> tryingAgain.soon());
            if (result.state() == RunState.FINISHED
                    && result.files().stream().anyMatch(file -> file.loaded() > 0)
                    && !stopping) {
                housekeeping.mergeFiles(prepared.dataset().name());
            }
            changed.fire(new DatasetChanged(prepared.dataset().name(), number));
            if (result.state() != RunState.FINISHED) {
                housekeeping.dropLeftovers(number);
            }
        } catch (IOException | RuntimeException wrong) {
            LOG.error("Run {} of {} failed", number, job, wrong);
            breakOff(active, Reasons.deepest(wrong));
        } catch (OutOfMemoryError | StackOverflowError much) {
            LOG.error("Run {} of {} failed", number, job, much);
            breakOff(active, new LittleMemoryException(much).getMessage());
        } finally {
            logs.close(number);
            byJob.remove(job, active);
            beginWaiting(job);
        }
    }

    /** The definitions that a run goes by, by their paths in the workspace. */
    private static Map<String, String> texts(PreparedJob prepared) {
        return Map.of(
                Workspace.path(Kind.JOB, prepared.job().name()),
                prepared.job().text(),
                Workspace.path(Kind.DATASET, prepared.dataset().name()),
                prepared.dataset().text());
    }

    /**
     * Ends a run that failed; as long as not even that can be written, again and again, so that it goes on once there
     * is room on the disk.
     */
    private void breakOff(ActiveRun active, String why) {
        long run = active.number();
        for (int attempt = 0; !stopping; attempt++) {
            try {
                housekeeping.close(run, active.job(), why);
                return;
            } catch (IOException | RuntimeException worse) {
                active.trouble("It failed: " + why + ". That cannot be recorded: " + Reasons.deepest(worse)
                        + ". It is tried again every second; make room on the disk, and it ends");
                if (attempt == 0) {
                    LOG.error("That run {} failed cannot be recorded; it is tried again every second", run, worse);
                }
            }
            try {
                Thread.sleep(1000);
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    /** Whether the last run of a job failed. */
    public boolean lastFailed(String job) {
        return records.runs(job, 0, 1).stream().anyMatch(run -> run.state == RunState.FAILED);
    }

    /** Whether the last run of a job failed, and is tried again because of it. */
    public boolean isTriedAgain(String job) {
        return records.runs(job, 0, 1).stream().anyMatch(run -> run.againAt != null);
    }

    /** Why the last run of a job could not begin; empty where it did. */
    public Optional<String> couldNotBegin(String job) {
        return records.runs(job, 0, 1).stream()
                .filter(run -> run.state == RunState.FAILED && run.startedAt == null)
                .map(run -> run.failure)
                .findFirst();
    }

    /** What would come of taking an entry of the history back. */
    public Effect undoEffect(RunRecord run) throws IOException, DefinitionException, UnknownNameException {
        DatasetDef dataset = workspace.dataset(run.dataset);
        Effect effect = runner.undoEffect(dataset, run.id);
        List<String> notes = new ArrayList<>(effect.notes());
        if (effect.out() > 0 && !run.job.isEmpty() && workspace.runsByItself(run.job)) {
            notes.add(run.job + " runs by itself, and then loads these files again; hapster schedule " + run.job
                    + " --pause prevents that");
        }
        return new Effect(
                effect.out(),
                effect.back(),
                effect.files(),
                notes,
                isTooOld(run, dataset) ? List.of(TOO_OLD) : effect.obstacles());
    }

    /**
     * Takes an entry of the history back.
     *
     * @return number of the entry that says so
     */
    public long undo(RunRecord run)
            throws IOException, BusyException, ActNotPossibleException, DefinitionException, UnknownNameException {
        refuseBusy(Set.of(run.job), run.dataset);
        DatasetDef dataset = workspace.dataset(run.dataset);
        if (isTooOld(run, dataset)) {
            throw new ActNotPossibleException("Run " + run.id + " cannot be undone", List.of(TOO_OLD));
        }
        long entry = runner.undo(dataset, run.id, run.job);
        changed.fire(new DatasetChanged(run.dataset, entry));
        return entry;
    }

    private static final String TOO_OLD = "it ended longer ago than `retain: {history: …}` in the dataset's file keeps";

    private boolean isTooOld(RunRecord run, DatasetDef dataset) {
        return run.endedAt != null
                && run.endedAt.isBefore(clock.instant().minus(dataset.retain().history()));
    }

    /** What would come of taking rows out of a dataset. */
    public Effect removeEffect(DatasetDef dataset, Predicate<LedgerEntry> which) throws IOException {
        return runner.removeEffect(dataset, which);
    }

    /** Takes rows out of a dataset; 0 where there are no such rows, otherwise the number of the entry that says so. */
    public long remove(DatasetDef dataset, Predicate<LedgerEntry> which, String what)
            throws IOException, BusyException, ActNotPossibleException {
        refuseBusy(jobs(dataset, which), dataset.name());
        long entry = runner.remove(dataset, which, what);
        changed.fire(new DatasetChanged(dataset.name(), entry));
        return entry;
    }

    /**
     * Says of rejects that they need nobody's attention any more; 0 where there are none, otherwise the number of the
     * entry that says so.
     */
    public long dismiss(DatasetDef dataset, Predicate<LedgerEntry> which, String why)
            throws IOException, BusyException {
        refuseBusy(jobs(dataset, which), dataset.name());
        return runner.dismiss(dataset, which, why);
    }

    /**
     * Looks through the store; with {@code rebuild} takes in what the catalogue does not know, and finds anew what
     * counts. No run may be going on for that.
     */
    public synchronized StoreCheck.Verified verify(boolean rebuild) throws IOException, BusyException {
        if (rebuild) {
            for (ActiveRun active : byJob.values()) {
                throw new BusyException(active.job(), active.number());
            }
        }
        return store.verify(rebuild);
    }

    /**
     * Gives a job or dataset another name, with all that is known of it. No run may be going on that concerns it, and
     * what else is done to datasets is waited for.
     */
    public Renamed rename(Kind kind, String from, String to)
            throws IOException, DefinitionException, UnknownNameException, BusyException, ActNotPossibleException {
        Renamed done = renameIdle(kind, from, to);
        if (kind == Kind.JOB) {
            renamed.fire(new JobRenamed(from, to)); // whoever hears it may be about to start a run
        }
        return done;
    }

    private synchronized Renamed renameIdle(Kind kind, String from, String to)
            throws IOException, DefinitionException, UnknownNameException, BusyException, ActNotPossibleException {
        for (ActiveRun active : byJob.values()) {
            String name = kind == Kind.JOB
                    ? active.job()
                    : records.run(active.number()).map(run -> run.dataset).orElse("");
            if (Set.of(from, to).contains(name)) {
                throw new BusyException(active.job(), active.number());
            }
        }
        return runner.holding(new TreeSet<>(renames.datasets(kind, from)), () -> renames.rename(kind, from, to));
    }

    private Set<String> jobs(DatasetDef dataset, Predicate<LedgerEntry> which) {
        return catalogue.history(dataset.name(), Optional.empty()).entries().stream()
                .filter(which)
                .map(entry -> entry.arrival().job())
                .collect(Collectors.toSet());
    }

    /**
     * While a job runs, nobody takes back or removes what its files brought. Runs of other jobs are waited for where
     * they add to the same dataset at the moment. Entries of several jobs have none, and wait for all of them.
     */
    private synchronized void refuseBusy(Set<String> jobs, String dataset) throws IOException, BusyException {
        renames.complete();
        for (ActiveRun active : byJob.values()) {
            boolean concerned = jobs.contains(active.job())
                    || (jobs.contains("")
                            && records.run(active.number())
                                    .filter(run -> run.dataset.equals(dataset))
                                    .isPresent());
            if (concerned) {
                throw new BusyException(active.job(), active.number());
            }
        }
    }

    /**
     * Everything that a run does, with nothing written.
     *
     * @param values values given for this trial alone
     */
    public RunResult trial(String job, Again again, boolean applyAfter, Map<String, String> values)
            throws QueryException, IOException, DefinitionException, UnknownNameException {
        PreparedJob prepared = runner.prepare(job, values, again.all());
        return runner.trial(
                prepared,
                RunRequest.again(again.which(prepared)).applyingAfter(applyAfter),
                RunListener.NONE,
                () -> false);
    }

    /** Asks a run to stop; what it has committed stays. False where it is not going on. */
    public synchronized boolean cancel(long run) {
        Optional<ActiveRun> active = active(run);
        active.ifPresent(one -> {
            if (waiting.containsKey(one.job())
                    && waiting.get(one.job()).active().equals(one)) {
                waiting.remove(one.job());
                records.brokenOff(run, RunState.CANCELLED, "It was cancelled before it began");
            } else {
                one.cancel();
            }
        });
        return active.isPresent();
    }

    /** A run that is going on or waits. */
    public Optional<ActiveRun> active(long run) {
        return Stream.concat(byJob.values().stream(), waiting.values().stream().map(Waiting::active))
                .filter(active -> active.number() == run)
                .findFirst();
    }

    public Optional<ActiveRun> activeOf(String job) {
        return Optional.ofNullable(byJob.get(job));
    }
}
