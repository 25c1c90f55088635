package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RefusedRow;
import dev.hapster.core.row.RefusedRow.Fault;
import dev.hapster.core.row.TypedBatch;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Consumer;

/** Turns the raw batches of one file into the dataset's columns. One for each file in work; not thread-safe. */
public final class Shaper {

    private final JobDef job;
    private final Binding binding;
    private final List<ColumnShaper> columns = new ArrayList<>();
    private final TypedBatch typed;
    private final List<List<Fault>> faults = new ArrayList<>();

    public Shaper(DatasetDef dataset, JobDef job, Binding binding) {
        this.job = job;
        this.binding = binding;
        for (ColumnDef column : dataset.columns()) {
            columns.add(shaper(column, job));
        }
        typed = new TypedBatch(columns.stream().map(ColumnShaper::vector).toList());
    }

    private static ColumnShaper shaper(ColumnDef column, JobDef job) {
        Mapping.Source source = job.map().get(column.name()) instanceof Mapping.Source given ? given : Mapping.Source.PLAIN;
        List<String> emptyAs = job.read().emptyAs();
        return switch (column.type().kind()) {
            case TEXT -> new TextShaper(column, source, emptyAs);
            case INTEGER, DECIMAL, DOUBLE -> new NumberShaper(column, source, emptyAs);
            case BOOLEAN -> new BooleanShaper(column, source, emptyAs);
            case DATE, TIME, TIMESTAMP -> new TemporalShaper(column, source, emptyAs);
        };
    }

    /** Why a constant of the job does not suit its column; empty where it does. */
    public static Optional<Reason> refuseConstant(ColumnDef column, JobDef job, String value) {
        return Optional.ofNullable(shaper(column, job).fill(value, 1));
    }

    /**
     * Shapes a batch.
     *
     * @param refused gets every row that does not fit, in the order of the file
     * @return the typed rows, valid until the next call
     */
    public TypedBatch shape(RawBatch raw, Consumer<RefusedRow> refused) {
        while (faults.size() < raw.rows) {
            faults.add(null);
        }
        for (int i = 0; i < columns.size(); i++) {
            ColumnShaper column = columns.get(i);
            int field = binding.fields()[i];
            if (field >= 0) {
                column.shape(raw, field, this::fault);
            } else if (field == Binding.CONSTANT) {
                Mapping.Constant constant = (Mapping.Constant) job.map().get(column.column.name());
                Reason wrong = column.fill(constant.value(), raw.rows);
                if (wrong != null) {
                    throw new IllegalStateException("The check lets no unsuitable constant pass: " + wrong.sentence());
                }
            } else {
                column.leaveEmpty(raw.rows);
            }
        }
        sift(raw, refused);
        return typed;
    }

    private void fault(int row, String column, String value, Reason reason) {
        if (faults.get(row) == null) {
            faults.set(row, new ArrayList<>(2));
        }
        faults.get(row).add(new Fault(column, value, reason));
    }

    private void sift(RawBatch raw, Consumer<RefusedRow> refused) {
        if (typed.good.length < raw.rows) {
            typed.good = new int[raw.capacity];
        }
        typed.line = raw.line;
        int good = 0;
        for (int row = 0; row < raw.rows; row++) {
            if (raw.fields[row] != raw.width) {
                fault(row, "", "", Reasons.fieldCount(raw.fields[row], raw.width));
            }
            if (raw.misquoted[row]) {
                fault(row, "", "", Reasons.quoteMisplaced());
            }
            List<Fault> found = faults.get(row);
            if (found == null) {
                typed.good[good++] = row;
            } else {
                refused.accept(new RefusedRow(raw.line[row], found, raw.original(row)));
                faults.set(row, null);
            }
        }
        typed.goodRows = good;
    }
}
