package dev.hapster.core.run;

import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Limit;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.moment.Moment;
import dev.hapster.core.read.RecordReader;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.Catalogue.Commit;
import dev.hapster.core.run.FileLoader.Asked;
import dev.hapster.core.run.FileLoader.Attempt;
import dev.hapster.core.run.FileLoader.CancelledException;
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
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.atomic.AtomicReference;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.ReadWriteLock;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One run or trial, from the files that were found to its balance. Files are loaded side by side on the workers. Where each is decided by itself it is
 * committed by itself; otherwise all are held back, settled among each other, and committed at once.
 */
final class Execution {

    private static final Logger LOG = LoggerFactory.getLogger(Execution.class);

    /** A run waits for a young file no longer than this. */
    private static final Duration LONGEST_WAIT = Duration.ofSeconds(10);
    /** So many files that were dealt with are ticked off at once. */
    private static final int TICKED_AT_ONCE = 200;
    private static final int MOST_NOTED = 5;
    private static final int MOST_UNCOMMITTED = 32;

    /** What every run of a service shares. */
    record Means(PartStore parts, RejectStore rejects, Catalogue catalogue, Router router, ExecutorService workers, ExecutorService committers, Clock clock, Path scratch,
            UnaryOperator<RecordReader> watched) {
    }

    private final Means means;
    private final Prepared prepared;
    private final Handling handling;
    private final long run;
    private final boolean trial;
    private final boolean partial;
    private final Instant began;
    private final ReadWriteLock datasetLock;
    private final RunListener listener;
    private final BooleanSupplier cancelled;
    private final List<Candidate> files;
    private final Asked asked;
    private final Map<String, LedgerEntry> ledger;
    private final AtomicReference<String> failure = new AtomicReference<>();
    private final AtomicReference<String> stopped = new AtomicReference<>();
    private final AtomicLong bad = new AtomicLong();
    private final ConcurrentLinkedQueue<FileResult> results = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Attempt> held = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Route.Done> routed = new ConcurrentLinkedQueue<>();
    private final List<String> notes = new ArrayList<>();
    private final ConcurrentLinkedQueue<Published> published = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Future<?>> commits = new ConcurrentLinkedQueue<>();
    /** Loaded files that wait for the disk do not become ever more. */
    private final Semaphore waitingForDisk = new Semaphore(MOST_UNCOMMITTED);
    private FileLoader loader;

    /**
     * @param partial whether these are only some of the job's files, so that nothing follows from the absence of others
     * @param lock    of the dataset: shared by those who add to it, held alone by who must know all of it
     */
    Execution(Means means, Prepared prepared, long run, boolean trial, boolean partial, List<Candidate> files, Asked asked, ReadWriteLock lock, RunListener listener, BooleanSupplier cancelled) {
        this.means = means;
        this.prepared = prepared;
        handling = prepared.job().handling();
        this.run = run;
        this.trial = trial;
        this.partial = partial;
        this.files = files;
        this.asked = asked;
        datasetLock = lock;
        this.listener = listener;
        this.cancelled = cancelled;
        began = Instant.now(means.clock);
        ledger = means.catalogue.ledger(prepared.job().name());
    }

    private boolean isOver() {
        return failure.get() != null || stopped.get() != null || cancelled.getAsBoolean();
    }

    RunResult go() throws IOException {
        listener.found(files.size(), files.stream().mapToLong(Candidate::size).sum());
        if (handling.load() == Load.REPLACE && files.isEmpty() && !partial) {
            stopped.set("No file is taken, and `load: replace` would empty the dataset of all that this job loaded. Nothing was changed. If that is meant: hapster remove "
                    + prepared.dataset().name() + " --job " + prepared.job().name());
        }
        Map<Integer, FileResult> unfinished = unfinished();
        Map<Integer, Candidate> ready = new LinkedHashMap<>();
        for (int i = 0; i < files.size(); i++) {
            if (!unfinished.containsKey(i + 1)) {
                ready.put(i + 1, files.get(i));
            }
        }
        Families families = Families.of(means.catalogue.parts(prepared.dataset().name()), prepared.job().name());
        loader = new FileLoader(prepared, run, trial, asked, families, means.parts, means.rejects, means.scratch, means.clock, means.watched, listener, this::isOver);
        Copies copies = Copies.among(ready, ledger, file -> prepared.job().find().get(file.place() - 1).loadCopies(), means.scratch);
        await(submit(ready, copies));
        await(commits);
        waiting(unfinished);
        if (handling.settlesTogether()) {
            together();
        } else {
            dropHeld();
        }
        tick(1);
        List<FileResult> ordered = results.stream().sorted(Comparator.comparingInt(FileResult::ordinal)).toList();
        Balance balance = balance(ordered);
        boolean complete = !isOver();
        if (complete && !(balance.holds() && balance.notReached() == 0)) {
            failure.set("The run does not balance: " + balance);
        }
        RunState state = failure.get() != null ? RunState.FAILED : stopped.get() != null ? RunState.STOPPED : complete ? RunState.FINISHED : RunState.CANCELLED;
        addNotes(ordered);
        return new RunResult(state, Optional.ofNullable(failure.get()).or(() -> Optional.ofNullable(stopped.get())), ordered, balance, notes);
    }

    /** Sheets and entries of one file are committed at once where something is to be done with the file afterwards. */
    private List<Future<?>> submit(Map<Integer, Candidate> ready, Copies copies) {
        boolean grouped = !handling.settlesTogether() && !handling.after().isNothing() && !trial;
        Map<Path, List<Integer>> byFile = new HashMap<>();
        ready.forEach((ordinal, file) -> byFile.computeIfAbsent(file.path(), path -> new ArrayList<>()).add(ordinal));
        Map<Path, List<Attempt>> done = new HashMap<>();
        List<Future<?>> work = new ArrayList<>();
        ready.forEach((ordinal, file) -> work.add(means.workers.submit(() -> guarded(file, () -> {
            if (isOver()) {
                return;
            }
            Attempt attempt = loader.load(ordinal, file, Optional.ofNullable(ledger.get(file.key())), copies);
            count(attempt);
            if (handling.settlesTogether() || trial) {
                held.add(attempt);
                return;
            }
            List<Attempt> whole = List.of(attempt);
            if (grouped && byFile.get(file.path()).size() > 1) {
                synchronized (done) {
                    List<Attempt> group = done.computeIfAbsent(file.path(), path -> new ArrayList<>());
                    group.add(attempt);
                    whole = group.size() == byFile.get(file.path()).size() ? done.remove(file.path()) : List.of();
                }
                held.add(attempt);
            }
            if (!whole.isEmpty()) {
                held.removeAll(whole);
                commitLater(file, whole);
            }
        }))));
        return work;
    }

    /** To commit is to wait for the disk: many at once share a wait, and the workers go on with the next files. */
    private void commitLater(Candidate file, List<Attempt> whole) {
        waitingForDisk.acquireUninterruptibly();
        commits.add(means.committers.submit(() -> {
            try {
                guarded(file, () -> finish(whole));
            } finally {
                waitingForDisk.release();
            }
        }));
    }

    private interface Work {
        void run() throws RunFailedException, CancelledException, IOException;
    }

    private void guarded(Candidate file, Work work) {
        try {
            work.run();
        } catch (CancelledException cancel) {
            LOG.debug("{} was not finished: the run is over", file.name());
        } catch (RunFailedException | IOException wrong) {
            LOG.error("Run {} of {} failed", run, prepared.job().name(), wrong);
            failure.compareAndSet(null, wrong.getMessage());
        } catch (RuntimeException wrong) {
            LOG.error("Run {} of {} failed at {}", run, prepared.job().name(), file.path(), wrong);
            failure.compareAndSet(null, Reasons.runFailed("While " + file.name() + " was loaded", wrong));
        }
    }

    /** Counts a bad file, and stops the run where there are too many. */
    private void count(Attempt attempt) {
        if (attempt.result().outcome() != Outcome.REJECTED || trial) {
            return;
        }
        long count = bad.incrementAndGet();
        Optional<Limit> limit = handling.limits().runAt();
        if (limit.isPresent() && limit.get().reached(count, files.size())) {
            stopped.compareAndSet(null, count + " of " + files.size() + " files are rejected, and the job stops at " + limit.get().written() + ". "
                    + (handling.settlesTogether() ? "The dataset is as it was" : "What was loaded by then stays"));
        }
    }

    /** Makes the result of one file count, and does with it what the job says. */
    private void finish(List<Attempt> attempts) throws RunFailedException {
        List<FileResult> results = new ArrayList<>();
        for (Attempt attempt : attempts) {
            results.add(loader.publish(attempt));
        }
        published.add(new Published(results, means.router.plan(run, began, prepared, attempts.get(0).file(), attempts.get(0).known(), results)));
        for (Published one : commitPublished()) {
            one.results().forEach(this::done);
            if (one.route().isPresent()) {
                routed.add(means.router.execute(one.route().get()));
                tick(TICKED_AT_ONCE);
            }
        }
    }

    /** A file (with all its sheets or entries) of which everything is on disk, and nothing counts yet. */
    private record Published(List<FileResult> results, Optional<Route> route) {
    }

    /** Makes count what has come together while others committed, so that many small files share a transaction. What one thread leaves, another one has taken. */
    private List<Published> commitPublished() {
        synchronized (published) {
            List<Published> ready = new ArrayList<>();
            for (Published one = published.poll(); one != null; one = published.poll()) {
                ready.add(one);
            }
            List<FileResult> news = new ArrayList<>();
            List<Route> routes = new ArrayList<>();
            for (Published one : ready) {
                if (one.route().isPresent() || one.results().stream().anyMatch(this::isNews)) {
                    news.addAll(one.results());
                    one.route().ifPresent(routes::add);
                }
            }
            if (!news.isEmpty()) {
                Lock lock = datasetLock.readLock();
                lock.lock();
                try {
                    commit(news, List.of(), Set.of(), true, routes);
                } finally {
                    lock.unlock();
                }
            }
            return ready;
        }
    }

    /** Whether the catalogue must learn of it. A file that looks just as it did tells nothing, so that a run over thousands of them is quick. */
    private boolean isNews(FileResult result) {
        LedgerEntry known = ledger.get(result.path());
        return result.sinceRun() == 0 || !known.fingerprint().looksLike(result.fingerprint()) || !known.fingerprint().settledAt(known.readAt());
    }

    private void done(FileResult result) {
        results.add(result);
        listener.fileDone(result);
    }

    private void commit(List<FileResult> published, List<Catalogue.Rewrite> rewrites, Set<String> gone, boolean entered, List<Route> routes) {
        Moment.BEFORE_COMMIT.reached();
        means.catalogue.commit(new Commit(run, prepared.job(), prepared.dataset(), prepared.rules(), Instant.now(means.clock), published, rewrites, gone, entered, routes));
        Moment.COMMITTED.reached();
    }

    private void waiting(Map<Integer, FileResult> unfinished) {
        if (isOver() && handling.settlesTogether()) {
            unfinished.values().forEach(this::done);
            return;
        }
        List<Route> routes = new ArrayList<>();
        if (!trial && !isOver()) {
            unfinished.values().forEach(result -> means.router.plan(run, began, prepared, files.get(result.ordinal() - 1), Optional.empty(), List.of(result)).ifPresent(routes::add));
        }
        if (!trial && !unfinished.isEmpty()) {
            commit(List.copyOf(unfinished.values()), List.of(), Set.of(), true, routes);
        }
        unfinished.values().forEach(this::done);
        routes.forEach(route -> routed.add(means.router.execute(route)));
    }

    /** Nothing of files whose other sheets or entries were not reached is kept; in a trial nothing at all. */
    private void dropHeld() throws IOException {
        for (Attempt attempt : held) {
            quietly(attempt);
            if (trial) {
                done(attempt.result());
            }
        }
    }

    private void quietly(Attempt attempt) {
        try {
            loader.drop(attempt);
        } catch (RunFailedException wrong) {
            LOG.warn("Left for the next start: {}", wrong.getMessage());
        }
    }

    /** Settles all files among each other and makes all of them count at once, or none. */
    private void together() throws IOException {
        List<Attempt> attempts = held.stream().sorted(Comparator.comparingInt(attempt -> attempt.result().ordinal())).toList();
        List<FileResult> published = new ArrayList<>();
        List<Catalogue.Rewrite> rewrites = new ArrayList<>();
        Lock lock = datasetLock.writeLock();
        lock.lock();
        try {
            List<Part> stored = stays(attempts);
            if (!isOver() && handling.acrossFiles()) {
                Settling.Settled settled = new Settling(prepared, run, loader, means.parts, means.scratch).settle(attempts, stored, trial);
                attempts = settled.attempts();
                rewrites.addAll(settled.rewrites());
                notes.addAll(settled.notes());
            }
            if (trial || isOver()) {
                undecided(attempts);
                return;
            }
            List<Route> routes = new ArrayList<>();
            for (Attempt attempt : attempts) {
                published.add(loader.publish(attempt));
            }
            Map<Path, List<FileResult>> byFile = new LinkedHashMap<>();
            for (int i = 0; i < attempts.size(); i++) {
                byFile.computeIfAbsent(attempts.get(i).file().path(), path -> new ArrayList<>()).add(published.get(i));
            }
            byFile.forEach((path, ofFile) -> means.router.plan(run, began, prepared, files.get(ofFile.get(0).ordinal() - 1), Optional.ofNullable(ledger.get(ofFile.get(0).path())), ofFile).ifPresent(routes::add));
            Set<String> gone = gone(published);
            List<FileResult> news = published.stream().filter(this::isNews).toList();
            if (!news.isEmpty() || !gone.isEmpty() || !routes.isEmpty()) {
                commit(news, rewrites, gone, true, routes);
            }
            published.forEach(this::done);
            for (Route route : routes) {
                routed.add(means.router.execute(route));
                tick(TICKED_AT_ONCE);
            }
        } catch (RunFailedException | CancelledException | IOException wrong) {
            LOG.error("Run {} of {} failed", run, prepared.job().name(), wrong);
            if (!(wrong instanceof CancelledException)) {
                failure.compareAndSet(null, wrong.getMessage());
            }
            attempts.forEach(this::quietly);
            dropPublished(published, rewrites);
        } catch (RuntimeException wrong) {
            LOG.error("Run {} of {} failed", run, prepared.job().name(), wrong);
            failure.compareAndSet(null, Reasons.runFailed("While the run was committed", wrong));
            dropPublished(published, rewrites);
        } finally {
            lock.unlock();
        }
    }

    private void dropPublished(List<FileResult> published, List<Catalogue.Rewrite> rewrites) throws IOException {
        Set<String> counting = new HashSet<>();
        means.catalogue.parts(prepared.dataset().name()).forEach(part -> counting.add(part.name()));
        List<String> names = new ArrayList<>(published.stream().flatMap(result -> result.part().stream()).toList());
        rewrites.forEach(rewrite -> names.add(rewrite.part()));
        for (String name : names) {
            if (!counting.contains(name)) {
                means.parts.drop(name);
            }
        }
    }

    /** Of a run that comes to nothing, what was rejected is told nevertheless; of a trial everything. */
    private void undecided(List<Attempt> attempts) {
        attempts.forEach(this::quietly);
        List<FileResult> told = attempts.stream().map(Attempt::result).filter(result -> trial || result.outcome() == Outcome.REJECTED).toList();
        if (!trial && !told.isEmpty()) {
            commit(told, List.of(), Set.of(), false, List.of());
        }
        told.forEach(this::done);
    }

    /** Parts of the dataset whose rows stay, whatever the files of this run bring. */
    private List<Part> stays(List<Attempt> attempts) {
        Set<String> replaced = new HashSet<>();
        attempts.stream().filter(attempt -> attempt.staged().isPresent() && attempt.result().instead() == FileResult.Instead.ALL).forEach(attempt -> replaced.add(attempt.result().path()));
        List<FileResult> all = attempts.stream().map(Attempt::result).toList();
        Set<String> gone = gone(all);
        String job = prepared.job().name();
        return means.catalogue.parts(prepared.dataset().name()).stream().filter(part -> !part.job().equals(job) || !replaced.contains(part.path()) && !gone.contains(part.path())).toList();
    }

    /** Paths of which `load: replace` takes the rows out. */
    private Set<String> gone(List<FileResult> all) {
        if (handling.load() != Load.REPLACE || partial) {
            return Set.of();
        }
        Set<String> stay = new HashSet<>();
        all.stream().filter(result -> result.outcome() != Outcome.REJECTED).forEach(result -> stay.add(result.path()));
        results.forEach(result -> stay.add(result.path()));
        Set<String> gone = new HashSet<>();
        means.catalogue.parts(prepared.dataset().name()).stream().filter(part -> part.job().equals(prepared.job().name()) && !stay.contains(part.path())).forEach(part -> gone.add(part.path()));
        return gone;
    }

    private void tick(int atLeast) {
        if (routed.size() < atLeast) {
            return;
        }
        List<Route.Done> done = new ArrayList<>();
        for (Route.Done one = routed.poll(); one != null; one = routed.poll()) {
            done.add(one);
        }
        if (!done.isEmpty()) {
            means.catalogue.routed(done);
            Moment.ROUTED.reached();
            synchronized (notes) {
                done.forEach(one -> one.problem().or(one::note).ifPresent(notes::add));
            }
        }
    }

    /**
     * The results of files that are not complete. Those written only just now are given the time that their place declares, where that is
     * short, to be seen standing still.
     */
    private Map<Integer, FileResult> unfinished() {
        Map<Integer, FileResult> unfinished = new TreeMap<>();
        Map<Integer, Candidate> young = new TreeMap<>();
        Duration wait = Duration.ZERO;
        for (int i = 0; i < files.size(); i++) {
            Candidate file = files.get(i);
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
        if (!young.isEmpty() && pause(wait)) {
            young.forEach((ordinal, file) -> {
                if (!stoodStill(file)) {
                    unfinished.put(ordinal, FileLoader.waiting(ordinal, file, "is still being written: it changed within the last moments"));
                }
            });
        }
        return unfinished;
    }

    private boolean pause(Duration wait) {
        long end = System.nanoTime() + wait.toNanos();
        try {
            while (System.nanoTime() < end && !cancelled.getAsBoolean()) {
                Thread.sleep(Math.max(1, Math.min(100, (end - System.nanoTime()) / 1_000_000)));
            }
            return true;
        } catch (InterruptedException interrupt) {
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

    private void await(Iterable<Future<?>> work) {
        boolean interrupted = false;
        for (Future<?> one : work) {
            try {
                one.get();
            } catch (InterruptedException interrupt) {
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

    private Balance balance(List<FileResult> ordered) throws IOException {
        List<Part> stored = means.catalogue.parts(prepared.dataset().name());
        long counted = 0;
        for (Part part : stored) {
            counted += means.parts.rows(part.name());
        }
        return Balance.of(files.size(), ordered, counted, stored.stream().mapToLong(Part::rows).sum(), stored.size());
    }

    private void addNotes(List<FileResult> ordered) {
        prepared.finding().troubles().forEach(trouble -> notes.add(trouble.what() + ". " + trouble.hint()));
        List<LedgerEntry> unchanged = ordered.stream().filter(result -> result.outcome() == Outcome.UNCHANGED).map(result -> ledger.get(result.path())).toList();
        long open = unchanged.stream().mapToLong(LedgerEntry::rejected).sum();
        if (open > 0) {
            notes.add(open + (open == 1 ? " row" : " rows") + " of unchanged files, rejected in earlier runs, " + (open == 1 ? "is" : "are")
                    + " still not in the dataset (hapster rejects " + prepared.job().name() + ")");
        }
        long older = unchanged.stream().filter(entry -> !entry.rules().equals(prepared.rules())).count();
        if (older > 0) {
            notes.add(older + (older == 1 ? " unchanged file was" : " unchanged files were") + " loaded by earlier rules of this job (hapster run "
                    + prepared.job().name() + " --again --all loads everything anew)");
        }
        long removed = unchanged.stream().filter(entry -> !entry.hasPart()).count();
        if (removed > 0) {
            notes.add(removed + (removed == 1 ? " unchanged file has" : " unchanged files have") + " no rows in the dataset, since they were removed (hapster run " + prepared.job().name() + " --again FILE loads one anew)");
        }
        unusual(ordered);
    }

    /** Points out files with far more or fewer rows than their like. */
    private void unusual(List<FileResult> ordered) {
        List<Part> known = new ArrayList<>(means.catalogue.parts(prepared.dataset().name()));
        if (trial) {
            Set<String> tried = new HashSet<>();
            ordered.stream().filter(result -> result.loaded() > 0).forEach(result -> tried.add(result.path()));
            known.removeIf(part -> tried.contains(part.path()));
            ordered.stream().filter(result -> result.loaded() > 0).forEach(result -> known.add(new Part("", prepared.dataset().name(), prepared.job().name(), result.path(), result.loaded(), 0)));
        }
        Families families = Families.of(known, prepared.job().name());
        List<String> odd = new ArrayList<>();
        for (FileResult result : ordered) {
            boolean loaded = result.outcome() == Outcome.LOADED || result.outcome() == Outcome.REPLACED;
            if (loaded && !asked.only().containsKey(result.path())) {
                families.judge(result.path(), result.loaded()).ifPresent(unusual -> odd.add(result.name() + " brought " + Reasons.grouped(result.loaded()) + (result.loaded() == 1 ? " row" : " rows")
                        + ", where " + unusual.others() + " files of its kind have about " + Reasons.grouped(unusual.usual())));
            }
        }
        odd.stream().limit(MOST_NOTED).forEach(notes::add);
        if (odd.size() > MOST_NOTED) {
            notes.add((odd.size() - MOST_NOTED) + " more files brought an unusual number of rows");
        }
    }
}
