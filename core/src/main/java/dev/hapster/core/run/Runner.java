package dev.hapster.core.run;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.NameLists;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.preview.Peek;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.NameColumn;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Acts;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.run.decide.Decider;
import dev.hapster.core.run.decide.Decision;
import dev.hapster.core.run.decide.Outstanding;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.duplicates.RowsThatCount;
import dev.hapster.core.run.inspect.CheckResult;
import dev.hapster.core.run.inspect.CheckResult.FileCheck;
import dev.hapster.core.run.inspect.FileProfile;
import dev.hapster.core.run.inspect.Fit;
import dev.hapster.core.run.inspect.FitReport;
import dev.hapster.core.run.inspect.Sample;
import dev.hapster.core.run.inspect.Trace;
import dev.hapster.core.run.inspect.Tracing;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunServices;
import dev.hapster.core.run.load.SharedHeader;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.FormatContainers;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.repair.FileFixSearch;
import dev.hapster.core.run.repair.FixSearch;
import dev.hapster.core.run.repair.Fixes;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.run.stage.Stages;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.Sources;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.io.InputStream;
import java.nio.channels.Channels;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SortedSet;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.ReadWriteLock;
import java.util.concurrent.locks.ReentrantReadWriteLock;
import java.util.function.BooleanSupplier;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Finds, checks, tries and runs jobs. Files are loaded side by side on the workers given; each is committed by itself,
 * so that a run which stops half-way leaves whole files behind and nothing else. Thread-safe.
 */
public final class Runner {

    private static final Logger LOG = LoggerFactory.getLogger(Runner.class);

    /** Threads that wait for the disk. */
    private static final int COMMITTERS = 16;

    private final Workspace workspace;
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
        this.workspace = workspace;
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

    /** What the job's places hold now. */
    public Finding find(JobDef job) {
        return finder.find(job.find());
    }

    /**
     * What some of a job's places hold now.
     *
     * @param places by their number in the job, counted from 1
     */
    public Finding find(Map<Integer, Place> places) {
        return finder.find(places);
    }

    /**
     * Reads the definitions and searches the folders.
     *
     * @param call values given for this run alone, by name
     * @throws DefinitionException with everything that keeps the job from running
     * @throws RemoteFault where a folder on another machine cannot be searched
     */
    public PreparedJob prepare(String jobName, Map<String, String> call)
            throws IOException, DefinitionException, UnknownNameException {
        return prepare(jobName, call, false);
    }

    /**
     * @param everything whether all files are loaded anew, so that what is stored in other types does not stand in the
     *     way
     */
    public PreparedJob prepare(String jobName, Map<String, String> call, boolean everything)
            throws IOException, DefinitionException, UnknownNameException {
        JobDef job = workspace.job(jobName, call);
        DatasetDef dataset = workspace.dataset(job.into());
        String file = "jobs/" + jobName + ".yaml";
        List<Problem> problems = new ArrayList<>();
        GivenValues.check(file, job, dataset, problems);
        if (!everything) {
            storedTypes(dataset, problems);
        }
        targets(file, job, problems);
        Finding finding = find(job);
        for (Trouble trouble : finding.troubles()) {
            if (trouble.grave() && trouble.fault().isEmpty()) {
                problems.add(new Problem(file, 0, 0, trouble.what(), trouble.hint()));
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        for (Trouble trouble : finding.troubles()) {
            if (trouble.fault().isPresent()) {
                RemoteFault fault = trouble.fault().get();
                throw new RemoteFault(trouble.what(), fault.isPassing(), fault);
            }
        }
        return prepared(job, dataset, finding);
    }

    /** Makes definitions ready that are not saved, or not yet, and searches the folders. */
    public PreparedJob prepare(JobDef job, DatasetDef dataset) throws IOException, DefinitionException {
        List<Problem> problems = new ArrayList<>();
        GivenValues.check("jobs/" + job.name() + ".yaml", job, dataset, problems);
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return prepared(job, dataset, find(job));
    }

    private PreparedJob prepared(JobDef job, DatasetDef dataset, Finding finding) throws IOException {
        return new PreparedJob(
                job,
                dataset,
                finding,
                SharedHeader.find(job, dataset, finding.taken(), catalogue, opener),
                new Sources(workspace.folder(), roots, job.find()).telling(finding.taken()));
    }

    /** What is stored must be readable as what the columns are now. */
    private void storedTypes(DatasetDef dataset, List<Problem> problems) {
        String file = "datasets/" + dataset.name() + ".yaml";
        for (Catalogue.InUse used : catalogue.definitionsInUse(dataset.name())) {
            try {
                List<ColumnDef> stored = Definitions.dataset(file, used.text()).columns();
                for (ColumnDef now : dataset.columns()) {
                    stored.stream()
                            .filter(old ->
                                    old.name().equals(now.name()) || now.was().contains(old.name()))
                            .filter(old -> !Widening.possible(old.type(), now.type()))
                            .findFirst()
                            .ifPresent(old -> {
                                Problem problem = new Problem(
                                        file,
                                        0,
                                        0,
                                        "the column '" + now.name() + "' is declared as " + now.type()
                                                + ", but rows are stored with it as " + old.type()
                                                + ", which cannot be turned into that without reading the files again",
                                        "Load them anew: "
                                                + used.jobs().stream()
                                                        .sorted()
                                                        .map(job -> "hapster run " + job + " --again --all")
                                                        .collect(Collectors.joining(", "))
                                                + ". Or set the type back to " + old.type()
                                                + Widening.hint(old.type(), now.type()));
                                if (!problems.contains(problem)) {
                                    problems.add(problem);
                                }
                            });
                }
            } catch (DefinitionException unreadable) {
                LOG.warn(
                        "A stored definition of {} cannot be read any more: {}",
                        dataset.name(),
                        unreadable.getMessage());
            }
        }
    }

    /** Files may only be taken where the service may write, and where the job does not find them again. */
    private void targets(String file, JobDef job, List<Problem> problems) {
        for (Routing routing : List.of(
                job.handling().after().loaded(),
                job.handling().after().rejected(),
                job.handling().after().waiting())) {
            if (routing.target().isEmpty()) {
                continue;
            }
            Path folder = router.resolve(routing.target().get().example());
            if (roots.own(folder)) {
                problems.add(new Problem(
                        file,
                        0,
                        0,
                        "'after' takes files to " + routing.target().get()
                                + ", which belongs to Hapster's own store or definitions",
                        "Name another folder, such as done"));
                continue;
            }
            if (!roots.holdAsWritten(folder)) {
                problems.add(new Problem(
                        file,
                        0,
                        0,
                        "'after' takes files to " + routing.target().get()
                                + ", outside the folders that the service may use (" + roots + ")",
                        "Start the service with `--root FOLDER` for the folder, or name another"));
            }
            for (Place place : job.find()) {
                Path searched = router.resolve(place.folder());
                if (!folder.startsWith(searched) || folder.getNameCount() - searched.getNameCount() > place.depth()) {
                    continue;
                }
                String example = searched.relativize(folder.resolve("x.csv")).toString();
                boolean skipped = place.rules().stream()
                        .filter(FindRule.Skip.class::isInstance)
                        .anyMatch(rule ->
                                ((FindRule.Skip) rule).names().stream().anyMatch(name -> name.matches(example)));
                if (!skipped) {
                    problems.add(new Problem(
                            file,
                            0,
                            0,
                            "'after' takes files to " + routing.target().get()
                                    + ", where the job would find them again",
                            "Name a folder outside of " + place.folder() + ", or skip it: `skip: [\""
                                    + searched.relativize(folder).toString().split("/")[0] + "/**\"]`"));
                }
            }
        }
    }

    /** Says what would fail, all of it at once; reads no more of each file than its header and its first rows. */
    public CheckResult check(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        PreparedJob prepared;
        try {
            prepared = prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new CheckResult(wrong.problems(), List.of(), List.of(), Format.DELIMITED);
        }
        List<Candidate> taken = prepared.finding().taken();
        Map<String, Sample> samples = new HashMap<>();
        samples(
                        prepared,
                        taken.stream().filter(file -> file.waiting().isEmpty()).toList())
                .forEach(sample -> samples.put(sample.file().key(), sample));
        List<FileCheck> files = taken.stream()
                .map(file -> checked(prepared, file, samples.get(file.key())))
                .toList();
        List<String> warnings = warnings(prepared);
        warnings.addAll(orphans(prepared));
        return new CheckResult(List.of(), warnings, files, prepared.job().read().as());
    }

    /**
     * Jobs that have rows in the dataset and no file any more, where this one has loaded nothing yet: it may be one of
     * them under a new name, and would load its files once more.
     */
    private List<String> orphans(PreparedJob prepared) throws IOException {
        String name = prepared.job().name();
        Map<String, Long> rows = new TreeMap<>();
        catalogue.parts(prepared.dataset().name()).forEach(part -> rows.merge(part.job(), part.rows(), Long::sum));
        if (rows.containsKey(name)) {
            return List.of();
        }
        rows.keySet().removeAll(workspace.jobs());
        return rows.entrySet().stream()
                .map(gone -> "the job " + gone.getKey() + " has no file any more, and its "
                        + Reasons.grouped(gone.getValue()) + (gone.getValue() == 1 ? " row is" : " rows are") + " in "
                        + prepared.dataset().name() + ". If " + name
                        + " is that job under a new name, a run loads them a second time. hapster jobs rename "
                        + gone.getKey() + " " + name + " lets its history go on")
                .toList();
    }

    /** @param sample null where the file is not complete and was not looked at */
    private FileCheck checked(PreparedJob prepared, Candidate file, Sample sample) {
        List<String> notes = new ArrayList<>();
        file.waiting().ifPresent(waiting -> notes.add("would wait: it " + waiting.sentence()));
        if (sample == null) {
            return new FileCheck(
                    file.key(),
                    prepared.name(file),
                    file.size(),
                    Optional.empty(),
                    0,
                    0,
                    false,
                    List.of(),
                    notes,
                    router.prospect(prepared, file, Outcome.WAITING, clock.instant()));
        }
        sample.binding()
                .filter(binding -> sample.reason().isEmpty())
                .ifPresent(binding -> notes.addAll(FileOpening.notes(binding)));
        notes.addAll(sample.choices());
        return new FileCheck(
                file.key(),
                prepared.name(file),
                file.size(),
                sample.reason(),
                sample.rows(),
                sample.rejected(),
                sample.whole(),
                sample.suspects().entrySet().stream()
                        .map(one -> new CheckResult.Suspect(
                                one.getKey(),
                                one.getValue().rows(),
                                one.getValue().first(),
                                one.getValue().line()))
                        .toList(),
                notes,
                router.prospect(
                        prepared,
                        file,
                        sample.reason().isPresent() ? Outcome.REJECTED : Outcome.LOADED,
                        clock.instant()));
    }

    /** Looks at the beginning of files, several at once. */
    public List<Sample> samples(PreparedJob prepared, List<Candidate> files) throws IOException {
        List<Sample> all = new ArrayList<>();
        try {
            for (Future<Sample> one : workers.invokeAll(files.stream()
                    .<Callable<Sample>>map(file -> () -> Sample.of(prepared, file, opener))
                    .toList())) {
                all.add(one.get());
            }
            return all;
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("The service is shutting down", stopped);
        } catch (ExecutionException wrong) {
            throw new IOException("A file could not be looked at: " + wrong.getCause(), wrong.getCause());
        }
    }

    /** Puts the job's files together by their structure; reads no more of each than its header and its first rows. */
    public FitReport fit(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        PreparedJob prepared;
        try {
            prepared = prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new FitReport(wrong.problems(), List.of(), 0, 0, List.of());
        }
        List<Candidate> taken = prepared.finding().taken();
        List<Candidate> ready = taken.stream()
                .filter(file -> file.waiting().isEmpty() || file.waiting().get().young())
                .toList();
        return new Fit(prepared).report(samples(prepared, ready), taken.size() - ready.size());
    }

    /**
     * What the columns of some of a job's files hold. Every row is read, and nothing is written.
     *
     * @throws IOException where the machine fails
     */
    public FileProfile profile(PreparedJob prepared, List<Candidate> files) throws IOException {
        return FileProfile.of(prepared, files, opener);
    }

    /**
     * A look at a file that lies in a place, at an entry of an archive or at a sheet, as {@link Candidate#relative}
     * names it.
     *
     * @param rules how the job reads it
     * @return empty where there is no such file
     * @throws IOException with a sentence for people, where it cannot be shown
     */
    public Optional<Looked> peek(Place place, Read rules, String relative, long from, int count) throws IOException {
        Optional<Path> whole = finder.file(place, relative);
        if (whole.isPresent()) {
            return Optional.of(look(whole.get(), Optional.empty(), Optional.empty(), rules, from, count));
        }
        for (int mark = relative.indexOf('!'); mark > 0; mark = relative.indexOf('!', mark + 1)) {
            Optional<Path> file = finder.file(place, relative.substring(0, mark));
            if (file.isPresent()) {
                String inside = relative.substring(mark + 1);
                boolean entry = inside.startsWith("/");
                if (!entry) {
                    return Optional.of(look(file.get(), Optional.empty(), Optional.of(inside), rules, from, count));
                }
                String name = inside.substring(1);
                boolean isEntry = Archive.entries(roots.open(file.get())).stream()
                        .anyMatch(one -> one.name().equals(name));
                int sheet = isEntry ? -1 : name.lastIndexOf('!');
                return Optional.of(look(
                        file.get(),
                        Optional.of(sheet < 0 ? name : name.substring(0, sheet)),
                        sheet < 0 ? Optional.empty() : Optional.of(name.substring(sheet + 1)),
                        rules,
                        from,
                        count));
            }
        }
        return Optional.empty();
    }

    /** What was seen of a file. */
    public record Looked(Path path, long size, Peek content) {}

    private Looked look(Path path, Optional<String> entry, Optional<String> sheet, Read rules, long from, int count)
            throws IOException {
        try (SourceContent content = opener.content(path, entry, sheet)) {
            return new Looked(path, Files.size(path), Peek.of(content, entry.isEmpty(), rules, sheet, from, count));
        }
    }

    private static List<String> warnings(PreparedJob prepared) {
        List<String> warnings = new ArrayList<>();
        prepared.finding().troubles().forEach(trouble -> warnings.add(trouble.what() + ". " + trouble.hint()));
        if (prepared.finding().taken().isEmpty()) {
            int skipped = prepared.finding().skipped().size();
            warnings.add("no file is taken; "
                    + (skipped == 0
                            ? "the folders hold no files"
                            : skipped + " lie there and are skipped (hapster find "
                                    + prepared.job().name() + " --skipped)"));
        }
        return warnings;
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
            Optional<Candidate> file = present(prepared, entry);
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

    /** The file of an arrival: in its folder as long as it is the same file, or where the job took it. */
    private Optional<Candidate> present(PreparedJob prepared, LedgerEntry entry) {
        if (!entry.fate().isTaken()) {
            return prepared.finding().taken().stream()
                    .filter(file ->
                            prepared.sources().of(file).equals(entry.arrival().source()))
                    .findFirst();
        }
        return elsewhere(prepared, entry);
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

    /** Distinct values of a reason that a fixed rule is tried on, at most. */
    private static final int MOST_VALUES = 500;

    /** A file by its identity within the job: where a run found it, or where it was taken since. */
    private Optional<Candidate> present(PreparedJob prepared, String source) {
        Optional<Candidate> found = prepared.finding().taken().stream()
                .filter(file -> prepared.sources().of(file).equals(source))
                .findFirst();
        return found.isPresent()
                ? found
                : new JobLedger(catalogue.history(
                                prepared.dataset().name(),
                                Optional.of(prepared.job().name())))
                        .known(prepared.job().name(), source)
                        .flatMap(entry -> elsewhere(prepared, entry));
    }

    /**
     * What each step makes of a row of a file, whatever becomes of it.
     *
     * @param row which row of the file it is, counted from 1
     * @return empty where the file has no such row, or it has not been found yet
     */
    public Optional<Trace> trace(PreparedJob prepared, Candidate file, long row)
            throws IOException, FileRejectedException, InterruptedException {
        Tracing tracing = new Tracing(prepared, opener);
        return stages.at(
                prepared, file, row, (says, header, batch, at) -> tracing.of(file, says, header, batch, at, row));
    }

    /**
     * What each step makes of a row that a run rejected, by the rules as they are now.
     *
     * @param path of the file, as the run's rejects name it
     * @param source its identity within the job
     * @param row which row of the file it is, counted from 1
     * @param header the file's columns as they were then
     * @return empty where the run rejected no such row
     * @throws FileRejectedException where what is left of the file is not enough to tell
     */
    public Optional<Trace> trace(String jobName, long run, String path, String source, long row, List<String> header)
            throws IOException, DefinitionException, UnknownNameException, FileRejectedException {
        List<RejectStore.Reject> kept =
                rejects.read(run, reject -> reject.path().equals(path) && reject.row() == row, 0, 1);
        if (kept.isEmpty()) {
            return Optional.empty();
        }
        PreparedJob prepared = prepare(jobName, Map.of());
        return Optional.of(new Tracing(prepared, opener).of(present(prepared, source), kept.get(0), header));
    }

    /**
     * Changes to the definitions by which what a run rejected for a reason would fit. Counted is only what is still
     * rejected: not what was retried, replaced, undone or dismissed since.
     *
     * @param columnName the column concerned; empty for a reason of files, or of rows as a whole
     * @param sourceOf the identity of a file within the job, by the path under which the run's rejects name it
     */
    public Fixes mends(String jobName, long run, ReasonCode code, String columnName, UnaryOperator<String> sourceOf)
            throws IOException, DefinitionException, UnknownNameException {
        PreparedJob prepared = prepare(jobName, Map.of());
        Set<String> open = new JobLedger(catalogue.history(prepared.dataset().name(), Optional.of(jobName)))
                .current().stream()
                        .filter(LedgerEntry::isOpen)
                        .filter(entry -> entry.arrival().job().equals(jobName)
                                && (entry.arrival().entry() == run || entry.saidBy() == run))
                        .map(entry -> entry.arrival().source())
                        .collect(Collectors.toSet());
        if (code.level() == ReasonCode.Level.FILE) {
            return fileMends(prepared, run, code, open, sourceOf);
        }
        Optional<ColumnDef> column = prepared.dataset().column(columnName);
        Map<String, Long> values = new LinkedHashMap<>();
        Set<String> paths = new LinkedHashSet<>();
        rejects.read(
                run,
                reject -> {
                    if (reject.code().equals(code.code())
                            && reject.column().equals(columnName)
                            && open.contains(sourceOf.apply(reject.path()))
                            && (values.containsKey(reject.value()) || values.size() < MOST_VALUES)) {
                        values.merge(reject.value(), 1L, Long::sum);
                        paths.add(reject.path());
                    }
                    return false;
                },
                0,
                1);
        if (column.isEmpty()) {
            return new Fixes(
                    "row", values.values().stream().mapToLong(Long::longValue).sum(), 0, List.of());
        }
        Map<String, Long> unfit = new LinkedHashMap<>(values);
        unfit.keySet().removeIf(value -> Shaper.refuseConstant(column.get(), prepared.job(), value)
                .isEmpty());
        long left = unfit.values().stream().mapToLong(Long::longValue).sum();
        long passing = values.values().stream().mapToLong(Long::longValue).sum() - left;
        if (unfit.isEmpty()) {
            return new Fixes("row", 0, passing, List.of());
        }
        Optional<Candidate> file = paths.stream()
                .flatMap(path -> present(prepared, sourceOf.apply(path)).stream())
                .findFirst();
        Set<String> fitting =
                file.isPresent() ? new Tracing(prepared, opener).fitting(file.get(), column.get()) : Set.of();
        return new Fixes(
                "row",
                left,
                passing,
                new FixSearch(workspace, prepared.job(), prepared.dataset(), column.get(), unfit, fitting)
                        .propose(code));
    }

    private Fixes fileMends(
            PreparedJob prepared, long run, ReasonCode code, Set<String> open, UnaryOperator<String> sourceOf)
            throws IOException {
        Set<String> sources = new LinkedHashSet<>();
        rejects.read(
                run,
                reject -> {
                    if (reject.code().equals(code.code()) && open.contains(sourceOf.apply(reject.path()))) {
                        sources.add(sourceOf.apply(reject.path()));
                    }
                    return false;
                },
                0,
                1);
        return new FileFixSearch(workspace, prepared, opener)
                .propose(
                        code,
                        sources.stream()
                                .flatMap(source -> present(prepared, source).stream())
                                .toList());
    }

    private Optional<Candidate> elsewhere(PreparedJob prepared, LedgerEntry entry) {
        if (entry.place() < 1
                || entry.place() > prepared.job().find().size()
                || entry.lies().isEmpty()) {
            return Optional.empty();
        }
        String inside =
                entry.name().substring(entry.file().getFileName().toString().length());
        return finder.moved(
                prepared.job().find().get(entry.place() - 1),
                entry.place(),
                entry.file(),
                entry.lies().get(),
                inside,
                entry.fingerprint().size());
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
