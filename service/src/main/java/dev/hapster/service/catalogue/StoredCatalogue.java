package dev.hapster.service.catalogue;

import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Look;
import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.History;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.run.load.RunState;
import dev.hapster.service.catalogue.record.ArrivalRecord;
import dev.hapster.service.catalogue.record.LookRecord;
import dev.hapster.service.catalogue.record.ReasonRecord;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Kept;
import dev.hapster.service.catalogue.transaction.Transactions;
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
    private final JsonTexts texts;
    private final Clock clock;
    private final Kept<List<LedgerEntry>> kept;
    private final Kept<List<Part>> keptParts;
    private final Kept<Boolean> keptComparing;
    /** Jobs by the version of the dataset's definition under which they wrote. */
    private final Kept<Map<String, Set<String>>> keptWriters;

    StoredCatalogue(
            EntityManager entities, Transactions transactions, Arrivals arrivals, JsonTexts texts, Clock clock) {
        this.transactions = transactions;
        this.entities = entities;
        this.arrivals = arrivals;
        this.texts = texts;
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
        file.header = result.header().isEmpty() ? null : texts.of(result.header());
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
            reason.samples = texts.of(group.samples());
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
