package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.ReasonGroup;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.SetAsideRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.Bindings;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.HeldPart;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartSchema;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.PartWriter;
import dev.hapster.core.store.reject.RejectStore.FileRejects;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.BiFunction;
import java.util.function.BooleanSupplier;
import java.util.function.IntFunction;
import java.util.function.LongConsumer;

/**
 * Reads one file once, from its first row to its last: rows that pass go to a part, the others to the rejects or to
 * those set aside. Used once, by one thread.
 */
public final class FileReading {

    /** What is read, and how. */
    record Source(
            PreparedJob prepared, Bindings bindings, Candidate file, RecordReader reader, SourceContent content) {}

    /**
     * Where what is read goes.
     *
     * @param holds whether a small part may go without a file, to share one with others
     * @param staged the part; empty where rows are only counted
     * @param origin what the part says of its rows
     * @param notes what its footer says, given the hash of the content and how many rows were rejected
     * @param rejects what is rejected and set aside
     * @param written whether rejects are written; otherwise they are only counted
     * @param spare whether another core has nothing to do
     */
    record Sink(
            Optional<Path> staged,
            boolean holds,
            PartOrigin origin,
            BiFunction<String, Long, Map<String, String>> notes,
            FileRejects rejects,
            boolean written,
            BooleanSupplier spare) {}

    /**
     * Rows that turned out to be there already.
     *
     * @param dropped by their numbers among the rows that pass
     * @param where the row that stays instead, as people say it
     */
    record Repeats(BitSet dropped, IntFunction<String> where) {
        static final Repeats UNKNOWN = new Repeats(new BitSet(), row -> "");
    }

    /**
     * What a file brought.
     *
     * @param part how its part was written
     */
    record Content(
            long read,
            long loaded,
            long aside,
            long repeated,
            long rejected,
            boolean deletes,
            String hash,
            List<ReasonGroup> groups,
            List<String> header,
            List<String> notes,
            Written part) {

        /** The result of a file that brought this. */
        FileResult counted(FileResult of) {
            return new FileResult(
                    of.ordinal(),
                    of.place(),
                    of.source(),
                    of.path(),
                    of.file(),
                    of.name(),
                    of.outcome(),
                    read,
                    loaded,
                    aside,
                    repeated,
                    rejected,
                    of.reason(),
                    of.sinceRun(),
                    groups,
                    of.fingerprint(),
                    header,
                    notes,
                    of.afterwards(),
                    of.millis());
        }

        Content noting(String note) {
            List<String> more = new ArrayList<>(notes);
            more.add(note);
            return new Content(read, loaded, aside, repeated, rejected, deletes, hash, groups, header, more, part);
        }
    }

    /**
     * How a part was written.
     *
     * @param seal by what its file will be known; empty where it has none
     * @param held the part itself, where it is to share a file with others
     */
    record Written(String seal, Optional<HeldPart> held) {
        static final Written NOTHING = new Written("", Optional.empty());
    }

    private final Source source;
    private final Sink sink;
    private final Repeats repeats;
    private final Optional<BitSet> only;
    private final PreparedJob prepared;
    private final Handling handling;
    private final RecordReader reader;
    private final Header header;
    private final Binding binding;
    private final Shaper shaper;
    private final RowRules conditions;
    private final ReasonTally tally = new ReasonTally();
    private final List<String> columnNames;
    /** Columns that say which row is to go: the dataset's key, and the one that says how new it is. */
    private final int[] deletionColumns;

    private final int[] keyColumns;
    private PartWriter deletions;
    /**
     * Rows of the present batch that say that others are to go, each with how many rows of the part stand before it.
     */
    private final TreeMap<Integer, Integer> deletes = new TreeMap<>();

    private boolean deleting;
    private long considered;
    private long passed;
    private long left;
    private long repeated;
    private int written;

    /** @param only rows to which the reading is confined, by their numbers counted from 1 */
    FileReading(Source source, Sink sink, Repeats repeats, Optional<BitSet> only)
            throws IOException, FileRejectedException {
        this.source = source;
        this.sink = sink;
        this.repeats = repeats;
        this.only = only;
        prepared = source.prepared();
        handling = prepared.job().handling();
        reader = source.reader();
        header = reader.header();
        binding = FileOpening.bind(prepared, source.bindings(), source.file(), header, reader);
        shaper = new Shaper(prepared.dataset(), prepared.job(), binding, FileOpening.says(source.file(), reader));
        shaper.shareWhere(sink.spare());
        conditions = new RowRules(prepared.dataset(), handling, shaper);
        columnNames = prepared.dataset().columns().stream().map(ColumnDef::name).toList();
        keyColumns =
                prepared.dataset().key().stream().mapToInt(columnNames::indexOf).toArray();
        int[] newest = handling.newestBy().stream()
                .mapToInt(columnNames::indexOf)
                .filter(place -> place >= 0 && Arrays.stream(keyColumns).noneMatch(key -> key == place))
                .toArray();
        deletionColumns = Arrays.copyOf(keyColumns, keyColumns.length + newest.length);
        System.arraycopy(newest, 0, deletionColumns, keyColumns.length, newest.length);
    }

    /**
     * @param over whether the run has come to its end, so that there is no use in going on
     * @param progress told how many rows were read so far
     */
    Content read(BooleanSupplier over, LongConsumer progress)
            throws IOException, FileRejectedException, RunFailedException, CancelledException {
        RawBatch raw = RecordReader.batchFor(header, source.file().size());
        String hash;
        Written part = Written.NOTHING;
        try (PartWriter writer = sink.staged().isEmpty()
                ? null
                : new PartWriter(sink.staged().get(), prepared.dataset().columns(), sink.origin())) {
            if (writer != null) {
                writer.shareWhere(sink.spare());
            }
            for (long before = 0; reader.next(raw); before += raw.rows) {
                if (over.getAsBoolean()) {
                    throw new CancelledException();
                }
                long first = before;
                TypedBatch typed = shaper.shape(raw, before, row -> refuseOrLeave(raw, first, row));
                considered += only.isEmpty()
                        ? raw.rows
                        : only.get()
                                .get((int) before + 1, (int) before + 1 + raw.rows)
                                .cardinality();
                if (only.isPresent() || !conditions.none() || !repeats.dropped.isEmpty()) {
                    sift(raw, typed, before);
                }
                passed += typed.goodRows;
                if (writer != null) {
                    writer.write(typed);
                }
                progress.accept(reader.records());
            }
            hash = source.content().hash();
            String deleted = deletions == null ? "" : deletions.finish();
            if (writer != null) {
                Map<String, String> notes = new LinkedHashMap<>(sink.notes().apply(hash, tally.rows()));
                if (!deleted.isEmpty()) {
                    notes.put(PartStore.DELETED, deleted);
                }
                Optional<HeldPart> held = sink.holds() && deletions == null ? writer.hold(notes) : Optional.empty();
                part = held.isPresent() ? new Written("", held) : new Written(writer.finish(notes), held);
            }
        } catch (PartWriter.TooManyRowsException many) {
            throw new FileRejectedException(
                    Reasons.tooManyRows(prepared.dataset().columns().size(), reader.records()));
        } finally {
            if (deletions != null) {
                deletions.close();
            }
        }
        return content(hash, part);
    }

    private boolean isOutside(long row) {
        return only.isPresent() && !only.get().get((int) row);
    }

    /** What the job leaves out on purpose is not rejected, whatever else is wrong with it. */
    private void refuseOrLeave(RawBatch raw, long before, RejectedRow row) {
        if (conditions.none() || isOutside(row.number())) {
            refuse(row);
            return;
        }
        int at = (int) (row.number() - before - 1);
        Map<String, Optional<String>> faulty = conditions.faulty(shaper, raw, at, row.faults());
        RowRules.Verdict verdict = conditions.ofFaulty(raw, at, faulty);
        boolean keyed = Arrays.stream(deletionColumns).noneMatch(place -> faulty.containsKey(columnNames.get(place)));
        if (verdict.left() == null || (verdict.deletes() && !keyed)) {
            refuse(row);
            return;
        }
        leave(raw, at, before, verdict.left(), "");
        left++;
        if (verdict.deletes()) {
            deletes.put(at, -1); // how many rows stand before it is known once the batch is sifted
        }
    }

    private void refuse(RejectedRow row) {
        if (isOutside(row.number())) {
            return;
        }
        tally.add(row);
        if (sink.written()) {
            sink.rejects().row(row);
        }
    }

    /** Takes out of a batch what the job's own rules leave out. */
    private void sift(RawBatch raw, TypedBatch typed, long before) throws IOException {
        int stay = 0;
        for (int i = 0; i < typed.goodRows; i++) {
            int row = typed.good[i];
            deleteBefore(row);
            if (isOutside(before + row + 1)) {
                continue;
            }
            RowRules.Verdict verdict = conditions.none() ? RowRules.Verdict.STAYS : conditions.of(raw, row);
            if (verdict.refused() != null) {
                refuse(refusal(raw, row, before, verdict.refused()));
            } else if (verdict.left() != null) {
                leave(raw, row, before, verdict.left(), "");
                left++;
                if (verdict.deletes()) {
                    deletes.put(row, written);
                }
            } else if (repeats.dropped.get(written++)) {
                repeat(raw, row, before, repeats.where.apply(written - 1));
            } else {
                typed.good[stay++] = row;
            }
        }
        deleteBefore(Integer.MAX_VALUE);
        typed.goodRows = stay;
        writeDeletions(typed);
    }

    /**
     * Settles how many rows stand before deletions by rows with faults, as far as these stand before a row of the
     * batch.
     */
    private void deleteBefore(int row) {
        deletes.headMap(row).replaceAll((at, known) -> known < 0 ? written : known);
    }

    private void writeDeletions(TypedBatch typed) throws IOException {
        if (deletes.isEmpty()) {
            return;
        }
        deleting = true;
        if (sink.staged().isPresent()) {
            if (deletions == null) {
                List<ColumnDef> columns = new ArrayList<>();
                Arrays.stream(deletionColumns)
                        .forEach(place ->
                                columns.add(prepared.dataset().columns().get(place)));
                columns.add(plain(PartSchema.LINE));
                columns.add(plain(RowResolution.BEFORE));
                deletions = PartWriter.plain(PartStore.deletions(sink.staged().get()), columns);
            }
            List<Vector> vectors = new ArrayList<>();
            Arrays.stream(deletionColumns).forEach(place -> vectors.add(typed.columns.get(place)));
            int rows = deletes.lastKey() + 1;
            Vector.Longs lines = new Vector.Longs(rows);
            Vector.Longs before = new Vector.Longs(rows);
            deletes.forEach((row, stand) -> {
                lines.values[row] = typed.line[row];
                before.values[row] = stand;
            });
            vectors.add(lines);
            vectors.add(before);
            TypedBatch batch = new TypedBatch(vectors);
            batch.good = deletes.keySet().stream().mapToInt(Integer::intValue).toArray();
            batch.goodRows = batch.good.length;
            batch.line = typed.line;
            deletions.write(batch);
        }
        deletes.clear();
    }

    private static ColumnDef plain(String name) {
        return new ColumnDef(
                name,
                ColumnType.of(Kind.INTEGER),
                false,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                "",
                Optional.empty(),
                List.of());
    }

    private void repeat(RawBatch raw, int row, long before, String where) {
        String by = comparedBy(prepared);
        if (handling.duplicates()
                .filter(duplicates -> duplicates.then() == Then.REJECT)
                .isPresent()) {
            refuse(refusal(raw, row, before, Reasons.repeated(by, where)));
        } else {
            leave(raw, row, before, "repeated: the same " + by, where.isEmpty() ? "another row" : where);
            repeated++;
        }
    }

    /** The columns by which rows are compared, as people say it. */
    public static String comparedBy(PreparedJob prepared) {
        Handling handling = prepared.job().handling();
        List<String> by = handling.load() == Handling.Load.UPDATE
                ? prepared.dataset().key()
                : handling.duplicates().map(Handling.Duplicates::columns).orElse(List.of());
        return by.isEmpty() ? "values in all columns" : String.join(", ", by);
    }

    private static RejectedRow refusal(RawBatch raw, int row, long before, Reason reason) {
        return new RejectedRow(
                raw.line[row],
                before + row + 1,
                List.of(new RejectedRow.Fault("", "", reason)),
                raw.original(row),
                raw.texts(row));
    }

    private void leave(RawBatch raw, int row, long before, String rule, String repeats) {
        if (sink.written()) {
            sink.rejects()
                    .left(new SetAsideRow(
                            raw.line[row], before + row + 1, rule, repeats, raw.original(row), raw.texts(row)));
        }
    }

    private Content content(String hash, Written part) throws IOException, FileRejectedException, RunFailedException {
        if (only.isPresent() && considered != only.get().cardinality()) {
            throw new FileRejectedException(
                    Reasons.changedWhileRetried(only.get().cardinality(), considered));
        }
        long read = only.isEmpty() ? reader.records() : considered;
        long loaded = part.held().isPresent()
                ? part.held().get().rows()
                : sink.staged().isEmpty()
                        ? passed
                        : PartStore.countRows(sink.staged().get());
        long rejected = sink.written() ? sink.rejects().rows() : tally.rows();
        if (read != loaded + rejected + (sink.written() ? sink.rejects().leftRows() : left + repeated)) {
            throw new RunFailedException(
                    prepared.name(source.file()) + " does not balance: " + read + " rows read, " + loaded + " loaded, "
                            + left
                            + " set aside, " + repeated + " repeated, " + rejected
                            + " rejected. Nothing of it was kept; this is a fault of Hapster, please report it",
                    null);
        }
        List<String> notes = new ArrayList<>(FileOpening.notes(binding));
        notes.addAll(reader.notes());
        return new Content(
                read,
                loaded,
                left,
                repeated,
                rejected,
                deleting,
                hash,
                tally.groups(),
                rejected + left + repeated > 0 ? header.names() : List.of(),
                notes,
                part);
    }
}
