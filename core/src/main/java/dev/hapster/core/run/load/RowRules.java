package dev.hapster.core.run.load;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.expression.FailedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.shape.RowValues;
import dev.hapster.core.shape.Shaper;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Asks a job's conditions about the rows of one file. Not thread-safe. */
public final class RowRules {

    /** A condition, ready for the rows of the file. */
    private record Rule(Expression of, Expression.Ready ready) {}

    private final List<Rule> keep;
    private final Optional<Rule> deleted;
    private final RowValues values;
    private final Map<String, Integer> places = new HashMap<>();
    /** Which columns are of type text. */
    private final boolean[] texted;

    public RowRules(DatasetDef dataset, Handling handling, Shaper shaper) {
        values = shaper.values();
        keep = handling.keep().stream()
                .map(rule -> new Rule(rule, rule.in(values)))
                .toList();
        deleted = handling.deleted().map(rule -> new Rule(rule, rule.in(values)));
        texted = new boolean[dataset.columns().size()];
        for (ColumnDef column : dataset.columns()) {
            texted[places.size()] = column.type().kind() == Kind.TEXT;
            places.put(column.name(), places.size());
        }
    }

    /** Whether every row passes, so that none need be asked. */
    public boolean none() {
        return keep.isEmpty() && deleted.isEmpty();
    }

    /**
     * What a condition says of a row.
     *
     * @param left the rule by which it is set aside; null where none does
     * @param deletes whether it says that the row of its key is to go
     * @param refused why the condition could not be evaluated; null where it could
     */
    public record Verdict(String left, boolean deletes, Reason refused) {
        public static final Verdict STAYS = new Verdict(null, false, null);

        boolean stays() {
            return left == null && !deletes && refused == null;
        }
    }

    public Verdict of(RawBatch raw, int row) {
        values.at(raw, row);
        if (deleted.isPresent()) {
            Verdict verdict = ask(deleted.get(), true);
            if (!verdict.stays()) {
                return verdict;
            }
        }
        for (Rule rule : keep) {
            Verdict verdict = ask(rule, false);
            if (!verdict.stays()) {
                return verdict;
            }
        }
        return Verdict.STAYS;
    }

    /**
     * The same for a row that does not fit: what the job leaves out on purpose need not fit. Only those conditions are
     * asked that speak of no column with a fault, or of texts alone.
     *
     * @param faulty columns with a fault, by name; with the cleaned text for those of text
     * @return {@link Verdict#STAYS} also where nothing can be told
     */
    public Verdict ofFaulty(RawBatch raw, int row, Map<String, Optional<String>> faulty) {
        values.at(raw, row, faulty);
        try {
            if (deleted.filter(rule -> canTell(rule, faulty)).isPresent()) {
                Verdict verdict = ask(deleted.get(), true);
                if (verdict.deletes()) {
                    return verdict;
                }
            }
            for (Rule rule : keep) {
                Verdict verdict = canTell(rule, faulty) ? ask(rule, false) : Verdict.STAYS;
                if (verdict.left() != null) {
                    return verdict;
                }
            }
            return Verdict.STAYS;
        } finally {
            values.asTyped();
        }
    }

    /**
     * Columns with a fault, by name; with the cleaned text for those of text, which a condition can still be asked of.
     *
     * @param at which row of the batch it is
     */
    public Map<String, Optional<String>> faulty(
            Shaper shaper, RawBatch rawRows, int at, List<RejectedRow.Fault> faults) {
        Map<String, Optional<String>> faulty = new HashMap<>();
        shaper.untold(faults).forEach(column -> faulty.put(column, Optional.empty()));
        for (RejectedRow.Fault fault : faults) {
            Integer place = places.get(fault.column());
            faulty.put(
                    fault.column(),
                    place != null && texted[place] ? shaper.cleaned(rawRows, at, place) : Optional.empty());
        }
        return faulty;
    }

    private static boolean canTell(Rule rule, Map<String, Optional<String>> faulty) {
        return canTell(rule.of(), faulty);
    }

    /** Whether an expression says nothing of columns that have no value, except of those that have a text instead. */
    public static boolean canTell(Expression rule, Map<String, Optional<String>> faulty) {
        return !rule.names().contains(Expression.ROW)
                && !faulty.containsKey("")
                && rule.names().stream()
                        .allMatch(name ->
                                !faulty.containsKey(name) || faulty.get(name).isPresent());
    }

    private static Verdict ask(Rule rule, boolean deletes) {
        try {
            boolean holds = rule.ready().holds();
            return deletes == holds
                    ? new Verdict((deletes ? "deleted: " : "keep: ") + rule.of().text(), deletes, null)
                    : Verdict.STAYS;
        } catch (FailedException wrong) {
            return new Verdict(null, false, Reasons.ruleFailed(rule.of().text(), wrong.getMessage()));
        }
    }
}
