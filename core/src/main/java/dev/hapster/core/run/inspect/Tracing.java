package dev.hapster.core.run.inspect;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.run.inspect.Trace.Cell;
import dev.hapster.core.run.load.RowRules;
import dev.hapster.core.run.open.FileOpening;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream;
import dev.hapster.core.run.stage.Origin;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.reject.RejectStore.Reject;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Follows one row from the file to the dataset. Not thread-safe. */
public final class Tracing {

    /** Rows of a file that are looked at, at most, for values that fit. */
    private static final int MOST_FITTING = 4096;

    private final PreparedJob prepared;
    private final Opener opener;

    public Tracing(PreparedJob prepared, Opener opener) {
        this.prepared = prepared;
        this.opener = opener;
    }

    /**
     * @param file where it lies now; empty where it is gone
     * @param kept the row as it was rejected
     * @param header the file's columns then
     */
    public Trace of(Optional<Candidate> file, Reject kept, List<String> header)
            throws IOException, FileRejectedException {
        if (file.isPresent()) {
            try (SourceContent content = opener.content(file.get());
                    RecordReader reader = FileOpening.open(prepared, file.get(), content, Long.MAX_VALUE)) {
                Header now = reader.header();
                RawBatch raw = RecordReader.batchFor(now);
                for (long before = 0; reader.next(raw); before += raw.rows) {
                    int at = (int) (kept.row() - before - 1);
                    if (at < raw.rows) {
                        if (!raw.original(at).equals(kept.original())) {
                            break;
                        }
                        return trace(
                                file.get(),
                                FileOpening.says(file.get(), reader),
                                row(kept),
                                now.names(),
                                raw,
                                at,
                                true);
                    }
                }
            } catch (FileRejectedException | IOException unreadable) {
                // it is not what it was; what was kept of the row can still be followed
            }
        }
        FileSays says = file.map(one -> new FileSays(one.name(), one.key(), one.size(), one.facts()))
                .orElse(FileSays.NOTHING);
        return trace(file.orElse(null), says, row(kept), header, batch(header, kept.fields()), 0, false);
    }

    /**
     * A row that has just been read.
     *
     * @param at which row of the batch it is
     * @param row which row of the file it is, counted from 1
     */
    public Trace of(Candidate file, FileSays says, List<String> header, RawBatch raw, int at, long row)
            throws FileRejectedException {
        Row read = new Row(file.key(), raw.line[at], row, raw.original(at));
        return trace(file, says, read, header, raw, at, true);
    }

    private static Row row(Reject kept) {
        return new Row(kept.path(), kept.line(), kept.row(), kept.original());
    }

    /** A row by itself. */
    private record Row(String path, long line, long number, String original) {}

    /** A batch of one row that is made of texts. */
    private static RawBatch batch(List<String> header, List<String> fields) {
        RawBatch raw = new RawBatch(Math.max(1, header.size()), 1);
        StringBuilder all = new StringBuilder();
        int at = 0;
        for (int i = 0; i < Math.min(fields.size(), raw.width); i++) {
            all.append(fields.get(i));
            raw.from[i] = at;
            at += fields.get(i).getBytes(StandardCharsets.UTF_8).length;
            raw.to[i] = at;
        }
        raw.bytes = all.toString().getBytes(StandardCharsets.UTF_8);
        raw.rows = 1;
        raw.fields[0] = fields.size();
        return raw;
    }

    private Trace trace(
            Candidate file, FileSays says, Row kept, List<String> header, RawBatch raw, int at, boolean readAnew)
            throws FileRejectedException {
        Binding binding = Binding.of(prepared.dataset(), prepared.job(), header);
        Shaper shaper = new Shaper(prepared.dataset(), prepared.job(), binding, says);
        List<RejectedRow.Fault> faults = new ArrayList<>();
        TypedBatch typed =
                shaper.shape(raw, 0, row -> faults.addAll(row.number() == at + 1 ? row.faults() : List.of()));
        List<Cell> cells = new ArrayList<>();
        for (int i = 0; i < prepared.dataset().columns().size(); i++) {
            ColumnDef column = prepared.dataset().columns().get(i);
            int field = binding.fields()[i];
            List<RejectedRow.Fault> wrong = faults.stream()
                    .filter(one -> one.column().equals(column.name()))
                    .toList();
            Optional<RejectedRow.Fault> fault = wrong.stream().findFirst();
            boolean there = field >= 0 && field < raw.fields[at];
            Optional<String> cleaned = there ? shaper.cleaned(raw, at, i) : Optional.empty();
            Optional<String> value = fault.isPresent()
                    ? Optional.empty()
                    : Optional.ofNullable(Field.of(column).value(typed.columns.get(i), at))
                            .map(Object::toString);
            cells.add(new Cell(
                    column.name(),
                    column.type().toString(),
                    from(column, field, header),
                    there ? Optional.of(raw.text(at, field)) : Optional.empty(),
                    cleaned,
                    value,
                    fault.map(one -> one.reason().code().code()),
                    fault.map(one ->
                            wrong.stream().map(each -> each.reason().sentence()).collect(Collectors.joining("; "))),
                    rule(column)));
        }
        for (RejectedRow.Fault fault : faults) {
            if (fault.column().isEmpty()) {
                cells.add(new Cell(
                        "",
                        "",
                        "the whole row",
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of(fault.reason().code().code()),
                        Optional.of(fault.reason().sentence()),
                        ""));
            }
        }
        Optional<String> left = Optional.empty();
        boolean passes = faults.isEmpty();
        if (file != null) {
            RowRules rules = new RowRules(prepared.dataset(), prepared.job().handling(), shaper);
            RowRules.Verdict verdict = rules.none()
                    ? RowRules.Verdict.STAYS
                    : faults.isEmpty()
                            ? rules.of(raw, at)
                            : rules.ofFaulty(raw, at, rules.faulty(shaper, raw, at, faults));
            left = Optional.ofNullable(verdict.left());
            passes = verdict.left() != null || (faults.isEmpty() && verdict.refused() == null);
            if (verdict.refused() != null) {
                cells.add(new Cell(
                        "",
                        "",
                        "the whole row",
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.of(verdict.refused().code().code()),
                        Optional.of(verdict.refused().sentence()),
                        ""));
            }
        }
        return new Trace(kept.path(), kept.line(), kept.number(), kept.original(), cells, left, passes, readAnew);
    }

    private String from(ColumnDef column, int field, List<String> header) {
        return field >= 0
                ? header.get(field)
                : Origin.of(
                        prepared.job().map().get(column.name()),
                        prepared.job().read().get(ReadSection.FACTS).keySet());
    }

    /** What the two files say of a column, in the words that they use. */
    private String rule(ColumnDef column) {
        List<String> says = new ArrayList<>();
        says.add(column.type() + (column.required() ? ", required" : ""));
        column.length().ifPresent(length -> says.add("length: " + length));
        column.matches().ifPresent(pattern -> says.add("matches: " + pattern));
        if (!column.oneOf().isEmpty()) {
            says.add("one_of: " + String.join(", ", column.oneOf()));
        }
        column.min().ifPresent(min -> says.add("min: " + min));
        column.max().ifPresent(max -> says.add("max: " + max));
        if (prepared.job().map().get(column.name()) instanceof Mapping.Source source) {
            if (!source.patterns().isEmpty()) {
                says.add("pattern: " + String.join(" or ", source.patterns()));
            }
            source.language().ifPresent(language -> says.add("language: " + language));
            if (column.type().isNumber() && source.decimal() != '.') {
                says.add("decimal: " + source.decimal());
            }
            source.thousands().ifPresent(mark -> says.add("thousands: " + mark));
        }
        return String.join("; ", says);
    }

    /** Texts of a file's first rows that fit into a column now, so that a fixed rule can be held against them. */
    public Set<String> fitting(Candidate file, ColumnDef column) throws IOException {
        Set<String> texts = new LinkedHashSet<>();
        try (SourceContent content = opener.content(file);
                RecordReader reader = FileOpening.open(prepared, file, content, Long.MAX_VALUE)) {
            Header header = reader.header();
            int field = Binding.of(prepared.dataset(), prepared.job(), header.names())
                    .fields()[prepared.dataset().columns().indexOf(column)];
            RawBatch raw = RecordReader.batchFor(header);
            for (int seen = 0; field >= 0 && seen < MOST_FITTING && reader.next(raw); seen += raw.rows) {
                for (int row = 0; row < raw.rows; row++) {
                    if (raw.fields[row] > field
                            && (raw.kinds == null || raw.kinds[row * raw.width + field] == RawBatch.TEXT)) {
                        texts.add(raw.text(row, field));
                    }
                }
            }
        } catch (FileRejectedException | SourceStream.SourceException gone) {
            return Set.of();
        }
        texts.removeIf(
                text -> Shaper.refuseConstant(column, prepared.job(), text).isPresent());
        return texts;
    }
}
