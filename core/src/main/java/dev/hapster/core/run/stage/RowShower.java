package dev.hapster.core.run.stage;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.expression.FailedException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.run.load.RowRules;
import dev.hapster.core.shape.Binding;
import dev.hapster.core.shape.FileSays;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.workspace.PreparedJob;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.ToIntFunction;

/** Shows the rows of one file's batches as the rules of a job make them. Not thread-safe. */
final class RowShower {

    private final String file;
    private final DatasetDef dataset;
    private final Stage stage;
    private final Binding binding;
    private final Shaper shaper;
    private final RowRules rules;
    private final List<Field> fields;
    private final Optional<Expression.Ready> where;
    private final Optional<Expression> condition;
    private final Map<Integer, List<RejectedRow.Fault>> faults = new HashMap<>();
    private RawBatch raw;
    private TypedBatch typed;
    private long before;

    RowShower(PreparedJob prepared, Candidate candidate, Binding binding, FileSays says, StageQuestion question)
            throws FileRejectedException {
        file = prepared.name(candidate);
        dataset = prepared.dataset();
        stage = question.stage();
        this.binding = binding;
        shaper = new Shaper(dataset, prepared.job(), binding, says);
        rules = new RowRules(dataset, prepared.job().handling(), shaper);
        fields = dataset.columns().stream().map(Field::of).toList();
        condition = question.where();
        where = condition.map(one -> one.in(shaper.values()));
    }

    /** @param rows how many rows of the file stand before the batch */
    void take(RawBatch batch, long rows) {
        raw = batch;
        before = rows;
        faults.clear();
        typed = shaper.shape(raw, before, row -> faults.put((int) (row.number() - before - 1), row.faults()));
    }

    /** Whether the condition of the question holds for a row; empty where a value that it needs is missing. */
    Optional<Boolean> holds(int row) {
        if (where.isEmpty()) {
            return Optional.of(true);
        }
        List<RejectedRow.Fault> found = faults.get(row);
        Map<String, Optional<String>> faulty = found == null ? Map.of() : rules.faulty(shaper, raw, row, found);
        if (!RowRules.canTell(condition.get(), faulty)) {
            return Optional.empty();
        }
        shaper.values().at(raw, row, faulty);
        try {
            return Optional.of(where.get().holds());
        } catch (FailedException untold) {
            return Optional.empty();
        } finally {
            shaper.values().asTyped();
        }
    }

    StageRow row(int row) {
        List<RejectedRow.Fault> found = faults.getOrDefault(row, List.of());
        RowRules.Verdict verdict = rules.none()
                ? RowRules.Verdict.STAYS
                : found.isEmpty()
                        ? rules.of(raw, row)
                        : rules.ofFaulty(raw, row, rules.faulty(shaper, raw, row, found));
        List<RejectedRow.Fault> wrong = new ArrayList<>(found);
        if (verdict.refused() != null) {
            wrong.add(new RejectedRow.Fault("", "", verdict.refused()));
        }
        StageRow.Outcome outcome = verdict.left() != null
                ? StageRow.Outcome.ASIDE
                : wrong.isEmpty() ? StageRow.Outcome.STORED : StageRow.Outcome.REJECTED;
        List<String> cells =
                switch (stage) {
                    case READ -> new ArrayList<>(raw.texts(row));
                    case CLEANED -> cells(column -> cleaned(row, column));
                    case STORED -> cells(column -> words(value(row, column)));
                };
        return new StageRow(
                file,
                before + row + 1,
                raw.line[row],
                raw.places == null ? "" : raw.places.of(raw.line[row], 0).replaceAll("(?<=!)[A-Z]+", ""),
                outcome,
                cells,
                wrong.stream().map(this::fault).toList(),
                verdict.left() == null ? "" : verdict.left());
    }

    private interface ColumnText {
        String of(int column);
    }

    private List<String> cells(ColumnText text) {
        List<String> cells = new ArrayList<>();
        for (int i = 0; i < fields.size(); i++) {
            cells.add(text.of(i));
        }
        return cells;
    }

    private StageRow.RowFault fault(RejectedRow.Fault fault) {
        ToIntFunction<String> place = column -> {
            int at = dataset.columns().stream().map(ColumnDef::name).toList().indexOf(column);
            return at < 0 || stage != Stage.READ ? at : Math.max(-1, binding.fields()[at]);
        };
        return new StageRow.RowFault(
                fault.column(),
                place.applyAsInt(fault.column()),
                fault.value(),
                fault.reason().code().code(),
                fault.reason().sentence());
    }

    private String cleaned(int row, int column) {
        int field = binding.fields()[column];
        if (field >= 0) {
            return field < raw.fields[row] ? shaper.cleaned(raw, row, column).orElse(null) : null;
        }
        return words(value(row, column));
    }

    /** As it would be stored; null for nothing. */
    Comparable<?> value(int row, int column) {
        return raw.fields[row] == raw.width ? fields.get(column).value(typed.columns.get(column), row) : null;
    }

    private static String words(Comparable<?> value) {
        return value instanceof java.math.BigDecimal number
                ? number.toPlainString()
                : value == null ? null : value.toString();
    }
}
