package dev.hapster.core.run;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Look;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Limit;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.moment.Moment;
import dev.hapster.core.read.RecordReader;
import dev.hapster.core.reason.FileRefusedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.Catalogue.Commit;
import dev.hapster.core.run.Router.Decided;
import dev.hapster.core.run.Router.Planned;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.RejectStore;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.UUID;
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
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One run or trial, from the files that were found to its balance: decide, read, judge, store, commit. Files are dealt with side by side on the workers. Where each can be
 * judged by itself it is committed by itself; files that may be copies of others come after these, and are judged together; and where everything depends on everything,
 * all are held back and committed at once.
 */
final class Execution {

    private static final Logger LOG = LoggerFactory.getLogger(Execution.class);

    /** So many files that were dealt with are ticked off at once. */
    private static final int TICKED_AT_ONCE = 200;
    private static final int MOST_UNCOMMITTED = 32;

    /**
     * What every run of a service shares.
     *
     * @param desks names of those desks on which something is in work; safe for several threads
     */
    record Services(PartStore parts, RejectStore rejects, Catalogue catalogue, Router router, ExecutorService workers, ExecutorService committers, Clock clock, UnaryOperator<RecordReader> watched,
            Set<String> desks) {
    }

    private final Services services;
    private final Prepared prepared;
    private final Handling handling;
    private final long run;
    private final boolean dry;
    private final Instant began;
    private final ReadWriteLock datasetLock;
    private final RunListener listener;
    private final BooleanSupplier cancelled;
    private final List<Candidate> files;
    private final Asked asked;
    private final JobLedger ledger;
    private final boolean comparing;
    private final CommitPolicy policy;
    private final AtomicReference<String> failure = new AtomicReference<>();
    private final AtomicReference<String> stopped = new AtomicReference<>();
    private final AtomicLong bad = new AtomicLong();
    private final AtomicLong outdated = new AtomicLong();
    private final ConcurrentLinkedQueue<FileResult> results = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Attempt> held = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Route.Done> routed = new ConcurrentLinkedQueue<>();
    private final List<String> notes = new ArrayList<>();
    private final ConcurrentLinkedQueue<Published> published = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Future<?>> commits = new ConcurrentLinkedQueue<>();
    /** Loaded files that wait for the disk do not become ever more. */
    private final Semaphore waitingForDisk = new Semaphore(MOST_UNCOMMITTED);
    private FileLoader loader;
    private Decider decider;

    /**
     * @param run  its number; 0 for a trial
     * @param lock of the dataset: shared by those who add to it, held alone by who must know all of it
     */
    Execution(Services services, Prepared prepared, long run, List<Candidate> files, Asked asked, ReadWriteLock lock, RunListener listener, BooleanSupplier cancelled) {
        this.services = services;
        this.prepared = prepared;
        handling = prepared.job().handling();
        this.run = run;
        dry = run == 0;
        this.files = files;
        this.asked = asked;
        datasetLock = lock;
        this.listener = listener;
        this.cancelled = cancelled;
        began = Instant.now(services.clock);
        ledger = new JobLedger(services.catalogue.history(prepared.dataset().name(), Optional.of(prepared.job().name())));
        comparing = services.catalogue.comparesRows(prepared.dataset().name());
        policy = CommitPolicy.of(handling, dry, comparing);
    }

    private boolean isOver() {
        return failure.get() != null || stopped.get() != null || cancelled.getAsBoolean();
    }

    RunResult execute() throws IOException {
        String name = dry ? "trial-" + UUID.randomUUID() : "run-" + run;
        services.desks.add(name);
        Path desk = services.parts.desk(name);
        try {
            Files.createDirectory(desk);
        } catch (IOException unwritable) {
            LOG.warn("{} cannot be made; whatever needs it will say so", desk, unwritable);
        }
        try {
            return execute(desk);
        } finally {
            services.desks.remove(name);
            try {
                services.parts.clear(desk, other -> !services.desks.contains(other));
            } catch (IOException left) {
                LOG.warn("What run {} did not finish could not be removed; the next run tries again", run, left);
            }
        }
    }

    private RunResult execute(Path desk) throws IOException {
            listener.found(files.size(), files.stream().mapToLong(Candidate::size).sum());
            if (handling.load() == Load.REPLACE && files.isEmpty() && !asked.partial()) {
                stopped.set("No file is taken, and `load: replace` would empty the dataset of all that this job loaded. " + unchanged());
            }
            if (!dry) {
                SharedHeader.remember(prepared, services.catalogue);
            }
            Map<Integer, Integer> turns = turns();
            Families families = Families.of(services.catalogue.parts(prepared.dataset().name()), prepared.job().name());
            loader = new FileLoader(new FileLoader.Run(prepared, run, policy, asked, ledger, desk, turns, families, services.rejects, services.parts, services.clock, services.watched, listener, this::isOver));
            decider = new Decider(prepared, ledger, asked, desk);
            Map<Integer, FileResult> unfinished = new Unfinished(prepared, cancelled).among(files);
            deal(unfinished, turns);
            tick(1);
        List<FileResult> ordered = results.stream().sorted(Comparator.comparingInt(FileResult::ordinal)).toList();
        Balance balance = balance(ordered);
        boolean complete = !isOver();
        if (complete && !(balance.holds() && balance.notReached() == 0)) {
            failure.set("The run does not balance: " + balance);
        }
        RunState state = failure.get() != null ? RunState.FAILED : stopped.get() != null ? RunState.STOPPED : complete ? RunState.FINISHED : RunState.CANCELLED;
        handling.limits().runAt().filter(limit -> dry && limit.reached(bad.get(), files.size())).ifPresent(limit -> notes.add("A run would stop: " + bad.get() + " of " + files.size()
                + " files are rejected, and the job stops at " + limit.written()));
        notes.addAll(new RunNotes(prepared, ledger, dry, asked).of(ordered, services.catalogue.parts(prepared.dataset().name()), outdated.get()));
        return new RunResult(state, Optional.ofNullable(failure.get()).or(() -> Optional.ofNullable(stopped.get())), ordered, balance, notes);
    }

    private String unchanged() {
        return "Nothing was changed. If that is meant: hapster remove " + prepared.dataset().name() + " --job " + prepared.job().name();
    }

    /** The order of arrival among the files of this run: what was written first comes first. */
    private Map<Integer, Integer> turns() {
        List<Integer> ordinals = new ArrayList<>();
        for (int i = 0; i < files.size(); i++) {
            ordinals.add(i + 1);
        }
        ordinals.sort(Comparator.comparing((Integer ordinal) -> files.get(ordinal - 1).modified()).thenComparing(Comparator.naturalOrder()));
        Map<Integer, Integer> turns = new HashMap<>();
        ordinals.forEach(ordinal -> turns.put(ordinal, turns.size()));
        return turns;
    }

    private void deal(Map<Integer, FileResult> unfinished, Map<Integer, Integer> turns) throws IOException {
        Map<Integer, Candidate> ready = new LinkedHashMap<>();
        for (int i = 0; i < files.size(); i++) {
            if (!unfinished.containsKey(i + 1)) {
                ready.put(i + 1, files.get(i));
            }
        }
        Set<Integer> maybeCopies = decider.maybeCopies(ready, turns, run);
        Set<Path> apart = new HashSet<>();
        maybeCopies.forEach(ordinal -> apart.add(ready.get(ordinal).path()));
        Map<Integer, Candidate> first = new LinkedHashMap<>();
        Map<Integer, Candidate> second = new LinkedHashMap<>();
        ready.forEach((ordinal, file) -> (apart.contains(file.path()) ? second : first).put(ordinal, file)); // a file is dealt with as a whole
        await(submit(first, !policy.together() && !dry));
        await(commits);
        if (policy.together() || dry) {
            List<Attempt> attempts = new ArrayList<>(held);
            ledger.add(fresh(attempts));
            provisionalLook(attempts);
            held.clear();
            await(submit(second, false));
            attempts.addAll(held);
            together(attempts, unfinished);
            return;
        }
        drop(held);
        held.clear();
        if (!isOver() && !second.isEmpty()) {
            await(submit(second, false));
            copies(new ArrayList<>(held));
        }
        waiting(unfinished);
        if (!isOver() && !dry && !comparing && services.catalogue.comparesRows(prepared.dataset().name())) {
            resettle(); // a run of another job began to compare rows meanwhile
        }
    }

    private static List<LedgerEntry> fresh(Collection<Attempt> attempts) {
        return attempts.stream().flatMap(attempt -> attempt.fresh().stream()).toList();
    }

    /** Sheets and entries of one file are committed at once where something is to be done with the file afterwards. */
    private List<Future<?>> submit(Map<Integer, Candidate> ready, boolean alone) {
        boolean grouped = alone && !handling.after().isNothing();
        Map<Path, List<Integer>> byFile = new HashMap<>();
        ready.forEach((ordinal, file) -> byFile.computeIfAbsent(file.path(), path -> new ArrayList<>()).add(ordinal));
        Map<Path, List<Attempt>> done = new HashMap<>();
        List<Future<?>> work = new ArrayList<>();
        ready.forEach((ordinal, file) -> work.add(services.workers.submit(() -> guarded(file, () -> {
            if (isOver()) {
                return;
            }
            Attempt attempt = attempt(ordinal, file);
            count(attempt);
            if (!alone) {
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

    /** Decides about a file, and reads it where that is the decision. */
    private Attempt attempt(int ordinal, Candidate file) throws RunFailedException, CancelledException {
        Optional<LedgerEntry> known = decider.known(file);
        try {
            Decision decision = decider.decide(file);
            if (decision instanceof Decision.Load load) {
                return loader.load(ordinal, file, load);
            }
            if (decision instanceof Decision.Reject reject) {
                return loader.rejected(ordinal, file, reject, known);
            }
            if (decision instanceof Decision.Wait wait) {
                return loader.unread(ordinal, file, Outcome.WAITING, Optional.of(wait.reason()), 0, wait.seen(), known);
            }
            return skipped(ordinal, file, (Decision.Skip) decision);
        } catch (FileRefusedException unreadable) {
            return loader.load(ordinal, file, new Decision.Load(new Fingerprint(file.size(), file.modified(), file.modified(), ""), known, Optional.empty()));
        } catch (SourceStream.SourceException unreadable) {
            Fingerprint seen = new Fingerprint(file.size(), file.modified(), file.modified(), "");
            try {
                return loader.rejected(ordinal, file, new Decision.Reject(seen, unreadable.reason()), known);
            } catch (IOException wrong) {
                throw new RunFailedException(Reasons.storeFailed(file.name(), wrong), wrong);
            }
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(file.name(), wrong), wrong);
        }
    }

    /** The result of a file about which there is nothing new, as its arrival stands now. */
    private Attempt skipped(int ordinal, Candidate file, Decision.Skip skip) {
        LedgerEntry known = ledger.entry(skip.known().arrival().id()).orElseThrow();
        if (!known.arrival().accepted()) {
            return loader.unread(ordinal, file, Outcome.REJECTED, known.reason(), known.saidBy(), skip.seen(), Optional.of(known));
        }
        if (known.standing().copyOf() == 0) {
            return loader.unread(ordinal, file, Outcome.UNCHANGED, Optional.empty(), known.arrival().entry(), skip.seen(), Optional.of(known));
        }
        Reason reason = copyReason(known);
        long since = known.reason().filter(said -> said.code() == reason.code() && Reasons.sameCopy(said, reason)).isPresent() ? known.saidBy() : 0;
        return loader.unread(ordinal, file, Outcome.REJECTED, Optional.of(reason), since, skip.seen(), Optional.of(known));
    }

    /** Why a copy does not count, naming the file that counts instead. */
    private Reason copyReason(LedgerEntry copy) {
        LedgerEntry first = ledger.entry(copy.standing().copyOf()).orElseThrow();
        boolean sameName = first.name().equals(copy.name()) || ledger.isAmbiguous(first.name());
        long by = first.arrival().place().entry();
        return Reasons.copy(sameName ? first.arrival().source() : first.name(), by == run ? 0 : by);
    }

    /** To commit is to wait for the disk: many at once share a wait, and the workers go on with the next files. */
    private void commitLater(Candidate file, List<Attempt> whole) {
        waitingForDisk.acquireUninterruptibly();
        commits.add(services.committers.submit(() -> {
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
        if (attempt.result().outcome() != Outcome.REJECTED) {
            return;
        }
        long count = bad.incrementAndGet();
        Optional<Limit> limit = handling.limits().runAt();
        if (!dry && limit.isPresent() && limit.get().reached(count, files.size())) {
            stopped.compareAndSet(null, count + " of " + files.size() + " files are rejected, and the job stops at " + limit.get().written() + ". "
                    + (policy.together() ? "The dataset is as it was" : "What was loaded by then stays"));
        }
    }

    // committing file by file

    /** A file (with all its sheets or entries) of which everything is on disk, and nothing counts yet. */
    private record Published(List<Attempt> attempts, Planned planned) {
    }

    /** Makes the result of one file count, and does with it what the job says. */
    private void finish(List<Attempt> attempts) throws RunFailedException {
        List<Attempt> ready = new ArrayList<>();
        boolean handedOver = false;
        try {
            for (Attempt attempt : attempts) {
                ready.add(loader.publish(attempt));
            }
            published.add(new Published(ready, plan(ready)));
            handedOver = true;
        } finally {
            if (!handedOver) {
                drop(attempts);
                drop(ready);
            }
        }
        for (Published one : commitPublished()) {
            one.attempts().forEach(attempt -> done(attempt.result().doing(one.planned().words())));
            one.planned().route().ifPresent(route -> {
                routed.add(services.router.execute(route));
                tick(TICKED_AT_ONCE);
            });
        }
    }

    private Planned plan(List<Attempt> attempts) {
        List<FileResult> all = attempts.stream().map(Attempt::result).toList();
        List<Long> arrivals = attempts.stream().flatMap(attempt -> attempt.fresh().or(attempt::known).stream()).map(entry -> entry.arrival().id()).toList();
        long rejected = attempts.stream().mapToLong(attempt -> attempt.fresh().or(attempt::known).map(LedgerEntry::rejected).orElse(0L)).sum();
        Attempt first = attempts.stream().min(Comparator.comparingInt(attempt -> attempt.result().ordinal())).orElseThrow();
        Planned planned = services.router.plan(new Router.Plan(run, began, prepared, dry, asked.applyAfter()), new Decided(first.file(), first.known(), all, arrivals, rejected));
        if (planned.outdated()) {
            outdated.incrementAndGet();
        }
        return planned;
    }

    /** Makes count what has come together while others committed, so that many small files share a transaction. What one thread leaves, another one has taken. */
    private List<Published> commitPublished() {
        synchronized (published) {
            List<Published> ready = new ArrayList<>();
            for (Published one = published.poll(); one != null; one = published.poll()) {
                ready.add(one);
            }
            List<Attempt> news = ready.stream().filter(one -> one.planned().route().isPresent() || one.attempts().stream().anyMatch(this::isNews)).flatMap(one -> one.attempts().stream()).toList();
            if (!news.isEmpty()) {
                Lock lock = datasetLock.readLock();
                lock.lock();
                boolean committed = false;
                try {
                    commit(news, ledger.add(fresh(news)), Optional.empty(), true, ready.stream().flatMap(one -> one.planned().route().stream()).toList());
                    committed = true;
                } finally {
                    lock.unlock();
                    if (!committed) {
                        dropUncommitted(news);
                    }
                }
            }
            return ready;
        }
    }

    /** Whether the catalogue must learn of it. A file that looks just as it did tells nothing, so that a run over thousands of them is quick. */
    private boolean isNews(Attempt attempt) {
        if (attempt.fresh().isPresent() || attempt.result().sinceRun() == 0 || attempt.known().isEmpty()) {
            return true;
        }
        LedgerEntry known = attempt.known().get();
        return !known.fingerprint().looksLike(attempt.result().fingerprint()) || !known.fingerprint().settledAt(known.readAt());
    }

    /** A file that was seen again: what is known of it, as it looks now. */
    private Optional<LedgerEntry> touched(Attempt attempt) {
        if (attempt.fresh().isPresent() || attempt.known().isEmpty() || attempt.result().outcome() == Outcome.WAITING) {
            return Optional.empty();
        }
        LedgerEntry known = ledger.entry(attempt.known().get().arrival().id()).orElse(attempt.known().get());
        long by = attempt.result().sinceRun() == 0 ? run : known.saidBy();
        Optional<Reason> why = attempt.result().reason().or(known::reason);
        return Optional.of(known.seen(attempt.result().fingerprint(), Instant.now(services.clock), why, by));
    }

    private void done(FileResult result) {
        results.add(result);
        listener.fileDone(result);
    }

    private void commit(List<Attempt> attempts, List<LedgerEntry> changed, Optional<Look> look, boolean entered, List<Route> routes) {
        Map<Integer, LedgerEntry> fresh = new HashMap<>();
        Map<Long, LedgerEntry> standing = new HashMap<>();
        changed.forEach(entry -> standing.put(entry.arrival().id(), entry));
        attempts.forEach(attempt -> attempt.fresh().ifPresent(entry -> fresh.put(attempt.result().ordinal(), entry.with(standing.getOrDefault(entry.arrival().id(), entry).standing()))));
        List<LedgerEntry> touched = attempts.stream().flatMap(attempt -> touched(attempt).stream()).toList();
        Set<Long> added = new HashSet<>();
        fresh.values().forEach(entry -> added.add(entry.arrival().id()));
        List<LedgerEntry> others = changed.stream().filter(entry -> !added.contains(entry.arrival().id())).toList();
        Moment.BEFORE_COMMIT.reached();
        services.catalogue.commit(new Commit(run, prepared.job(), prepared.dataset(), Instant.now(services.clock), attempts.stream().map(Attempt::result).toList(), fresh, touched, look, others, entered, routes));
        Moment.COMMITTED.reached();
    }

    /** Files that were not complete. */
    private void waiting(Map<Integer, FileResult> unfinished) {
        List<Route> routes = new ArrayList<>();
        List<Attempt> attempts = new ArrayList<>();
        for (FileResult result : unfinished.values()) {
            Attempt attempt = loader.unread(result.ordinal(), files.get(result.ordinal() - 1), Outcome.WAITING, result.reason(), 0, result.fingerprint(), Optional.empty());
            Planned planned = isOver() ? Planned.NOTHING : plan(List.of(attempt));
            attempts.add(attempt.with(attempt.result().doing(planned.words())));
            planned.route().ifPresent(routes::add);
        }
        if (!dry && !attempts.isEmpty()) {
            commit(attempts, List.of(), Optional.empty(), true, routes);
        }
        attempts.forEach(attempt -> done(attempt.result()));
        if (!dry) {
            routes.forEach(route -> routed.add(services.router.execute(route)));
        }
    }

    private void drop(Collection<Attempt> attempts) {
        for (Attempt attempt : attempts) {
            try {
                loader.drop(attempt);
            } catch (IOException wrong) {
                LOG.warn("What was written of {} is left for later: {}", attempt.file().name(), wrong.getMessage());
            }
        }
    }

    /** Lets go of parts whose commit failed: but only where the catalogue says that it does not know them. */
    private void dropUncommitted(Collection<Attempt> attempts) {
        try {
            Set<Long> known = new HashSet<>();
            services.catalogue.history(prepared.dataset().name(), Optional.of(prepared.job().name())).entries().forEach(entry -> known.add(entry.arrival().id()));
            drop(attempts.stream().filter(attempt -> attempt.fresh().filter(entry -> known.contains(entry.arrival().id())).isEmpty()).toList());
        } catch (RuntimeException unknown) {
            LOG.warn("Whether the last files of run {} count cannot be told; what does not is removed at the next start", run, unknown);
        }
    }

    // files that may be copies

    /**
     * Says of files what they are once all of them are known to the ledger: those of which the content counts through another file are copies, and what was a copy
     * and is none any more is read again, since nothing was said of its rejected rows.
     */
    private List<Attempt> settled(List<Attempt> attempts) throws RunFailedException, CancelledException {
        Map<Integer, Attempt> all = new LinkedHashMap<>();
        attempts.stream().sorted(Comparator.comparingInt(attempt -> attempt.result().ordinal())).forEach(attempt -> all.put(attempt.result().ordinal(), attempt));
        ledger.add(fresh(attempts));
        for (boolean again = true; again;) {
            again = false;
            for (Attempt attempt : List.copyOf(all.values())) {
                Optional<LedgerEntry> known = attempt.fresh().isPresent() ? Optional.empty() : attempt.known().flatMap(entry -> ledger.entry(entry.arrival().id()));
                if (known.isPresent() && known.get().arrival().asCopy() && known.get().isLoaded() && attempt.result().outcome() != Outcome.WAITING) {
                    Attempt read = loader.load(attempt.result().ordinal(), attempt.file(), new Decision.Load(attempt.result().fingerprint(), known, Optional.empty()));
                    all.put(attempt.result().ordinal(), read);
                    ledger.add(fresh(List.of(read)));
                    again = true;
                }
            }
        }
        List<Attempt> told = new ArrayList<>();
        for (Attempt attempt : all.values()) {
            Optional<LedgerEntry> entry = attempt.fresh().flatMap(fresh -> ledger.entry(fresh.arrival().id()));
            if (attempt.isAccepted() && entry.orElseThrow().standing().copyOf() != 0) {
                Attempt copy = loader.asCopy(attempt, copyReason(entry.get()));
                ledger.add(fresh(List.of(copy.with(copy.fresh().orElseThrow().with(entry.get().standing())))));
                told.add(copy);
            } else if (attempt.fresh().isEmpty() && attempt.known().filter(known -> known.arrival().accepted()).isPresent() && attempt.result().outcome() != Outcome.WAITING) {
                told.add(skipped(attempt.result().ordinal(), attempt.file(), new Decision.Skip(attempt.result().fingerprint(), attempt.known().get())));
            } else {
                told.add(attempt);
            }
        }
        for (Attempt attempt : told) {
            if (!dry && attempt.fresh().isEmpty() && attempt.result().outcome() == Outcome.REJECTED && attempt.result().sinceRun() == 0) {
                tell(attempt);
            }
        }
        return told;
    }

    private static void tell(Attempt attempt) throws RunFailedException {
        try {
            attempt.rejects().file(attempt.result().reason().orElseThrow(), false);
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(attempt.file().name(), wrong), wrong);
        }
    }

    /** Judges files that may be copies of others, and commits them at once. */
    private void copies(List<Attempt> attempts) {
        List<Attempt> ready = new ArrayList<>();
        boolean committed = false;
        try {
            if (isOver()) {
                return;
            }
            List<Attempt> told = settled(attempts);
            Moment.COPIES_READ.reached();
            for (Attempt attempt : told) {
                ready.add(loader.publish(attempt));
            }
            List<Published> all = planned(ready);
            List<Route> routes = all.stream().flatMap(one -> one.planned().route().stream()).toList();
            List<Attempt> news = all.stream().filter(one -> one.planned().route().isPresent() || one.attempts().stream().anyMatch(this::isNews)).flatMap(one -> one.attempts().stream()).toList();
            if (!news.isEmpty()) {
                Lock lock = datasetLock.readLock();
                lock.lock();
                try {
                    commit(news, sinceStart(), Optional.empty(), true, routes);
                } finally {
                    lock.unlock();
                }
            }
            committed = true;
            report(all);
        } catch (RunFailedException | CancelledException wrong) {
            over(wrong);
        } catch (RuntimeException wrong) {
            over(wrong);
        } finally {
            if (!committed) {
                drop(attempts);
                dropUncommitted(ready);
            }
        }
    }

    /** All that stands otherwise than the catalogue had it when the run began; what was committed since is the same once more. */
    private List<LedgerEntry> sinceStart() {
        return ledger.changed();
    }

    private void over(Exception wrong) {
        if (wrong instanceof CancelledException) {
            return;
        }
        LOG.error("Run {} of {} failed", run, prepared.job().name(), wrong);
        failure.compareAndSet(null, wrong instanceof RuntimeException ? Reasons.runFailed("While the run was committed", wrong) : wrong.getMessage());
    }

    /** What is to be done with each file, all its sheets and entries together. */
    private List<Published> planned(List<Attempt> attempts) {
        Map<Path, List<Attempt>> byFile = new LinkedHashMap<>();
        attempts.forEach(attempt -> byFile.computeIfAbsent(attempt.file().path(), path -> new ArrayList<>()).add(attempt));
        return byFile.values().stream().map(one -> new Published(one, plan(one))).toList();
    }

    private void report(List<Published> all) {
        for (Published one : all) {
            one.attempts().forEach(attempt -> done(attempt.result().doing(one.planned().words())));
            if (!dry && one.planned().route().isPresent()) {
                routed.add(services.router.execute(one.planned().route().get()));
                tick(TICKED_AT_ONCE);
            }
        }
    }

    // committing all at once

    /** Under {@code load: replace}, what is not there has no part in it; so nothing that is there is a copy of it. */
    private void provisionalLook(List<Attempt> attempts) {
        if (handling.load() == Load.REPLACE && !asked.partial()) {
            Set<String> rejected = new HashSet<>();
            attempts.stream().filter(attempt -> attempt.result().outcome() == Outcome.REJECTED).forEach(attempt -> rejected.add(attempt.result().source()));
            Set<String> slots = new HashSet<>();
            files.stream().map(file -> prepared.sources().of(file)).filter(source -> !rejected.contains(source)).forEach(source -> {
                slots.add("1 " + source);
                ledger.arrivals(prepared.job().name(), source).forEach(entry -> slots.addAll(List.of(entry.arrival().slot(), entry.arrival().generation() + 1 + " " + source)));
            });
            ledger.look(new Look(Math.max(run, Long.MAX_VALUE / 2), prepared.job().name(), slots));
        }
    }

    /** Settles all files among each other and makes all of them count at once, or none. */
    private void together(List<Attempt> attempts, Map<Integer, FileResult> unfinished) throws IOException {
        if (isOver() && !dry) {
            undecided(attempts);
            waiting(unfinished);
            return;
        }
        waiting(unfinished);
        List<Attempt> ready = new ArrayList<>();
        boolean committed = false;
        Lock lock = datasetLock.writeLock();
        lock.lock();
        try {
            List<Attempt> told = settled(attempts);
            JobLedger all = new JobLedger(services.catalogue.history(prepared.dataset().name(), Optional.empty()));
            all.add(fresh(told));
            Optional<Look> look = look(told, unfinished);
            look.ifPresent(all::look);
            if (look.isPresent() && !dry && leavesNothing(all)) {
                stopped.set("Every file is rejected, and `load: replace` would empty the dataset of all that this job loaded. " + unchanged());
            }
            if (!isOver() && (all.comparesRows() || handling.acrossFiles())) {
                told = compared(told, all);
            }
            if (isOver() || dry) {
                attempts = told;
                drop(told.stream().filter(attempt -> dry || attempt.result().outcome() != Outcome.REJECTED).toList());
                if (dry) {
                    report(planned(told));
                } else {
                    undecided(told);
                }
                return;
            }
            for (Attempt attempt : told) {
                ready.add(loader.publish(attempt));
            }
            all.add(fresh(ready.stream().map(attempt -> attempt.fresh().isEmpty() ? attempt : attempt.with(attempt.fresh().get().with(all.entry(attempt.fresh().get().arrival().id()).orElseThrow().standing()))).toList()));
            List<Published> plans = planned(ready);
            List<Route> routes = plans.stream().flatMap(one -> one.planned().route().stream()).toList();
            List<Attempt> news = plans.stream().filter(one -> one.planned().route().isPresent() || one.attempts().stream().anyMatch(this::isNews)).flatMap(one -> one.attempts().stream()).toList();
            if (!news.isEmpty() || !all.changed().isEmpty() || look.isPresent()) {
                commit(news, all.changed(), look, true, routes);
            }
            committed = true;
            report(plans);
        } catch (RunFailedException | CancelledException | IOException wrong) {
            over(wrong);
        } catch (RuntimeException wrong) {
            over(wrong);
        } finally {
            lock.unlock();
            if (!committed && !dry && stopped.get() == null) {
                drop(attempts);
                dropUncommitted(ready);
            }
        }
    }

    /** That the run looked into all folders, where that says which rows go. */
    private Optional<Look> look(List<Attempt> attempts, Map<Integer, FileResult> unfinished) {
        if (handling.load() != Load.REPLACE || asked.partial()) {
            return Optional.empty();
        }
        Set<String> slots = new HashSet<>();
        attempts.stream().filter(attempt -> attempt.result().outcome() != Outcome.REJECTED || attempt.fresh().or(attempt::known).filter(entry -> entry.arrival().accepted()).isPresent())
                .flatMap(attempt -> attempt.fresh().or(attempt::known).stream()).forEach(entry -> slots.add(entry.arrival().slot()));
        unfinished.values().forEach(result -> ledger.arrivals(prepared.job().name(), result.source()).forEach(entry -> slots.add(entry.arrival().slot())));
        return Optional.of(new Look(run, prepared.job().name(), slots));
    }

    private boolean leavesNothing(JobLedger all) {
        boolean had = services.catalogue.parts(prepared.dataset().name()).stream().anyMatch(part -> part.job().equals(prepared.job().name()));
        return had && all.entries().stream().noneMatch(entry -> entry.arrival().job().equals(prepared.job().name()) && entry.standing().stands());
    }

    /** Compares the rows of all parts that count, and says of the new files which of theirs do not. */
    private List<Attempt> compared(List<Attempt> attempts, JobLedger all) throws IOException, RunFailedException, CancelledException {
        Map<Long, Attempt> byArrival = new HashMap<>();
        attempts.stream().filter(attempt -> attempt.staged().isPresent()).forEach(attempt -> byArrival.put(attempt.fresh().orElseThrow().arrival().id(), attempt));
        Map<Long, Long> before = new HashMap<>();
        all.entries().stream().filter(LedgerEntry::isLoaded).forEach(entry -> before.put(entry.arrival().id(), entry.standing().rows(entry.arrival().rows())));
        RowResolution.Resolved resolved = new RowResolution(prepared.dataset(), services.parts.staging()).resolve(RowsThatCount.of(all, services.parts, byArrival));
        all.mask(resolved.masks());
        List<Attempt> told = new ArrayList<>();
        for (Attempt attempt : attempts) {
            long id = attempt.fresh().map(entry -> entry.arrival().id()).orElse(0L);
            Map<Integer, RowResolution.Instead> instead = resolved.instead().getOrDefault(id, Map.of());
            told.add(resolved.masked(id) == 0 ? attempt : loader.telling(attempt, resolved.masks().get(id), row -> where(attempt, instead.get(row))));
        }
        long gaveWay = 0;
        for (Map.Entry<Long, Long> one : before.entrySet()) {
            LedgerEntry now = all.entry(one.getKey()).orElseThrow();
            gaveWay += byArrival.containsKey(one.getKey()) ? 0 : Math.max(0, one.getValue() - now.standing().rows(now.arrival().rows()));
        }
        if (gaveWay > 0) {
            notes.add(Reasons.grouped(gaveWay) + (gaveWay == 1 ? " row" : " rows") + " of earlier runs " + (dry ? "would give" : "gave") + " way to newer ones, by " + FileReading.comparedBy(prepared));
        }
        long counted = resolved.counted().entrySet().stream().filter(one -> byArrival.containsKey(one.getKey())).mapToLong(Map.Entry::getValue).sum();
        if (counted > 0) {
            notes.add(FileLoader.counted(counted, FileReading.comparedBy(prepared)));
        }
        return told;
    }

    private static String where(Attempt attempt, RowResolution.Instead instead) {
        if (instead == null) {
            return "";
        }
        boolean same = instead.rows().arrival().slot().equals(attempt.fresh().orElseThrow().arrival().slot());
        return instead.line() < 0 ? "a row of " + instead.rows().name() + " that says it is deleted" : "line " + instead.line() + (same ? "" : " of " + instead.rows().name());
    }

    /** Of a run that comes to nothing, what was rejected is told nevertheless. */
    private void undecided(List<Attempt> attempts) throws IOException {
        List<Attempt> told = attempts.stream().filter(attempt -> attempt.result().outcome() == Outcome.REJECTED).toList();
        drop(attempts.stream().filter(attempt -> attempt.result().outcome() != Outcome.REJECTED).toList());
        for (Attempt attempt : told) {
            attempt.rejects().finish();
            if (attempt.staged().isPresent()) {
                services.parts.dropStaged(attempt.staged().get());
            }
        }
        if (!told.isEmpty()) {
            commit(told, List.of(), Optional.empty(), false, List.of());
        }
        told.forEach(attempt -> done(attempt.result()));
    }

    /** Finds anew what counts of the whole dataset. */
    private void resettle() throws IOException {
        Lock lock = datasetLock.writeLock();
        lock.lock();
        try {
            JobLedger all = new JobLedger(services.catalogue.history(prepared.dataset().name(), Optional.empty()));
            all.mask(new RowResolution(prepared.dataset(), services.parts.staging()).resolve(RowsThatCount.of(all, services.parts, Map.of())).masks());
            services.catalogue.settle(all.changed());
        } finally {
            lock.unlock();
        }
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
            services.catalogue.routed(done);
            Moment.ROUTED.reached();
            synchronized (notes) {
                done.forEach(one -> one.problem().or(one::note).ifPresent(notes::add));
            }
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
        List<Part> stored = services.catalogue.parts(prepared.dataset().name());
        long counted = 0;
        for (Part part : stored) {
            counted += services.parts.rows(part.name()) - part.masked().map(RoaringBitmap::getLongCardinality).orElse(0L);
        }
        return Balance.of(files.size(), ordered, counted, stored.stream().mapToLong(Part::rows).sum(), new TreeSet<>(stored.stream().map(Part::name).toList()).size());
    }
}
