package dev.hapster.service.records;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.moment.Moment;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.Balance;
import dev.hapster.core.run.Catalogue;
import dev.hapster.core.run.FileResult;
import dev.hapster.core.run.Fingerprint;
import dev.hapster.core.run.LedgerEntry;
import dev.hapster.core.run.Outcome;
import dev.hapster.core.run.Part;
import dev.hapster.core.run.ReasonGroup;
import dev.hapster.core.run.Route;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.RunState;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import jakarta.persistence.FlushModeType;
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

/** What the service keeps between runs. Each method that changes something is one transaction. Thread-safe. */
@ApplicationScoped
public class Records implements Catalogue {

    private static final int LONGEST_SENTENCE = 4000;
    private static final int MOST_ASKED_SINGLY = 500;

    private final EntityManager entities;
    private final Durable durable;
    private final ObjectMapper json;
    private final Clock clock;

    Records(EntityManager entities, Durable durable, ObjectMapper json, Clock clock) {
        this.durable = durable;
        this.entities = entities;
        this.json = json;
        this.clock = clock;
    }

    // the core's port

    @Override
    public Map<String, LedgerEntry> ledger(String job) {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, LedgerEntry> entries = new HashMap<>();
            entities.createQuery("from LedgerRecord where job = :job", LedgerRecord.class).setParameter("job", job)
                    .getResultStream().forEach(known -> entries.put(known.path, entry(known)));
            return entries;
        });
    }

    private static LedgerEntry entry(LedgerRecord known) {
        Optional<Reason> reason = Optional.ofNullable(known.code).flatMap(ReasonCode::of).map(code -> new Reason(code, known.sentence));
        return new LedgerEntry(known.path, known.file, known.place, new Fingerprint(known.size, known.modified, known.changed, known.hash), known.readAt,
                known.outcome, known.rules, known.run, known.rowsRejected, reason, known.part != null, Optional.ofNullable(known.movedTo));
    }

    /** What a job knows of some files, by absolute path. */
    public Map<String, LedgerEntry> ledger(String job, List<String> paths) {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, LedgerEntry> entries = new HashMap<>();
            // One array instead of a thousand parameters, which take longer to prepare than the answer.
            entities.unwrap(Session.class).createNativeQuery("select * from ledger where job = :job and path = any(:paths)", LedgerRecord.class)
                    .setParameter("job", job).setParameter("paths", paths.toArray(String[]::new)).getResultStream().forEach(known -> entries.put(known.path, entry(known)));
            return entries;
        });
    }

    @Override
    public List<Part> parts(String dataset) {
        return QuarkusTransaction.requiringNew().call(() -> entities
                .createQuery("from PartRecord where dataset = :dataset and retiredBy is null order by id", PartRecord.class)
                .setParameter("dataset", dataset).getResultStream()
                .map(part -> new Part(part.name, part.dataset, part.job, part.path, part.rows, part.run)).toList());
    }

    @Override
    public List<InUse> definitionsInUse(String dataset) {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, Set<String>> jobs = new HashMap<>();
            entities.createQuery("select distinct datasetVersion, job from PartRecord where dataset = :dataset and retiredBy is null", Object[].class)
                    .setParameter("dataset", dataset).getResultStream().forEach(pair -> jobs.computeIfAbsent((String) pair[0], version -> new HashSet<>()).add((String) pair[1]));
            List<InUse> used = new ArrayList<>();
            jobs.forEach((version, writers) -> entities.createQuery("select text from DefinitionRecord where kind = 'dataset' and name = :dataset and version = :version", String.class)
                    .setParameter("dataset", dataset).setParameter("version", version).getResultStream().forEach(text -> used.add(new InUse(text, writers))));
            return used;
        });
    }

    @Override
    public void commit(Commit commit) {
        durable.run(() -> {
            Map<String, LedgerRecord> known = new HashMap<>();
            List<String> paths = commit.files().stream().map(FileResult::path).toList();
            if (paths.size() > MOST_ASKED_SINGLY) {
                entities.createQuery("from LedgerRecord where job = :job", LedgerRecord.class).setParameter("job", commit.job().name()).getResultStream().forEach(one -> known.put(one.path, one));
            } else { // each is found by the index; a list of them would be held against all files of the job
                paths.forEach(path -> entities.createQuery("from LedgerRecord where job = :job and path = :path", LedgerRecord.class).setParameter("job", commit.job().name())
                        .setParameter("path", path).setFlushMode(FlushModeType.COMMIT).getResultStream().forEach(one -> known.put(one.path, one)));
            }
            commit.gone().forEach(path -> {
                takeOut(commit, path);
                if (known.containsKey(path)) {
                    known.get(path).part = null;
                }
            });
            commit.files().forEach(result -> commit(commit, result, known.get(result.path())));
            commit.rewrites().forEach(rewrite -> rewrite(commit, rewrite));
            commit.routes().forEach(route -> entities.persist(RouteRecord.of(route)));
            entities.flush();
            Moment.IN_COMMIT.reached();
        });
    }

    private void commit(Commit commit, FileResult result, LedgerRecord known) {
        boolean news = result.sinceRun() == 0;
        RunFileRecord file = news ? record(commit, result) : null;
        if (!commit.ledger() || result.outcome() == Outcome.WAITING) {
            return;
        }
        LedgerRecord entry = known == null ? new LedgerRecord() : known;
        if (news) {
            file.entered = true;
            file.ledgerBefore = known == null ? null : write(LedgerState.of(known));
        }
        enter(commit, result, file, entry);
        if (known == null) {
            entities.persist(entry);
        }
    }

    private RunFileRecord record(Commit commit, FileResult result) {
        RunFileRecord file = new RunFileRecord();
        file.run = commit.run();
        file.ordinal = result.ordinal();
        file.place = result.place();
        file.path = result.path();
        file.name = result.name();
        file.outcome = result.outcome();
        file.size = result.fingerprint().size();
        file.rowsRead = result.read();
        file.rowsLoaded = result.loaded();
        file.rowsAside = result.aside();
        file.rowsRepeated = result.repeated();
        file.rowsRejected = result.rejected();
        file.code = result.reason().map(reason -> reason.code().code()).orElse(null);
        file.sentence = result.reason().map(reason -> shorten(reason.sentence())).orElse(null);
        file.sinceRun = result.sinceRun();
        file.millis = result.millis();
        file.notes = String.join("\n", result.notes());
        file.header = result.header().isEmpty() ? null : write(result.header());
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

    private void enter(Commit commit, FileResult result, RunFileRecord file, LedgerRecord known) {
        known.job = commit.job().name();
        known.path = result.path();
        known.file = result.file();
        known.place = result.place();
        known.size = result.fingerprint().size();
        known.modified = result.fingerprint().modified();
        known.changed = result.fingerprint().changed();
        known.hash = result.fingerprint().hash();
        known.readAt = commit.at();
        if (!result.elsewhere()) {
            known.movedTo = null;
        }
        if (file != null) { // the file was read; otherwise what an earlier run found still stands
            if (result.part().isPresent()) {
                known.part = replacePart(commit, result, known.part);
            }
            boolean rejected = result.outcome() == Outcome.REJECTED;
            known.outcome = rejected ? Outcome.REJECTED : Outcome.LOADED;
            known.rules = commit.rules();
            known.run = commit.run();
            known.runFile = file.id;
            known.rowsRejected = rejected ? 0 : result.rejected();
            known.code = file.code;
            known.sentence = file.sentence;
        }
    }

    private Long replacePart(Commit commit, FileResult result, Long latest) {
        switch (result.instead()) {
            case ALL -> {
                if (latest != null) {
                    takeOut(commit, result.path());
                }
            }
            case LATEST -> retire(entities.find(PartRecord.class, latest), commit);
            case NONE -> { // its rows are added to those that are there
            }
        }
        return add(commit, result.part().orElseThrow(), commit.job().name(), result.path(), result.loaded()).id;
    }

    /** All parts of one of the job's files cease to count. */
    private void takeOut(Commit commit, String path) {
        entities.createQuery("from PartRecord where job = :job and path = :path and retiredBy is null", PartRecord.class)
                .setParameter("job", commit.job().name()).setParameter("path", path).getResultStream().forEach(part -> retire(part, commit));
        if (commit.gone().contains(path)) {
            entities.createQuery("update LedgerRecord set part = null where job = :job and path = :path").setParameter("job", commit.job().name()).setParameter("path", path).executeUpdate();
        }
    }

    private static void retire(PartRecord part, Commit commit) {
        part.retiredBy = commit.run();
        part.retiredAt = commit.at();
    }

    private PartRecord add(Commit commit, String name, String job, String path, long rows) {
        PartRecord part = new PartRecord();
        part.name = name;
        part.dataset = commit.dataset().name();
        part.job = job;
        part.path = path;
        part.rows = rows;
        part.run = commit.run();
        part.datasetVersion = commit.dataset().version();
        entities.persist(part);
        return part;
    }

    /** A part that lost rows to newer ones goes on as another one; whoever brought it. */
    private void rewrite(Commit commit, Rewrite rewrite) {
        PartRecord old = entities.createQuery("from PartRecord where name = :name", PartRecord.class).setParameter("name", rewrite.old()).getSingleResult();
        if (old.retiredBy != null) {
            throw new IllegalStateException("The part " + old.name + " was replaced by run " + old.retiredBy + " in the meantime");
        }
        retire(old, commit);
        PartRecord part = add(commit, rewrite.part(), old.job, old.path, rewrite.rows());
        entities.flush();
        entities.createQuery("update LedgerRecord set part = :new where part = :old").setParameter("new", part.id).setParameter("old", old.id).executeUpdate();
    }

    // what is to be done with files

    @Override
    public List<Route> pending(String job) {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("from RouteRecord where :job is null or job = :job order by id", RouteRecord.class)
                .setParameter("job", job).getResultStream().map(RouteRecord::route).toList());
    }

    @Override
    public void redirect(Route route) {
        durable.run(() -> entities.createQuery("update RouteRecord set target = :target where run = :run and ordinal = :ordinal")
                .setParameter("target", route.target().toString()).setParameter("run", route.run()).setParameter("ordinal", route.ordinal()).executeUpdate());
    }

    @Override
    public void routed(List<Route.Done> done) {
        durable.run(() -> done.forEach(one -> {
            Route route = one.route();
            String words = one.problem().or(one::note).orElse(switch (route.kind()) {
                case LEAVE -> route.reasonsOf() > 0 ? "left, with its reasons beside it" : "the reasons beside it were taken away, since they hold no longer";
                case MOVE -> "moved to " + route.target();
                case COPY -> "copied to " + route.target();
                case DELETE -> "deleted";
            });
            entities.createQuery("update RunFileRecord set routed = :words where run = :run and (path = :file or path like :inside escape '!')")
                    .setParameter("words", shorten(words)).setParameter("run", route.run()).setParameter("file", route.file())
                    .setParameter("inside", route.file().replace("!", "!!").replace("%", "!%").replace("_", "!_") + "!!%").executeUpdate();
            if (one.problem().isPresent()) {
                return;
            }
            one.movedTo().ifPresent(to -> entities.createQuery("update LedgerRecord set movedTo = :to where job = :job and file = :file")
                    .setParameter("to", to.toString()).setParameter("job", route.job()).setParameter("file", route.file()).executeUpdate());
            entities.createQuery("delete from RouteRecord where run = :run and ordinal = :ordinal").setParameter("run", route.run()).setParameter("ordinal", route.ordinal()).executeUpdate();
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

    private static String shorten(String sentence) {
        return sentence.length() <= LONGEST_SENTENCE ? sentence : sentence.substring(0, LONGEST_SENTENCE - 1) + "…";
    }

    // runs

    /** Records that a run was asked for; returns its number. The definitions are kept with it, as they are now. */
    public long queue(JobDef job, DatasetDef dataset, boolean again, Long retryOf) {
        return durable.call(() -> {
            keep(DefinitionRecord.JOB, job.name(), job.version(), job.text());
            keep(DefinitionRecord.DATASET, dataset.name(), dataset.version(), dataset.text());
            RunRecord run = new RunRecord();
            run.job = job.name();
            run.dataset = dataset.name();
            run.jobVersion = job.version();
            run.datasetVersion = dataset.version();
            run.state = RunState.QUEUED;
            run.again = again;
            run.values = write(job.values());
            run.kind = retryOf == null ? RunRecord.RUN : RunRecord.RETRY;
            run.ofRun = retryOf;
            run.queuedAt = clock.instant();
            entities.persist(run);
            return run.id;
        });
    }

    private void keep(String kind, String name, String version, String text) {
        boolean known = entities.createQuery("select count(*) from DefinitionRecord where kind = :kind and name = :name and version = :version", Long.class)
                .setParameter("kind", kind).setParameter("name", name).setParameter("version", version).getSingleResult() > 0;
        if (!known) {
            DefinitionRecord definition = new DefinitionRecord();
            definition.kind = kind;
            definition.name = name;
            definition.version = version;
            definition.text = text;
            definition.firstSeen = clock.instant();
            entities.persist(definition);
        }
    }

    public void started(long run) {
        QuarkusTransaction.requiringNew().run(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            record.state = RunState.RUNNING;
            record.startedAt = clock.instant();
        });
    }

    public void ended(long run, RunResult result) {
        durable.run(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            Balance balance = result.balance();
            record.state = result.state();
            record.endedAt = clock.instant();
            record.failure = result.failure().map(Records::shorten).orElse(null);
            record.notes = String.join("\n", result.notes());
            record.filesFound = balance.found();
            record.filesLoaded = balance.files(Outcome.LOADED);
            record.filesReplaced = balance.files(Outcome.REPLACED);
            record.filesUnchanged = balance.files(Outcome.UNCHANGED);
            record.filesRejected = balance.files(Outcome.REJECTED);
            record.filesWaiting = balance.files(Outcome.WAITING);
            record.filesNotReached = balance.notReached();
            record.rowsRead = balance.read();
            record.rowsLoaded = balance.loaded();
            record.rowsAside = balance.aside();
            record.rowsRepeated = balance.repeated();
            record.rowsRejected = balance.rejected();
            record.datasetRows = balance.datasetRows();
            record.partsRows = balance.partsRows();
            record.parts = balance.parts();
            record.carried = write(result.files().stream().filter(file -> file.sinceRun() > 0).map(Carried::of).toList());
            entities.createQuery("update RunRecord set carried = null where job = :job and id < :run and carried is not null").setParameter("job", record.job).setParameter("run", run).executeUpdate();
        });
    }

    /** Records that a run broke off; its counts are taken from the files that it had committed. */
    public void brokenOff(long run, RunState state, String why) {
        durable.run(() -> {
            RunRecord record = entities.find(RunRecord.class, run);
            List<RunFileRecord> files = files(run);
            record.state = state;
            record.endedAt = clock.instant();
            record.failure = shorten(why);
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
            List<Part> parts = parts(record.dataset);
            record.parts = parts.size();
            record.partsRows = parts.stream().mapToLong(Part::rows).sum();
            record.datasetRows = record.partsRows;
        });
    }

    public Optional<RunRecord> run(long number) {
        return QuarkusTransaction.requiringNew().call(() -> Optional.ofNullable(entities.find(RunRecord.class, number)));
    }

    /** The latest runs, newest first; of one job where {@code job} is not null. */
    public List<RunRecord> runs(String job, int offset, int limit) {
        return QuarkusTransaction.requiringNew().call(() -> entities
                .createQuery("from RunRecord where :job is null or job = :job order by id desc", RunRecord.class)
                .setParameter("job", job).setFirstResult(offset).setMaxResults(limit).getResultList());
    }

    /** The last run of the same job that ended before this one, and was no undo. */
    public Optional<RunRecord> before(RunRecord run) {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("from RunRecord where job = :job and id < :id and kind = 'run' order by id desc", RunRecord.class)
                .setParameter("job", run.job).setParameter("id", run.id).setMaxResults(1).getResultStream().findFirst());
    }

    /** The latest run of each job, by job. */
    public Map<String, RunRecord> latest() {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, RunRecord> latest = new HashMap<>();
            entities.createQuery("from RunRecord where id in (select max(id) from RunRecord where kind in ('run', 'retry') group by job)", RunRecord.class)
                    .getResultStream().forEach(run -> latest.put(run.job, run));
            return latest;
        });
    }

    public List<RunRecord> unfinished() {
        return QuarkusTransaction.requiringNew().call(() -> entities
                .createQuery("from RunRecord where state in (QUEUED, RUNNING) order by id", RunRecord.class).getResultList());
    }

    public List<RunFileRecord> files(long run) {
        return QuarkusTransaction.joiningExisting().call(() -> entities
                .createQuery("from RunFileRecord where run = :run order by ordinal", RunFileRecord.class)
                .setParameter("run", run).getResultList());
    }

    /**
     * A file about which a run had nothing new to say.
     *
     * @param since the run that dealt with it
     */
    public record Carried(int ordinal, int place, String path, String name, Outcome outcome, long size, String code, String sentence, long since, long millis) {
        static Carried of(FileResult file) {
            return new Carried(file.ordinal(), file.place(), file.path(), file.name(), file.outcome(), file.fingerprint().size(), file.reason().map(reason -> reason.code().code()).orElse(null),
                    file.reason().map(Reason::sentence).orElse(null), file.sinceRun(), file.millis());
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

    /** Paths of the files of a run of which something was rejected. */
    public Set<String> rejectedPaths(RunRecord run) {
        return QuarkusTransaction.requiringNew().call(() -> {
            Set<String> paths = new LinkedHashSet<>();
            files(run.id).stream().filter(file -> file.outcome == Outcome.REJECTED || file.rowsRejected > 0).forEach(file -> paths.add(file.path));
            carried(run).stream().filter(file -> file.outcome() == Outcome.REJECTED).forEach(file -> paths.add(file.path()));
            return paths;
        });
    }

    /** The columns of a run's files, by path, of those of which rows were rejected or left out. */
    public Map<String, List<String>> headers(long run) {
        return QuarkusTransaction.requiringNew().call(() -> {
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
        return QuarkusTransaction.requiringNew().call(() -> {
            Set<Long> ordinals = new HashSet<>();
            entities.createQuery("select ordinal from RunFileRecord where run = :run", Integer.class).setParameter("run", run)
                    .getResultStream().forEach(ordinal -> ordinals.add(ordinal.longValue()));
            return ordinals;
        });
    }

    // reasons

    /** A reason with the file it was found in and the job and dataset concerned. */
    public record Found(RunRecord run, RunFileRecord file, ReasonRecord reason) {
    }

    /** The reasons found by one run; rejected files have no {@code reason} but one of their own. */
    public List<Found> reasons(long run) {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("""
                select new dev.hapster.service.records.Records$Found(u, f, r) from RunRecord u join RunFileRecord f on f.run = u.id
                left join ReasonRecord r on r.runFile = f.id
                where u.id = :run and (r.id is not null or f.code is not null) order by f.ordinal, r.id""", Found.class)
                .setParameter("run", run).getResultList());
    }

    /** What is refused at present over all jobs (or one): of each file what its latest reading found. */
    public List<Found> openReasons(String job) {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("""
                select new dev.hapster.service.records.Records$Found(u, f, r) from LedgerRecord l join RunFileRecord f on f.id = l.runFile
                join RunRecord u on u.id = f.run left join ReasonRecord r on r.runFile = f.id
                where (:job is null or l.job = :job) and (r.id is not null or f.code is not null) order by u.id, f.ordinal, r.id""", Found.class)
                .setParameter("job", job).getResultList());
    }

    /** How much of a job's files is refused at present: rows of files that were loaded, and files rejected whole. */
    public record OpenCount(String job, long rows, long files) {
    }

    /** The same by job, without the reasons. */
    public Map<String, OpenCount> openCounts() {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, OpenCount> counts = new HashMap<>();
            entities.createQuery("""
                    select new dev.hapster.service.records.Records$OpenCount(job, sum(rowsRejected), count(code)) from LedgerRecord group by job""",
                    OpenCount.class).getResultStream().forEach(count -> counts.put(count.job(), count));
            return counts;
        });
    }

    // parts that no longer count

    /** Names of all parts known, retired ones included. */
    public Set<String> partNames() {
        return QuarkusTransaction.requiringNew().call(() -> new HashSet<>(
                entities.createQuery("select name from PartRecord", String.class).getResultList()));
    }
}
