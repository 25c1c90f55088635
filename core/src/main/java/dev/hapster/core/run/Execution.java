package dev.hapster.core.run;

import dev.hapster.core.arrival.Look;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Limit;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.Ahead;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.run.decide.Decider;
import dev.hapster.core.run.decide.Decision;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.decide.Unfinished;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.duplicates.RowsThatCount;
import dev.hapster.core.run.load.Attempt;
import dev.hapster.core.run.load.CancelledException;
import dev.hapster.core.run.load.CommitPolicy;
import dev.hapster.core.run.load.FileLoader;
import dev.hapster.core.run.load.RunEnd;
import dev.hapster.core.run.load.RunFailedException;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunServices;
import dev.hapster.core.run.load.SharedHeader;
import dev.hapster.core.run.load.UsualRowCounts;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.work.LittleMemoryException;
import dev.hapster.core.work.LogMark;
import dev.hapster.core.work.Wanted;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
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
import java.util.UUID;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.Future;
import java.util.concurrent.Semaphore;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.ReadWriteLock;
import java.util.function.BooleanSupplier;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * One run or trial, from the files that were found to its balance: decide, read, judge, store, commit. Files are dealt
 * with side by side on the workers. Where each can be judged by itself it is committed by itself; files that may be
 * copies of others come after these, and are judged together; and where everything depends on everything, all are held
 * back and committed at once.
 */
final class Execution {

    private static final Logger LOG = LoggerFactory.getLogger(Execution.class);

    /** What may wait for the disk, in KiB of memory; a part that has a file of its own counts as many. */
    private static final int MOST_UNCOMMITTED = 32 << 10;

    private static final int PART_WITH_FILE = 1 << 10;
    private static final int FEWEST = 8;
    /** What the names of desks begin with. */
    private static final String TRIAL = "trial-";

    private static final String RUN = "run-";

    private final RunServices services;
    private final PreparedJob prepared;
    private final Handling handling;
    private final long run;
    private final boolean dry;
    private final ReadWriteLock datasetLock;
    private final RunListener listener;
    private final RunEnd end;
    private final List<Candidate> files;
    private final RunRequest asked;
    private final JobLedger ledger;
    private final boolean comparing;
    private final CommitPolicy policy;
    private final String desk;
    private final FileLoader loader;
    private final Decider decider;
    private final CopyJudge judge;
    private final Committing committing;
    private final AtomicLong bad = new AtomicLong();
    private final List<String> notes = new ArrayList<>();
    private final ConcurrentLinkedQueue<Attempt> held = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<Future<?>> commits = new ConcurrentLinkedQueue<>();
    /** Loaded files that wait for the disk do not become ever more. */
    private final Semaphore waitingForDisk = new Semaphore(MOST_UNCOMMITTED);
    /** The order of arrival among the files of this run, by their numbers: what was written first comes first. */
    private final Map<Integer, Integer> turns;

    /**
     * @param run its number; 0 for a trial
     * @param lock of the dataset: shared by those who add to it, held alone by who must know all of it
     */
    Execution(
            RunServices services,
            PreparedJob prepared,
            long run,
            List<Candidate> files,
            RunRequest asked,
            ReadWriteLock lock,
            RunListener listener,
            BooleanSupplier cancelled) {
        this.services = services;
        this.prepared = prepared;
        handling = prepared.job().handling();
        this.run = run;
        dry = run == 0;
        this.files = files;
        this.asked = asked;
        datasetLock = lock;
        this.listener = listener;
        end = new RunEnd(cancelled);
        turns = turns(files);
        ledger = new JobLedger(services.catalogue()
                .history(prepared.dataset().name(), Optional.of(prepared.job().name())));
        comparing = services.catalogue().comparesRows(prepared.dataset().name());
        policy = CommitPolicy.of(handling, dry, comparing);
        desk = dry ? TRIAL + UUID.randomUUID() : RUN + run;
        Path own = services.parts().desk(desk);
        UsualRowCounts families = UsualRowCounts.of(
                handling.limits().rejectUnusual()
                        ? services.catalogue().parts(prepared.dataset().name())
                        : List.of(),
                prepared.job().name());
        loader = new FileLoader(new FileLoader.Run(
                prepared, run, policy, asked, ledger, own, turns, families, services, listener, end));
        decider = new Decider(prepared, ledger, asked, services.opener().unpackingTo(own));
        judge = new CopyJudge(ledger, loader, run);
        committing = new Committing(new Committing.Run(
                services,
                new Router.Plan(run, Instant.now(services.clock()), prepared, dry, asked.applyAfter()),
                ledger,
                lock.readLock(),
                loader,
                listener,
                end));
    }

    private static Map<Integer, Integer> turns(List<Candidate> files) {
        List<Integer> ordinals = new ArrayList<>();
        for (int i = 0; i < files.size(); i++) {
            ordinals.add(i + 1);
        }
        ordinals.sort(
                Comparator.comparing((Integer ordinal) -> files.get(ordinal - 1).modified())
                        .thenComparing(Comparator.naturalOrder()));
        Map<Integer, Integer> turns = new HashMap<>();
        ordinals.forEach(ordinal -> turns.put(ordinal, turns.size()));
        return turns;
    }

    RunResult execute() throws IOException {
        services.desks().add(desk);
        Path own = services.parts().desk(desk);
        try {
            Files.createDirectory(own);
        } catch (IOException unwritable) {
            LOG.warn("{} cannot be made; whatever needs it will say so", own, unwritable);
        }
        try {
            deal();
            committing.tick(1);
            return result();
        } finally {
            services.desks().remove(desk);
            try {
                services.parts().clear(own, this::isLeft);
            } catch (IOException left) {
                LOG.warn("What run {} did not finish could not be removed; the next run tries again", run, left);
            }
        }
    }

    /** Whether something in staging is a desk that nobody uses: others have folders there, too. */
    private boolean isLeft(String name) {
        return (name.startsWith(TRIAL) || name.startsWith(RUN))
                && !services.desks().contains(name);
    }

    private RunResult result() throws IOException {
        List<FileResult> results = committing.results();
        List<Part> stored = new ArrayList<>();
        Balance balance = services.parts().reading(() -> {
            stored.addAll(services.catalogue().parts(prepared.dataset().name()));
            return balance(results, stored);
        });
        if (!end.isOver() && !(balance.holds() && balance.notReached() == 0)) {
            end.fail("The run does not balance: " + balance);
        }
        notes.addAll(committing.notes());
        if (dry) {
            handling.limits()
                    .runAt()
                    .filter(limit -> limit.reached(bad.get(), files.size()))
                    .ifPresent(limit -> end.stop(tooMany(bad.get(), limit)));
        }
        notes.addAll(new RunNotes(prepared, ledger, dry, asked).of(results, stored, committing.outdated()));
        return new RunResult(end.state(), end.why(), end.isPassing(), results, balance, notes);
    }

    private Balance balance(List<FileResult> results, List<Part> stored) throws IOException {
        long counted = 0;
        for (Part part : stored) {
            counted += services.parts().rows(part.name())
                    - part.masked().map(RoaringBitmap::getLongCardinality).orElse(0L);
        }
        return Balance.of(
                files.size(),
                results,
                counted,
                stored.stream().mapToLong(Part::rows).sum(),
                stored.size());
    }

    private String wouldEmpty(String why) {
        return why
                + ", and `load: replace` would empty the dataset of all that this job loaded. "
                + (dry ? "" : "Nothing was changed. ") + "If that is meant: hapster remove "
                + prepared.dataset().name() + " --job " + prepared.job().name();
    }

    @SuppressWarnings("try") // they act by being open
    private void deal() throws IOException {
        listener.found(files.size(), files.stream().mapToLong(Candidate::size).sum());
        if (WholeRun.looks(prepared, asked) && files.isEmpty()) {
            end.stop(wouldEmpty("No file is taken"));
        }
        if (!dry) {
            SharedHeader.remember(prepared, services.catalogue());
        }
        Map<Integer, FileResult> unfinished = new Unfinished(prepared, end::isOver).among(files);
        Map<Integer, Candidate> alone = new LinkedHashMap<>();
        for (int i = 0; i < files.size(); i++) {
            if (!unfinished.containsKey(i + 1)) {
                alone.put(i + 1, files.get(i));
            }
        }
        Map<Integer, Candidate> maybeCopies;
        boolean together = policy.together() || dry;
        try (Wanted wanted = Wanted.until(end::isOver);
                Ahead ahead = services.opener().roots().remotes().ahead(fresh(alone))) {
            maybeCopies = takeMaybeCopies(alone);
            await(submit(alone, !together));
            await(commits);
        }
        if (together) {
            ledger.add(Committing.fresh(held));
            provisionalLook();
            await(submit(maybeCopies, false));
            together(List.copyOf(held), unfinished);
            return;
        }
        committing.reportRejected(
                List.copyOf(held)); // of the others, sheets or entries of the same file were not reached
        held.clear();
        if (!end.isOver() && !maybeCopies.isEmpty()) {
            await(submit(maybeCopies, false));
            copies(List.copyOf(held));
        }
        committing.waiting(waiting(unfinished));
        if (!end.isOver()
                && !comparing
                && services.catalogue().comparesRows(prepared.dataset().name())) {
            compareAll(); // a run of another job began to compare rows meanwhile
        }
    }

    /** Where files lie of which nothing is known yet, and which will be read therefore. */
    private List<Path> fresh(Map<Integer, Candidate> from) {
        return from.values().stream()
                .filter(file ->
                        Remotes.isRemote(file.path()) && decider.known(file).isEmpty())
                .map(Candidate::path)
                .distinct()
                .toList();
    }

    /**
     * Takes out of the files those that may be copies of others; of a file with several sheets or entries all of them.
     */
    private Map<Integer, Candidate> takeMaybeCopies(Map<Integer, Candidate> from) {
        Set<Path> paths = new HashSet<>();
        decider.maybeCopies(from, turns, run)
                .forEach(ordinal -> paths.add(from.get(ordinal).path()));
        Map<Integer, Candidate> taken = new LinkedHashMap<>(from);
        taken.values().removeIf(file -> !paths.contains(file.path()));
        from.keySet().removeAll(taken.keySet());
        return taken;
    }

    private List<Attempt> waiting(Map<Integer, FileResult> unfinished) {
        return unfinished.values().stream()
                .map(result -> loader.unread(
                        result.ordinal(),
                        files.get(result.ordinal() - 1),
                        Outcome.WAITING,
                        result.reason(),
                        0,
                        result.fingerprint(),
                        Optional.empty()))
                .toList();
    }

    /**
     * Has files dealt with by the workers.
     *
     * @param alone whether each is committed by itself; otherwise all are held back. Sheets and entries of one file are
     *     committed at once where something is to be done with the file afterwards
     */
    private List<Future<?>> submit(Map<Integer, Candidate> ready, boolean alone) {
        boolean grouped = alone && !handling.after().isNothing();
        Map<Path, List<Integer>> byFile = new HashMap<>();
        ready.forEach((ordinal, file) ->
                byFile.computeIfAbsent(file.path(), path -> new ArrayList<>()).add(ordinal));
        Map<Path, List<Attempt>> done = new HashMap<>();
        List<Future<?>> work = new ArrayList<>();
        if (alone) {
            committing.expect(ready.size());
        }
        ready.forEach((ordinal, file) -> work.add(services.workers().submit(marked(() -> {
            try {
                guarded(file, () -> {
                    if (end.isOver()) {
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
                            whole = group.size() == byFile.get(file.path()).size()
                                    ? done.remove(file.path())
                                    : List.of();
                        }
                        held.add(attempt);
                    }
                    if (!whole.isEmpty()) {
                        held.removeAll(whole);
                        if (!committing.reportUnchanged(whole)) {
                            commitLater(file, whole);
                        }
                    }
                });
            } finally {
                if (alone) {
                    committing.came();
                }
            }
        }))));
        return work;
    }

    /** Decides about a file, and reads it where that is the decision. */
    @SuppressWarnings("try") // it acts by being open
    private Attempt attempt(int ordinal, Candidate file) throws RunFailedException, CancelledException {
        Optional<LedgerEntry> known = decider.known(file);
        try (Wanted wanted = Wanted.until(end::isOver)) {
            Decision decision = decider.decide(file, known);
            if (decision instanceof Decision.Load load) {
                Attempt attempt = loader.load(ordinal, file, load);
                boolean wholly = file.entry().isEmpty() && file.sheet().isEmpty();
                if (wholly && prepared.job().handling().after().isNothing()) {
                    services.opener().roots().remotes().release(file.path());
                }
                return attempt;
            }
            if (decision instanceof Decision.Reject reject) {
                return loader.rejected(ordinal, file, reject, known);
            }
            if (decision instanceof Decision.Wait wait) {
                return loader.unread(ordinal, file, Outcome.WAITING, Optional.of(wait.reason()), 0, wait.seen(), known);
            }
            return judge.skipped(ordinal, file, (Decision.Skip) decision);
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(file), wrong), wrong);
        }
    }

    /** To commit is to wait for the disk: many at once share a wait, and the workers go on with the next files. */
    private void commitLater(Candidate file, List<Attempt> whole) {
        int size = whole.stream().mapToInt(this::size).sum();
        int taken = Math.min(size, MOST_UNCOMMITTED);
        waitingForDisk.acquireUninterruptibly(taken);
        commits.add(services.committers()
                .submit(marked(() -> guarded(
                        file,
                        () -> committing.commit(
                                whole, waitingForDisk::hasQueuedThreads, () -> waitingForDisk.release(taken))))));
    }

    private int size(Attempt attempt) {
        long held = loader.heldBytes(attempt);
        return attempt.staged().isPresent() && held == 0 ? PART_WITH_FILE : FEWEST + (int) (held >> 10);
    }

    /** Whatever is logged meanwhile belongs to the run; a trial has no log. */
    private Runnable marked(Runnable work) {
        return dry ? work : LogMark.marked(run, work);
    }

    private interface Work {
        void run() throws RunFailedException, CancelledException, IOException;
    }

    private void guarded(Candidate file, Work work) {
        try {
            work.run();
        } catch (CancelledException | RunFailedException | IOException | RuntimeException wrong) {
            end.fail(wrong, "While " + prepared.name(file) + " was loaded");
        } catch (OutOfMemoryError | StackOverflowError much) {
            end.fail(new LittleMemoryException(much), "While " + prepared.name(file) + " was loaded");
        }
    }

    /** Counts a bad file, and stops the run where there are too many. */
    private void count(Attempt attempt) {
        if (attempt.result().outcome() != Outcome.REJECTED) {
            return;
        }
        long count = bad.incrementAndGet();
        handling.limits()
                .runAt()
                .filter(limit -> !dry && limit.reached(count, files.size()))
                .ifPresent(limit -> end.stop(tooMany(count, limit)
                        + (policy.together() ? ". The dataset is as it was" : ". What was loaded by then stays")));
    }

    private String tooMany(long rejected, Limit limit) {
        return rejected + " of " + files.size() + " files are rejected, and the job stops at " + limit.written();
    }

    /** Judges files that may be copies of others, and commits them at once. */
    private void copies(List<Attempt> attempts) {
        boolean judged = false;
        try {
            if (end.isOver()) {
                judged = true;
                committing.reportRejected(attempts);
                return;
            }
            List<Attempt> all = judge.judge(attempts);
            judged = true;
            CrashPoint.COPIES_READ.reached();
            Lock lock = datasetLock.readLock();
            lock.lock();
            try {
                committing.commitAll(all, ledger, Optional.empty());
            } finally {
                lock.unlock();
            }
        } catch (RunFailedException | CancelledException | IOException | RuntimeException wrong) {
            end.fail(wrong, "While the run was committed");
        } finally {
            if (!judged) {
                committing.drop(attempts);
            }
        }
    }

    /** Under {@code load: replace}, what is not there has no part in it; so nothing that is there is a copy of it. */
    private void provisionalLook() {
        if (WholeRun.looks(prepared, asked)) {
            Set<String> rejected = new HashSet<>();
            held.stream()
                    .map(Attempt::result)
                    .filter(result -> result.outcome() == Outcome.REJECTED)
                    .forEach(result -> rejected.add(result.source()));
            Set<String> slots = new HashSet<>();
            files.stream()
                    .map(file -> prepared.sources().of(file))
                    .filter(source -> !rejected.contains(source))
                    .forEach(source -> slots.addAll(ledger.slots(prepared.job().name(), source)));
            ledger.look(new Look(Long.MAX_VALUE, prepared.job().name(), slots));
        }
    }

    /** Settles all files among each other and makes all of them count at once, or none. */
    private void together(List<Attempt> attempts, Map<Integer, FileResult> unfinished) throws IOException {
        committing.waiting(waiting(unfinished));
        List<Attempt> all = attempts;
        Lock lock = datasetLock.writeLock();
        lock.lock();
        try {
            if (dry || !end.isOver()) {
                all = judge.judge(attempts);
                WholeRun whole = new WholeRun(services, prepared, loader, policy, run, all);
                Optional<Look> look =
                        WholeRun.looks(prepared, asked) ? Optional.of(whole.look(all, unfinished)) : Optional.empty();
                boolean emptied = look.isPresent() && whole.leavesNothing();
                if (emptied) {
                    end.stop(wouldEmpty("Every file is rejected"));
                }
                if (!emptied || dry) {
                    all = whole.compare(all);
                }
                notes.addAll(whole.notes());
                if (dry) {
                    committing.tell(all);
                    return;
                }
                if (!end.isOver()) {
                    committing.commitAll(all, whole.ledger(), look);
                    return;
                }
            }
            committing.reportRejected(all);
        } catch (RunFailedException | CancelledException | IOException | RuntimeException wrong) {
            end.fail(wrong, "While the run was committed");
            committing.drop(all);
        } finally {
            lock.unlock();
        }
    }

    /** Finds anew which rows of the whole dataset count. */
    private void compareAll() throws IOException {
        Lock lock = datasetLock.writeLock();
        lock.lock();
        try {
            JobLedger all = new JobLedger(
                    services.catalogue().history(prepared.dataset().name(), Optional.empty()));
            all.mask(new RowResolution(prepared.dataset(), services.parts().staging())
                    .resolve(RowsThatCount.of(all, services.parts(), Map.of()))
                    .masks());
            services.catalogue().settle(all.changes());
        } finally {
            lock.unlock();
        }
    }

    private void await(Iterable<Future<?>> work) {
        boolean interrupted = false;
        for (Future<?> one : work) {
            try {
                one.get();
            } catch (InterruptedException interrupt) {
                interrupted = true;
                end.fail("The service is shutting down");
            } catch (ExecutionException wrong) {
                LOG.error("A file could not be dealt with", wrong.getCause());
                end.fail("An unexpected error: " + wrong.getCause());
            }
        }
        if (interrupted) {
            Thread.currentThread().interrupt();
        }
    }
}
