package dev.hapster.service.records;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.run.Outcome;
import dev.hapster.core.run.RunState;
import dev.hapster.core.store.PartStore;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.nio.file.Files;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;

/** Takes back what runs did to a dataset, and takes rows out of it. Each is one transaction, and an entry of the history of its own. Thread-safe. */
@ApplicationScoped
public class Corrections {

    private static final int MOST_NAMED = 5;

    private final EntityManager entities;
    private final Durable durable;
    private final Records records;
    private final PartStore parts;
    private final ObjectMapper json;
    private final Clock clock;

    Corrections(EntityManager entities, Durable durable, Records records, PartStore parts, ObjectMapper json, Clock clock) {
        this.entities = entities;
        this.durable = durable;
        this.records = records;
        this.parts = parts;
        this.json = json;
        this.clock = clock;
    }

    /** What stands in the way of taking a run back. */
    public static final class StandsInTheWayException extends Exception {
        private final transient List<String> obstacles;

        StandsInTheWayException(long run, List<String> obstacles) {
            super("Run " + run + " cannot be undone: " + String.join("; ", obstacles));
            this.obstacles = List.copyOf(obstacles);
        }

        public List<String> obstacles() {
            return obstacles;
        }
    }

    /**
     * Takes a run back: the parts that it brought cease to count, those whose place they took count again, the ledger knows of its files what it knew before.
     *
     * @return number of the entry that says so
     */
    public long undo(long number) throws StandsInTheWayException {
        List<String> obstacles = new ArrayList<>();
        long entry = durable.call(() -> {
            RunRecord run = entities.find(RunRecord.class, number);
            List<PartRecord> brought = parts("run = :run", number);
            List<PartRecord> retired = parts("retiredBy = :run", number);
            List<RunFileRecord> files = records.files(number).stream().filter(file -> file.entered).toList();
            obstacles.addAll(obstacles(run, brought, retired, files));
            if (!obstacles.isEmpty()) {
                return 0L;
            }
            RunRecord undo = entry(RunRecord.UNDO, run.job, run.dataset, run.jobVersion, run.datasetVersion);
            undo.ofRun = number;
            Instant now = clock.instant();
            brought.forEach(part -> retire(part, undo.id, now));
            retired.forEach(part -> {
                part.retiredBy = null;
                part.retiredAt = null;
            });
            entities.flush();
            files.forEach(file -> putBack(run.job, file));
            entities.flush();
            Set<String> touched = new LinkedHashSet<>();
            brought.forEach(part -> touched.add(part.path));
            retired.forEach(part -> touched.add(part.path));
            pointToLatest(touched);
            run.undoneBy = undo.id;
            long out = brought.stream().mapToLong(part -> part.rows).sum();
            long back = retired.stream().mapToLong(part -> part.rows).sum();
            List<String> notes = new ArrayList<>();
            notes.add(rows(out) + " taken out again, " + rows(back) + " put back");
            files.stream().filter(file -> file.routed != null && file.routed.startsWith("moved to ")).limit(MOST_NAMED)
                    .forEach(file -> notes.add(file.name + " stays where it was " + file.routed + "; put it back into its folder to load it again"));
            finish(undo, notes);
            return undo.id;
        });
        if (!obstacles.isEmpty()) {
            throw new StandsInTheWayException(number, obstacles);
        }
        return entry;
    }

    private List<PartRecord> parts(String condition, long run) {
        return entities.createQuery("from PartRecord where " + condition + " order by id", PartRecord.class).setParameter("run", run).getResultList();
    }

    private List<String> obstacles(RunRecord run, List<PartRecord> brought, List<PartRecord> retired, List<RunFileRecord> files) {
        if (run.undoneBy != null) {
            return List.of("it is undone already, by entry " + run.undoneBy);
        }
        if (run.kind.equals(RunRecord.UNDO)) {
            return List.of("it is itself an undo; run the job again to load the files anew");
        }
        if (!run.state.ended()) {
            return List.of("it is still going on");
        }
        List<String> obstacles = new ArrayList<>();
        Map<String, List<String>> later = new HashMap<>();
        brought.stream().filter(part -> part.retiredBy != null).forEach(part -> later.computeIfAbsent(words(part.retiredBy), who -> new ArrayList<>()).add(part.path));
        for (RunFileRecord file : files) {
            ledger(run.job, file.path).stream().filter(known -> known.runFile != file.id).forEach(known -> later.computeIfAbsent(words(known.run), who -> new ArrayList<>()).add(file.path));
        }
        for (PartRecord part : retired) {
            boolean added = entities.createQuery("select count(*) from PartRecord where job = :job and path = :path and retiredBy is null and run > :run", Long.class)
                    .setParameter("job", part.job).setParameter("path", part.path).setParameter("run", run.id).getSingleResult() > 0;
            if (added) {
                later.computeIfAbsent("a later entry", who -> new ArrayList<>()).add(part.path);
            }
        }
        later.forEach((who, paths) -> obstacles.add(who + " dealt with " + named(paths.stream().distinct().toList()) + " afterwards; undo that first"));
        long gone = retired.stream().filter(part -> !Files.exists(parts.path(part.name))).count();
        if (gone > 0) {
            obstacles.add("the rows that it replaced are no longer kept (`retain: {replaced: …}` in the dataset's file says for how long)");
        }
        long expected = run.filesLoaded + run.filesReplaced;
        if (run.kind.equals(RunRecord.RUN) && files.stream().filter(file -> file.outcome == Outcome.LOADED || file.outcome == Outcome.REPLACED).count() < expected) {
            obstacles.add("what it did with single files is no longer kept (`retain: {history: …}`)");
        }
        if (obstacles.isEmpty() && brought.isEmpty() && retired.isEmpty() && files.isEmpty()) {
            obstacles.add("it changed nothing");
        }
        return obstacles;
    }

    private String words(long run) {
        RunRecord record = entities.find(RunRecord.class, run);
        String kind = record == null ? RunRecord.RUN : record.kind;
        return kind.equals(RunRecord.RUN) ? "run " + run : kind.equals(RunRecord.RETRY) ? "run " + run + " (a retry)" : "entry " + run + " (" + kind + ")";
    }

    private static String named(List<String> paths) {
        String first = paths.get(0).substring(paths.get(0).lastIndexOf('/') + 1);
        return paths.size() == 1 ? first : first + " and " + (paths.size() - 1) + " more";
    }

    private List<LedgerRecord> ledger(String job, String path) {
        return entities.createQuery("from LedgerRecord where job = :job and path = :path", LedgerRecord.class).setParameter("job", job).setParameter("path", path).getResultList();
    }

    private void putBack(String job, RunFileRecord file) {
        for (LedgerRecord known : ledger(job, file.path)) {
            if (file.ledgerBefore == null) {
                entities.remove(known);
            } else {
                try {
                    json.readValue(file.ledgerBefore, LedgerState.class).putBack(known);
                } catch (JsonProcessingException wrong) {
                    throw new IllegalStateException("What the ledger said of " + file.path + " cannot be read back", wrong);
                }
            }
        }
    }

    /** The ledger points to the part of a file that came last, whichever job brought it. */
    private void pointToLatest(Set<String> paths) {
        for (String path : paths) {
            entities.createQuery("""
                    update LedgerRecord l set l.part = (select max(p.id) from PartRecord p where p.job = l.job and p.path = l.path and p.retiredBy is null)
                    where l.path = :path""").setParameter("path", path).executeUpdate();
        }
    }

    private static void retire(PartRecord part, long by, Instant at) {
        part.retiredBy = by;
        part.retiredAt = at;
    }

    private RunRecord entry(String kind, String job, String dataset, String jobVersion, String datasetVersion) {
        RunRecord entry = new RunRecord();
        entry.kind = kind;
        entry.job = job;
        entry.dataset = dataset;
        entry.jobVersion = jobVersion;
        entry.datasetVersion = datasetVersion;
        entry.state = RunState.FINISHED;
        entry.queuedAt = clock.instant();
        entry.startedAt = entry.queuedAt;
        entities.persist(entry);
        return entry;
    }

    private void finish(RunRecord entry, List<String> notes) {
        entities.flush();
        Object[] sums = entities.createQuery("select count(*), coalesce(sum(rows), 0) from PartRecord where dataset = :dataset and retiredBy is null", Object[].class)
                .setParameter("dataset", entry.dataset).getSingleResult();
        entry.parts = (Long) sums[0];
        entry.partsRows = (Long) sums[1];
        entry.datasetRows = entry.partsRows;
        entry.endedAt = clock.instant();
        entry.notes = String.join("\n", notes);
    }

    /**
     * Takes rows out of a dataset. Files that are there and unchanged are not loaded again because of it.
     *
     * @param which the parts whose rows go
     * @param what  that in words
     * @return number of the entry that says so; 0 where there are no such rows
     */
    public long remove(DatasetDef dataset, Predicate<RemovablePart> which, String what) {
        return durable.call(() -> {
            List<PartRecord> gone = entities.createQuery("from PartRecord where dataset = :dataset and retiredBy is null order by id", PartRecord.class)
                    .setParameter("dataset", dataset.name()).getResultStream().filter(part -> which.test(new RemovablePart(part.job, part.path, part.run))).toList();
            if (gone.isEmpty()) {
                return 0L;
            }
            RunRecord entry = entry(RunRecord.REMOVE, "", dataset.name(), "", dataset.version());
            Set<String> touched = new LinkedHashSet<>();
            Set<String> jobs = new LinkedHashSet<>();
            for (PartRecord part : gone) {
                retire(part, entry.id, clock.instant());
                touched.add(part.path);
                jobs.add(part.job);
            }
            entry.job = jobs.size() == 1 ? jobs.iterator().next() : "";
            entities.flush();
            pointToLatest(touched);
            finish(entry, List.of(rows(gone.stream().mapToLong(part -> part.rows).sum()) + " in " + gone.size() + (gone.size() == 1 ? " part" : " parts") + " removed: " + what));
            return entry.id;
        });
    }

    /** What is known of rows that may be removed: the job and file that brought them, and the run. */
    public record RemovablePart(String job, String path, long run) {
    }

    private static String rows(long count) {
        return dev.hapster.core.reason.Reasons.grouped(count) + (count == 1 ? " row" : " rows");
    }
}
