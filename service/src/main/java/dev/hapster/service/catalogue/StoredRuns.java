package dev.hapster.service.catalogue;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.Balance;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.Progress;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import dev.hapster.service.history.Repository;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;

/** The runs of the history: how each began, went and ended. Each method is one transaction. Thread-safe. */
@ApplicationScoped
public class StoredRuns {

    private final EntityManager entities;
    private final Transactions transactions;
    private final StoredCatalogue catalogue;
    private final StoredSchedules schedules;
    private final StoredDefinitions definitions;
    private final JsonTexts texts;
    private final Clock clock;

    StoredRuns(
            EntityManager entities,
            Transactions transactions,
            StoredCatalogue catalogue,
            StoredSchedules schedules,
            StoredDefinitions definitions,
            JsonTexts texts,
            Clock clock) {
        this.entities = entities;
        this.transactions = transactions;
        this.catalogue = catalogue;
        this.schedules = schedules;
        this.definitions = definitions;
        this.texts = texts;
        this.clock = clock;
    }

    /** Records that a run was asked for; returns its number. The definitions are kept with it, as they are now. */
    public long queue(JobDef job, DatasetDef dataset, boolean again, Long retryOf) {
        return queue(job, dataset, again, retryOf, Start.CALLED, Optional.empty());
    }

    /**
     * The same.
     *
     * @param start why
     * @param then how far the job's schedule has been followed with it
     */
    public long queue(
            JobDef job, DatasetDef dataset, boolean again, Long retryOf, Start start, Optional<Progress> then) {
        return transactions.change(() -> {
            RunRecord run = new RunRecord();
            set(run, job, dataset);
            run.state = RunState.QUEUED;
            run.again = again;
            run.kind = retryOf == null ? RunRecord.RUN : RunRecord.RETRY;
            run.ofRun = retryOf;
            run.queuedAt = clock.instant();
            set(run, start);
            entities.persist(run);
            then.ifPresent(progress -> schedules.enter(job.name(), progress));
            return run.id;
        });
    }

    private void set(RunRecord run, JobDef job, DatasetDef dataset) {
        definitions.keep(Kind.JOB, job.name(), job.version(), job.text());
        definitions.keep(Kind.DATASET, dataset.name(), dataset.version(), dataset.text());
        run.job = job.name();
        run.dataset = dataset.name();
        run.jobVersion = job.version();
        run.datasetVersion = dataset.version();
        run.values = texts.of(job.values());
    }

    /** A run that waited is about to begin, by definitions that may be others by now. */
    public void definitions(long run, JobDef job, DatasetDef dataset) {
        transactions.change(() -> set(entities.find(RunRecord.class, run), job, dataset));
    }

    private void set(RunRecord run, Start start) {
        run.startedBy = start.by();
        run.dueAt = start.due();
        run.missed = start.missed();
        run.afterRun = start.afterRun();
        if (start.by() == Start.By.FAULT) {
            run.attempt = entities.find(RunRecord.class, start.afterRun()).attempt + 1;
        }
    }

    /**
     * Records that a run could not begin by itself. Where the entry before says the same, it says how often.
     *
     * @param faults how often it is tried again; empty where it is not
     * @param then how far the job's schedule has been followed with it
     */
    public void notBegun(
            String job, String dataset, String why, Optional<Faults> faults, Start start, Optional<Progress> then) {
        transactions.change(() -> {
            Instant now = clock.instant();
            String failure = Arrivals.shorten(why);
            RunRecord last = entities.createQuery("from RunRecord where job = :job order by id desc", RunRecord.class)
                    .setParameter("job", job)
                    .setMaxResults(1)
                    .getResultStream()
                    .findFirst()
                    .orElse(null);
            if (last != null
                    && last.startedAt == null
                    && last.state == RunState.FAILED
                    && failure.equals(last.failure)) {
                last.againFailed++;
                last.endedAt = now;
                last.attempt = start.by() == Start.By.FAULT ? last.attempt + 1 : 1;
                last.againAt = again(faults, last.attempt);
            } else {
                RunRecord run = new RunRecord();
                run.job = job;
                run.dataset = dataset;
                run.jobVersion = "";
                run.datasetVersion = "";
                run.state = RunState.FAILED;
                run.queuedAt = now;
                run.endedAt = now;
                run.failure = failure;
                set(run, start);
                run.againAt = again(faults, run.attempt);
                entities.persist(run);
            }
            then.ifPresent(progress -> schedules.enter(job, progress));
        });
    }

    private Instant again(Optional<Faults> faults, int attempt) {
        return faults.flatMap(one -> one.pauseAfter(attempt))
                .map(pause -> clock.instant().plus(pause))
                .orElse(null);
    }

    /** The latest runs of jobs that are to be tried again, by when. */
    public List<RunRecord> toTryAgain() {
        return transactions.read(() -> entities.createQuery(
                        "from RunRecord one where one.againAt is not null and one.kind in :kinds and not exists ("
                                + "select 1 from RunRecord other where other.job = one.job and other.kind in :kinds "
                                + "and other.id > one.id) order by one.againAt",
                        RunRecord.class)
                .setParameter("kinds", List.of(RunRecord.RUN, RunRecord.RETRY))
                .getResultList());
    }

    /** @param commit of the workspace's repository, and which definitions differ from it */
    public void started(long run, Optional<Repository.Commit> commit) {
        transactions.note(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            record.state = RunState.RUNNING;
            record.startedAt = clock.instant();
            commit.ifPresent(one -> {
                record.commit = one.id();
                record.uncommitted = String.join(" ", one.uncommitted());
            });
        });
    }

    /** @param faults how often it is tried again where it failed; empty where it is not */
    public void ended(long run, RunResult result, Optional<Faults> faults) {
        transactions.change(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            Balance balance = result.balance();
            record.state = result.state();
            record.endedAt = clock.instant();
            record.failure = result.failure().map(Arrivals::shorten).orElse(null);
            record.againAt = again(faults, record.attempt);
            record.notes = String.join("\n", result.notes());
            record.filesFound = balance.found();
            record.filesLoaded = balance.files(Outcome.LOADED);
            record.filesReplaced = balance.files(Outcome.REPLACED);
            record.filesUnchanged = balance.files(Outcome.UNCHANGED);
            record.filesRejected = balance.files(Outcome.REJECTED);
            record.filesWaiting = balance.files(Outcome.WAITING);
            record.filesNotReached = balance.notReached();
            record.noun = result.noun();
            record.rowsRead = balance.read();
            record.rowsLoaded = balance.loaded();
            record.rowsAside = balance.aside();
            record.rowsRepeated = balance.repeated();
            record.rowsRejected = balance.rejected();
            record.datasetRows = balance.datasetRows();
            record.partsRows = balance.partsRows();
            record.parts = balance.parts();
            record.carried = texts.of(result.files().stream()
                    .filter(file -> file.sinceRun() > 0)
                    .map(Carried::of)
                    .toList());
            entities.createQuery("update RunRecord set carried = null where job = :job and id < :run and carried is "
                            + "not null")
                    .setParameter("job", record.job)
                    .setParameter("run", run)
                    .executeUpdate();
        });
    }

    /** Records that a run broke off; its counts are taken from the files that it had committed. */
    public void brokenOff(long run, RunState state, String why) {
        transactions.change(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            List<RunFileRecord> files = files(run);
            record.state = state;
            record.endedAt = clock.instant();
            record.failure = Arrivals.shorten(why);
            Map<Outcome, Long> counts = new HashMap<>();
            for (RunFileRecord file : files) {
                counts.merge(file.outcome, 1L, Long::sum);
                record.rowsRead += file.rowsRead;
                record.rowsLoaded += file.rowsLoaded;
                record.rowsAside += file.rowsAside;
                record.rowsRepeated += file.rowsRepeated;
                record.rowsRejected += file.rowsRejected;
            }
            record.filesFound = files.size();
            record.filesLoaded = counts.getOrDefault(Outcome.LOADED, 0L);
            record.filesReplaced = counts.getOrDefault(Outcome.REPLACED, 0L);
            record.filesUnchanged = counts.getOrDefault(Outcome.UNCHANGED, 0L);
            record.filesRejected = counts.getOrDefault(Outcome.REJECTED, 0L);
            record.filesWaiting = counts.getOrDefault(Outcome.WAITING, 0L);
            long[] sums = catalogue.sums(record.dataset);
            record.partsRows = sums[0];
            record.parts = sums[1];
            record.datasetRows = sums[0];
        });
    }

    /** Calls a run by a label; null takes it away. */
    public void label(long number, String label) {
        transactions.change(() -> {
            entities.createQuery("update RunRecord set label = :label where id = :number")
                    .setParameter("label", label)
                    .setParameter("number", number)
                    .executeUpdate();
        });
    }

    public Optional<RunRecord> run(long number) {
        return transactions.read(() -> Optional.ofNullable(entities.find(RunRecord.class, number)));
    }

    /** The latest runs, newest first; of one job where {@code job} is not null. */
    public List<RunRecord> runs(String job, int offset, int limit) {
        return runs(job, null, offset, limit);
    }

    /** @param label a part of it, in any case; null where it does not matter */
    public List<RunRecord> runs(String job, String label, int offset, int limit) {
        return transactions.read(() -> entities.createQuery(
                        "from RunRecord where (:job is null or job = :job) and (:label is null or locate(lower(:label), "
                                + "lower(label)) > 0) order by id desc",
                        RunRecord.class)
                .setParameter("job", job)
                .setParameter("label", label)
                .setFirstResult(offset)
                .setMaxResults(limit)
                .getResultList());
    }

    /** The latest runs of a job that ended, and found something new or failed; the latest first. */
    public List<RunRecord> runsWithNews(String job, int limit) {
        return transactions.read(() -> entities.createQuery(
                        "from RunRecord one where job = :job and kind in ('run', 'retry') and endedAt is not null and "
                                + "(rowsRead > 0 or filesLoaded + filesReplaced > 0 or state <> :finished or exists ("
                                + "select 1 from RunFileRecord file where file.run = one.id and file.sinceRun = 0 "
                                + "and file.outcome = :rejected)) order by id desc",
                        RunRecord.class)
                .setParameter("job", job)
                .setParameter("finished", RunState.FINISHED)
                .setParameter("rejected", Outcome.REJECTED)
                .setMaxResults(limit)
                .getResultList());
    }

    /** How many runs of a job ended, counted from one of them on. */
    public long endedRuns(String job, long from) {
        return transactions.read(() -> entities.createQuery(
                        "select count(*) from RunRecord where job = :job and kind in ('run', 'retry') and endedAt is "
                                + "not null and id >= :from",
                        Long.class)
                .setParameter("job", job)
                .setParameter("from", from)
                .getSingleResult());
    }

    /** The last run of the same job that ended before this one, and was no undo. */
    public Optional<RunRecord> before(RunRecord run) {
        return transactions.read(() -> entities.createQuery(
                        "from RunRecord where job = :job and id < :id and kind = 'run' order by id desc",
                        RunRecord.class)
                .setParameter("job", run.job)
                .setParameter("id", run.id)
                .setMaxResults(1)
                .getResultStream()
                .findFirst());
    }

    /** The latest run of each job, by job. */
    public Map<String, RunRecord> latest() {
        return transactions.read(() -> {
            Map<String, RunRecord> latest = new HashMap<>();
            entities.createQuery(
                            "from RunRecord where id in (select max(id) from RunRecord where kind in ('run', "
                                    + "'retry') group by job)",
                            RunRecord.class)
                    .getResultStream()
                    .forEach(run -> latest.put(run.job, run));
            return latest;
        });
    }

    public List<RunRecord> unfinished() {
        return transactions.read(() -> entities.unwrap(Session.class)
                .createNativeQuery(
                        "select * from run where state in ('QUEUED', 'RUNNING') order by id", RunRecord.class)
                .getResultList());
    }

    public List<RunFileRecord> files(long run) {
        return QuarkusTransaction.joiningExisting().call(() -> entities.createQuery(
                        "from RunFileRecord where run = :run order by ordinal", RunFileRecord.class)
                .setParameter("run", run)
                .getResultList());
    }

    /**
     * A file about which a run had nothing new to say.
     *
     * @param since the run that dealt with it
     */
    public record Carried(
            int ordinal,
            int place,
            String source,
            String path,
            String name,
            Outcome outcome,
            long size,
            String code,
            String sentence,
            long since,
            long millis) {
        static Carried of(FileResult file) {
            return new Carried(
                    file.ordinal(),
                    file.place(),
                    file.source(),
                    file.path(),
                    file.name(),
                    file.outcome(),
                    file.fingerprint().size(),
                    file.reason().map(reason -> reason.code().code()).orElse(null),
                    file.reason().map(Reason::sentence).orElse(null),
                    file.sinceRun(),
                    file.millis());
        }
    }

    /** Those files of a run, where it is the latest of its job. */
    public List<Carried> carried(RunRecord run) {
        return run.carried == null
                ? List.of()
                : texts.list(run.carried, Carried[].class, "The unchanged files of run " + run.id);
    }

    /** Arrivals of which a run said that something is rejected. */
    public Set<Long> rejectedArrivals(RunRecord run) {
        return transactions.read(() -> {
            Set<Long> ids = new LinkedHashSet<>(entities.createQuery(
                            """
                    select l.id from ArrivalRecord l join RunFileRecord f on f.id = l.runFile
                    where f.run = :run and (f.outcome = REJECTED or f.rowsRejected > 0) order by l.id""",
                            Long.class)
                    .setParameter("run", run.id)
                    .getResultList());
            carried(run).stream()
                    .filter(file -> file.outcome() == Outcome.REJECTED)
                    .forEach(file -> ids.addAll(entities.createQuery(
                                    "select id from ArrivalRecord where job = :job and source = :source and "
                                            + "current = true",
                                    Long.class)
                            .setParameter("job", run.job)
                            .setParameter("source", file.source())
                            .getResultList()));
            return ids;
        });
    }

    /** Identities of the files that a run dealt with, by the paths under which it knew them. */
    public Map<String, String> sources(long run) {
        return transactions.read(() -> {
            Map<String, String> sources = new HashMap<>();
            files(run).stream()
                    .filter(file -> file.source != null)
                    .forEach(file -> sources.put(file.path, file.source));
            return sources;
        });
    }

    /** The columns of a run's files, by path, of those of which rows were rejected or left out. */
    public Map<String, List<String>> headers(long run) {
        return transactions.read(() -> {
            Map<String, List<String>> headers = new HashMap<>();
            for (RunFileRecord file : files(run)) {
                if (file.header != null) {
                    headers.put(file.path, texts.list(file.header, String[].class, "A list of texts"));
                }
            }
            return headers;
        });
    }

    /** Numbers of the files of a run whose results are recorded. */
    public Set<Long> committed(long run) {
        return transactions.read(() -> {
            Set<Long> ordinals = new HashSet<>();
            entities.createQuery("select ordinal from RunFileRecord where run = :run", Integer.class)
                    .setParameter("run", run)
                    .getResultStream()
                    .forEach(ordinal -> ordinals.add(ordinal.longValue()));
            return ordinals;
        });
    }
}
