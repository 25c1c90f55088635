package dev.hapster.core.run;

import com.dynatrace.hash4j.hashing.HashValue128;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Duplicates;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.definition.Handling.Within;
import dev.hapster.core.definition.JobDef.Format;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.Header;
import dev.hapster.core.read.RecordReader;
import dev.hapster.core.read.Separators;
import dev.hapster.core.read.Unpacked;
import dev.hapster.core.reason.FileRefusedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.run.SourceStream.SourceException;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartWriter;
import dev.hapster.core.store.RejectStore;
import dev.hapster.core.store.RejectStore.FileRejects;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import dev.hapster.core.moment.Moment;
import dev.hapster.core.row.LeftRow;
import dev.hapster.core.row.RefusedRow;
import dev.hapster.core.row.Vector;
import dev.hapster.core.run.FileResult.Instead;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.TreeMap;
import java.util.UUID;
import java.util.function.IntFunction;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;

/**
 * Loads single files: decides whether one is read at all, reads, checks and writes it, and makes its rejects durable. What it writes counts only
 * once the result is committed. Thread-safe.
 */
final class FileLoader {

    private static final int LONGEST_SLUG = 60;
    /** A refused file up to this size is read to its end, that it is known again by its content. */
    private static final long MOST_DRAINED = 16L << 20;

    private final Prepared prepared;
    private final Handling handling;
    private final long run;
    private final boolean trial;
    private final Asked asked;
    private final Families families;
    private final PartStore parts;
    private final RejectStore rejects;
    private final Clock clock;
    private final RunListener listener;
    private final BooleanSupplier cancelled;
    private final String rules;
    private final Path scratch;
    private final UnaryOperator<RecordReader> watched;
    /** Tells what trials write for a moment from what runs write. */
    private final String tag;
    /** Columns by which rows are compared, by their places in the dataset. */
    private final int[] compared;

    /**
     * What was asked for beyond what is new or changed.
     *
     * @param again whether a file is loaded though it has not changed
     * @param only  rows of files to which a retry is confined, by path and number; a path that is not in it is loaded whole
     */
    record Asked(Predicate<Candidate> again, Map<String, BitSet> only) {
        static final Asked NOTHING = new Asked(file -> false, Map.of());
    }

    /**
     * @param families how many rows files of a kind usually have
     * @param scratch  a folder for what must be unpacked to be read
     */
    FileLoader(Prepared prepared, long run, boolean trial, Asked asked, Families families, PartStore parts, RejectStore rejects, Path scratch, Clock clock,
            UnaryOperator<RecordReader> watched, RunListener listener, BooleanSupplier cancelled) {
        this.watched = watched;
        this.scratch = scratch;
        this.prepared = prepared;
        handling = prepared.job().handling();
        this.run = run;
        this.trial = trial;
        this.asked = asked;
        this.families = families;
        this.parts = parts;
        this.rejects = rejects;
        this.clock = clock;
        this.listener = listener;
        this.cancelled = cancelled;
        rules = prepared.rules();
        tag = trial ? "trial-" + UUID.randomUUID() + "-" : "";
        compared = compared(prepared);
    }

    private static int[] compared(Prepared prepared) {
        Handling handling = prepared.job().handling();
        List<String> by = handling.load() == Load.UPDATE ? prepared.dataset().key() : handling.duplicates().map(Duplicates::columns).orElse(List.of());
        List<String> columns = prepared.dataset().columns().stream().map(ColumnDef::name).toList();
        return (by.isEmpty() ? columns : by).stream().mapToInt(columns::indexOf).toArray();
    }

    /** The columns by which rows are compared, as people say it. */
    static String comparedBy(Prepared prepared) {
        Handling handling = prepared.job().handling();
        List<String> by = handling.load() == Load.UPDATE ? prepared.dataset().key() : handling.duplicates().map(Duplicates::columns).orElse(List.of());
        return by.isEmpty() ? "values in all columns" : String.join(", ", by);
    }

    /** Places of the columns by which rows are compared. */
    int[] compared() {
        return compared;
    }

    /** The run was cancelled while this file was in work; nothing of it is kept. */
    static final class CancelledException extends Exception {
        CancelledException() {
            super("cancelled", null, false, false);
        }
    }

    /** What a file brought, before anybody else knows of it. */
    private record Content(long read, long loaded, long aside, long repeated, long rejected, Optional<Path> staged, Deletions deletions, String hash, List<ReasonGroup> groups,
            List<String> header, List<String> notes) {
    }

    /**
     * A file that was dealt with, and of which nobody else knows yet.
     *
     * @param staged    its rows, where it was loaded
     * @param deletions its rows that say that others are to go
     */
    record Attempt(FileResult result, Candidate file, Optional<LedgerEntry> known, Optional<Path> staged, Optional<Deletions> deletions) {
    }

    /**
     * A second reading without rows that turned out to be there already.
     *
     * @param dropped by their numbers among the rows that pass
     * @param where   the row that stays instead, as people say it
     */
    record Repeats(BitSet dropped, IntFunction<String> where) {
        static final Repeats UNKNOWN = new Repeats(new BitSet(), row -> "");
    }

    /**
     * @param known  what the job knows of the file from earlier runs
     * @param copies which files are copies of others
     */
    Attempt load(int ordinal, Candidate file, Optional<LedgerEntry> known, Copies copies) throws RunFailedException, CancelledException {
        return load(ordinal, file, known, copies, Repeats.UNKNOWN);
    }

    /** Reads a file once more, without rows that are there already. What it wrote before is dropped. */
    Attempt again(Attempt first, Repeats repeats) throws RunFailedException, CancelledException {
        drop(first);
        return load(first.result().ordinal(), first.file(), first.known(), null, repeats);
    }

    private Attempt load(int ordinal, Candidate file, Optional<LedgerEntry> known, Copies copies, Repeats repeats) throws RunFailedException, CancelledException {
        long start = System.nanoTime();
        Fingerprint seen = new Fingerprint(file.size(), file.modified(), file.modified(), "");
        try (FileRejects refused = rejects.open(run, prepared.job().name(), ordinal, file.name(), file.key())) {
            Building building = new Building(ordinal, file, start, refused, known);
            try {
                seen = look(file);
                if (seen.size() != file.size() || !seen.modified().equals(file.modified().truncatedTo(ChronoUnit.MICROS))) {
                    return building.waiting(Reasons.changedSinceListed(), seen);
                }
                Optional<Attempt> unread = copies == null ? Optional.empty() : unread(building, ordinal, file, known, copies, seen);
                if (unread.isPresent()) {
                    return unread.get();
                }
                listener.fileStarted(ordinal, file.name(), seen.size());
                Moment.FILE_OPENED.reached();
                Content content = read(ordinal, file, refused, building, repeats);
                if (!look(file).looksLike(seen)) {
                    drop(content);
                    return building.waiting(Reasons.changedWhileRead(), seen);
                }
                return building.judged(content, seen.withHash(content.hash));
            } catch (FileRefusedException wrong) {
                return building.refused(wrong.reason(), seen.withHash(building.refusedHash), 0);
            } catch (SourceException wrong) {
                return building.refused(wrong.reason(), seen, 0);
            }
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(file.name(), wrong), wrong);
        } catch (java.io.UncheckedIOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(file.name(), wrong.getCause()), wrong);
        }
    }

    /** The result of a file that need not be read. */
    private Optional<Attempt> unread(Building building, int ordinal, Candidate file, Optional<LedgerEntry> known, Copies copies, Fingerprint seen) throws IOException, FileRefusedException {
        Optional<Copies.First> first = copies.of(ordinal);
        if (first.isPresent()) {
            Reason reason = Reasons.copy(first.get().name(), first.get().run());
            boolean said = known.isPresent() && known.get().reason().equals(Optional.of(reason)) && known.get().fingerprint().hash().equals(copies.hash(ordinal));
            return Optional.of(building.refused(reason, seen.withHash(copies.hash(ordinal)), said ? known.get().run() : 0));
        }
        if (known.isEmpty() || asked.again().test(file)) {
            return Optional.empty();
        }
        Optional<Fingerprint> same = same(known.get(), seen, file, scratch);
        boolean byTheseRules = known.get().rules().equals(rules);
        boolean rulesMatter = known.get().rejected() > 0 || prepared.job().read().headerOnce() || handling.load() == Load.REPLACE;
        boolean takenOut = handling.load() == Load.REPLACE && !known.get().hasPart();
        if (same.isPresent() && known.get().outcome() == Outcome.LOADED && (!rulesMatter || byTheseRules) && !takenOut) {
            return Optional.of(building.unchanged(known.get(), same.get()));
        }
        if (same.isPresent() && known.get().outcome() == Outcome.REJECTED && byTheseRules
                && known.get().reason().filter(reason -> reason.code() != ReasonCode.COPY).isPresent()) {
            return Optional.of(building.refused(known.get().reason().get(), same.get(), known.get().run()));
        }
        return Optional.empty();
    }

    /** The result of a file that is not complete; it is not looked into. */
    static FileResult waiting(int ordinal, Candidate file, String why) {
        return new FileResult(ordinal, file.place(), file.key(), file.file().toString(), file.former().isPresent(), file.name(), Outcome.WAITING, 0, 0, 0, 0, 0, Optional.of(Reasons.stillWritten(why)), 0, List.of(),
                Optional.empty(), Instead.ALL, new Fingerprint(file.size(), file.modified(), file.modified(), ""), List.of(), List.of(), 0);
    }

    /** Gives what was written of a file its final name; the part is an orphan until the result is committed. */
    FileResult publish(Attempt attempt) throws RunFailedException {
        try {
            close(attempt.deletions());
            return attempt.staged().isEmpty() ? attempt.result() : attempt.result().withPart(parts.publish(attempt.staged().get(), prepared.dataset().name()));
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(attempt.file().name(), wrong), wrong);
        }
    }

    /** Lets go of what was written of a file. */
    void drop(Attempt attempt) throws RunFailedException {
        try {
            close(attempt.deletions());
            if (attempt.staged().isPresent()) {
                parts.dropStaged(attempt.staged().get());
            }
        } catch (IOException wrong) {
            throw new RunFailedException("What was written of " + attempt.file().name() + " could not be removed: " + wrong.getMessage(), wrong);
        }
    }

    private static void close(Optional<Deletions> deletions) throws IOException {
        if (deletions.isPresent()) {
            deletions.get().close();
        }
    }

    /** The file's fingerprint, where its content is what the ledger knows: told by its look, or else by its hash. */
    static Optional<Fingerprint> same(LedgerEntry known, Fingerprint seen, Candidate file, Path scratch) throws IOException, FileRefusedException {
        Fingerprint old = known.fingerprint();
        if (old.looksLike(seen) && old.settledAt(known.readAt())) {
            return Optional.of(old);
        }
        if (old.size() != seen.size() || old.hash().isEmpty()) {
            return Optional.empty();
        }
        try (SourceContent content = new SourceContent(file, scratch)) {
            return content.hash().equals(old.hash()) ? Optional.of(seen.withHash(old.hash())) : Optional.empty();
        }
    }

    private static Fingerprint look(Candidate file) throws SourceException {
        try {
            return Fingerprint.look(file);
        } catch (IOException wrong) {
            throw new SourceException(wrong);
        }
    }

    /** Opens a file as its job declares it; the same for a check and for a run. */
    static RecordReader open(Prepared prepared, Candidate file, SourceContent content, long most) throws IOException, FileRefusedException {
        if (prepared.job().read().headerOnce() && prepared.shared().isEmpty()) {
            throw new FileRefusedException(Reasons.sharedHeaderMissing());
        }
        return Formats.open(content, prepared.job().read(), file.sheet(), prepared.shared(), most);
    }

    /** Binds a file's header, and looks whether its name suits; the same for a check and for a run. */
    static Binding bind(Prepared prepared, Candidate file, Header header, RecordReader reader) throws IOException, FileRefusedException {
        Shaper.checkFacts(prepared.dataset(), prepared.job(), file.facts());
        Binding binding = Binding.of(prepared.dataset(), prepared.job(), header.names());
        if (!binding.missing().isEmpty()) {
            throw new FileRefusedException(missing(prepared, header, binding, reader));
        }
        if (!binding.extra().isEmpty()) {
            throw new FileRefusedException(Reasons.columnsExtra(binding.extra()));
        }
        return binding;
    }

    private static Reason missing(Prepared prepared, Header header, Binding binding, RecordReader reader) throws IOException {
        if (prepared.job().read().as() == Format.DELIMITED) {
            String declared = prepared.job().read().separator();
            Optional<Character> better = Separators.better(header.original(), declared, header.names(), names -> Binding.fit(prepared.dataset(), prepared.job(), names));
            if (better.isPresent()) {
                return Reasons.separatorDiffers(declared, better.get().toString());
            }
        }
        return Reasons.columnsMissing(binding.missing(), header.names(), Likely.cause(prepared.dataset(), prepared.job(), header, reader));
    }

    static List<String> notes(Binding binding) {
        List<String> notes = new ArrayList<>();
        if (!binding.unused().isEmpty()) {
            notes.add("not used: " + String.join(", ", binding.unused().stream().map(Reasons::quote).toList()));
        }
        if (!binding.unfed().isEmpty()) {
            notes.add("left empty: " + String.join(", ", binding.unfed()));
        }
        return notes;
    }

    private Content read(int ordinal, Candidate file, FileRejects refused, Building building, Repeats repeats)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        try (SourceContent source = new SourceContent(file, scratch)) {
            try {
                return stages() ? store(source, ordinal, file, refused, repeats) : rows(source, ordinal, file, refused, null, null, repeats);
            } catch (FileRefusedException wrong) {
                if (file.size() <= MOST_DRAINED) {
                    try {
                        building.refusedHash = source.hash();
                    } catch (FileRefusedException | SourceException unreadable) {
                        building.refusedHash = ""; // its bytes cannot be had; the next run will try again
                    } catch (IOException damaged) {
                        if (!Unpacked.isDamage(damaged)) {
                            throw damaged;
                        }
                    }
                }
                throw wrong;
            }
        }
    }

    /** Whether rows are written at all: in a trial only where they are to be compared. */
    private boolean stages() {
        return !trial || handling.load() == Load.UPDATE || handling.duplicates().isPresent();
    }

    /** Reads into a part, which is dropped again where anything goes wrong. */
    private Content store(SourceContent source, int ordinal, Candidate file, FileRejects refused, Repeats repeats)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        String name = run + "-" + ordinal + "-" + tag + slug(file.name());
        Path staged = parts.stage(name);
        Deletions deletions = Deletions.in(scratch, name);
        boolean whole = false;
        try {
            Content content = rows(source, ordinal, file, refused, staged, deletions, repeats);
            whole = true;
            return content;
        } finally {
            if (!whole) {
                deletions.close();
                parts.dropStaged(staged);
            }
        }
    }

    /** @param staged where to write the rows that pass; null for a trial, in which they are only counted */
    private Content rows(SourceContent source, int ordinal, Candidate file, FileRejects refused, Path staged, Deletions deletions, Repeats repeats)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        Content content;
        try (RecordReader reader = watched.apply(open(prepared, file, source, Long.MAX_VALUE))) {
            content = new Reading(reader, source, ordinal, file, refused, staged, deletions, repeats).all();
        }
        if (repeats != Repeats.UNKNOWN || handling.duplicates().isEmpty() || handling.duplicates().get().within() != Within.FILE) {
            return content;
        }
        return withoutRepeats(content, ordinal, file, refused);
    }

    /** Looks for rows that the file itself has twice. */
    private Content withoutRepeats(Content content, int ordinal, Candidate file, FileRejects refused) throws IOException, FileRefusedException, RunFailedException, CancelledException {
        Duplicates duplicates = handling.duplicates().get();
        try (KeyIndex index = new KeyIndex(scratch, duplicates.then() == Then.KEEP_LAST)) {
            Settling.scan(index, 0, content.staged.orElseThrow(), prepared.dataset(), compared, null);
            KeyIndex.Found found = index.settle();
            if (found.count(0) == 0) {
                return content;
            }
            if (duplicates.then() == Then.COUNT) {
                List<String> notes = new ArrayList<>(content.notes);
                notes.add(Settling.counted(found.count(0), comparedBy(prepared)));
                return new Content(content.read, content.loaded, content.aside, content.repeated, content.rejected, content.staged, content.deletions, content.hash, content.groups, content.header, notes);
            }
            content.deletions.close();
            refused.close();
            Repeats repeats = new Repeats(found.dropped().get(0), row -> Optional.ofNullable(found.instead().get((long) row)).map(spot -> "line " + spot.line()).orElse(""));
            try (SourceContent source = new SourceContent(file, scratch)) {
                refused.restart();
                return store(source, ordinal, file, refused, repeats);
            }
        }
    }

    /** One passage through a file. */
    private final class Reading {
        private final RecordReader reader;
        private final SourceContent source;
        private final int ordinal;
        private final Candidate file;
        private final FileRejects refused;
        private final Path staged;
        private final Deletions deletions;
        private final Repeats repeats;
        private final BitSet only;
        private final Header header;
        private final Binding binding;
        private final RowRules conditions;
        private final ReasonTally tally = new ReasonTally();
        private final KeyHash keys = new KeyHash();
        private final List<String> columnNames = prepared.dataset().columns().stream().map(ColumnDef::name).toList();
        private final TreeMap<Integer, HashValue128> deletedInBatch = new TreeMap<>();
        private long considered;
        private long passed;
        private long left;
        private long repeated;
        private int written;

        Reading(RecordReader reader, SourceContent source, int ordinal, Candidate file, FileRejects refused, Path staged, Deletions deletions, Repeats repeats)
                throws IOException, FileRefusedException {
            this.reader = reader;
            this.source = source;
            this.ordinal = ordinal;
            this.file = file;
            this.refused = refused;
            this.staged = staged;
            this.deletions = deletions;
            this.repeats = repeats;
            only = asked.only().get(file.key());
            header = reader.header();
            binding = bind(prepared, file, header, reader);
            conditions = new RowRules(prepared.dataset(), handling, file, header.names());
        }

        Content all() throws IOException, FileRefusedException, RunFailedException, CancelledException {
            Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, file.facts());
            RawBatch raw = RecordReader.batchFor(header);
            PartOrigin origin = new PartOrigin(file.name(), file.key(), run, Instant.now(clock));
            try (PartWriter writer = staged == null ? null : new PartWriter(staged, prepared.dataset().columns(), origin)) {
                for (long before = 0; reader.next(raw); before += raw.rows) {
                    if (cancelled.getAsBoolean()) {
                        throw new CancelledException();
                    }
                    long first = before;
                    TypedBatch typed = shaper.shape(raw, before, row -> refuseOrLeave(shaper, raw, first, row));
                    considered += only == null ? raw.rows : onlyIn(before, raw.rows);
                    if (only != null || !conditions.none() || !repeats.dropped.isEmpty()) {
                        sift(raw, typed, before);
                    }
                    passed += typed.goodRows;
                    if (writer != null) {
                        writer.write(typed);
                    }
                    listener.fileProgress(ordinal, source.bytes(), reader.records());
                }
                if (writer != null) {
                    writer.finish();
                }
            }
            if (deletions != null) {
                deletions.finish();
            }
            return content();
        }

        private long onlyIn(long before, int rows) {
            return only.get((int) before + 1, (int) before + 1 + rows).cardinality();
        }

        /** What the job leaves out on purpose is not refused, whatever else is wrong with it. */
        private void refuseOrLeave(Shaper shaper, RawBatch raw, long before, RefusedRow row) {
            if (conditions.none() || only != null && !only.get((int) row.number())) {
                refuse(row);
                return;
            }
            int at = (int) (row.number() - before - 1);
            Map<String, Optional<String>> faulty = new HashMap<>();
            for (RefusedRow.Fault fault : row.faults()) {
                int column = columnNames.indexOf(fault.column());
                boolean text = column >= 0 && prepared.dataset().columns().get(column).type().kind() == Kind.TEXT;
                faulty.put(fault.column(), text ? shaper.cleaned(raw, at, column) : Optional.empty());
            }
            RowRules.Verdict verdict = conditions.ofFaulty(raw, shaper.typed(), at, faulty);
            boolean keyed = java.util.Arrays.stream(compared).noneMatch(place -> faulty.containsKey(columnNames.get(place)));
            if (verdict.left() == null || verdict.deletes() && !keyed) {
                refuse(row);
                return;
            }
            leave(raw, at, before, verdict.left());
            left++;
            if (verdict.deletes() && deletions != null) {
                deletedInBatch.put(at, key(shaper.typed(), at)); // how many rows stand before it is known once the batch is sifted
            }
        }

        private void refuse(RefusedRow row) {
            if (only != null && !only.get((int) row.number())) {
                return;
            }
            tally.add(row);
            if (!trial) {
                refused.row(row);
            }
        }

        /** Takes out of a batch what the job's own rules leave out. */
        private void sift(RawBatch raw, TypedBatch typed, long before) throws IOException {
            int stay = 0;
            for (int i = 0; i < typed.goodRows; i++) {
                int row = typed.good[i];
                deleteBefore(row);
                if (only != null && !only.get((int) (before + row + 1))) {
                    continue;
                }
                RowRules.Verdict verdict = conditions.none() ? RowRules.Verdict.STAYS : conditions.of(raw, typed, row);
                if (verdict.refused() != null) {
                    refuse(refusal(raw, row, before, verdict.refused()));
                } else if (verdict.left() != null) {
                    leave(raw, row, before, verdict.left());
                    left++;
                    if (verdict.deletes() && deletions != null) {
                        deletions.add(written, key(typed, row));
                    }
                } else if (repeats.dropped.get(written++)) {
                    repeat(raw, row, before, repeats.where.apply(written - 1));
                } else {
                    typed.good[stay++] = row;
                }
            }
            deleteBefore(Integer.MAX_VALUE);
            typed.goodRows = stay;
        }

        /** Writes down the deletions by rows with faults that stand before a row of the batch. */
        private void deleteBefore(int row) throws IOException {
            while (!deletedInBatch.isEmpty() && deletedInBatch.firstKey() < row) {
                deletions.add(written, deletedInBatch.pollFirstEntry().getValue());
            }
        }

        private HashValue128 key(TypedBatch typed, int row) {
            List<Vector> columns = new ArrayList<>();
            for (int place : compared) {
                columns.add(typed.columns.get(place));
            }
            return keys.of(columns, row);
        }

        private void repeat(RawBatch raw, int row, long before, String where) {
            if (handling.duplicates().filter(duplicates -> duplicates.then() == Then.REJECT).isPresent()) {
                refuse(refusal(raw, row, before, Reasons.repeated(comparedBy(prepared), where)));
            } else {
                leave(raw, row, before, "repeated: the same " + comparedBy(prepared) + (where.isEmpty() ? " as another row" : " as " + where));
                repeated++;
            }
        }

        private RefusedRow refusal(RawBatch raw, int row, long before, Reason reason) {
            return new RefusedRow(raw.line[row], before + row + 1, List.of(new RefusedRow.Fault("", "", reason)), raw.original(row), raw.texts(row));
        }

        private void leave(RawBatch raw, int row, long before, String rule) {
            if (!trial) {
                refused.left(new LeftRow(raw.line[row], before + row + 1, rule, raw.original(row), raw.texts(row)));
            }
        }

        private Content content() throws IOException, FileRefusedException, RunFailedException {
            if (only != null && considered != only.cardinality()) {
                throw new FileRefusedException(Reasons.changedWhileRetried(only.cardinality(), considered));
            }
            long read = only == null ? reader.records() : considered;
            long loaded = staged == null ? passed : parts.stagedRows(staged);
            long rejected = trial ? tally.rows() : refused.rows();
            if (read != loaded + rejected + (trial ? left + repeated : refused.leftRows())) {
                throw new RunFailedException(file.name() + " does not balance: " + read + " rows read, " + loaded + " loaded, " + left + " set aside, " + repeated + " repeated, "
                        + rejected + " rejected. Nothing of it was kept; this is a fault of Hapster, please report it", null);
            }
            List<String> notes = new ArrayList<>(notes(binding));
            notes.addAll(reader.notes());
            return new Content(read, loaded, left, repeated, rejected, Optional.ofNullable(staged), deletions, source.hash(), tally.groups(),
                    rejected + left + repeated > 0 ? header.names() : List.of(), notes);
        }
    }

    private void drop(Content content) throws IOException {
        if (content.deletions != null) {
            content.deletions.close();
        }
        if (content.staged.isPresent()) {
            parts.dropStaged(content.staged.get());
        }
    }

    private static String slug(String name) {
        String plain = name.replaceAll("[^A-Za-z0-9._-]", "_");
        return plain.length() <= LONGEST_SLUG ? plain : plain.substring(0, LONGEST_SLUG);
    }

    /** Puts the result of one file together, and makes its rejects durable first. */
    private final class Building {
        private final int ordinal;
        private final Candidate file;
        private final long start;
        private final FileRejects rejects;
        private final Optional<LedgerEntry> known;
        private final boolean hasPart;
        /** Hash of a file that was refused; empty where it was too large to be read to its end for that. */
        private String refusedHash = "";

        Building(int ordinal, Candidate file, long start, FileRejects rejects, Optional<LedgerEntry> known) {
            this.ordinal = ordinal;
            this.file = file;
            this.start = start;
            this.rejects = rejects;
            this.known = known;
            hasPart = known.isPresent() && known.get().hasPart();
        }

        Attempt unchanged(LedgerEntry entry, Fingerprint seen) {
            return result(Outcome.UNCHANGED, null, Optional.empty(), entry.run(), seen);
        }

        Attempt refused(Reason reason, Fingerprint seen, long since) throws IOException {
            if (!trial && since == 0) {
                rejects.file(reason, false);
                rejects.finish();
            }
            return result(Outcome.REJECTED, null, Optional.of(reason), since, seen);
        }

        Attempt waiting(Reason reason, Fingerprint seen) throws IOException {
            rejects.close();
            return result(Outcome.WAITING, null, Optional.of(reason), 0, seen);
        }

        /** A file that was read to its end: it is loaded, unless too much of it is wrong. */
        Attempt judged(Content content, Fingerprint seen) throws IOException {
            Optional<Reason> refusal = tooMuch(content);
            if (refusal.isPresent()) {
                FileLoader.this.drop(content);
                if (!trial) {
                    rejects.file(refusal.get(), true);
                    rejects.finish();
                }
                Content none = new Content(content.read, 0, 0, 0, content.read, Optional.empty(), null, content.hash, content.groups, content.header, content.notes);
                return result(Outcome.REJECTED, none, refusal, 0, seen);
            }
            if (!trial) {
                rejects.finish();
            }
            if (content.loaded == 0 && asked.only().containsKey(file.key())) {
                FileLoader.this.drop(content); // nothing is to be added to what the file has brought
                Content none = new Content(content.read, 0, content.aside, content.repeated, content.rejected, Optional.empty(), null, content.hash, content.groups, content.header, content.notes);
                return result(Outcome.LOADED, none, Optional.empty(), 0, seen);
            }
            return result(hasPart && instead(seen) != Instead.NONE ? Outcome.REPLACED : Outcome.LOADED, content, Optional.empty(), 0, seen);
        }

        private Optional<Reason> tooMuch(Content content) {
            if (asked.only().containsKey(file.key())) {
                return Optional.empty();
            }
            Optional<Handling.Limit> limit = handling.limits().fileAt().filter(most -> most.reached(content.rejected, content.read));
            if (limit.isPresent()) {
                return Optional.of(Reasons.limitReached(content.rejected, content.read, limit.get().written()));
            }
            return handling.limits().rejectUnusual() && !asked.again().test(file)
                    ? families.judge(file.key(), content.loaded).map(odd -> Reasons.rowsUnusual(content.loaded, odd.usual(), odd.others())) : Optional.empty();
        }

        private Instead instead(Fingerprint seen) {
            if (asked.only().containsKey(file.key())) {
                return Instead.NONE;
            }
            if (handling.load() != Load.APPEND) {
                return Instead.ALL;
            }
            return known.isPresent() && known.get().fingerprint().hash().equals(seen.hash()) ? Instead.LATEST : Instead.NONE;
        }

        private Attempt result(Outcome outcome, Content content, Optional<Reason> reason, long since, Fingerprint seen) {
            long millis = (System.nanoTime() - start) / 1_000_000;
            List<String> notes = content != null ? content.notes
                    : outcome == Outcome.REJECTED && hasPart ? List.of("the rows that its earlier content brought stay in the dataset") : List.of();
            FileResult result = new FileResult(ordinal, file.place(), file.key(), file.file().toString(), file.former().isPresent(), file.name(), outcome, content == null ? 0 : content.read,
                    content == null ? 0 : content.loaded, content == null ? 0 : content.aside, content == null ? 0 : content.repeated, content == null ? 0 : content.rejected, reason, since,
                    content == null ? List.of() : content.groups, Optional.empty(), instead(seen), seen, content == null ? List.of() : content.header, notes, millis);
            return new Attempt(result, file, known, content == null ? Optional.empty() : content.staged, content == null ? Optional.empty() : Optional.ofNullable(content.deletions));
        }
    }
}
