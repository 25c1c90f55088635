package dev.hapster.core.run;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.definition.Definitions;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Read;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.Problem;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.NameLists;
import dev.hapster.core.find.Roots;
import dev.hapster.core.read.Archive;
import dev.hapster.core.read.NameColumn;
import dev.hapster.core.read.Peek;
import dev.hapster.core.read.RecordReader;
import dev.hapster.core.reason.FileRefusedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.CheckResult.FileCheck;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.RejectStore;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Finds, checks, tries and runs jobs. Files are loaded side by side on the workers given; each is committed by itself, so
 * that a run which stops half-way leaves whole files behind and nothing else. Thread-safe.
 */
public final class Runner {

    private static final Logger LOG = LoggerFactory.getLogger(Runner.class);

    /** A run waits for a young file no longer than this. */
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(10);

    /** Rows of a nested file that a check looks at to learn its columns. */
    static final long MOST_LOOKED = 1_000;

    private final Workspace workspace;
    private final Finder finder;
    private final PartStore parts;
    private final RejectStore rejects;
    private final Catalogue catalogue;
    private final ExecutorService workers;
    private final Clock clock;
    private final Path scratch;

    /** @param workers the threads on which files are loaded, shared by all runs */
    public Runner(Workspace workspace, Roots roots, PartStore parts, RejectStore rejects, Catalogue catalogue, ExecutorService workers,
            Clock clock) {
        this.workspace = workspace;
        scratch = parts.staging();
        this.finder = new Finder(workspace.folder(), roots, Runner::names, new InsidesOfFiles(scratch), clock);
        this.parts = parts;
        this.rejects = rejects;
        this.catalogue = catalogue;
        this.workers = workers;
        this.clock = clock;
    }

    private static List<NameLists.Listed> names(Path file, NameList list) throws IOException {
        List<NameLists.Listed> names = new ArrayList<>();
        NameColumn.read(file, list, (line, name) -> names.add(new NameLists.Listed(line, name)));
        return names;
    }

    /** Looks into folders; knows nothing of runs. */
    public Finder finder() {
        return finder;
    }

    /** What the job's places hold now. */
    public Finding find(JobDef job) {
        return finder.find(job.find());
    }

    /**
     * Reads the definitions and searches the folders.
     *
     * @param call values given for this run alone, by name
     * @throws DefinitionException with everything that keeps the job from running
     */
    public Prepared prepare(String jobName, Map<String, String> call) throws IOException, DefinitionException, UnknownNameException {
        JobDef job = workspace.job(jobName, call);
        DatasetDef dataset = workspace.dataset(job.into());
        String file = "jobs/" + jobName + ".yaml";
        List<Problem> problems = new ArrayList<>();
        constants(file, job, dataset, problems);
        storedTypes(dataset, problems);
        Finding finding = find(job);
        for (Trouble trouble : finding.troubles()) {
            if (trouble.grave()) {
                problems.add(new Problem(file, 0, 0, trouble.what(), trouble.hint()));
            }
        }
        if (!problems.isEmpty()) {
            throw new DefinitionException(problems);
        }
        return new Prepared(job, dataset, finding, SharedHeader.find(job, dataset, finding.taken(), scratch));
    }

    private static void constants(String file, JobDef job, DatasetDef dataset, List<Problem> problems) {
        for (ColumnDef column : dataset.columns()) {
            if (job.map().get(column.name()) instanceof Mapping.Constant constant) {
                Shaper.refuseConstant(column, job, constant.value()).ifPresent(reason -> problems.add(new Problem(file, 0, 0,
                        "the constant for " + column.name() + ": " + reason.sentence(), "Correct `value`")));
            }
        }
    }

    /** Parts are never rewritten: a column that has parts keeps its type. */
    private void storedTypes(DatasetDef dataset, List<Problem> problems) {
        String file = "datasets/" + dataset.name() + ".yaml";
        for (String text : catalogue.definitionsInUse(dataset.name())) {
            try {
                for (ColumnDef old : Definitions.dataset(file, text).columns()) {
                    dataset.column(old.name()).filter(now -> !now.type().equals(old.type())).ifPresent(now -> {
                        Problem problem = new Problem(file, 0, 0, "the column '" + now.name() + "' is declared as " + now.type()
                                + ", but rows are stored with it as " + old.type(), "Set it back to " + old.type() + ", or give the new type a new column name");
                        if (!problems.contains(problem)) {
                            problems.add(problem);
                        }
                    });
                }
            } catch (DefinitionException unreadable) {
                LOG.warn("A stored definition of {} cannot be read any more: {}", dataset.name(), unreadable.getMessage());
            }
        }
    }

    /** Says what would fail, all of it at once; reads no more of each file than its first lines. */
    public CheckResult check(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        Prepared prepared;
        try {
            prepared = prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new CheckResult(wrong.problems(), List.of(), List.of());
        }
        List<Candidate> taken = prepared.finding().taken();
        List<FileCheck> files = new ArrayList<>();
        for (Candidate file : taken) {
            List<String> notes = new ArrayList<>();
            Optional<Reason> reason = file.waiting().isPresent() ? Optional.empty() : look(prepared, file, notes);
            file.waiting().ifPresent(waiting -> notes.add("would wait: it " + waiting.sentence()));
            files.add(new FileCheck(file.key(), file.name(), file.size(), reason, notes));
        }
        return new CheckResult(List.of(), warnings(prepared), files);
    }

    private Optional<Reason> look(Prepared prepared, Candidate file, List<String> notes) throws IOException {
        try (SourceContent content = new SourceContent(file, scratch); RecordReader reader = FileLoader.open(prepared, file, content, MOST_LOOKED)) {
            Binding binding = FileLoader.bind(prepared, file, reader.header(), reader);
            notes.addAll(FileLoader.notes(binding));
            return Optional.empty();
        } catch (FileRefusedException wrong) {
            return Optional.of(wrong.reason());
        } catch (SourceStream.SourceException wrong) {
            return Optional.of(wrong.reason());
        }
    }

    /** Puts the job's files together by their structure; reads no more of each than its header and its first rows. */
    public FitReport fit(String jobName, Map<String, String> call) throws IOException, UnknownNameException {
        Prepared prepared;
        try {
            prepared = prepare(jobName, call);
        } catch (DefinitionException wrong) {
            return new FitReport(wrong.problems(), List.of(), 0, 0, List.of());
        }
        List<Candidate> taken = prepared.finding().taken();
        List<Candidate> ready = taken.stream().filter(file -> file.waiting().isEmpty() || file.waiting().get().young()).toList();
        Fit fit = new Fit(prepared, scratch);
        List<Fit.Structure> all = new ArrayList<>();
        try {
            for (Future<Fit.Structure> one : workers.invokeAll(ready.stream().<Callable<Fit.Structure>>map(file -> () -> fit.look(file)).toList())) {
                all.add(one.get());
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new IOException("The service is shutting down", stopped);
        } catch (ExecutionException wrong) {
            throw new IOException("A file could not be looked at: " + wrong.getCause(), wrong.getCause());
        }
        return fit.report(all, taken.size() - ready.size());
    }

    /**
     * A look at a file that lies in a place, at an entry of an archive or at a sheet, as {@link Candidate#relative} names it.
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
                boolean isEntry = Archive.entries(file.get()).stream().anyMatch(one -> one.name().equals(name));
                int sheet = isEntry ? -1 : name.lastIndexOf('!');
                return Optional.of(look(file.get(), Optional.of(sheet < 0 ? name : name.substring(0, sheet)), sheet < 0 ? Optional.empty() : Optional.of(name.substring(sheet + 1)), rules, from, count));
            }
        }
        return Optional.empty();
    }

    /** What was seen of a file. */
    public record Looked(Path path, long size, Peek content) {
    }

    private Looked look(Path path, Optional<String> entry, Optional<String> sheet, Read rules, long from, int count) throws IOException {
        try (SourceContent content = new SourceContent(path, entry, sheet, scratch)) {
            return new Looked(path, Files.size(path), Peek.of(content, entry.isEmpty() ? Optional.of(path) : Optional.empty(), rules, sheet, from, count));
        }
    }

    private static List<String> warnings(Prepared prepared) {
        List<String> warnings = new ArrayList<>();
        prepared.finding().troubles().forEach(trouble -> warnings.add(trouble.what() + ". " + trouble.hint()));
        if (prepared.finding().taken().isEmpty()) {
            int left = prepared.finding().left().size();
            warnings.add("no file is taken; " + (left == 0 ? "the folders hold no files" : left + " lie there and are left out (hapster find " + prepared.job().name() + " --left)"));
        }
        return warnings;
    }

    /**
     * Everything that a run does, with nothing written.
     *
     * @param again whether unchanged files are tried too
     */
    public RunResult trial(Prepared prepared, boolean again, RunListener listener, BooleanSupplier cancelled) throws IOException {
        return execute(prepared, 0, true, again, listener, cancelled);
    }

    /**
     * Loads what is new or changed.
     *
     * @param run   its number, under which the catalogue knows it
     * @param again whether unchanged files are loaded anew too
     */
    public RunResult run(Prepared prepared, long run, boolean again, RunListener listener, BooleanSupplier cancelled) throws IOException {
        return execute(prepared, run, false, again, listener, cancelled);
    }

    private RunResult execute(Prepared prepared, long run, boolean trial, boolean again, RunListener listener, BooleanSupplier cancelled)
            throws IOException {
        List<Candidate> taken = prepared.finding().taken();
        listener.found(taken.size(), taken.stream().mapToLong(Candidate::size).sum());
        Map<Integer, FileResult> unfinished = unfinished(prepared, taken, cancelled);
        Map<Integer, Candidate> ready = new LinkedHashMap<>();
        for (int i = 0; i < taken.size(); i++) {
            if (!unfinished.containsKey(i + 1)) {
                ready.put(i + 1, taken.get(i));
            }
        }
        Map<String, LedgerEntry> ledger = catalogue.ledger(prepared.job().name());
        AtomicReference<String> failure = new AtomicReference<>();
        BooleanSupplier stop = () -> failure.get() != null || cancelled.getAsBoolean();
        FileLoader loader = new FileLoader(prepared, run, trial, again, parts, rejects, scratch, clock, listener, stop);
        Collection<FileResult> results = new ConcurrentLinkedQueue<>();
        Collection<FileResult> unread = new ConcurrentLinkedQueue<>();
        Copies copies = Copies.among(ready, ledger, file -> prepared.job().find().get(file.place() - 1).loadCopies(), scratch);
        results.addAll(unfinished.values());
        unread.addAll(unfinished.values());
        unfinished.values().forEach(listener::fileDone);
        List<Future<?>> work = new ArrayList<>();
        ready.forEach((ordinal, file) -> work.add(workers.submit(() -> {
                if (stop.getAsBoolean()) {
                    return;
                }
                try {
                    FileResult result = loader.load(ordinal, file, Optional.ofNullable(ledger.get(file.key())), copies);
                    if (result.sinceRun() > 0) {
                        unread.add(result);
                    } else {
                        commit(trial, prepared, run, List.of(result));
                    }
                    results.add(result);
                    listener.fileDone(result);
                } catch (FileLoader.CancelledException cancel) {
                    LOG.debug("{} was not finished: the run was cancelled", file.name());
                } catch (RunFailedException wrong) {
                    LOG.error("Run {} of {} failed", run, prepared.job().name(), wrong);
                    failure.compareAndSet(null, wrong.getMessage());
                } catch (RuntimeException wrong) {
                    LOG.error("Run {} of {} failed at {}", run, prepared.job().name(), file.path(), wrong);
                    failure.compareAndSet(null, "While " + file.name() + " was loaded: " + wrong);
                }
            })));
        await(work, failure);
        commit(trial, prepared, run, List.copyOf(unread));
        List<FileResult> ordered = results.stream().sorted(Comparator.comparingInt(FileResult::ordinal)).toList();
        Balance balance = balance(prepared, taken.size(), ordered);
        boolean complete = failure.get() == null && !cancelled.getAsBoolean();
        if (complete && !(balance.holds() && balance.notReached() == 0)) {
            failure.set("The run does not balance: " + balance);
        }
        RunState state = failure.get() != null ? RunState.FAILED : complete ? RunState.FINISHED : RunState.CANCELLED;
        return new RunResult(state, Optional.ofNullable(failure.get()), ordered, balance, notes(prepared, ordered, ledger));
    }

    /**
     * The results of files that are not complete. Those written only just now are given the time that their place declares, where that is
     * short, to be seen standing still.
     */
    private Map<Integer, FileResult> unfinished(Prepared prepared, List<Candidate> taken, BooleanSupplier cancelled) {
        Map<Integer, FileResult> unfinished = new TreeMap<>();
        Map<Integer, Candidate> young = new TreeMap<>();
        Duration wait = Duration.ZERO;
        for (int i = 0; i < taken.size(); i++) {
            Candidate file = taken.get(i);
            if (file.waiting().isEmpty()) {
                continue;
            }
            Duration settle = prepared.job().find().get(file.place() - 1).arrival().settle();
            if (file.waiting().get().young() && settle.compareTo(LONGEST_WAIT) <= 0) {
                young.put(i + 1, file);
                wait = settle.compareTo(wait) > 0 ? settle : wait;
            } else {
                unfinished.put(i + 1, FileLoader.waiting(i + 1, file, file.waiting().get().sentence()));
            }
        }
        if (!young.isEmpty() && pause(wait, cancelled)) {
            young.forEach((ordinal, file) -> {
                if (!stoodStill(file)) {
                    unfinished.put(ordinal, FileLoader.waiting(ordinal, file, "is still being written: it changed within the last moments"));
                }
            });
        }
        return unfinished;
    }

    private static boolean pause(Duration wait, BooleanSupplier cancelled) {
        long end = System.nanoTime() + wait.toNanos();
        try {
            while (System.nanoTime() < end && !cancelled.getAsBoolean()) {
                Thread.sleep(Math.max(1, Math.min(100, (end - System.nanoTime()) / 1_000_000)));
            }
            return true;
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    private static boolean stoodStill(Candidate file) {
        try {
            BasicFileAttributes now = Files.readAttributes(file.path(), BasicFileAttributes.class);
            return now.size() == file.size() && now.lastModifiedTime().toInstant().equals(file.modified());
        } catch (IOException gone) {
            return true; // loading it will meet the same, and say so
        }
    }

    private static void await(List<Future<?>> work, AtomicReference<String> failure) {
        boolean interrupted = false;
        for (Future<?> one : work) {
            try {
                one.get();
            } catch (InterruptedException stopped) {
                interrupted = true;
                failure.compareAndSet(null, "The service is shutting down");
            } catch (ExecutionException wrong) {
                LOG.error("A file could not be dealt with", wrong.getCause());
                failure.compareAndSet(null, "An unexpected error: " + wrong.getCause());
            }
        }
        if (interrupted) {
            Thread.currentThread().interrupt();
        }
    }

    private void commit(boolean trial, Prepared prepared, long run, List<FileResult> files) {
        if (!trial && !files.isEmpty()) {
            catalogue.commit(run, prepared.job(), prepared.dataset(), prepared.rules(), Instant.now(clock), files);
        }
    }

    private Balance balance(Prepared prepared, long found, List<FileResult> results) throws IOException {
        List<Part> stored = catalogue.parts(prepared.dataset().name());
        long counted = 0;
        for (Part part : stored) {
            counted += parts.rows(part.name());
        }
        return Balance.of(found, results, counted, stored.stream().mapToLong(Part::rows).sum(), stored.size());
    }

    private static List<String> notes(Prepared prepared, List<FileResult> results, Map<String, LedgerEntry> ledger) {
        List<String> notes = new ArrayList<>();
        prepared.finding().troubles().forEach(trouble -> notes.add(trouble.what() + ". " + trouble.hint()));
        String rules = prepared.rules();
        List<LedgerEntry> unchanged = results.stream().filter(result -> result.outcome() == Outcome.UNCHANGED)
                .map(result -> ledger.get(result.path())).toList();
        long open = unchanged.stream().mapToLong(LedgerEntry::rejected).sum();
        if (open > 0) {
            notes.add(open + (open == 1 ? " row" : " rows") + " of unchanged files, rejected in earlier runs, " + (open == 1 ? "is" : "are")
                    + " still not in the dataset (hapster rejects " + prepared.job().name() + ")");
        }
        long older = unchanged.stream().filter(entry -> !entry.rules().equals(rules)).count();
        if (older > 0) {
            notes.add(older + (older == 1 ? " unchanged file was" : " unchanged files were") + " loaded by earlier rules of this job (hapster run "
                    + prepared.job().name() + " --again loads everything anew)");
        }
        return notes;
    }
}
