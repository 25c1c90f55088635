package dev.hapster.core.run;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.NameLists;
import dev.hapster.core.find.Roots;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.NameColumn;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Acts;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.Decider;
import dev.hapster.core.run.decide.Decision;
import dev.hapster.core.run.decide.Outstanding;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.duplicates.RowsThatCount;
import dev.hapster.core.run.inspect.FilePeeks;
import dev.hapster.core.run.inspect.Inspection;
import dev.hapster.core.run.inspect.RowTraces;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunServices;
import dev.hapster.core.run.open.FormatContainers;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.prepare.KnownFiles;
import dev.hapster.core.run.prepare.Preparation;
import dev.hapster.core.run.repair.FixProposals;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.run.stage.Stages;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.Channels;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.ReadWriteLock;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;

/**
 * Tries and runs jobs, and knows who looks at them. Files are loaded side by side on the workers given; each is
 * committed by itself, so that a run which stops half-way leaves whole files behind and nothing else. Thread-safe.
 */
public final class Runner {

    /** Threads that wait for the disk. */
    private static final int COMMITTERS = 16;

    private final Finder finder;
    private final PartStore parts;
    private final RejectStore rejects;
    private final Catalogue catalogue;
    private final ExecutorService workers;
    private final ExecutorService committers = Executors.newFixedThreadPool(COMMITTERS, work -> {
        Thread thread = new Thread(work, "committer");
        thread.setDaemon(true);
        return thread;
    });
    private final Clock clock;
    private final Opener opener;
    private final Roots roots;
    private final Router router;
    private final Acts acts;
    private final Stages stages;
    private final Preparation preparation;
    private final KnownFiles known;
    private final Inspection inspection;
    private final RowTraces traces;
    private final FilePeeks peeks;
    private final FixProposals fixes;
    private final Map<String, ReadWriteLock> locks = new ConcurrentHashMap<>();
    private final Set<String> desks = ConcurrentHashMap.newKeySet();

    /** What stands between the readers and the run: nothing, but in tests. */
    private final UnaryOperator<RecordReader> watched;

    /** @param workers the threads on which files are loaded, shared by all runs */
    public Runner(
            Workspace workspace,
            Roots roots,
            PartStore parts,
            RejectStore rejects,
            Catalogue catalogue,
            ExecutorService workers,
            Clock clock) {
        this(workspace, roots, parts, rejects, catalogue, workers, clock, UnaryOperator.identity());
    }

    /** @param watched gets every reader before its rows are taken */
    Runner(
            Workspace workspace,
            Roots roots,
            PartStore parts,
            RejectStore rejects,
            Catalogue catalogue,
            ExecutorService workers,
            Clock clock,
            UnaryOperator<RecordReader> watched) {
        this.watched = watched;
        this.roots = keeping(workspace, roots);
        opener = new Opener(this.roots, parts.staging());
        this.finder = new Finder(workspace.folder(), this.roots, this::names, new FormatContainers(opener), clock);
        this.parts = parts;
        this.rejects = rejects;
        this.catalogue = catalogue;
        this.workers = workers;
        this.clock = clock;
        router = new Router(workspace.folder(), this.roots, rejects, catalogue, clock);
        acts = new Acts(parts, catalogue);
        stages = new Stages(opener, parts.staging());
        preparation = new Preparation(workspace, this.roots, finder, opener, router, catalogue);
        known = new KnownFiles(finder, catalogue);
        inspection = new Inspection(workspace, preparation, opener, router, catalogue, workers, clock);
        traces = new RowTraces(preparation, known, opener, stages, rejects);
        peeks = new FilePeeks(finder, this.roots, opener);
        fixes = new FixProposals(workspace, preparation, known, opener, catalogue, rejects);
    }

    private static Roots keeping(Workspace workspace, Roots roots) {
        try {
            return roots.keepingOf(workspace.folder());
        } catch (IOException gone) {
            throw new java.io.UncheckedIOException("The workspace " + workspace.folder() + " is gone", gone);
        }
    }

    private List<NameLists.Listed> names(Path file, NameList list) throws IOException {
        List<NameLists.Listed> names = new ArrayList<>();
        try (InputStream in = Channels.newInputStream(roots.open(file))) {
            NameColumn.read(in, list, (line, name) -> names.add(new NameLists.Listed(line, name)));
        }
        return names;
    }

    /** Looks into folders; knows nothing of runs. */
    public Finder finder() {
        return finder;
    }

    /** Opens files as runs do. */
    public Opener opener() {
        return opener;
    }

    /** Shows rows of files at each stage. */
    public Stages stages() {
        return stages;
    }

    /** Looks at what a job would do, and at what its files hold. */
    public Inspection inspection() {
        return inspection;
    }

    /** Shows what each step makes of a row. */
    public RowTraces traces() {
        return traces;
    }

    /** Shows files as they lie there. */
    public FilePeeks peeks() {
        return peeks;
    }

    /** Finds changes to definitions by which what was rejected would fit. */
    public FixProposals fixes() {
        return fixes;
    }

    /** What the job's places hold now. */
    public Finding find(JobDef job) {
        return preparation.find(job);
    }

    /** {@link Preparation#prepare(String, Map)} */
    public PreparedJob prepare(String jobName, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException {
        return preparation.prepare(jobName, call);
    }

    /** {@link Preparation#prepare(String, Map, boolean)} */
    public PreparedJob prepare(String jobName, Map<String, String> call, boolean everything)
            throws IOException, DefinitionException, UnknownNameException {
        return preparation.prepare(jobName, call, everything);
    }

    /** {@link Preparation#prepare(JobDef, DatasetDef)} */
    public PreparedJob prepare(JobDef job, DatasetDef dataset) throws IOException, DefinitionException {
        return preparation.prepare(job, dataset);
    }

    /**
     * Everything that a run does, with nothing written.
     *
     * @param asked what is tried beyond what is new or changed
     */
    public RunResult trial(PreparedJob prepared, RunRequest asked, RunListener listener, BooleanSupplier cancelled)
            throws IOException {
        return execution(prepared, 0, prepared.finding().taken(), asked, listener, cancelled)
                .execute();
    }

    /**
     * Loads what is new or changed.
     *
     * @param run its number, under which the catalogue knows it
     * @param asked what is loaded beyond that
     */
    public RunResult run(
            PreparedJob prepared, long run, RunRequest asked, RunListener listener, BooleanSupplier cancelled)
            throws IOException {
        return execution(prepared, run, prepared.finding().taken(), asked, listener, cancelled)
                .execute();
    }

    /**
     * What has arrived since runs last dealt with it. Files are read only where nothing else tells whether they
     * changed.
     */
    public Outstanding outstanding(PreparedJob prepared) throws IOException {
        return Outstanding.of(
                prepared,
                new JobLedger(catalogue.history(
                        prepared.dataset().name(), Optional.of(prepared.job().name()))),
                opener);
    }

    /**
     * Takes again what was rejected and still is: files whole, and of files that were loaded the rejected rows alone,
     * where file and reading are as they were then. Rows that pass now are added to those that their file brought, and
     * take its place in the order.
     *
     * @param arrivals of which something was rejected; what is no longer rejected is skipped
     */
    public RunResult retry(
            PreparedJob prepared, long run, Set<Long> arrivals, RunListener listener, BooleanSupplier cancelled)
            throws IOException {
        JobLedger ledger = new JobLedger(catalogue.history(
                prepared.dataset().name(), Optional.of(prepared.job().name())));
        Map<String, LedgerEntry> open = new LinkedHashMap<>();
        arrivals.stream()
                .flatMap(id -> ledger.entry(id).stream())
                .forEach(asked -> ledger
                        .arrivals(prepared.job().name(), asked.arrival().source())
                        .stream()
                        .filter(entry ->
                                entry.arrival().generation() == asked.arrival().generation()
                                        && entry.standing().current()
                                        && entry.isOpen())
                        .forEach(entry -> open.put(entry.arrival().slot(), entry)));
        List<Candidate> files = new ArrayList<>();
        Map<String, Decision.Repair> repairs = new HashMap<>();
        List<String> notes = new ArrayList<>();
        for (LedgerEntry entry : open.values()) {
            Optional<Candidate> file = known.present(prepared, entry);
            if (file.isEmpty()) {
                notes.add(entry.arrival().source()
                        + (entry.fate().kind() == Fate.Kind.DELETED
                                ? " was deleted by run " + entry.fate().run()
                                : entry.fate()
                                        .to()
                                        .map(to -> " (taken to " + to + ") is not there any more")
                                        .orElse(" is not there any more"))
                        + ", and is not tried again");
                continue;
            }
            Optional<BitSet> rows = rejectedRows(prepared, entry, file.get());
            if (rows.isEmpty() && entry.arrival().accepted() && !entry.isLoaded()) {
                notes.add(entry.arrival().source()
                        + " would have to be loaded whole, and its rows were removed; it is not tried again "
                        + "(hapster run "
                        + prepared.job().name() + " --again " + entry.name() + " loads it)");
                continue;
            }
            files.add(file.get());
            rows.ifPresent(some -> repairs.put(file.get().lying(), new Decision.Repair(entry, some)));
        }
        RunResult result = execution(
                        prepared, run, files, new RunRequest(file -> true, repairs, true, false), listener, cancelled)
                .execute();
        notes.addAll(result.notes());
        return new RunResult(
                result.state(), result.failure(), result.passing(), result.files(), result.balance(), notes);
    }

    /**
     * What would come of taking an entry of a dataset's history back. Nothing is changed.
     *
     * @param entry number of a run or of another act
     */
    public Effect undoEffect(DatasetDef dataset, long entry) throws IOException {
        return holding(dataset, () -> acts.effect(dataset, entry));
    }

    /**
     * Takes an entry of a dataset's history back, another one of these included: from then on all counts as if it had
     * not been.
     *
     * @param job of the entry; empty where several jobs are concerned
     * @return number of the entry that says so
     * @throws ActNotPossibleException where it is taken back already, or rows that would come back are no longer kept
     */
    public long undo(DatasetDef dataset, long entry, String job) throws IOException, ActNotPossibleException {
        return holding(dataset, () -> acts.undo(dataset, entry, job));
    }

    /** What would come of taking out the rows of some arrivals. Nothing is changed. */
    public Effect removeEffect(DatasetDef dataset, Predicate<LedgerEntry> which) throws IOException {
        return holding(dataset, () -> acts.effect(dataset, which));
    }

    /**
     * Takes rows out of a dataset. Their files count as loaded, and are not loaded again because of it.
     *
     * @param which of the arrivals that count; their rows go
     * @param what that in words
     * @return number of the entry that says so; 0 where there are no such rows
     */
    public long remove(DatasetDef dataset, Predicate<LedgerEntry> which, String what)
            throws IOException, ActNotPossibleException {
        return holding(dataset, () -> acts.remove(dataset, which, what));
    }

    /**
     * Says of what is rejected that it needs nobody's attention any more: it is no longer listed. What counts is the
     * same before and after, and it can be undone.
     *
     * @param which of the files of which something is rejected
     * @param why in the words of whoever says so
     * @return number of the entry that says so; 0 where there are none
     */
    public long dismiss(DatasetDef dataset, Predicate<LedgerEntry> which, String why) throws IOException {
        return holding(dataset, () -> acts.dismiss(dataset, which, why));
    }

    /**
     * Does something while nobody adds to some datasets or takes out of them, once those are done that do so now.
     *
     * @param datasets in an order that is the same for everybody
     */
    public <T> T holding(SortedSet<String> datasets, Change<T> change)
            throws IOException, DefinitionException, UnknownNameException, ActNotPossibleException {
        if (datasets.isEmpty()) {
            return change.make();
        }
        Lock lock = lock(datasets.first()).writeLock();
        lock.lock();
        try {
            return holding(datasets.tailSet(datasets.first() + "\0"), change);
        } finally {
            lock.unlock();
        }
    }

    /**
     * Puts small files of a dataset's parts together, once there are many, so that a dataset stays quick that grows by
     * a few rows each day. At most one new file is written.
     *
     * @param from how many small files are worth the work
     * @return how many files became one; 0 where nothing was to be done
     */
    public int mergeFiles(String dataset, int from) throws IOException {
        Optional<PartStore.Merged> merged = parts.reading(() -> parts.merge(
                dataset,
                catalogue.history(dataset, Optional.empty()).entries().stream()
                        .map(entry -> entry.arrival().part())
                        .filter(part -> !part.isEmpty())
                        .toList(),
                from));
        if (merged.isEmpty()) {
            return 0;
        }
        CrashPoint.FILES_MERGED.reached();
        Lock lock = lock(dataset).writeLock();
        boolean moved;
        lock.lock();
        try {
            moved = catalogue.movedParts(dataset, merged.get().names());
        } finally {
            lock.unlock();
        }
        if (!moved) {
            parts.dropFile(merged.get().file()); // others let go of a part meanwhile; the next one takes what is left
            return 0;
        }
        CrashPoint.PARTS_MOVED.reached();
        parts.dropWhenUnread(merged.get().old());
        return merged.get().old().size();
    }

    /** A change of definitions and of what is stored. */
    public interface Change<T> {
        T make() throws IOException, DefinitionException, UnknownNameException, ActNotPossibleException;
    }

    private interface Act<T, E extends Exception> {
        T perform() throws IOException, E;
    }

    private <T, E extends Exception> T holding(DatasetDef dataset, Act<T, E> act) throws IOException, E {
        Lock lock = lock(dataset.name()).writeLock();
        lock.lock();
        try {
            return act.perform();
        } finally {
            lock.unlock();
        }
    }

    /**
     * Finds anew, from the log alone, what counts of a dataset.
     *
     * @param write whether what was found to be kept otherwise is corrected
     * @return arrivals that were kept as standing otherwise than the log says
     */
    public List<LedgerEntry> resettle(DatasetDef dataset, boolean write) throws IOException {
        return holding(dataset, () -> {
            JobLedger all = new JobLedger(catalogue.history(dataset.name(), Optional.empty()));
            all.settle();
            if (all.comparesRows() || catalogue.comparesRows(dataset.name())) {
                all.mask(new RowResolution(dataset, parts.staging())
                        .resolve(RowsThatCount.of(all, parts, Map.of()))
                        .masks());
            }
            List<LedgerEntry> changes = all.changes();
            if (write && !changes.isEmpty()) {
                catalogue.settle(changes);
            }
            return changes;
        });
    }

    /** The rows of a file that were rejected, by number; empty where the file must be taken whole. */
    private Optional<BitSet> rejectedRows(PreparedJob prepared, LedgerEntry entry, Candidate file) throws IOException {
        if (!entry.arrival().accepted()
                || !prepared.readsAs(entry.rules())
                || prepared.job().handling().comparesWithinFile()) {
            return Optional.empty();
        }
        try {
            if (Decider.same(entry, Fingerprint.lookFirst(file), file, opener).isEmpty()) {
                return Optional.empty();
            }
        } catch (IOException | FileRejectedException unreadable) {
            return Optional.empty(); // loading it will meet the same, and say so
        }
        BitSet rows = new BitSet();
        String path = entry.file()
                + entry.name().substring(entry.file().getFileName().toString().length());
        for (RejectStore.Reject reject : rejects.read(
                entry.arrival().entry(),
                line -> line.isOf(entry.arrival().source(), path)
                        && (!entry.arrival().rule().drops() || !line.code().equals(ReasonCode.ROW_REPEATED.code()))
                        && line.row() > 0
                        && line.row() < Integer.MAX_VALUE,
                0,
                Integer.MAX_VALUE)) {
            rows.set((int) reject.row());
        }
        return rows.cardinality() == entry.rejected() ? Optional.of(rows) : Optional.empty();
    }

    private ReadWriteLock lock(String dataset) {
        return locks.computeIfAbsent(dataset, name -> new ReentrantReadWriteLock());
    }

    private Execution execution(
            PreparedJob prepared,
            long run,
            List<Candidate> files,
            RunRequest asked,
            RunListener listener,
            BooleanSupplier cancelled) {
        RunServices services = new RunServices(
                opener,
                parts,
                rejects,
                catalogue,
                router,
                new WorkerShare(workers, Runtime.getRuntime().availableProcessors()),
                committers,
                clock,
                watched,
                desks);
        return new Execution(
                services, prepared, run, files, asked, lock(prepared.dataset().name()), listener, cancelled);
    }

    /**
     * Does with files what earlier runs left to be done, since they were cut off or it could not be done then.
     *
     * @param job of which; null for all
     * @return what could not be done now either
     */
    public List<String> finishRoutes(String job) {
        List<Route.Done> done =
                catalogue.pending(job).stream().map(router::finish).toList();
        if (!done.isEmpty()) {
            catalogue.routed(done);
        }
        return done.stream().flatMap(one -> one.problem().stream()).toList();
    }
}
