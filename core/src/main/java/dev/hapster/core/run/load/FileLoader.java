package dev.hapster.core.run.load;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.arrival.RowRule.Kind;
import dev.hapster.core.arrival.RowRule.Scope;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Standing;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Duplicates;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.definition.Handling.Within;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.ReadAhead;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.decide.Decision;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.duplicates.KeyIndex;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.load.FileReading.Content;
import dev.hapster.core.run.load.FileReading.Repeats;
import dev.hapster.core.run.load.FileReading.Written;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream.SourceException;
import dev.hapster.core.run.open.Watch;
import dev.hapster.core.shape.Bindings;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.Span;
import dev.hapster.core.store.reject.RejectStore.FileRejects;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.RulesVersion;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Pattern;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Takes one file from the decision that it is read up to the point where it can be committed: opened, read, judged,
 * staged. What it writes counts only once it is committed. Thread-safe.
 */
public final class FileLoader {

    private static final Logger LOG = LoggerFactory.getLogger(FileLoader.class);

    private static final Pattern UNSAFE = Pattern.compile("[^A-Za-z0-9._-]");
    private static final int LONGEST_SLUG = 60;
    private static final int CORES = Runtime.getRuntime().availableProcessors();
    /** Files of as many bytes are worked on by several. */
    private static final long LARGE = 4L << 20;
    /** A rejected file up to this size is read to its end, that it is known again by its content. */
    private static final long MOST_DRAINED = 16L << 20;

    /**
     * What surrounds the files of one run.
     *
     * @param desk where what is not finished lies
     * @param turns the turn of each file in the order of arrivals, by its number in the run
     * @param families how many rows files of a kind usually have; asked where unusual ones are rejected
     */
    public record Run(
            PreparedJob prepared,
            long number,
            CommitPolicy policy,
            RunRequest asked,
            JobLedger ledger,
            Path desk,
            Map<Integer, Integer> turns,
            UsualRowCounts families,
            RunServices services,
            RunListener listener,
            RunEnd end) {}

    private final Run run;
    private final PreparedJob prepared;
    private final Handling handling;
    private final Bindings bindings;
    private final RowRule rule;
    private final String after;
    private final AtomicInteger bundles = new AtomicInteger();
    /** Files that are read at this moment. */
    private final AtomicInteger inWork = new AtomicInteger();

    public FileLoader(Run run) {
        this.run = run;
        prepared = run.prepared;
        handling = prepared.job().handling();
        rule = rule(handling);
        bindings = new Bindings(prepared.dataset(), prepared.job());
        after = RulesVersion.after(handling.after());
    }

    private static RowRule rule(Handling handling) {
        if (handling.load() == Load.UPDATE) {
            return new RowRule(Kind.UPDATE, Scope.DATASET, List.of(), handling.newestBy());
        }
        return handling.duplicates()
                .filter(duplicates -> duplicates.within() != Within.FILE)
                .map(duplicates -> new RowRule(
                        kind(duplicates.then()),
                        duplicates.within() == Within.RUN ? Scope.RUN : Scope.DATASET,
                        duplicates.columns(),
                        Optional.empty()))
                .orElse(RowRule.NONE);
    }

    private static Kind kind(Then then) {
        return switch (then) {
            case REJECT -> Kind.REJECT;
            case KEEP_FIRST -> Kind.FIRST;
            case KEEP_LAST -> Kind.LAST;
            case COUNT -> Kind.COUNT;
        };
    }

    private String source(Candidate file) {
        return prepared.sources().of(file);
    }

    /** The result of a file that is not read. */
    public Attempt unread(
            int ordinal,
            Candidate file,
            Outcome outcome,
            Optional<Reason> reason,
            long since,
            Fingerprint seen,
            Optional<LedgerEntry> known) {
        return new Attempt(
                FileResult.uncounted(
                        ordinal, file, source(file), prepared.name(file), outcome, reason, since, seen, List.of(), 0),
                file,
                Optional.empty(),
                known,
                Optional.empty(),
                rejects(ordinal, file));
    }

    private FileRejects rejects(int ordinal, Candidate file) {
        return run.services
                .rejects()
                .open(run.number, prepared.job().name(), ordinal, prepared.name(file), file.key(), source(file));
    }

    /** A file that cannot be looked at. */
    public Attempt rejected(int ordinal, Candidate file, Decision.Reject decision, Optional<LedgerEntry> known)
            throws IOException {
        FileRejects rejects = rejects(ordinal, file);
        return refused(
                new Reading(ordinal, file, decision.seen(), known, Optional.empty(), rejects, System.nanoTime()),
                decision.reason(),
                "");
    }

    /** One file while it is in work. */
    private record Reading(
            int ordinal,
            Candidate file,
            Fingerprint seen,
            Optional<LedgerEntry> known,
            Optional<Decision.Repair> repair,
            FileRejects rejects,
            long start) {
        long millis() {
            return (System.nanoTime() - start) / 1_000_000;
        }

        Optional<BitSet> only() {
            return repair.map(Decision.Repair::rows);
        }
    }

    /** Reads a file. What comes of it is staged; its rejects are not durable yet. */
    public Attempt load(int ordinal, Candidate file, Decision.Load decision)
            throws RunFailedException, CancelledException {
        FileRejects rejects = rejects(ordinal, file);
        boolean done = false;
        try {
            Attempt attempt = load(new Reading(
                    ordinal, file, decision.seen(), decision.known(), decision.repair(), rejects, System.nanoTime()));
            rejects.seal();
            done = true;
            return attempt;
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(file), wrong), wrong);
        } catch (UncheckedIOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(file), wrong.getCause()), wrong);
        } finally {
            if (!done) {
                closeQuietly(rejects);
            }
        }
    }

    private static void closeQuietly(FileRejects rejects) {
        try {
            rejects.close();
        } catch (IOException full) {
            // what it wrote does not count, and is removed when the run's rejects are put together
        }
    }

    private Attempt load(Reading reading) throws IOException, RunFailedException, CancelledException {
        try {
            run.listener.fileStarted(reading.ordinal, prepared.name(reading.file), reading.seen.size());
            CrashPoint.FILE_OPENED.reached();
            Content content = read(reading);
            if (!look(reading.file).looksLike(reading.seen)) {
                run.services.parts().dropStaged(staged(reading));
                reading.rejects.close();
                return new Attempt(
                        result(reading, Outcome.WAITING, Optional.of(Reasons.changedWhileRead()), reading.seen),
                        reading.file,
                        Optional.empty(),
                        reading.known,
                        Optional.empty(),
                        reading.rejects);
            }
            return judged(reading, content);
        } catch (RefusedException wrong) {
            return refused(reading, wrong.reason, wrong.hash);
        } catch (OutOfMemoryError | StackOverflowError much) { // what it held is let go of with this
            LOG.warn("{} needs too much to be read", prepared.name(reading.file), much);
            run.services.parts().dropStaged(staged(reading));
            return refused(reading, Reasons.tooMuchMemory(), "");
        } catch (Watch.OverException over) {
            throw new CancelledException();
        } catch (SourceException wrong) {
            return refused(reading, wrong.reason(), "");
        }
    }

    private static Fingerprint look(Candidate file) throws SourceException, RemoteFault {
        try {
            return Fingerprint.look(file);
        } catch (RemoteFault wrong) {
            throw wrong;
        } catch (IOException wrong) {
            throw new SourceException(wrong);
        }
    }

    /** A file is rejected, and known again by its hash where that could be had. */
    private static final class RefusedException extends Exception {
        private final transient Reason reason;
        private final String hash;

        RefusedException(Reason reason, String hash) {
            super(reason.sentence(), null, false, false);
            this.reason = reason;
            this.hash = hash;
        }
    }

    private Path staged(Reading reading) {
        return PartStore.stage(run.desk, run.number + "-" + reading.ordinal + "-" + slug(reading.file.name()));
    }

    private static String slug(String name) {
        String plain = UNSAFE.matcher(name).replaceAll("_");
        return plain.length() <= LONGEST_SLUG ? plain : plain.substring(0, LONGEST_SLUG);
    }

    private Content read(Reading reading) throws IOException, RefusedException, RunFailedException, CancelledException {
        boolean whole = false;
        try {
            Content content = once(reading, run.policy.stages(), Repeats.UNKNOWN);
            if (handling.duplicates()
                    .filter(duplicates -> duplicates.within() == Within.FILE)
                    .isPresent()) {
                content = withoutRepeats(reading, content, handling.duplicates().get());
            }
            whole = true;
            return content;
        } finally {
            if (!whole) {
                run.services.parts().dropStaged(staged(reading));
            }
        }
    }

    private Content once(Reading reading, boolean stages, Repeats repeats)
            throws IOException, RefusedException, RunFailedException, CancelledException {
        inWork.incrementAndGet();
        try {
            return onceInWork(reading, stages, repeats);
        } finally {
            inWork.decrementAndGet();
        }
    }

    private Content onceInWork(Reading reading, boolean stages, Repeats repeats)
            throws IOException, RefusedException, RunFailedException, CancelledException {
        Watch watch = Watch.until(run.end::isOver, prepared.job().read().get(ReadSection.SLOW));
        try (SourceContent content =
                run.services.opener().unpackingTo(run.desk).watched(watch).content(reading.file)) {
            try (RecordReader reader = ahead(
                    reading.file,
                    run.services.watched().apply(FileOpening.open(prepared, reading.file, content, Long.MAX_VALUE)))) {
                PartOrigin origin = new PartOrigin(
                        prepared.name(reading.file), reading.file.key(), run.number, Instant.now(run.services.clock()));
                FileReading.Sink sink = new FileReading.Sink(
                        stages ? Optional.of(staged(reading)) : Optional.empty(),
                        run.policy.holds() && run.services.parts().canHold(),
                        origin,
                        (hash, rejected) -> PartNotes.of(
                                entry(reading, arrival(reading, hash, true), rejected, Optional.empty()),
                                prepared.dataset().name()),
                        reading.rejects,
                        !run.policy.dry(),
                        this::hasSpareCore);
                Content found = new FileReading(
                                new FileReading.Source(prepared, bindings, reading.file, reader, content),
                                sink,
                                repeats,
                                reading.only())
                        .read(
                                run.end::isOver,
                                rows -> run.listener.fileProgress(reading.ordinal, content.bytes(), rows));
                if (found.part().held().isPresent()) {
                    run.services
                            .parts()
                            .hold(staged(reading), found.part().held().get());
                } else if (stages) {
                    run.services.parts().seal(staged(reading), found.part().seal());
                }
                return found;
            } catch (FileRejectedException wrong) {
                throw new RefusedException(wrong.reason(), refusedHash(reading.file, content));
            }
        }
    }

    /** Whether the run reads fewer files at this moment than there are cores. */
    private boolean hasSpareCore() {
        return inWork.get() < CORES;
    }

    private RecordReader ahead(Candidate file, RecordReader reader) {
        return file.size() >= LARGE && !reader.readsAhead() ? new ReadAhead(reader, this::hasSpareCore) : reader;
    }

    private static String refusedHash(Candidate file, SourceContent content) throws IOException {
        if (file.size() > MOST_DRAINED) {
            return "";
        }
        try {
            return content.hash();
        } catch (FileRejectedException | SourceException unreadable) {
            return ""; // its bytes cannot be had; the next run will try again
        } catch (IOException damaged) {
            if (!Unpacked.isDamage(damaged)) {
                throw damaged;
            }
            return "";
        }
    }

    /** Looks for rows that the file itself has twice; they never come into the part. */
    private Content withoutRepeats(Reading reading, Content content, Duplicates duplicates)
            throws IOException, RefusedException, RunFailedException, CancelledException {
        List<ColumnDef> columns = duplicates.columns().isEmpty()
                ? prepared.dataset().columns()
                : duplicates.columns().stream()
                        .map(name -> prepared.dataset().column(name).orElseThrow())
                        .toList();
        RowRule within = new RowRule(kind(duplicates.then()), Scope.DATASET, duplicates.columns(), Optional.empty());
        KeyIndex.Found found = RowResolution.within(staged(reading), columns, within, run.desk);
        if (duplicates.then() == Then.COUNT) {
            return found.counted().isEmpty()
                    ? content
                    : content.noting(counted(found.counted().get(0), FileReading.comparedBy(prepared)));
        }
        if (found.count(0) == 0) {
            return content;
        }
        run.services.parts().dropStaged(staged(reading));
        reading.rejects.restart();
        return once(reading, true, new Repeats(bits(found.dropped().get(0)), row -> Optional.ofNullable(
                        found.instead().get((long) row))
                .map(spot -> "line " + spot.line())
                .orElse("")));
    }

    private static BitSet bits(RoaringBitmap rows) {
        BitSet bits = new BitSet();
        rows.forEach((int row) -> bits.set(row));
        return bits;
    }

    public static String counted(long rows, String by) {
        return Reasons.grouped(rows) + (rows == 1 ? " row repeats " : " rows repeat ") + by
                + " of an earlier one; all are loaded";
    }

    /**
     * Reads a file once more, to tell of rows of it that do not count because of rows of other files. Its part stays as
     * it is.
     *
     * @param masked rows of its part that do not count
     */
    public Attempt telling(Attempt first, RoaringBitmap masked, java.util.function.IntFunction<String> where)
            throws RunFailedException, CancelledException {
        Optional<Decision.Repair> repair =
                Optional.ofNullable(run.asked.repairs().get(first.file().lying()));
        Reading reading = new Reading(
                first.result().ordinal(),
                first.file(),
                first.result().fingerprint(),
                first.known(),
                repair,
                first.rejects(),
                System.nanoTime());
        try {
            first.rejects().restart();
            Content content = once(reading, false, new Repeats(bits(masked), where));
            first.rejects().seal();
            FileResult result = content.counted(first.result());
            return first.with(result);
        } catch (RefusedException changed) {
            throw new RunFailedException(
                    prepared.name(first.file()) + " was changed while it was loaded; run again", changed);
        } catch (SourceException gone) {
            throw new RunFailedException(
                    prepared.name(first.file()) + " went away while it was loaded; run again", gone);
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(first.file()), wrong), wrong);
        } catch (UncheckedIOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(first.file()), wrong.getCause()), wrong);
        }
    }

    private Arrival arrival(Reading reading, String hash, boolean accepted) {
        String job = prepared.job().name();
        String source = source(reading.file);
        Order fresh = new Order(run.number, run.turns.getOrDefault(reading.ordinal, 0), reading.ordinal);
        boolean instead = handling.load() != Load.APPEND && handling.load() != Load.UPDATE && !handling.nameAdds();
        boolean copies = prepared.job().find().get(reading.file.place() - 1).loadCopies();
        if (reading.repair.isPresent() && accepted) {
            Arrival base = reading.repair.get().of().arrival();
            return new Arrival(
                    Arrival.id(run.number, reading.ordinal),
                    run.number,
                    job,
                    source,
                    base.generation(),
                    base.place(),
                    base.id(),
                    accepted,
                    base.instead(),
                    copies,
                    hash,
                    rule,
                    "",
                    0,
                    false,
                    false);
        }
        int generation = reading.file.former().isPresent() && reading.known.isPresent()
                ? reading.known.get().arrival().generation()
                : run.ledger.generation(job, source, hash);
        return new Arrival(
                Arrival.id(run.number, reading.ordinal),
                run.number,
                job,
                source,
                generation,
                run.ledger.place(job, source, generation, hash, fresh),
                0,
                accepted,
                instead,
                copies,
                hash,
                rule,
                "",
                0,
                false,
                false);
    }

    private LedgerEntry entry(Reading reading, Arrival arrival, long rejected, Optional<Reason> reason) {
        Fate fate = reading.file.former().isPresent() && reading.known.isPresent()
                ? reading.known.get().fate()
                : Fate.LEFT;
        return new LedgerEntry(
                arrival,
                reading.file.name(),
                reading.file.file(),
                reading.file.place(),
                reading.seen.withHash(arrival.content()),
                Instant.now(run.services.clock()),
                prepared.rules(),
                prepared.dataset().version(),
                rejected,
                reason,
                run.number,
                after,
                fate,
                0,
                Standing.NOWHERE);
    }

    private FileResult result(Reading reading, Outcome outcome, Optional<Reason> reason, Fingerprint seen) {
        return FileResult.uncounted(
                reading.ordinal,
                reading.file,
                source(reading.file),
                prepared.name(reading.file),
                outcome,
                reason,
                0,
                seen,
                List.of(),
                reading.millis());
    }

    private Attempt refused(Reading reading, Reason reason, String hash) throws IOException {
        return refused(reading, reason, hash, Optional.empty());
    }

    /** @param content what was read of it, where it was read to its end */
    private Attempt refused(Reading reading, Reason reason, String hash, Optional<Content> content) throws IOException {
        if (!run.policy.dry()) {
            reading.rejects.file(reason, content.isPresent());
        }
        LedgerEntry entry = entry(reading, arrival(reading, hash, false), 0, Optional.of(reason));
        FileResult result = result(reading, Outcome.REJECTED, Optional.of(reason), reading.seen.withHash(hash));
        if (content.isPresent()) {
            Content all = content.get();
            result = new Content(
                            all.read(),
                            0,
                            0,
                            0,
                            all.read(),
                            false,
                            hash,
                            all.groups(),
                            all.header(),
                            all.notes(),
                            Written.NOTHING)
                    .counted(result);
        } else if (reading.known.filter(LedgerEntry::isLoaded).isPresent()) {
            result = new Content(
                            0,
                            0,
                            0,
                            0,
                            0,
                            false,
                            hash,
                            List.of(),
                            List.of(),
                            List.of("the rows that its earlier content brought stay in the dataset"),
                            Written.NOTHING)
                    .counted(result);
        }
        return new Attempt(result, reading.file, Optional.of(entry), reading.known, Optional.empty(), reading.rejects);
    }

    /** A file that was read to its end: it is accepted, unless too much of it is wrong. */
    private Attempt judged(Reading reading, Content content) throws IOException {
        Optional<Reason> refusal = reading.repair.isPresent() ? Optional.empty() : tooMuch(reading, content);
        if (refusal.isPresent()) {
            run.services.parts().dropStaged(staged(reading));
            return refused(reading, refusal.get(), content.hash(), Optional.of(content));
        }
        Arrival arrival = arrival(reading, content.hash(), true);
        boolean replaces = !arrival.isRepair() && run.ledger.displaces(arrival);
        FileResult result = content.counted(result(
                reading,
                replaces ? Outcome.REPLACED : Outcome.LOADED,
                Optional.empty(),
                reading.seen.withHash(content.hash())));
        boolean empty = arrival.isRepair() && content.loaded() == 0 && !content.deletes();
        if (empty || !run.policy.stages()) {
            run.services
                    .parts()
                    .dropStaged(staged(reading)); // there is nothing to be added to what the file has brought
        }
        Arrival full = arrival.withRows(content.loaded(), content.deletes());
        return new Attempt(
                result,
                reading.file,
                Optional.of(entry(reading, full, content.rejected(), Optional.empty())),
                reading.known,
                empty || !run.policy.stages() ? Optional.empty() : Optional.of(staged(reading)),
                reading.rejects);
    }

    private Optional<Reason> tooMuch(Reading reading, Content content) {
        Optional<Handling.Limit> limit =
                handling.limits().fileAt().filter(most -> most.reached(content.rejected(), content.read()));
        if (limit.isPresent()) {
            return Optional.of(Reasons.limitReached(
                    content.rejected(), content.read(), limit.get().written()));
        }
        return handling.limits().rejectUnusual() && !run.asked.again().test(reading.file)
                ? run.families
                        .judge(source(reading.file), content.loaded())
                        .map(odd -> Reasons.rowsUnusual(content.loaded(), odd.usual(), odd.others()))
                : Optional.empty();
    }

    /** A file whose content another one has: its rows are kept, and count once those of the other do not. */
    public Attempt asCopy(Attempt attempt, Reason reason) throws RunFailedException {
        try {
            attempt.rejects().close();
            if (!run.policy.dry()) {
                attempt.rejects().file(reason, false);
                attempt.rejects().seal();
            }
        } catch (IOException | UncheckedIOException wrong) {
            throw new RunFailedException(
                    "What was rejected of " + prepared.name(attempt.file()) + " could not be written: "
                            + wrong.getMessage(),
                    wrong);
        }
        LedgerEntry entry = attempt.fresh().orElseThrow();
        LedgerEntry copy = entry.with(entry.arrival().markedAsCopy())
                .seen(entry.fingerprint(), entry.readAt(), Optional.of(reason), run.number);
        return new Attempt(
                attempt.result().rejected(reason, 0),
                attempt.file(),
                Optional.of(copy),
                attempt.known(),
                attempt.staged(),
                attempt.rejects());
    }

    /**
     * Makes durable what was written of files, under final names; it is an orphan until it is committed. Small parts
     * without a file are left as they are, for {@link #bundle}.
     *
     * @return the same files, each with the name of its part
     */
    public List<Attempt> publish(List<Attempt> attempts) throws RunFailedException {
        return orDrop(attempts, published -> {
            for (Attempt attempt : attempts) {
                published.add(publish(attempt));
            }
        });
    }

    /**
     * Makes small parts durable that have no file, in one that they share.
     *
     * @param attempts files that were published; those that have their parts are left as they are
     * @return the same files, each with the name of its part
     */
    public List<Attempt> bundle(List<Attempt> attempts) throws RunFailedException {
        List<Attempt> held = attempts.stream().filter(this::isHeld).toList();
        if (held.isEmpty()) {
            return attempts;
        }
        return orDrop(attempts, published -> {
            Map<Integer, Attempt> bundled = new HashMap<>();
            bundled(held).forEach(attempt -> bundled.put(attempt.result().ordinal(), attempt));
            attempts.forEach(attempt ->
                    published.add(bundled.getOrDefault(attempt.result().ordinal(), attempt)));
        });
    }

    private interface Publishing {
        void to(List<Attempt> published) throws RunFailedException;
    }

    private List<Attempt> orDrop(List<Attempt> attempts, Publishing publishing) throws RunFailedException {
        List<Attempt> published = new ArrayList<>();
        boolean all = false;
        try {
            publishing.to(published);
            all = true;
            return published;
        } finally {
            if (!all) {
                drop(attempts);
                drop(published);
            }
        }
    }

    private boolean isHeld(Attempt attempt) {
        return attempt.staged().filter(run.services.parts()::isHeld).isPresent();
    }

    /** What a file that was read takes of memory until it counts, in bytes, about. */
    public long heldBytes(Attempt attempt) {
        return attempt.staged().map(run.services.parts()::heldBytes).orElse(0L);
    }

    private Attempt publish(Attempt attempt) throws RunFailedException {
        try {
            attempt.rejects().finish();
            if (attempt.staged().isEmpty() || isHeld(attempt)) {
                return attempt;
            }
            return attempt.of(run.services
                    .parts()
                    .publish(attempt.staged().get(), prepared.dataset().name()));
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(prepared.name(attempt.file()), wrong), wrong);
        }
    }

    private List<Attempt> bundled(List<Attempt> held) throws RunFailedException {
        List<Attempt> inOrder = new ArrayList<>(held);
        inOrder.sort(Comparator.comparing((Attempt attempt) -> attempt.result().source())
                .thenComparing(attempt -> attempt.result().ordinal()));
        List<Path> staged =
                inOrder.stream().map(attempt -> attempt.staged().orElseThrow()).toList();
        PartStore parts = run.services.parts();
        String dataset = prepared.dataset().name();
        try {
            List<String> names = staged.size() == 1
                    ? List.of(parts.publishAlone(staged.get(0), dataset))
                    : parts.publishBundle(
                            run.desk, run.number + "-bundle-" + bundles.incrementAndGet(), staged, dataset);
            List<Attempt> published = new ArrayList<>();
            for (int i = 0; i < names.size(); i++) {
                published.add(inOrder.get(i).of(names.get(i)));
            }
            return published;
        } catch (IOException wrong) {
            throw new RunFailedException(
                    Reasons.storeFailed(prepared.name(inOrder.get(0).file()), wrong), wrong);
        }
    }

    /** Lets go of what was written of files and does not count, as far as that can be done now. */
    public void drop(Collection<Attempt> attempts) {
        for (Attempt attempt : attempts) {
            try {
                drop(attempt);
            } catch (IOException wrong) {
                LOG.warn(
                        "What was written of {} is left for later: {}",
                        attempt.file().name(),
                        wrong.getMessage());
            }
        }
    }

    /** Files that share a part file are all known to the catalogue, or none of them is. */
    private void drop(Attempt attempt) throws IOException {
        closeQuietly(attempt.rejects());
        if (attempt.staged().isPresent()) {
            run.services.parts().dropStaged(attempt.staged().get());
        }
        String part = attempt.fresh().map(entry -> entry.arrival().part()).orElse("");
        if (!part.isEmpty()) {
            run.services.parts().dropFile(Span.fileOf(part));
        }
    }
}
