package dev.hapster.service.catalogue;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Look;
import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.History;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.Balance;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.load.RunState;
import dev.hapster.core.schedule.Faults;
import dev.hapster.core.schedule.Progress;
import dev.hapster.core.schedule.Start;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.catalogue.record.ArrivalRecord;
import dev.hapster.service.catalogue.record.LookRecord;
import dev.hapster.service.catalogue.record.ReasonRecord;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Kept;
import dev.hapster.service.catalogue.transaction.Transactions;
import dev.hapster.service.history.Repository;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.nio.file.Path;
import java.sql.PreparedStatement;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;
import org.hibernate.query.NativeQuery;
import org.hibernate.type.StandardBasicTypes;

/** What the service keeps between runs. Each method that changes something is one transaction. Thread-safe. */
@ApplicationScoped
public class StoredCatalogue implements Catalogue {

    private static final String ARRIVALS = "arrival";

    private final EntityManager entities;
    private final Transactions transactions;
    private final Arrivals arrivals;
    private final StoredSchedules schedules;
    private final StoredDefinitions definitions;
    private final ObjectMapper json;
    private final Clock clock;
    private final Kept<List<LedgerEntry>> kept;
    private final Kept<List<Part>> keptParts;
    private final Kept<Boolean> keptComparing;
    /** Jobs by the version of the dataset's definition under which they wrote. */
    private final Kept<Map<String, Set<String>>> keptWriters;

    StoredCatalogue(
            EntityManager entities,
            Transactions transactions,
            Arrivals arrivals,
            StoredSchedules schedules,
            StoredDefinitions definitions,
            ObjectMapper json,
            Clock clock) {
        this.schedules = schedules;
        this.definitions = definitions;
        this.transactions = transactions;
        this.entities = entities;
        this.arrivals = arrivals;
        this.json = json;
        this.clock = clock;
        kept = new Kept<>(transactions, ARRIVALS, List::size);
        keptParts = new Kept<>(transactions, ARRIVALS, List::size);
        keptComparing = new Kept<>(transactions, ARRIVALS, comparing -> 0);
        keptWriters = new Kept<>(transactions, ARRIVALS, Map::size);
    }

    /**
     * A question in SQL. All that a start asks is asked so: to take a question in Hibernate's own language apart takes
     * a new process half a second.
     */
    private <T> NativeQuery<T> sql(String text, Class<T> gives) {
        return entities.unwrap(Session.class).createNativeQuery(text, gives);
    }

    // the core's port

    @Override
    public History history(String dataset, Optional<String> job) {
        List<LedgerEntry> entries = kept.get(dataset + "\n" + job.orElse(""), () -> entities.createQuery(
                        "from ArrivalRecord where dataset = :dataset and (:job is null or job = :job) order by id",
                        ArrivalRecord.class)
                .setParameter("dataset", dataset)
                .setParameter("job", job.orElse(null))
                .getResultStream()
                .map(arrivals::entry)
                .toList());
        return transactions.read(() -> {
            List<Look> looks = entities.createQuery(
                            "from LookRecord where dataset = :dataset and (:job is null or job = :job) order by run",
                            LookRecord.class)
                    .setParameter("dataset", dataset)
                    .setParameter("job", job.orElse(null))
                    .getResultStream()
                    .map(look -> new Look(
                            look.run, look.job, Set.copyOf(look.slots.lines().toList())))
                    .toList();
            return new History(
                    entries, looks, undone(dataset), marked("removal", dataset), marked("dismissal", dataset));
        });
    }

    /** Arrivals about which entries of the history say something, by entry. */
    private Map<Long, Set<Long>> marked(String table, String dataset) {
        Map<Long, Set<Long>> marked = new HashMap<>();
        entities.unwrap(Session.class)
                .createNativeQuery(
                        "select m.run_id, m.arrival_id from " + table
                                + " m join run r on r.id = m.run_id where r.dataset = :dataset",
                        Object[].class)
                .setParameter("dataset", dataset)
                .getResultStream()
                .forEach(pair -> marked.computeIfAbsent((Long) pair[0], entry -> new HashSet<>())
                        .add((Long) pair[1]));
        return marked;
    }

    private Map<Long, Long> undone(String dataset) {
        Map<Long, Long> undone = new HashMap<>();
        entities.createQuery(
                        "select id, ofRun from RunRecord where dataset = :dataset and kind = 'undo'", Object[].class)
                .setParameter("dataset", dataset)
                .getResultStream()
                .forEach(pair -> undone.put((Long) pair[0], (Long) pair[1]));
        return undone;
    }

    /** All arrivals of one file, those of earlier files of that name included, in the order of arrival. */
    public List<LedgerEntry> arrivals(String job, String source) {
        return transactions.read(() -> entities.createQuery(
                        "from ArrivalRecord where job = :job and source = :source order by id", ArrivalRecord.class)
                .setParameter("job", job)
                .setParameter("source", source)
                .getResultStream()
                .map(arrivals::entry)
                .toList());
    }

    /** The last word on each file that a job has ever dealt with. */
    public List<LedgerEntry> ledger(String job) {
        return transactions.read(() -> entities.createQuery(
                        "from ArrivalRecord where job = :job and current = true order by source, generation",
                        ArrivalRecord.class)
                .setParameter("job", job)
                .getResultStream()
                .map(arrivals::entry)
                .toList());
    }

    /**
     * Rows in the dataset of each file of a job, repaired ones included; by generation and source, as
     * {@link dev.hapster.core.arrival.Arrival#slot}.
     */
    public Map<String, Long> rowsByFile(String job) {
        return transactions.read(() -> {
            Map<String, Long> rows = new HashMap<>();
            entities.createQuery(
                            "select generation, source, sum(rows - rowsMasked) from ArrivalRecord where job = "
                                    + ":job and counts = true group by generation, source",
                            Object[].class)
                    .setParameter("job", job)
                    .getResultStream()
                    .forEach(one -> rows.put(one[0] + " " + one[1], (Long) one[2]));
            return rows;
        });
    }

    /** The last word on some files, by source. */
    public Map<String, LedgerEntry> ledger(String job, List<String> sources) {
        return transactions.read(() -> {
            Map<String, LedgerEntry> entries = new HashMap<>();
            // One array instead of a thousand parameters, which take longer to prepare than the answer.
            entities.unwrap(Session.class)
                    .createNativeQuery(
                            "select * from arrival where job = :job and is_current and source = any(:sources) "
                                    + "order by generation",
                            ArrivalRecord.class)
                    .setParameter("job", job)
                    .setParameter("sources", sources.toArray(String[]::new))
                    .getResultStream()
                    .forEach(known -> entries.put(known.source, arrivals.entry(known)));
            return entries;
        });
    }

    @Override
    public List<Part> parts(String dataset) {
        return keptParts.get(dataset, () -> sql(
                        """
                        select id, part, job, source, file, name, rows_count - rows_masked as remaining, run_id, masked,
                        content || ' ' || rules || ' ' || dataset_version as made_of
                        from arrival where dataset = :dataset and counts and part <> '' order by id""",
                        Object[].class)
                .addScalar("id", StandardBasicTypes.LONG)
                .addScalar("part", StandardBasicTypes.STRING)
                .addScalar("job", StandardBasicTypes.STRING)
                .addScalar("source", StandardBasicTypes.STRING)
                .addScalar("file", StandardBasicTypes.STRING)
                .addScalar("name", StandardBasicTypes.STRING)
                .addScalar("remaining", StandardBasicTypes.LONG)
                .addScalar("run_id", StandardBasicTypes.LONG)
                .addScalar("masked", StandardBasicTypes.BINARY)
                .addScalar("made_of", StandardBasicTypes.STRING)
                .setParameter("dataset", dataset)
                .getResultStream()
                .map(one -> new Part(
                        (Long) one[0],
                        (String) one[1],
                        dataset,
                        (String) one[2],
                        (String) one[3],
                        path((String) one[4], (String) one[5]),
                        (Long) one[6],
                        (Long) one[7],
                        (String) one[9],
                        Arrivals.mask((byte[]) one[8])))
                .toList());
    }

    private String path(String file, String name) {
        Path path = arrivals.resolve(file);
        return path.resolveSibling(name).toString();
    }

    /** Rows, and parts, of a dataset as they are summed here. */
    public long[] sums(String dataset) {
        return QuarkusTransaction.joiningExisting().call(() -> {
            Object[] sums = entities.createQuery(
                            "select coalesce(sum(rows - rowsMasked), 0), count(*) from ArrivalRecord where "
                                    + "dataset = :dataset and counts = true and part <> ''",
                            Object[].class)
                    .setParameter("dataset", dataset)
                    .getSingleResult();
            return new long[] {(Long) sums[0], (Long) sums[1]};
        });
    }

    @Override
    public boolean comparesRows(String dataset) {
        return keptComparing.get(
                dataset,
                () -> entities.createQuery(
                                        "select count(*) from ArrivalRecord where dataset = :dataset and counts "
                                                + "= true and rowRule <> '' and rowRule not like 'count|%'",
                                        Long.class)
                                .setParameter("dataset", dataset)
                                .getSingleResult()
                        > 0);
    }

    @Override
    public Optional<String> sharedHeader(String job) {
        return transactions.read(() -> entities.unwrap(Session.class)
                .createNativeQuery("select header from shared_header where job = :job", String.class)
                .setParameter("job", job)
                .getResultStream()
                .findFirst());
    }

    @Override
    public void sharedHeader(String job, String header) {
        transactions.change(() -> entities.unwrap(Session.class)
                .createNativeMutationQuery("merge into shared_header (job, header) key (job) values (:job, :header)")
                .setParameter("job", job)
                .setParameter("header", header)
                .executeUpdate());
    }

    @Override
    public List<InUse> definitionsInUse(String dataset) {
        Map<String, Set<String>> jobs = keptWriters.get(dataset, () -> {
            Map<String, Set<String>> writers = new HashMap<>();
            entities.createQuery(
                            "select distinct datasetVersion, job from ArrivalRecord where dataset = :dataset "
                                    + "and counts = true and part <> ''",
                            Object[].class)
                    .setParameter("dataset", dataset)
                    .getResultStream()
                    .forEach(pair -> writers.computeIfAbsent((String) pair[0], version -> new HashSet<>())
                            .add((String) pair[1]));
            return writers;
        });
        return transactions.read(() -> {
            List<InUse> used = new ArrayList<>();
            jobs.forEach((version, writers) -> entities.createQuery(
                            "select text from DefinitionRecord where kind = 'dataset' and name = :dataset and "
                                    + "version = :version",
                            String.class)
                    .setParameter("dataset", dataset)
                    .setParameter("version", version)
                    .getResultStream()
                    .forEach(text -> used.add(new InUse(text, writers))));
            return used;
        });
    }

    @Override
    public void commit(Commit commit) {
        transactions.change(() -> {
            Map<Integer, Long> reported = new HashMap<>();
            Map<String, Long> reportedOf = new HashMap<>();
            commit.files().stream().filter(result -> result.sinceRun() == 0).forEach(result -> {
                long file = record(commit, result).id;
                reported.put(result.ordinal(), file);
                reportedOf.putIfAbsent(result.source(), file);
            });
            if (commit.ledger()) {
                commit.fresh()
                        .forEach((ordinal, entry) -> entities.persist(
                                arrivals.record(entry, commit.dataset().name(), reported.get(ordinal), commit.at())));
                commit.touched().forEach(entry -> {
                    ArrivalRecord known = find(entry);
                    arrivals.seen(known, entry);
                    Long file = reportedOf.get(entry.arrival().source());
                    if (entry.saidBy() == commit.run() && file != null) {
                        known.runFile = file;
                    }
                });
                commit.look().ifPresent(look -> look(look, commit.dataset().name()));
                stand(commit.changed(), commit.at());
            }
            commit.routes().forEach(route -> entities.persist(RouteRecord.of(route, arrivals)));
            entities.flush();
            entities.clear(); // otherwise all of it is looked through for changes again
            CrashPoint.IN_COMMIT.reached();
        });
    }

    private ArrivalRecord find(LedgerEntry entry) {
        ArrivalRecord record =
                entities.find(ArrivalRecord.class, entry.arrival().id());
        if (record == null) {
            throw new IllegalStateException("The arrival " + entry.arrival().id() + " of "
                    + entry.arrival().source() + " is not in the catalogue any more");
        }
        return record;
    }

    private void stand(List<LedgerEntry> changed, Instant at) {
        changed.forEach(entry -> arrivals.stand(find(entry), entry, at));
    }

    private void look(Look look, String dataset) {
        LookRecord record = new LookRecord();
        record.run = look.entry();
        record.job = look.job();
        record.dataset = dataset;
        record.slots = String.join("\n", new java.util.TreeSet<>(look.slots()));
        entities.persist(record);
    }

    @Override
    public boolean movedParts(String dataset, Map<String, String> parts) {
        return transactions.change(() -> {
            Map<String, Long> known = new HashMap<>();
            sql("select id, part from arrival where dataset = :dataset and part <> ''", Object[].class)
                    .addScalar("id", StandardBasicTypes.LONG)
                    .addScalar("part", StandardBasicTypes.STRING)
                    .setParameter("dataset", dataset)
                    .getResultStream()
                    .forEach(one -> known.put((String) one[1], (Long) one[0]));
            if (!known.keySet().containsAll(parts.keySet())) {
                return false;
            }
            entities.unwrap(Session.class).doWork(connection -> {
                try (PreparedStatement move = connection.prepareStatement("update arrival set part = ? where id = ?")) {
                    for (Map.Entry<String, String> part : parts.entrySet()) {
                        move.setString(1, part.getValue());
                        move.setLong(2, known.get(part.getKey()));
                        move.addBatch();
                    }
                    move.executeBatch();
                }
            });
            return true;
        });
    }

    @Override
    public void settle(List<LedgerEntry> changed) {
        transactions.change(() -> stand(changed, clock.instant()));
    }

    @Override
    public long record(Act act) {
        return transactions.change(() -> {
            RunRecord entry = new RunRecord();
            entry.kind = act.kind();
            entry.job = act.job();
            entry.dataset = act.dataset().name();
            entry.datasetVersion = act.dataset().version();
            entry.jobVersion = "";
            entry.ofRun = act.of() == 0 ? null : act.of();
            entry.state = RunState.FINISHED;
            entry.queuedAt = clock.instant();
            entry.startedAt = entry.queuedAt;
            entry.endedAt = entry.queuedAt;
            entry.notes = String.join("\n", act.notes());
            entry.parts = act.parts();
            entry.partsRows = act.rows();
            entry.datasetRows = act.rows();
            entities.persist(entry);
            entities.flush();
            act.removed().forEach(arrival -> entities.unwrap(Session.class)
                    .createNativeMutationQuery(
                            "insert into " + (act.kind().equals(RunRecord.DISMISS) ? "dismissal" : "removal")
                                    + " (run_id, arrival_id) values (:run, :arrival)")
                    .setParameter("run", entry.id)
                    .setParameter("arrival", arrival)
                    .executeUpdate());
            stand(act.changed(), clock.instant());
            Map<Long, Long> undone = undone(act.dataset().name());
            Set<Long> off = new ArrivalLog(List.of(), List.of(), undone, Map.of()).off();
            Map<Long, Long> by = new HashMap<>();
            undone.forEach((number, of) -> by.merge(of, off.contains(number) ? 0L : number, Math::max));
            entities.flush();
            CrashPoint.IN_ACT.reached();
            by.forEach((of, number) -> entities.createQuery("update RunRecord set undoneBy = :by where id = :of")
                    .setParameter("by", number == 0 ? null : number)
                    .setParameter("of", of)
                    .executeUpdate());
            entities.unwrap(Session.class)
                    .createNativeMutationQuery(
                            """
                    update arrival a set dismissed_by = (select max(d.run_id)
                    from dismissal d join run e on e.id = d.run_id where d.arrival_id = a.id and e.undone_by is null)
                    where a.id in (select m.arrival_id from dismissal m)""")
                    .executeUpdate();
            return entry.id;
        });
    }

    private RunFileRecord record(Commit commit, FileResult result) {
        RunFileRecord file = new RunFileRecord();
        file.run = commit.run();
        file.ordinal = result.ordinal();
        file.place = result.place();
        file.path = result.path();
        file.source = result.source();
        file.name = result.name();
        file.outcome = result.outcome();
        file.size = result.fingerprint().size();
        file.rowsRead = result.read();
        file.rowsLoaded = result.loaded();
        file.rowsAside = result.aside();
        file.rowsRepeated = result.repeated();
        file.rowsRejected = result.rejected();
        file.code = result.reason().map(reason -> reason.code().code()).orElse(null);
        file.sentence = result.reason()
                .map(reason -> Arrivals.shorten(reason.sentence()))
                .orElse(null);
        file.sinceRun = result.sinceRun();
        file.millis = result.millis();
        file.notes = String.join("\n", result.notes());
        file.header = result.header().isEmpty() ? null : write(result.header());
        result.afterwards().ifPresent(afterwards -> {
            file.routed = Arrivals.shorten(afterwards.words());
            file.routedKind = afterwards.kind().orElse(null);
            file.routedTo = afterwards.to().map(Path::toString).orElse(null);
        });
        entities.persist(file);
        for (ReasonGroup group : result.groups()) {
            ReasonRecord reason = new ReasonRecord();
            reason.runFile = file.id;
            reason.code = group.code();
            reason.column = group.column();
            reason.rows = group.rows();
            reason.samples = write(group.samples());
            entities.persist(reason);
        }
        return file;
    }

    // what is to be done with files

    @Override
    public List<Route> pending(String job) {
        return transactions.read(() -> sql(
                        "select * from route where " + (job == null ? "" : "job = :job and ") + "true order by id",
                        RouteRecord.class)
                .setProperties(job == null ? Map.of() : Map.of("job", job))
                .getResultStream()
                .map(route -> route.route(arrivals))
                .toList());
    }

    @Override
    public void redirect(Route route) {
        transactions.change(() -> entities.createQuery(
                        "update RouteRecord set target = :target where run = :run and ordinal = :ordinal")
                .setParameter("target", arrivals.inWorkspace(route.target()))
                .setParameter("run", route.run())
                .setParameter("ordinal", route.ordinal())
                .executeUpdate());
    }

    @Override
    public void routed(List<Route.Done> done) {
        transactions.change(() -> done.forEach(one -> {
            Route route = one.route();
            Afterwards afterwards = one.afterwards();
            entities.createQuery(
                            "update RunFileRecord set routed = :words, routedKind = :kind, routedTo = :to where run = :run and (path = :file or "
                                    + "path like :inside escape '!')")
                    .setParameter("words", Arrivals.shorten(afterwards.words()))
                    .setParameter("kind", afterwards.kind().orElse(null))
                    .setParameter("to", afterwards.to().map(Path::toString).orElse(null))
                    .setParameter("run", route.run())
                    .setParameter("file", route.file())
                    .setParameter(
                            "inside",
                            route.file().replace("!", "!!").replace("%", "!%").replace("_", "!_") + "!!%")
                    .executeUpdate();
            if (one.problem().isPresent()) {
                return;
            }
            one.fate().ifPresent(fate -> route.arrivals()
                    .forEach(id -> Optional.ofNullable(entities.find(ArrivalRecord.class, id))
                            .ifPresent(known -> arrivals.fate(known, fate))));
            entities.createQuery("delete from RouteRecord where run = :run and ordinal = :ordinal")
                    .setParameter("run", route.run())
                    .setParameter("ordinal", route.ordinal())
                    .executeUpdate();
        }));
    }

    private String write(Object plain) {
        try {
            return json.writeValueAsString(plain);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("Lists of plain records can be written", impossible);
        }
    }

    /** Samples of a reason as they were kept. */
    public List<ReasonGroup.Sample> samples(ReasonRecord reason) {
        try {
            return List.of(json.readValue(reason.samples, ReasonGroup.Sample[].class));
        } catch (JsonProcessingException wrong) {
            throw new IllegalStateException("The samples of reason " + reason.id + " cannot be read back", wrong);
        }
    }

    // runs

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
        run.values = write(job.values());
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
            record.carried = write(result.files().stream()
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
            long[] sums = sums(record.dataset);
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
        return transactions.read(
                () -> sql("select * from run where state in ('QUEUED', 'RUNNING') order by id", RunRecord.class)
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
        try {
            return run.carried == null ? List.of() : List.of(json.readValue(run.carried, Carried[].class));
        } catch (JsonProcessingException wrong) {
            throw new IllegalStateException("The unchanged files of run " + run.id + " cannot be read back", wrong);
        }
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
                    headers.put(file.path, list(file.header));
                }
            }
            return headers;
        });
    }

    private List<String> list(String texts) {
        try {
            return List.of(json.readValue(texts, String[].class));
        } catch (JsonProcessingException wrong) {
            throw new IllegalStateException("A list of texts cannot be read back", wrong);
        }
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

    // reasons

    /** A reason with the file it was found in and the job and dataset concerned. */
    public record Found(RunRecord run, RunFileRecord file, ReasonRecord reason) {}

    /** The reasons found by one run; rejected files have no {@code reason} but one of their own. */
    public List<Found> reasons(long run) {
        return transactions.read(() -> entities.createQuery(
                        """
                select new dev.hapster.service.catalogue.StoredCatalogue$Found(u, f, r)
                from RunRecord u join RunFileRecord f on f.run = u.id
                left join ReasonRecord r on r.runFile = f.id
                where u.id = :run and (r.id is not null or f.code is not null) order by f.ordinal, r.id""",
                        Found.class)
                .setParameter("run", run)
                .getResultList());
    }

    /** What is currently rejected over all jobs (or one): of each file what its last reading found. */
    public List<Found> openReasons(String job) {
        return transactions.read(() -> entities.createQuery(
                        """
                select u, f, r, case when l.rowRule like 'reject|%' then l.rowsMasked else -1L end
                from ArrivalRecord l join RunFileRecord f on f.id = l.runFile
                join RunRecord u on u.id = f.run left join ReasonRecord r on r.runFile = f.id
                where l.current = true and l.dismissed is null and (:job is null or l.job = :job)
                and (r.id is not null or f.code is not null)
                and (l.accepted = false or l.copyOf <> 0 or f.code is null) order by u.id, f.ordinal, r.id""",
                        Object[].class)
                .setParameter("job", job)
                .getResultStream()
                .map(one -> new Found(
                        (RunRecord) one[0], (RunFileRecord) one[1], repeatedNow((ReasonRecord) one[2], (Long) one[3])))
                .filter(found -> found.reason() == null || found.reason().rows > 0)
                .toList());
    }

    /** Rows that were rejected because of others: as many as there are of them now. */
    private ReasonRecord repeatedNow(ReasonRecord reason, long masked) {
        if (reason == null || masked < 0 || !reason.code.equals(ReasonCode.ROW_REPEATED.code())) {
            return reason;
        }
        ReasonRecord now = new ReasonRecord();
        now.id = reason.id;
        now.runFile = reason.runFile;
        now.code = reason.code;
        now.column = reason.column;
        now.rows = masked;
        now.samples = reason.samples;
        return now;
    }

    /** How much of a job's files is currently rejected: rows of files that were loaded, and files rejected whole. */
    public record OpenCount(String job, long rows, long files) {}

    /** The same by job, without the reasons. */
    public Map<String, OpenCount> openCounts() {
        return transactions.read(() -> {
            Map<String, OpenCount> counts = new HashMap<>();
            entities.createQuery(
                            """
                    select new dev.hapster.service.catalogue.StoredCatalogue$OpenCount(job,
                    sum(case when accepted = true
                    and copyOf = 0
                    then rowsRejected + case when rowRule like 'reject|%' then rowsMasked else 0 end else 0 end),
                    sum(case when accepted = false or copyOf <> 0 then 1L else 0L end))
                    from ArrivalRecord where current = true and dismissed is null group by job""",
                            OpenCount.class)
                    .getResultStream()
                    .forEach(count -> counts.put(count.job(), count));
            return counts;
        });
    }

    // parts

    /** Names of all parts known, those that do not count included. */
    public Set<String> partNames() {
        return transactions.read(() -> new HashSet<>(
                sql("select part from arrival where part <> ''", String.class).getResultList()));
    }

    /** The parts of all arrivals that may have one, by their numbers: empty where the rows were let go of. */
    public Map<Long, String> partsByArrival() {
        return transactions.read(() -> {
            Map<Long, String> parts = new HashMap<>();
            entities.createQuery("select id, part from ArrivalRecord where sweptAt > 0 or part <> ''", Object[].class)
                    .getResultStream()
                    .forEach(pair -> parts.put((Long) pair[0], (String) pair[1]));
            return parts;
        });
    }

    /** Datasets of which anything is known. */
    public List<String> datasets() {
        return transactions.read(
                () -> sql("select distinct dataset from arrival", String.class).getResultList());
    }

    /**
     * Takes arrivals into the log that it does not know: what parts tell that were found in the store. The runs that
     * they name are entered where they are not known either.
     *
     * @param datasets names of their datasets, by the numbers of the arrivals
     */
    public void takeIn(List<LedgerEntry> found, Map<Long, String> datasets) {
        transactions.change(() -> {
            for (LedgerEntry entry : found) {
                String dataset = datasets.get(entry.arrival().id());
                if (entities.find(RunRecord.class, entry.arrival().entry()) == null) {
                    entities.unwrap(Session.class)
                            .createNativeMutationQuery(
                                    """
                            insert into run (id, kind, job, dataset, job_version, dataset_version, state,
                            again, queued_at, started_at, ended_at, notes, files_found, files_loaded,
                            files_replaced, files_unchanged,
                            files_rejected, files_waiting, files_not_reached, rows_read, rows_loaded,
                            rows_rejected, dataset_rows, parts_rows, parts)
                            values (:id, 'run', :job, :dataset, '', '', 'FINISHED', false, :at, :at, :at,
                            :notes, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0)""")
                            .setParameter("id", entry.arrival().entry())
                            .setParameter("job", entry.arrival().job())
                            .setParameter("dataset", dataset)
                            .setParameter("at", entry.readAt())
                            .setParameter(
                                    "notes",
                                    "Put together again from the parts that it left in the store; its report is lost")
                            .executeUpdate();
                }
                entities.persist(arrivals.record(entry, dataset, null, clock.instant()));
            }
        });
    }

    /** The number of the last entry of the history; 0 where there is none. */
    public long lastRun() {
        return transactions.read(
                () -> sql("select coalesce(max(id), 0) from run", Long.class).getSingleResult());
    }

    /** Numbers of entries go on behind one that is not in the catalogue, but in the store. */
    public void numbersFrom(long number) {
        transactions.change(() -> entities.unwrap(Session.class)
                .createNativeMutationQuery("alter sequence run_seq restart with " + number)
                .executeUpdate());
    }
}
