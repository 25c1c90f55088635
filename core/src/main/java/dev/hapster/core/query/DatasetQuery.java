package dev.hapster.core.query;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.filter.Condition;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.group.GroupCounts;
import dev.hapster.core.query.group.Key;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.sorted.Rankings;
import dev.hapster.core.query.sorted.Rankings.Question;
import dev.hapster.core.query.sorted.Rankings.Ranking;
import dev.hapster.core.query.sorted.Search;
import dev.hapster.core.query.sorted.Sort;
import dev.hapster.core.query.sorted.Spot;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;

/**
 * Answers questions about one dataset from the Parquet files of its parts. Each answer reads only the columns it needs,
 * batch by batch, on all cores. Immutable.
 */
public final class DatasetQuery {

    /** How deep a sorted or filtered list can be paged. */
    public static final int DEEPEST = 100_000;
    /** How many groups a count may have. */
    public static final int MOST_GROUPS = 20_000;

    /** So many rows of a sorted list are looked for at once, and this many times those asked for when it goes on. */
    private static final int AT_ONCE = 1000;

    private static final int FURTHER = 4;

    private final Fields fields;
    private final Parts parts;
    private final Rankings rankings;

    /** A question for which nothing is known from questions before. */
    public DatasetQuery(DatasetDef dataset, List<PartFile> parts) {
        this(dataset, parts, new Rankings());
    }

    /** @param rankings what is known from questions before, to any dataset */
    public DatasetQuery(DatasetDef dataset, List<PartFile> parts, Rankings rankings) {
        this.fields = new Fields(dataset);
        this.parts = new Parts(parts);
        this.rankings = rankings;
    }

    /**
     * Some rows, and how many there are.
     *
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order by source and line
     * @param where conditions, all of which must hold
     */
    public Page rows(long offset, int limit, List<String> sort, List<String> where) throws IOException, QueryException {
        return rows(offset, limit, sort, where, true);
    }

    /**
     * Some rows.
     *
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order by source and line
     * @param where conditions, all of which must hold
     * @param counted whether it is to be found out how many rows there are where that is not known otherwise; if not,
     *     nothing is read behind the last row wanted
     */
    public Page rows(long offset, int limit, List<String> sort, List<String> where, boolean counted)
            throws IOException, QueryException {
        List<Sort> sorts = Sort.parse(sort, fields);
        List<Condition> conditions = conditions(where);
        if (sorts.isEmpty() && conditions.isEmpty()) {
            return new Page(
                    fields.all(),
                    OptionalLong.of(parts.rows()),
                    new PlainRows(parts, fields.all()).some(offset, limit));
        }
        if (offset + limit > DEEPEST) {
            throw new QueryException(
                    "A sorted or filtered list can be paged to row " + DEEPEST + "; narrow it with a condition");
        }
        Ranking first = first((int) offset, limit, sorts, conditions);
        int from = (int) Math.min(offset, first.rows().length);
        int to = (int) Math.min(offset + limit, first.rows().length);
        return new Page(
                fields.all(),
                first.whole() ? OptionalLong.of(first.rows().length) : total(conditions, counted),
                parts.fetch(
                        Arrays.copyOfRange(first.files(), from, to),
                        Arrays.copyOfRange(first.rows(), from, to),
                        fields.all()));
    }

    private Ranking first(int offset, int limit, List<Sort> sorts, List<Condition> conditions)
            throws IOException, QueryException {
        int wanted = offset + limit;
        if (wanted == 0) {
            return Ranking.of(List.of(), false);
        }
        Question question = new Question(parts.all(), sorts, conditions);
        Ranking known = rankings.find(question).orElse(null);
        if (known != null && known.has(wanted)) {
            return known;
        }
        int keep = known != null || offset > 0 ? FURTHER * wanted : wanted;
        keep = Math.min(DEEPEST, sorts.isEmpty() ? keep : Math.max(AT_ONCE, keep));
        List<Spot> found = new Search(parts, sorts, conditions).first(keep);
        Ranking ranking = Ranking.of(found, found.size() < keep);
        rankings.put(question, ranking);
        return ranking;
    }

    /** How many rows satisfy the conditions. */
    private OptionalLong total(List<Condition> conditions, boolean counted) throws IOException, QueryException {
        if (conditions.isEmpty()) {
            return OptionalLong.of(parts.rows());
        }
        Question question = new Question(parts.all(), List.of(), conditions);
        OptionalLong known = rankings.total(question);
        if (known.isPresent() || !counted) {
            return known;
        }
        long total = matching(conditions);
        rankings.putTotal(question, total);
        return OptionalLong.of(total);
    }

    private long matching(List<Condition> conditions) throws IOException, QueryException {
        List<long[]> counts =
                parts.each(parts.everyFile(), Filter.fields(conditions), () -> new long[1], (slice, reader, count) -> {
                    Filter filter = new Filter(conditions, 0);
                    reader.only(slice.groups(reader), group -> filter.mayHold(reader, group));
                    for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                        count[0] += filter.select(reader, rows);
                    }
                });
        return counts.stream().mapToLong(count -> count[0]).sum();
    }

    /**
     * What is exported.
     *
     * @param columns which columns, in this order; empty for all that are declared
     * @param origins whether the columns that say where a row comes from go with them
     * @param where conditions, all of which must hold
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order by source and line
     */
    public record Selection(List<String> columns, boolean origins, List<String> where, List<String> sort) {
        public static final Selection ALL = new Selection(List.of(), false, List.of(), List.of());
    }

    /**
     * Makes an export ready. Opens every part, so that an export that cannot be written fails before the first byte.
     *
     * @param mostText how many UTF-16 units a text may have in what is written
     * @param all whether every part is read whole before, too
     * @throws QueryException with a sentence for people, where it cannot be written
     */
    public RowExport export(Selection what, int mostText, boolean all) throws IOException, QueryException {
        List<Condition> conditions = conditions(what.where());
        RowExport export = new RowExport(parts, fields, what, conditions);
        export.check(mostText, all);
        return export.of(total(conditions, true).getAsLong());
    }

    private List<Condition> conditions(List<String> where) throws QueryException {
        List<Condition> conditions = new ArrayList<>();
        for (String text : where) {
            conditions.add(Condition.parse(text, fields));
        }
        return conditions;
    }

    /**
     * Rows counted by one or more columns.
     *
     * @param by columns; dates and timestamps also as {@code sampled_at:year}, {@code :month} or {@code :day}
     */
    public Counts counts(List<String> by, List<String> where) throws IOException, QueryException {
        return counts(by, where, List.of());
    }

    /** @param sort columns of {@code by}, or {@code rows}; with a {@code -} in front for descending */
    public Counts counts(List<String> by, List<String> where, List<String> sort) throws IOException, QueryException {
        Comparator<Counts.Group> order = Counts.order(by, sort);
        List<Key> keys = new ArrayList<>();
        for (String text : by) {
            keys.add(Key.parse(text, fields));
        }
        if (keys.isEmpty()) {
            throw new QueryException("Name at least one column to count by");
        }
        List<Condition> conditions = conditions(where);
        List<Field> needed = new ArrayList<>(keys.stream().map(Key::field).toList());
        needed.addAll(Filter.fields(conditions));
        Map<List<Comparable<?>>, Long> counts = new HashMap<>();
        for (GroupCounts found :
                parts.each(parts.everyFile(), needed, () -> new GroupCounts(keys), (slice, reader, groups) -> {
                    Filter filter = new Filter(conditions, keys.size());
                    reader.only(slice.groups(reader), group -> filter.mayHold(reader, group));
                    for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                        int count = filter.select(reader, rows);
                        groups.count(reader, filter.selected(), count);
                        few(groups.size(), by);
                    }
                })) {
            found.addTo(counts);
            few(counts.size(), by);
        }
        long total = counts.values().stream().mapToLong(Long::longValue).sum();
        return new Counts(
                by,
                total,
                counts.entrySet().stream()
                        .map(entry -> new Counts.Group(entry.getKey(), entry.getValue()))
                        .sorted(order)
                        .toList());
    }

    private static void few(int groups, List<String> by) throws QueryException {
        if (groups > MOST_GROUPS) {
            throw new QueryException("Counting by " + String.join(", ", by) + " gives more than " + MOST_GROUPS
                    + " groups; count by fewer columns, or by :month or :year of a date");
        }
    }
}
