package dev.hapster.core.run;

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

/**
 * Takes one file through reading, shaping and storing, up to the point where its result can be committed. Knows nothing of
 * other files, so that many can be in work at once. Immutable; each call works alone.
 */
final class FileLoader {

    private static final int LONGEST_SLUG = 60;
    /** A refused file up to this size is read to its end, that it is known again by its content. */
    private static final long MOST_DRAINED = 16L << 20;

    private final Prepared prepared;
    private final long run;
    private final boolean trial;
    private final boolean again;
    private final PartStore parts;
    private final RejectStore rejects;
    private final Clock clock;
    private final RunListener listener;
    private final BooleanSupplier cancelled;
    private final String rules;
    private final Path scratch;

    /** @param scratch a folder for what must be unpacked to be read */
    FileLoader(Prepared prepared, long run, boolean trial, boolean again, PartStore parts, RejectStore rejects, Path scratch, Clock clock,
            RunListener listener, BooleanSupplier cancelled) {
        this.scratch = scratch;
        this.prepared = prepared;
        this.run = run;
        this.trial = trial;
        this.again = again;
        this.parts = parts;
        this.rejects = rejects;
        this.clock = clock;
        this.listener = listener;
        this.cancelled = cancelled;
        rules = prepared.rules();
    }

    /** The run was cancelled while this file was in work; nothing of it is kept. */
    static final class CancelledException extends Exception {
        CancelledException() {
            super("cancelled", null, false, false);
        }
    }

    /** What a file brought, before anybody else knows of it. */
    private record Content(long read, long loaded, long rejected, Optional<Path> staged, String hash, List<ReasonGroup> groups, List<String> notes) {
    }

    /**
     * @param known  what the job knows of the file from earlier runs
     * @param copies which files are copies of others
     * @return the result; a part it names is published, and is an orphan until the result is committed
     */
    FileResult load(int ordinal, Candidate file, Optional<LedgerEntry> known, Copies copies) throws RunFailedException, CancelledException {
        long start = System.nanoTime();
        Fingerprint seen = new Fingerprint(file.size(), file.modified(), file.modified(), "");
        try (FileRejects refused = rejects.open(run, prepared.job().name(), ordinal, file.name(), file.key())) {
            Building building = new Building(ordinal, file, start, refused, known.isPresent() && known.get().hasPart());
            try {
                seen = look(file);
                if (seen.size() != file.size() || !seen.modified().equals(file.modified().truncatedTo(ChronoUnit.MICROS))) {
                    return building.waiting(Reasons.changedSinceListed(), seen);
                }
                Optional<Copies.First> first = copies.of(ordinal);
                if (first.isPresent()) {
                    Reason reason = Reasons.copy(first.get().name(), first.get().run());
                    boolean said = known.isPresent() && known.get().reason().equals(Optional.of(reason)) && known.get().fingerprint().hash().equals(copies.hash(ordinal));
                    return building.refused(reason, seen.withHash(copies.hash(ordinal)), said ? known.get().run() : 0);
                }
                if (known.isPresent() && !again) {
                    Optional<Fingerprint> same = same(known.get(), seen, file);
                    if (same.isPresent() && known.get().outcome() == Outcome.LOADED
                            && (known.get().rejected() == 0 && !prepared.job().read().headerOnce() || known.get().rules().equals(rules))) {
                        return building.unchanged(known.get(), same.get());
                    }
                    if (same.isPresent() && known.get().outcome() == Outcome.REJECTED && known.get().rules().equals(rules)
                            && known.get().reason().filter(reason -> reason.code() != ReasonCode.COPY).isPresent()) {
                        return building.refused(known.get().reason().get(), same.get(), known.get().run());
                    }
                }
                listener.fileStarted(ordinal, file.name(), seen.size());
                Content content = read(ordinal, file, refused, building);
                if (!look(file).looksLike(seen)) {
                    drop(content);
                    return building.waiting(Reasons.changedWhileRead(), seen);
                }
                return building.loaded(content, seen.withHash(content.hash));
            } catch (FileRefusedException wrong) {
                return building.refused(wrong.reason(), seen.withHash(building.refusedHash), 0);
            } catch (SourceException wrong) {
                return building.refused(wrong.reason(), seen, 0);
            }
        } catch (IOException wrong) {
            throw new RunFailedException("While " + file.name() + " was loaded, the store could not be written: " + wrong.getMessage(), wrong);
        } catch (java.io.UncheckedIOException wrong) {
            throw new RunFailedException("While " + file.name() + " was loaded, the store could not be written: " + wrong.getCause().getMessage(), wrong);
        }
    }

    /** The result of a file that is not complete; it is not looked into. */
    static FileResult waiting(int ordinal, Candidate file, String why) {
        return new FileResult(ordinal, file.place(), file.key(), file.name(), Outcome.WAITING, 0, 0, 0, Optional.of(Reasons.stillWritten(why)), 0, List.of(),
                Optional.empty(), new Fingerprint(file.size(), file.modified(), file.modified(), ""), List.of(), 0);
    }

    /** The file's fingerprint, where its content is what the ledger knows: told by its look, or else by its hash. */
    private Optional<Fingerprint> same(LedgerEntry known, Fingerprint seen, Candidate file) throws IOException, FileRefusedException {
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

    private Content read(int ordinal, Candidate file, FileRejects refused, Building building)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        try (SourceContent source = new SourceContent(file, scratch)) {
            try {
                return trial ? rows(source, ordinal, file, refused, null) : store(source, ordinal, file, refused);
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

    /** Reads into a part, which is dropped again where anything goes wrong. */
    private Content store(SourceContent source, int ordinal, Candidate file, FileRejects refused)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        Path staged = parts.stage(run + "-" + ordinal + "-" + slug(file.name()));
        boolean whole = false;
        try {
            Content content = rows(source, ordinal, file, refused, staged);
            whole = true;
            return content;
        } finally {
            if (!whole) {
                Files.deleteIfExists(staged);
            }
        }
    }

    /** @param staged where to write the rows that pass; null for a trial, in which they are only counted */
    private Content rows(SourceContent source, int ordinal, Candidate file, FileRejects refused, Path staged)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        try (RecordReader reader = open(prepared, file, source, Long.MAX_VALUE)) {
            return rows(reader, source, ordinal, file, refused, staged);
        }
    }

    private Content rows(RecordReader reader, SourceContent source, int ordinal, Candidate file, FileRejects refused, Path staged)
            throws IOException, FileRefusedException, RunFailedException, CancelledException {
        Header header = reader.header();
        Binding binding = bind(prepared, file, header, reader);
        Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, file.facts());
        RawBatch raw = RecordReader.batchFor(header);
        ReasonTally tally = new ReasonTally();
        PartOrigin origin = new PartOrigin(file.name(), file.key(), run, Instant.now(clock));
        long passed = 0;
        try (PartWriter writer = staged == null ? null : new PartWriter(staged, prepared.dataset().columns(), origin)) {
            while (reader.next(raw)) {
                if (cancelled.getAsBoolean()) {
                    throw new CancelledException();
                }
                TypedBatch typed = shaper.shape(raw, row -> {
                    tally.add(row);
                    if (staged != null) {
                        refused.row(row);
                    }
                });
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
        long loaded = staged == null ? passed : PartStore.countRows(staged);
        long rejected = staged == null ? tally.rows() : refused.rows();
        if (reader.records() != loaded + rejected) {
            throw new RunFailedException(file.name() + " does not balance: " + reader.records() + " rows read, " + loaded
                    + " loaded, " + rejected + " rejected. Nothing of it was kept; this is a fault of Hapster, please report it", null);
        }
        List<String> notes = new ArrayList<>(notes(binding));
        notes.addAll(reader.notes());
        return new Content(reader.records(), loaded, rejected, Optional.ofNullable(staged), source.hash(), tally.groups(), notes);
    }

    private static void drop(Content content) throws IOException {
        if (content.staged.isPresent()) {
            Files.deleteIfExists(content.staged.get());
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
        private final boolean hasPart;
        /** Hash of a file that was refused; empty where it was too large to be read to its end for that. */
        private String refusedHash = "";

        Building(int ordinal, Candidate file, long start, FileRejects rejects, boolean hasPart) {
            this.ordinal = ordinal;
            this.file = file;
            this.start = start;
            this.rejects = rejects;
            this.hasPart = hasPart;
        }

        FileResult unchanged(LedgerEntry known, Fingerprint seen) {
            return result(Outcome.UNCHANGED, null, Optional.empty(), known.run(), Optional.empty(), seen);
        }

        FileResult refused(Reason reason, Fingerprint seen, long since) throws IOException {
            if (!trial) {
                rejects.file(reason);
                rejects.finish();
            }
            return result(Outcome.REJECTED, null, Optional.of(reason), since, Optional.empty(), seen);
        }

        FileResult waiting(Reason reason, Fingerprint seen) throws IOException {
            rejects.close();
            return result(Outcome.WAITING, null, Optional.of(reason), 0, Optional.empty(), seen);
        }

        FileResult loaded(Content content, Fingerprint seen) throws IOException {
            if (!trial) {
                rejects.finish();
            }
            Optional<String> part = content.staged.isEmpty() ? Optional.empty()
                    : Optional.of(parts.publish(content.staged.get(), prepared.dataset().name()));
            return result(hasPart ? Outcome.REPLACED : Outcome.LOADED, content, Optional.empty(), 0, part, seen);
        }

        private FileResult result(Outcome outcome, Content content, Optional<Reason> reason, long since, Optional<String> part, Fingerprint seen) {
            long millis = (System.nanoTime() - start) / 1_000_000;
            List<String> notes = content != null ? content.notes
                    : outcome == Outcome.REJECTED && hasPart ? List.of("the rows that its earlier content brought stay in the dataset") : List.of();
            return new FileResult(ordinal, file.place(), file.key(), file.name(), outcome, content == null ? 0 : content.read,
                    content == null ? 0 : content.loaded, content == null ? 0 : content.rejected, reason, since,
                    content == null ? List.of() : content.groups, part, seen, notes, millis);
        }
    }
}
