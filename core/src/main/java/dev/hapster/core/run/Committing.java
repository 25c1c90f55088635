package dev.hapster.core.run;

import dev.hapster.core.arrival.Look;
import dev.hapster.core.catalogue.Catalogue.Commit;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.load.Attempt;
import dev.hapster.core.run.load.FileLoader;
import dev.hapster.core.run.load.RunEnd;
import dev.hapster.core.run.load.RunFailedException;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.run.load.RunServices;
import dev.hapster.core.run.routing.Router;
import dev.hapster.core.run.routing.Router.Decided;
import dev.hapster.core.run.routing.Router.Planned;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import java.util.concurrent.locks.Lock;
import java.util.concurrent.locks.LockSupport;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.BooleanSupplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Makes the results of files count, and does with the files what the job says. Thread-safe. */
final class Committing {

    private static final Logger LOG = LoggerFactory.getLogger(Committing.class);

    /** So many files that were dealt with are ticked off at once. */
    private static final int TICKED_AT_ONCE = 200;
    /** So many files with small parts, or for so long, are gathered before they are made to count. */
    private static final int GATHERED = 500;

    private static final Duration GATHERED_FOR = Duration.ofMillis(200);

    /**
     * What the files of one run have in common.
     *
     * @param plan what becomes of files
     * @param lock held while the catalogue learns of files one by one
     */
    record Run(
            RunServices services,
            Router.Plan plan,
            JobLedger ledger,
            Lock lock,
            FileLoader loader,
            RunListener listener,
            RunEnd end) {}

    /**
     * A file, with all its sheets or entries, of which nothing counts yet. Everything of it is on disk but small parts,
     * which wait for others.
     *
     * @param over called once the file counts, or never will
     */
    private record Published(List<Attempt> attempts, Planned planned, Runnable over) {
        Published(List<Attempt> attempts, Planned planned) {
            this(attempts, planned, () -> {});
        }
    }

    private final Run run;
    private final ConcurrentLinkedQueue<Published> published = new ConcurrentLinkedQueue<>();
    /** Held while the catalogue learns of files. */
    private final Object inCatalogue = new Object();
    /** Held by the thread that gathers what is published. */
    private final ReentrantLock turn = new ReentrantLock();

    private final ConcurrentLinkedQueue<Route.Done> routed = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<FileResult> results = new ConcurrentLinkedQueue<>();
    private final ConcurrentLinkedQueue<String> notes = new ConcurrentLinkedQueue<>();
    private final AtomicLong outdated = new AtomicLong();
    /** Threads that write what they gathered: what others wait for comes with that. */
    private final AtomicInteger beingWritten = new AtomicInteger();
    /** Files that are still to be dealt with. */
    private final AtomicInteger coming = new AtomicInteger();

    Committing(Run run) {
        this.run = run;
    }

    /** Results of the files that were dealt with so far, in the order in which they were found. */
    List<FileResult> results() {
        return results.stream()
                .sorted(Comparator.comparingInt(FileResult::ordinal))
                .toList();
    }

    /** What is worth knowing of what was done with files. */
    List<String> notes() {
        return List.copyOf(notes);
    }

    /** Files with which nothing was done, since the job said otherwise of them when they were loaded. */
    long outdated() {
        return outdated.get();
    }

    // file by file

    /** To be called before so many files are dealt with one by one. */
    void expect(int files) {
        coming.addAndGet(files);
    }

    /** To be called for each of them once it was dealt with, however that ended. */
    void came() {
        coming.decrementAndGet();
    }

    /**
     * Reports a file, with all its sheets or entries, where that is all: the catalogue need not learn of it, and
     * nothing is to be done with it.
     *
     * @return whether it was so; otherwise it is to be committed
     */
    boolean reportUnchanged(List<Attempt> file) {
        boolean files = !run.plan.prepared().job().handling().after().isNothing();
        if (files || file.stream().anyMatch(this::isNews)) {
            return false;
        }
        report(List.of(new Published(file, Planned.NOTHING)));
        return true;
    }

    /**
     * Makes one file count, with all its sheets or entries. Files that are ready at the same time share a transaction,
     * and small parts a file: what one thread leaves, another one takes, so that a file may count only after this
     * returned, but before the last of all calls has returned.
     *
     * @param hurried whether somebody waits until others are committed
     * @param over called once the file counts, or never will
     */
    void commit(List<Attempt> file, BooleanSupplier hurried, Runnable over) throws RunFailedException {
        boolean ready = false;
        try {
            Planned planned = plan(file);
            published.add(new Published(run.loader.publish(file), planned, over));
            ready = true;
        } finally {
            if (!ready) {
                over.run();
            }
        }
        Exception failed = null;
        while (!published.isEmpty() && turn.tryLock()) {
            try {
                commit(gathered(hurried));
            } catch (RunFailedException | RuntimeException wrong) {
                failed = wrong; // others may have left their files to this thread
            }
        }
        if (failed instanceof RunFailedException wrong) {
            throw wrong;
        }
        if (failed instanceof RuntimeException wrong) {
            throw wrong;
        }
    }

    /** Takes what is published, and lets the next one have its turn. */
    private List<Published> gathered(BooleanSupplier hurried) {
        List<Published> taken = new ArrayList<>();
        try {
            gather(hurried);
            for (Published one = published.poll(); one != null; one = published.poll()) {
                taken.add(one);
            }
            return taken;
        } finally {
            turn.unlock();
        }
    }

    private void commit(List<Published> taken) throws RunFailedException {
        beingWritten.incrementAndGet();
        try {
            List<Published> ready = bundled(taken);
            synchronized (inCatalogue) {
                run.lock.lock();
                try {
                    run.ledger.add(fresh(
                            ready.stream().flatMap(one -> one.attempts.stream()).toList()));
                    record(ready, run.ledger, Optional.empty());
                } finally {
                    run.lock.unlock();
                }
            }
            report(ready);
        } finally {
            taken.forEach(one -> one.over.run());
            beingWritten.decrementAndGet();
        }
    }

    /** Waits a moment for files that come soon, where small parts wait for others with which to share a file. */
    private void gather(BooleanSupplier hurried) {
        long until = System.nanoTime() + GATHERED_FOR.toNanos();
        while (coming.get() > 0
                && published.size() < GATHERED
                && published.stream()
                        .flatMap(one -> one.attempts.stream())
                        .anyMatch(one -> run.loader.heldBytes(one) > 0)
                && (beingWritten.get() > 0 || !hurried.getAsBoolean())
                && !run.end.isOver()
                && System.nanoTime() < until) {
            LockSupport.parkNanos(2_000_000);
        }
    }

    /** The same files, with parts where they had none. */
    private List<Published> bundled(List<Published> ready) throws RunFailedException {
        Iterator<Attempt> attempts = run.loader
                .bundle(ready.stream().flatMap(one -> one.attempts.stream()).toList())
                .iterator();
        return ready.stream()
                .map(one -> new Published(
                        one.attempts.stream().map(attempt -> attempts.next()).toList(), one.planned))
                .toList();
    }

    // all at once

    /**
     * Makes files count, all or none of them.
     *
     * @param ledger to which they were added
     */
    void commitAll(List<Attempt> attempts, JobLedger ledger, Optional<Look> look) throws RunFailedException {
        List<Attempt> ready = run.loader.bundle(run.loader.publish(attempts));
        ledger.replace(fresh(ready));
        List<Published> all = byFile(ready);
        record(all, ledger, look);
        report(all);
    }

    /** Says of files what a trial found; nothing counts and nothing is done with them. */
    void tell(List<Attempt> attempts) {
        drop(attempts);
        report(byFile(attempts));
    }

    /** Files of which nothing is new but that they are not complete. */
    void waiting(List<Attempt> attempts) {
        List<Published> all = run.end.isOver() ? List.of(new Published(attempts, Planned.NOTHING)) : byFile(attempts);
        if (!run.plan.dry() && !attempts.isEmpty()) {
            write(attempts, Map.of(), List.of(), Optional.empty(), true, routes(all));
        }
        report(all);
    }

    /** Of files of a run that comes to nothing: those that were rejected are reported nevertheless. */
    void reportRejected(List<Attempt> attempts) throws IOException {
        List<Attempt> rejected = attempts.stream()
                .filter(attempt -> attempt.result().outcome() == Outcome.REJECTED)
                .toList();
        for (Attempt attempt : rejected) {
            attempt.rejects().finish();
        }
        drop(attempts);
        if (!rejected.isEmpty()) {
            write(rejected, Map.of(), List.of(), Optional.empty(), false, List.of());
        }
        rejected.forEach(attempt -> done(attempt.result()));
    }

    // what both have in common

    static List<LedgerEntry> fresh(Collection<Attempt> attempts) {
        return attempts.stream().flatMap(attempt -> attempt.fresh().stream()).toList();
    }

    private List<Published> byFile(List<Attempt> attempts) {
        Map<Path, List<Attempt>> byFile = new LinkedHashMap<>();
        attempts.forEach(attempt -> byFile.computeIfAbsent(attempt.file().path(), path -> new ArrayList<>())
                .add(attempt));
        return byFile.values().stream()
                .map(one -> new Published(one, plan(one)))
                .toList();
    }

    private Planned plan(List<Attempt> file) {
        List<LedgerEntry> entries = file.stream()
                .flatMap(attempt -> attempt.fresh().or(attempt::known).stream())
                .toList();
        Attempt first = file.stream()
                .min(Comparator.comparingInt(attempt -> attempt.result().ordinal()))
                .orElseThrow();
        Planned planned = run.services
                .router()
                .plan(
                        run.plan,
                        new Decided(
                                first.file(),
                                first.known(),
                                file.stream().map(Attempt::result).toList(),
                                entries.stream()
                                        .map(entry -> entry.arrival().id())
                                        .toList(),
                                entries.stream()
                                        .mapToLong(LedgerEntry::rejected)
                                        .sum()));
        if (planned.outdated()) {
            outdated.incrementAndGet();
        }
        return planned;
    }

    private static List<Route> routes(List<Published> all) {
        return all.stream().flatMap(one -> one.planned.route().stream()).toList();
    }

    /** Tells the catalogue of files, where there is anything to tell. What it does not learn of is let go of. */
    private void record(List<Published> all, JobLedger ledger, Optional<Look> look) {
        List<Attempt> news = all.stream()
                .filter(one ->
                        one.planned.route().isPresent() || one.attempts.stream().anyMatch(this::isNews))
                .flatMap(one -> one.attempts.stream())
                .toList();
        List<LedgerEntry> changed = ledger.changes();
        if (news.isEmpty() && changed.isEmpty() && look.isEmpty()) {
            return;
        }
        Map<Long, Attempt> added = new HashMap<>();
        news.forEach(attempt ->
                attempt.fresh().ifPresent(entry -> added.put(entry.arrival().id(), attempt)));
        Map<Integer, LedgerEntry> fresh = new HashMap<>();
        added.forEach((id, attempt) ->
                fresh.put(attempt.result().ordinal(), ledger.entry(id).orElseThrow()));
        boolean written = false;
        try {
            write(
                    news,
                    fresh,
                    changed.stream()
                            .filter(entry -> !added.containsKey(entry.arrival().id()))
                            .toList(),
                    look,
                    true,
                    routes(all));
            written = true;
        } finally {
            if (!written) {
                dropUnknown(news);
            }
        }
    }

    /**
     * Whether the catalogue must learn of it. A file that looks just as it did tells nothing, so that a run over
     * thousands of them is quick.
     */
    private boolean isNews(Attempt attempt) {
        if (attempt.fresh().isPresent()
                || attempt.result().sinceRun() == 0
                || attempt.known().isEmpty()) {
            return true;
        }
        LedgerEntry known = attempt.known().get();
        return !known.fingerprint().looksLike(attempt.result().fingerprint())
                || !known.fingerprint().settledAt(known.readAt());
    }

    /** A file that was seen again: what is known of it, as it looks now. */
    private Optional<LedgerEntry> touched(Attempt attempt) {
        if (attempt.fresh().isPresent()
                || attempt.known().isEmpty()
                || attempt.result().outcome() == Outcome.WAITING) {
            return Optional.empty();
        }
        LedgerEntry known = attempt.known().get();
        long by = attempt.result().sinceRun() == 0 ? run.plan.run() : known.saidBy();
        Optional<Reason> why = attempt.result().reason().or(known::reason);
        return Optional.of(known.seen(attempt.result().fingerprint(), Instant.now(run.services.clock()), why, by));
    }

    private void write(
            List<Attempt> attempts,
            Map<Integer, LedgerEntry> fresh,
            List<LedgerEntry> changed,
            Optional<Look> look,
            boolean entered,
            List<Route> routes) {
        List<LedgerEntry> touched =
                attempts.stream().flatMap(attempt -> touched(attempt).stream()).toList();
        PreparedJob prepared = run.plan.prepared();
        CrashPoint.BEFORE_COMMIT.reached();
        run.services
                .catalogue()
                .commit(new Commit(
                        run.plan.run(),
                        prepared.job(),
                        prepared.dataset(),
                        Instant.now(run.services.clock()),
                        attempts.stream().map(Attempt::result).toList(),
                        fresh,
                        touched,
                        look,
                        changed,
                        entered,
                        routes));
        CrashPoint.COMMITTED.reached();
    }

    private void report(List<Published> all) {
        for (Published one : all) {
            one.attempts.forEach(attempt -> done(attempt.result().doing(one.planned.afterwards())));
            if (!run.plan.dry() && one.planned.route().isPresent()) {
                Route.Done done =
                        run.services.router().execute(one.planned.route().get());
                routed.add(done);
                run.listener.routed(done);
                tick(TICKED_AT_ONCE);
            }
        }
    }

    private void done(FileResult result) {
        results.add(result);
        run.listener.fileDone(result);
    }

    /** Ticks off what was done with files, once there is so much of it. */
    void tick(int atLeast) {
        if (routed.size() < atLeast) {
            return;
        }
        List<Route.Done> done = new ArrayList<>();
        for (Route.Done one = routed.poll(); one != null; one = routed.poll()) {
            done.add(one);
        }
        if (!done.isEmpty()) {
            run.services.catalogue().routed(done);
            CrashPoint.ROUTED.reached();
            done.forEach(one -> one.problem().or(one::note).ifPresent(notes::add));
        }
    }

    /** Lets go of what was written of files and does not count. */
    void drop(Collection<Attempt> attempts) {
        run.loader.drop(attempts);
    }

    /** Lets go of parts whose commit failed: but only where the catalogue says that it does not know them. */
    private void dropUnknown(Collection<Attempt> attempts) {
        try {
            Set<Long> known = new HashSet<>();
            PreparedJob prepared = run.plan.prepared();
            run.services
                    .catalogue()
                    .history(
                            prepared.dataset().name(),
                            Optional.of(prepared.job().name()))
                    .entries()
                    .forEach(entry -> known.add(entry.arrival().id()));
            drop(attempts.stream()
                    .filter(attempt -> attempt.fresh()
                            .filter(entry -> known.contains(entry.arrival().id()))
                            .isEmpty())
                    .toList());
        } catch (RuntimeException unknown) {
            LOG.warn(
                    "Whether the last files of run {} count is not known; what does not is removed at the next start",
                    run.plan.run(),
                    unknown);
        }
    }
}
