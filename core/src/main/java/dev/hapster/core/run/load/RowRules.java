package dev.hapster.core.run.load;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.Handling;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.RejectedRow;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.shape.Shaper;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Asks a job's conditions about the rows of one file. Not thread-safe. */
public final class RowRules {

    private final List<Expression> keep;
    private final Optional<Expression> deleted;
    private final Map<String, Integer> places = new HashMap<>();
    private final List<Field> fields;
    /** Which columns are of type text. */
    private final boolean[] texted;

    private final List<String> header;
    private final Map<String, Object> file;
    private final Map<String, Object> facts = new HashMap<>();
    private TypedBatch typed;
    private RawBatch raw;
    private int row;
    private Map<String, Optional<String>> texts = Map.of();

    public RowRules(DatasetDef dataset, Handling handling, Candidate candidate, List<String> header) {
        keep = handling.keep();
        deleted = handling.deleted();
        fields = dataset.columns().stream().map(Field::of).toList();
        texted = new boolean[fields.size()];
        for (ColumnDef column : dataset.columns()) {
            texted[places.size()] = column.type().kind() == Kind.TEXT;
            places.put(column.name(), places.size());
        }
        this.header = header;
        file = Map.of("name", candidate.name(), "path", candidate.key(), "size", candidate.size());
        candidate.facts().forEach((name, fact) -> facts.put(name, fact.text()));
    }

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

    public Verdict of(RawBatch rawRows, TypedBatch typedRows, int at) {
        raw = rawRows;
        typed = typedRows;
        row = at;
        if (deleted.isPresent()) {
            Verdict verdict = ask(deleted.get(), true);
            if (!verdict.stays()) {
                return verdict;
            }
        }
        for (Expression rule : keep) {
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
    public Verdict ofFaulty(RawBatch rawRows, TypedBatch typedRows, int at, Map<String, Optional<String>> faulty) {
        raw = rawRows;
        typed = typedRows;
        row = at;
        texts = faulty;
        try {
            if (deleted.filter(rule -> canTell(rule, faulty)).isPresent()) {
                Verdict verdict = ask(deleted.get(), true);
                if (verdict.deletes()) {
                    return verdict;
                }
            }
            for (Expression rule : keep) {
                Verdict verdict = canTell(rule, faulty) ? ask(rule, false) : Verdict.STAYS;
                if (verdict.left() != null) {
                    return verdict;
                }
            }
            return Verdict.STAYS;
        } finally {
            texts = Map.of();
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
        for (RejectedRow.Fault fault : faults) {
            Integer place = places.get(fault.column());
            faulty.put(
                    fault.column(),
                    place != null && texted[place] ? shaper.cleaned(rawRows, at, place) : Optional.empty());
        }
        return faulty;
    }

    private static boolean canTell(Expression rule, Map<String, Optional<String>> faulty) {
        return !rule.names().contains(Expression.ROW)
                && !faulty.containsKey("")
                && rule.names().stream()
                        .allMatch(name ->
                                !faulty.containsKey(name) || faulty.get(name).isPresent());
    }

    private Verdict ask(Expression rule, boolean deletes) {
        try {
            boolean holds = rule.holds(this::value);
            return deletes == holds
                    ? new Verdict((deletes ? "deleted: " : "keep: ") + rule.text(), deletes, null)
                    : Verdict.STAYS;
        } catch (Expression.FailedException wrong) {
            return new Verdict(null, false, Reasons.ruleFailed(rule.text(), wrong.getMessage()));
        }
    }

    private Object value(String name) {
        switch (name) {
            case Expression.FILE -> {
                return file;
            }
            case Expression.FACT -> {
                return facts;
            }
            case Expression.SOURCE -> {
                Map<String, Object> source = new HashMap<>();
                List<String> values = raw.texts(row);
                for (int i = 0; i < Math.min(values.size(), header.size()); i++) {
                    source.put(header.get(i), values.get(i));
                }
                return source;
            }
            case Expression.ROW -> {
                Map<String, Object> all = new HashMap<>();
                places.forEach((column, place) -> all.put(column, orNull(typedValue(place))));
                return all;
            }
            default -> {
                Optional<String> text = texts.getOrDefault(name, Optional.empty());
                return text.isPresent() ? text.get() : typedValue(places.get(name));
            }
        }
    }

    private static Object orNull(Object value) {
        return value == null ? Expression.NOTHING : value;
    }

    private Object typedValue(int place) {
        Comparable<?> value = fields.get(place).value(typed.columns.get(place), row);
        if (value instanceof BigDecimal number) {
            return number.doubleValue();
        }
        if (value instanceof LocalDate day) {
            return day.atStartOfDay().toInstant(ZoneOffset.UTC);
        }
        if (value instanceof LocalDateTime moment) {
            return moment.toInstant(ZoneOffset.UTC);
        }
        return value instanceof LocalTime time ? time.toString() : value;
    }
}
