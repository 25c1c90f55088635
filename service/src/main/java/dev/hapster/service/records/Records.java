package dev.hapster.service.records;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
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
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.RunState;
import io.quarkus.narayana.jta.QuarkusTransaction;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;

/** What the service keeps between runs. Each method that changes something is one transaction. Thread-safe. */
@ApplicationScoped
public class Records implements Catalogue {

    private static final int LONGEST_SENTENCE = 4000;

    private final EntityManager entities;
    private final ObjectMapper json;
    private final Clock clock;

    Records(EntityManager entities, ObjectMapper json, Clock clock) {
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
        return new LedgerEntry(known.path, new Fingerprint(known.size, known.modified, known.changed, known.hash), known.readAt,
                known.outcome, known.rules, known.run, known.rowsRejected, reason, known.part != null);
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
    public List<String> definitionsInUse(String dataset) {
        return QuarkusTransaction.requiringNew().call(() -> entities.createQuery("""
                select d.text from DefinitionRecord d where d.kind = 'dataset' and d.name = :dataset and d.version in
                (select p.datasetVersion from PartRecord p where p.dataset = :dataset and p.retiredBy is null)""", String.class)
                .setParameter("dataset", dataset).getResultList());
    }

    @Override
    public void commit(long run, JobDef job, DatasetDef dataset, String rules, Instant at, List<FileResult> results) {
        QuarkusTransaction.requiringNew().run(() -> results.forEach(result -> commit(run, job, dataset, rules, at, result)));
    }

    private void commit(long run, JobDef job, DatasetDef dataset, String rules, Instant at, FileResult result) {
        RunFileRecord file = new RunFileRecord();
        file.run = run;
        file.ordinal = result.ordinal();
        file.place = result.place();
        file.path = result.path();
        file.name = result.name();
        file.outcome = result.outcome();
        file.size = result.fingerprint().size();
        file.rowsRead = result.read();
        file.rowsLoaded = result.loaded();
        file.rowsRejected = result.rejected();
        file.code = result.reason().map(reason -> reason.code().code()).orElse(null);
        file.sentence = result.reason().map(reason -> shorten(reason.sentence())).orElse(null);
        file.sinceRun = result.sinceRun();
        file.millis = result.millis();
        file.notes = String.join("\n", result.notes());
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
        if (result.outcome() != Outcome.WAITING) {
            enter(run, job, dataset, rules, at, result, file);
        }
    }

    private void enter(long run, JobDef job, DatasetDef dataset, String rules, Instant at, FileResult result, RunFileRecord file) {
        LedgerRecord known = entities.createQuery("from LedgerRecord where job = :job and path = :path", LedgerRecord.class)
                .setParameter("job", job.name()).setParameter("path", result.path()).getResultStream().findFirst().orElse(null);
        boolean fresh = known == null;
        if (fresh) {
            known = new LedgerRecord();
            known.job = job.name();
            known.path = result.path();
        }
        known.size = result.fingerprint().size();
        known.modified = result.fingerprint().modified();
        known.changed = result.fingerprint().changed();
        known.hash = result.fingerprint().hash();
        known.readAt = at;
        if (result.sinceRun() == 0) { // the file was read; otherwise what an earlier run found still stands
            if (result.part().isPresent()) {
                known.part = replacePart(run, job, dataset, at, result, known.part);
            }
            known.outcome = result.outcome() == Outcome.REJECTED ? Outcome.REJECTED : Outcome.LOADED;
            known.rules = rules;
            known.run = run;
            known.runFile = file.id;
            known.rowsRejected = result.rejected();
            known.code = file.code;
            known.sentence = file.sentence;
        }
        if (fresh) {
            entities.persist(known);
        }
    }

    private Long replacePart(long run, JobDef job, DatasetDef dataset, Instant at, FileResult result, Long old) {
        if (old != null) {
            PartRecord retired = entities.find(PartRecord.class, old);
            retired.retiredBy = run;
            retired.retiredAt = at;
        }
        PartRecord part = new PartRecord();
        part.name = result.part().orElseThrow();
        part.dataset = dataset.name();
        part.job = job.name();
        part.path = result.path();
        part.rows = result.loaded();
        part.run = run;
        part.datasetVersion = dataset.version();
        entities.persist(part);
        return part.id;
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
    public long queue(JobDef job, DatasetDef dataset, boolean again) {
        return QuarkusTransaction.requiringNew().call(() -> {
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
        QuarkusTransaction.requiringNew().run(() -> {
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
            record.rowsRejected = balance.rejected();
            record.datasetRows = balance.datasetRows();
            record.partsRows = balance.partsRows();
            record.parts = balance.parts();
        });
    }

    /** Records that a run broke off; its counts are taken from the files that it had committed. */
    public void brokenOff(long run, RunState state, String why) {
        QuarkusTransaction.requiringNew().run(() -> {
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

    /** The latest run of each job, by job. */
    public Map<String, RunRecord> latest() {
        return QuarkusTransaction.requiringNew().call(() -> {
            Map<String, RunRecord> latest = new HashMap<>();
            entities.createQuery("from RunRecord where id in (select max(id) from RunRecord group by job)", RunRecord.class)
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

    /** Parts that were retired before a moment; their files may go. */
    public List<String> retiredBefore(Instant moment) {
        return QuarkusTransaction.requiringNew().call(() -> entities
                .createQuery("select name from PartRecord where retiredAt < :moment", String.class).setParameter("moment", moment).getResultList());
    }

    /** Forgets retired parts whose files are gone. */
    public void forget(List<String> names) {
        QuarkusTransaction.requiringNew().run(() -> names.forEach(name -> entities
                .createQuery("delete from PartRecord where name = :name and retiredBy is not null").setParameter("name", name).executeUpdate()));
    }
}
