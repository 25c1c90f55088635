package dev.hapster.service.catalogue;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.ArrivalLog;
import dev.hapster.core.arrival.Counted;
import dev.hapster.core.arrival.Counting;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Standing;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.workspace.Sources;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.catalogue.transaction.Transactions;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.hibernate.Session;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Takes over what versions before 0.2 kept: parts that counted or had been retired, and of each file what was last
 * known, become arrivals. What counts is the same before and after; what could be taken back still can, as far as it
 * can be told. Done once, as one transaction, when a workspace is first opened.
 */
@ApplicationScoped
public class Upgrade {

    private static final Logger LOG = LoggerFactory.getLogger(Upgrade.class);
    /** Numbers, within a run, for parts of which the file's number is no longer known. */
    private static final int UNNUMBERED = 1 << 23;

    private final EntityManager entities;
    private final Transactions transactions;
    private final Arrivals arrivals;
    private final Workspace workspace;
    private final Roots roots;
    private final PartStore parts;
    private final Clock clock;

    Upgrade(
            EntityManager entities,
            Transactions transactions,
            Arrivals arrivals,
            Workspace workspace,
            Roots roots,
            PartStore parts,
            Clock clock) {
        this.parts = parts;
        this.entities = entities;
        this.transactions = transactions;
        this.arrivals = arrivals;
        this.workspace = workspace;
        this.roots = roots;
        this.clock = clock;
    }

    /** A part as it was kept. */
    private record OldPart(
            long id,
            String name,
            String dataset,
            String job,
            String path,
            long rows,
            long run,
            String version,
            Long retiredBy) {}

    /** What was last known of a file. */
    private record OldFile(
            String job,
            String path,
            String file,
            int place,
            String movedTo,
            long size,
            Instant modified,
            Instant changed,
            String hash,
            Instant readAt,
            boolean rejected,
            String rules,
            long run,
            long runFile,
            Long part,
            long rowsRejected,
            String code,
            String sentence) {

        String inside() {
            return path.substring(file.length());
        }
    }

    /** Does it, where there is anything to do. */
    public void run() throws IOException {
        List<String> dropped = transactions.change(() -> {
            Session session = entities.unwrap(Session.class);
            boolean needed = !session.createNativeQuery(
                            "select 1 from information_schema.tables where table_name = 'LEDGER'", Object.class)
                    .getResultList()
                    .isEmpty();
            if (!needed) {
                return List.of();
            }
            Taking taking = new Taking(session);
            long count = taking.take();
            session.createNativeMutationQuery("drop table ledger").executeUpdate();
            session.createNativeMutationQuery("drop table part").executeUpdate();
            if (count > 0) {
                LOG.info("The catalogue of an older version was taken over: {} arrivals", count);
            }
            return taking.dropped;
        });
        parts.drop(dropped);
    }

    private final class Taking {
        private final Session session;
        private final Map<String, OldFile> files = new HashMap<>();
        private final Map<String, Integer> ordinals = new HashMap<>();
        private final Map<Long, String> kinds = new HashMap<>();
        private final Map<Long, Long> undone = new HashMap<>();
        private final Map<Long, Set<Long>> removed = new HashMap<>();
        private final Map<String, Sources> sources = new HashMap<>();
        private final Set<String> adding = new HashSet<>();
        private final Map<Long, LedgerEntry> entries = new HashMap<>();
        private final Map<Long, String> datasets = new HashMap<>();
        private final Map<Long, Long> runFiles = new HashMap<>();
        /** Reports of files that an arrival stands for by now. */
        private final Set<Long> told = new HashSet<>();

        private final Set<Long> counting = new HashSet<>();
        private final Set<Long> used = new HashSet<>();
        /** Parts of which nobody needs the rows. */
        private final List<String> dropped = new ArrayList<>();
        /** Folders of jobs that lie below the workspace, relative to it. */
        private final Map<String, List<String>> folders = new HashMap<>();
        /** Where the workspace was, if it was moved. */
        private String former = "";

        Taking(Session session) {
            this.session = session;
        }

        long take() {
            read();
            rebase();
            List<OldPart> parts = parts();
            Map<String, List<OldPart>> byPath = new HashMap<>();
            parts.forEach(part -> byPath.computeIfAbsent(part.job() + "\n" + part.path(), path -> new ArrayList<>())
                    .add(part));
            byPath.values().forEach(this::ofFile);
            files.values().forEach(this::lastWord);
            settle();
            return entries.size();
        }

        private void read() {
            session.createNativeQuery(
                            """
                    select job, path, file, place, moved_to, size_bytes, modified_at, changed_at, hash,
                    read_at, outcome, rules, run_id, run_file_id, part_id, rows_rejected, code, sentence from ledger""",
                            Object[].class)
                    .getResultStream()
                    .map(one -> new OldFile(
                            (String) one[0],
                            (String) one[1],
                            (String) one[2],
                            number(one[3]),
                            (String) one[4],
                            (Long) one[5],
                            instant(one[6]),
                            instant(one[7]),
                            (String) one[8],
                            instant(one[9]),
                            one[10].equals("REJECTED"),
                            (String) one[11],
                            (Long) one[12],
                            (Long) one[13],
                            (Long) one[14],
                            (Long) one[15],
                            (String) one[16],
                            (String) one[17]))
                    .forEach(file -> files.put(file.job() + "\n" + file.path(), file));
            session.createNativeQuery("select run_id, path, ordinal from run_file", Object[].class)
                    .getResultStream()
                    .forEach(one -> ordinals.put(one[0] + "\n" + one[1], number(one[2])));
            session.createNativeQuery("select id, kind, of_run from run", Object[].class)
                    .getResultStream()
                    .forEach(one -> {
                        kinds.put((Long) one[0], (String) one[1]);
                        if (one[1].equals(RunRecord.UNDO)) {
                            undone.put((Long) one[0], (Long) one[2]);
                        }
                    });
        }

        /**
         * Paths were kept as absolute ones. Where the workspace was moved since, they are put below where it is now.
         */
        private void rebase() {
            Map<String, Integer> roots = new HashMap<>();
            for (OldFile file : files.values()) {
                sources(file.job());
                if (!Path.of(file.file()).startsWith(workspace.folder())) {
                    folders.getOrDefault(file.job(), List.of()).stream()
                            .map(folder -> file.file().lastIndexOf("/" + folder + "/"))
                            .filter(at -> at > 0)
                            .forEach(at -> roots.merge(file.file().substring(0, at), 1, Integer::sum));
                }
            }
            former = roots.entrySet().stream()
                    .max(Map.Entry.comparingByValue())
                    .map(Map.Entry::getKey)
                    .orElse("");
        }

        private String now(String path) {
            return !former.isEmpty() && path.startsWith(former + "/")
                    ? workspace.folder() + path.substring(former.length())
                    : path;
        }

        private List<OldPart> parts() {
            return session.createNativeQuery(
                            "select id, name, dataset, job, path, rows_count, run_id, dataset_version, "
                                    + "retired_by from part order by id",
                            Object[].class)
                    .getResultStream()
                    .map(one -> new OldPart(
                            (Long) one[0],
                            (String) one[1],
                            (String) one[2],
                            (String) one[3],
                            (String) one[4],
                            (Long) one[5],
                            (Long) one[6],
                            (String) one[7],
                            (Long) one[8]))
                    .toList();
        }

        private static int number(Object value) {
            return ((Number) value).intValue();
        }

        private static Instant instant(Object value) {
            return value instanceof OffsetDateTime time ? time.toInstant() : (Instant) value;
        }

        private Sources sources(String job) {
            return sources.computeIfAbsent(job, name -> {
                Map<Integer, Place> places = Map.of();
                try {
                    places = workspace
                            .search(name, workspace.jobText(name), Map.of())
                            .places();
                    dev.hapster.core.definition.Handling.Load load =
                            workspace.job(name).handling().load();
                    if (load == dev.hapster.core.definition.Handling.Load.APPEND
                            || load == dev.hapster.core.definition.Handling.Load.UPDATE) {
                        adding.add(name);
                    }
                } catch (DefinitionException | UnknownNameException gone) {
                    LOG.warn("The job {} cannot be read; its files are known by their paths below the workspace", name);
                } catch (IOException wrong) {
                    throw new UncheckedIOException(wrong);
                }
                folders.put(
                        name,
                        places.values().stream()
                                .map(Place::folder)
                                .filter(folder -> !Path.of(folder).isAbsolute() && !folder.startsWith("."))
                                .toList());
                return new Sources(workspace.folder(), roots, places);
            });
        }

        private String source(String job, int place, String file, String inside) {
            return sources(job).of(place, Path.of(now(file)), inside);
        }

        private long id(long run, String path) {
            int ordinal = ordinals.getOrDefault(run + "\n" + path, UNNUMBERED);
            long id = Arrival.id(run, ordinal);
            while (!used.add(id)) {
                ordinal = Math.max(UNNUMBERED, ordinal + 1);
                id = Arrival.id(run, ordinal);
            }
            return id;
        }

        /** All parts of one file, the oldest first. */
        private void ofFile(List<OldPart> parts) {
            OldPart any = parts.get(0);
            OldFile file = files.get(any.job() + "\n" + any.path());
            String at = file == null ? any.path() : file.file();
            String source = source(
                    any.job(), file == null ? 1 : file.place(), at, any.path().substring(at.length()));
            boolean adds = adding.contains(any.job())
                    || parts.stream()
                                    .filter(part -> part.retiredBy() == null && !isRepair(part))
                                    .count()
                            > 1;
            Arrival whole = null;
            Map<Long, Order> places = new HashMap<>();
            for (OldPart part : parts) {
                long id = id(part.run(), part.path());
                boolean last = file != null
                        && !file.rejected()
                        && (file.part() != null ? file.part() == part.id() : file.run() == part.run());
                boolean repair = isRepair(part) && whole != null;
                Order fresh = rewritten(part, parts, places)
                        .orElse(new Order(part.run(), 0, (int) (id & UNNUMBERED * 2 - 1)));
                places.put(part.id(), repair ? whole.place() : fresh);
                String content = last && !file.rejected() ? file.hash() : "";
                Arrival arrival = new Arrival(
                        id,
                        part.run(),
                        part.job(),
                        source,
                        1,
                        repair ? whole.place() : fresh,
                        repair ? whole.id() : 0,
                        true,
                        !adds,
                        true,
                        content,
                        RowRule.NONE,
                        part.name(),
                        part.rows(),
                        false,
                        false);
                whole = repair ? whole : arrival;
                keep(
                        arrival,
                        file,
                        at,
                        part.dataset(),
                        part.version(),
                        last ? file.rowsRejected() : 0,
                        Optional.empty());
                if (part.retiredBy() == null) {
                    counting.add(id);
                } else if (RunRecord.REMOVE.equals(kinds.get(part.retiredBy()))) {
                    removed.computeIfAbsent(part.retiredBy(), entry -> new HashSet<>())
                            .add(id);
                }
                if (last && file.run() == part.run()) {
                    told(id, file.runFile());
                }
            }
        }

        private boolean isRepair(OldPart part) {
            return RunRecord.RETRY.equals(kinds.get(part.run())) && !isRewritten(part);
        }

        /** Whether a part is another one without rows that gave way to newer ones. */
        private static boolean isRewritten(OldPart part) {
            return part.name().matches(".*/\\d+-r\\d+-.*");
        }

        /** The place of the part that it was made of. */
        private static Optional<Order> rewritten(OldPart part, List<OldPart> all, Map<Long, Order> places) {
            if (!isRewritten(part)) {
                return Optional.empty();
            }
            return all.stream()
                    .filter(old ->
                            old.id() < part.id() && Long.valueOf(part.run()).equals(old.retiredBy()))
                    .map(old -> places.get(old.id()))
                    .findFirst()
                    .or(() -> all.stream()
                            .filter(old -> old.id() < part.id())
                            .map(old -> places.get(old.id()))
                            .findFirst());
        }

        private void keep(
                Arrival arrival,
                OldFile file,
                String at,
                String dataset,
                String version,
                long rejected,
                Optional<Reason> reason) {
            Path path = Path.of(now(at));
            String inside = file == null ? "" : file.inside();
            Fingerprint seen = file == null
                    ? new Fingerprint(0, Instant.EPOCH, Instant.EPOCH, "")
                    : new Fingerprint(file.size(), file.modified(), file.changed(), arrival.content());
            Fate fate = file == null || file.movedTo() == null
                    ? Fate.LEFT
                    : new Fate(Fate.Kind.MOVED, Optional.of(Path.of(now(file.movedTo()))), file.run());
            entries.put(
                    arrival.id(),
                    new LedgerEntry(
                            arrival,
                            path.getFileName() + inside,
                            path,
                            file == null ? 1 : file.place(),
                            seen,
                            file == null ? Instant.EPOCH : file.readAt(),
                            "",
                            version,
                            rejected,
                            reason,
                            arrival.entry(),
                            "",
                            fate,
                            0,
                            Standing.NOWHERE));
            datasets.put(arrival.id(), dataset);
        }

        private void told(long arrival, long runFile) {
            runFiles.put(arrival, runFile);
            told.add(runFile);
        }

        /** What was last said of a file, where none of its parts says the same. */
        private void lastWord(OldFile file) {
            if (told.contains(file.runFile())) {
                return;
            }
            String source = source(file.job(), file.place(), file.file(), file.inside());
            long id = id(file.run(), file.path());
            String dataset = session.createNativeQuery("select dataset from run where id = :run", String.class)
                    .setParameter("run", file.run())
                    .getSingleResult();
            Optional<Arrival> base = entries.values().stream()
                    .map(LedgerEntry::arrival)
                    .filter(one -> one.job().equals(file.job())
                            && one.source().equals(source)
                            && counting.contains(one.id())
                            && !one.isRepair())
                    .max(java.util.Comparator.comparingLong(Arrival::entry));
            boolean repair = !file.rejected() && base.isPresent();
            Order fresh = new Order(file.run(), 0, (int) (id & UNNUMBERED * 2 - 1));
            Arrival arrival = new Arrival(
                    id,
                    file.run(),
                    file.job(),
                    source,
                    1,
                    repair ? base.get().place() : fresh,
                    repair ? base.get().id() : 0,
                    !file.rejected(),
                    !adding.contains(file.job()),
                    false,
                    file.hash(),
                    RowRule.NONE,
                    "",
                    0,
                    false,
                    false);
            Optional<Reason> reason = Optional.ofNullable(file.code())
                    .flatMap(ReasonCode::of)
                    .map(code -> new Reason(code, file.sentence()));
            keep(arrival, file, file.file(), dataset, "", file.rejected() ? 0 : file.rowsRejected(), reason);
            told(id, file.runFile());
            if (!file.rejected() && !repair) {
                removed.computeIfAbsent(file.run(), entry -> new HashSet<>())
                        .add(id); // its rows were removed, and are no longer kept
            }
        }

        /**
         * Stores the arrivals as they stand. What the log would let count that did not is left out: it was kept only to
         * be taken back.
         */
        private void settle() {
            Instant now = clock.instant();
            Set<Long> known = new HashSet<>(entries.keySet());
            Counted counted = counted(known);
            Set<Long> needless = new HashSet<>(known);
            needless.removeIf(id -> counting.contains(id)
                    || !counted.counting().contains(id)
                    || entries.get(id).arrival().part().isEmpty());
            known.removeAll(needless);
            needless.forEach(id -> dropped.add(entries.get(id).arrival().part()));
            Counted last = counted(known);
            for (long id : counting) {
                if (!last.counting().contains(id)) {
                    throw new IllegalStateException(
                            "The part " + entries.get(id).arrival().part()
                                    + " of an older version cannot be taken over: it counted, and would not any more");
                }
            }
            for (long id : known) {
                LedgerEntry entry = entries.get(id);
                Standing standing = new Standing(
                        last.standing().contains(id),
                        last.counting().contains(id),
                        last.current().contains(id),
                        last.copies().getOrDefault(id, 0L),
                        Optional.empty());
                session.persist(arrivals.record(entry.with(standing), datasets.get(id), runFiles.get(id), now));
            }
            removed.forEach(
                    (run, ids) -> ids.stream().filter(known::contains).forEach(id -> session.createNativeMutationQuery(
                                    "insert into removal (run_id, arrival_id) values (:run, :arrival)")
                            .setParameter("run", run)
                            .setParameter("arrival", id)
                            .executeUpdate()));
            session.flush();
        }

        private Counted counted(Set<Long> known) {
            return Counting.of(new ArrivalLog(
                    known.stream().map(id -> entries.get(id).arrival()).toList(), List.of(), undone, removed));
        }
    }
}
