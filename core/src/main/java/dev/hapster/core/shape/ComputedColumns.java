package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.expression.FailedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow.Fault;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** The columns of a job that are calculated or looked up, each behind those that it needs. Not thread-safe. */
final class ComputedColumns {

    private record Computed(
            ColumnShaper shaper, Expression of, Expression.Ready value, Optional<Mapping.Lookup> lookup) {

        String name() {
            return shaper.column.name();
        }

        /** Whether it needs one of these columns. */
        boolean needs(Set<String> columns) {
            return !columns.isEmpty()
                    && (of.names().contains(Expression.ROW)
                            || of.names().stream().anyMatch(columns::contains));
        }
    }

    private final List<Computed> ordered = new ArrayList<>();
    private final RowValues values;

    ComputedColumns(DatasetDef dataset, JobDef job, List<ColumnShaper> shapers, RowValues values) {
        this.values = values;
        for (String name : job.computed()) {
            int place = dataset.columns().stream().map(ColumnDef::name).toList().indexOf(name);
            Mapping mapping = job.map().get(name);
            Expression of = mapping.computed().orElseThrow();
            ordered.add(new Computed(
                    shapers.get(place),
                    of,
                    of.in(values),
                    Optional.of(mapping)
                            .filter(Mapping.Lookup.class::isInstance)
                            .map(Mapping.Lookup.class::cast)));
        }
    }

    boolean isNone() {
        return ordered.isEmpty();
    }

    /** Makes room for a batch. */
    void reset(int rows) {
        ordered.forEach(one -> one.shaper().vector().reset(rows));
    }

    /**
     * Calculates all of them for one row.
     *
     * @param known faults that the row has already; null for none
     */
    void calculate(RawBatch raw, int row, List<Fault> known, ColumnShaper.Faults faults) {
        values.at(raw, row);
        Set<String> unknown = known == null ? Set.of() : untold(known);
        for (Computed one : ordered) {
            if (unknown.contains(one.name())) {
                one.shaper().vector().empty[row] = true;
                continue;
            }
            Reason wrong;
            Object value = null;
            try {
                value = one.value().value();
                wrong = one.lookup().isPresent()
                        ? found(one, row, value, one.lookup().get())
                        : one.shaper().put(row, value);
            } catch (FailedException failed) {
                wrong = Reasons.computeFailed(one.name(), one.of().text(), failed.getMessage());
            }
            if (wrong != null) {
                one.shaper().vector().empty[row] = true;
                faults.add(row, one.name(), value == null ? "" : Expression.words(value), wrong);
                unknown = new HashSet<>(unknown);
                unknown.add(one.name());
                for (Computed later : ordered) {
                    if (later.needs(unknown)) {
                        unknown.add(later.name());
                    }
                }
            }
        }
    }

    private static Reason found(Computed one, int row, Object key, Mapping.Lookup lookup) {
        if (key == null) {
            return one.shaper().put(row, (Object) null);
        }
        String text = Expression.words(key);
        Optional<String> value = lookup.table().find(text).or(lookup::otherwise);
        return value.isEmpty()
                ? Reasons.lookupMissing(
                        text, lookup.table().file(), lookup.table().by())
                : one.shaper().put(row, value.get().isEmpty() ? null : value.get());
    }

    /** The columns that a row has no value for: those with a fault, and those that are calculated from them. */
    Set<String> untold(List<Fault> faults) {
        Set<String> unknown = new HashSet<>();
        faults.forEach(fault -> unknown.add(fault.column()));
        for (Computed one : ordered) {
            if (unknown.contains("") || one.needs(unknown)) {
                unknown.add(one.name());
            }
        }
        return unknown;
    }
}
