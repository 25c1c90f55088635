package dev.hapster.core.query;

import com.dynatrace.hash4j.hashing.HashStream128;
import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FilePattern;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.query.filter.Condition;
import dev.hapster.core.query.filter.Condition.Span;
import dev.hapster.core.query.filter.Condition.Spans;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.filter.JobNames;
import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.filter.WhereParser;
import dev.hapster.core.query.group.GroupCounts;
import dev.hapster.core.query.group.Key;
import dev.hapster.core.query.group.Measure;
import dev.hapster.core.query.group.Tally;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.profile.ColumnProfile;
import dev.hapster.core.query.profile.Profiler;
import dev.hapster.core.query.sorted.Rankings;
import dev.hapster.core.query.sorted.Rankings.Question;
import dev.hapster.core.query.sorted.Rankings.Ranking;
import dev.hapster.core.query.sorted.Search;
import dev.hapster.core.query.sorted.Sort;
import dev.hapster.core.query.sorted.Spot;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.store.PartSchema;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * Answers questions about one dataset from the Parquet files of its parts. Each answer reads only the columns it needs,
 * batch by batch, on all cores. Immutable.
 */
public final class DatasetQuery {

    /** How deep a sorted or filtered list can be paged. */
    public static final int DEEPEST = 100_000;
    /** How many groups a count may have. */
    public static final int MOST_GROUPS = 20_000;
    /** How many it may have where only the first of them are listed. */
    private static final int MOST_GROUPS_OF_WHICH_SOME_ARE_LISTED = 200_000;
    /** How many columns rows are counted by at most. */
    private static final int MOST_KEYS = 4;

    private static final int MOST_HINTS = 5;
    /** So many values are listed where another one was asked for. */
    private static final int FEW = 10;

    /** So many rows of a sorted list are looked for at once, and this many times those asked for when it goes on. */
    private static final int AT_ONCE = 1000;

    private static final int FURTHER = 4;

    private final Fields fields;
    private final Parts parts;
    private final Rankings rankings;

    private final JobNames jobs;

    /** A question for which nothing is known from questions before. */
    public DatasetQuery(DatasetDef dataset, List<PartFile> parts) {
        this(dataset, new Parts(parts), new Rankings(), Map.of());
    }

    /**
     * @param rankings what is known from questions before, to any dataset
     * @param jobs of runs that brought rows, by the numbers of these
     */
    public DatasetQuery(DatasetDef dataset, Parts parts, Rankings rankings, Map<Long, String> jobs) {
        this.fields = new Fields(dataset);
        this.parts = parts;
        this.rankings = rankings;
        this.jobs = new JobNames(jobs);
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
        Where wanted = where(where);
        if (sorts.isEmpty() && wanted.isAlways()) {
            return new Page(
                    fields.all(),
                    OptionalLong.of(parts.rows()),
                    new PlainRows(parts, fields.all()).some(offset, limit));
        }
        if (offset + limit > DEEPEST) {
            throw new QueryException(
                    "A sorted or filtered list can be paged to row " + DEEPEST + "; narrow it with a condition");
        }
        Ranking first = first((int) offset, limit, sorts, wanted);
        int from = (int) Math.min(offset, first.rows().length);
        int to = (int) Math.min(offset + limit, first.rows().length);
        return new Page(
                fields.all(),
                first.whole() ? OptionalLong.of(first.rows().length) : total(wanted, counted),
                parts.fetch(
                        Arrays.copyOfRange(first.files(), from, to),
                        Arrays.copyOfRange(first.rows(), from, to),
                        fields.all()));
    }

    private Where where(List<String> texts) throws QueryException {
        return jobs.resolved(WhereParser.parse(texts, fields.withJob()));
    }

    private Ranking first(int offset, int limit, List<Sort> sorts, Where where) throws IOException, QueryException {
        int wanted = offset + limit;
        if (wanted == 0) {
            return Ranking.of(List.of(), false);
        }
        Question question = new Question(parts.all(), sorts, where);
        Ranking known = rankings.find(question).orElse(null);
        if (known != null && known.has(wanted)) {
            return known;
        }
        int keep = known != null || offset > 0 ? FURTHER * wanted : wanted;
        keep = Math.min(DEEPEST, sorts.isEmpty() ? keep : Math.max(AT_ONCE, keep));
        List<Spot> found = new Search(parts, sorts, where).first(keep);
        Ranking ranking = Ranking.of(found, found.size() < keep);
        rankings.put(question, ranking);
        return ranking;
    }

    /** How many rows satisfy the conditions. */
    private OptionalLong total(Where where, boolean counted) throws IOException, QueryException {
        if (where.isAlways()) {
            return OptionalLong.of(parts.rows());
        }
        Question question = new Question(parts.all(), List.of(), where);
        OptionalLong known = rankings.total(question);
        if (known.isPresent() || !counted) {
            return known;
        }
        long total = matching(where);
        rankings.putTotal(question, total);
        return OptionalLong.of(total);
    }

    private long matching(Where where) throws IOException, QueryException {
        List<long[]> counts =
                parts.each(parts.everyFile(), where.fields(), () -> new long[1], (slice, reader, count) -> {
                    Filter filter = new Filter(where, 0);
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
     * @param columns which columns, in this order, each also as {@code lab as Laboratory}; empty for all that are
     *     declared
     * @param origins whether the columns that say where a row comes from go with them
     * @param where conditions, all of which must hold
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order by source and line
     */
    public record Selection(List<String> columns, boolean origins, List<String> where, List<String> sort) {
        public static final Selection ALL = new Selection(List.of(), false, List.of(), List.of());
    }

    /** What a format can hold, by what the columns are called in it. */
    public interface LimitsOf {
        Limits of(List<String> columns) throws QueryException;
    }

    /**
     * Makes an export ready. Opens every part, so that an export that cannot be written fails before the first byte.
     *
     * @param limits what can be written
     * @param all whether every part is read whole before, too
     * @throws QueryException with a sentence for people, where it cannot be written
     */
    public RowExport export(Selection what, LimitsOf limits, boolean all) throws IOException, QueryException {
        Where where = where(what.where());
        RowExport export = RowExport.of(parts, fields, what, where);
        Limits within = limits.of(export.names());
        export.check(within, all);
        return export.groupedBy(within.groupedBy()).of(total(where, true).getAsLong());
    }

    /**
     * Makes an export to several files ready.
     *
     * @param pattern says of each row to which it goes
     * @throws QueryException with a sentence for people, where it cannot be written
     */
    public SplitExport split(Selection what, FilePattern pattern, LimitsOf limits) throws IOException, QueryException {
        RowExport asked = RowExport.of(parts, fields, what, where(what.where()));
        Limits within = limits.of(asked.names());
        asked.check(within, false);
        RowExport export = asked.groupedBy(within.groupedBy());
        List<Field> pieces = new ArrayList<>();
        for (FilePattern.Piece piece : pattern.pieces()) {
            pieces.add(fields.field(piece.column()));
        }
        return new SplitExport(export, pattern, pieces);
    }

    /** Makes an export part by part ready; what the selection says of an order does not matter. */
    public PartExport byPart(Selection what) throws QueryException {
        RowExport export = RowExport.of(parts, fields, what, where(what.where()));
        return new PartExport(export, export.wanted());
    }

    /** A short name for the rows that there are: as long as it is the same, so are they. */
    public String state() {
        HashStream128 state = Hashing.xxh3_128().hashStream();
        for (PartFile part : parts.all()) {
            state.putByteArray(part.identity());
            state.putString(part.source());
        }
        return state.get().toString();
    }

    /**
     * What may be the matter where no row satisfies conditions: which of the texts that they ask for do not occur in
     * their column, a sentence each. Columns with very many different texts are not looked at.
     */
    public List<String> missing(List<String> where) throws IOException, QueryException {
        List<String> sentences = new ArrayList<>();
        List<Condition> conditions = WhereParser.parse(where, fields.withJob())
                .conditions()
                .limit(MOST_HINTS)
                .toList();
        for (Condition condition : conditions) {
            boolean texts = !condition.not() && condition.field().type().kind() == Kind.TEXT;
            if (texts
                    && condition.values() instanceof Spans spans
                    && spans.spans().stream().allMatch(Span::isOne)) {
                if (condition.field().equals(Fields.JOB)) {
                    missing(condition.field(), spans, new TreeSet<>(jobs.all()), sentences);
                } else {
                    missing(condition.field(), spans, sentences);
                }
            }
        }
        return sentences.subList(0, Math.min(MOST_HINTS, sentences.size()));
    }

    private void missing(Field field, Spans asked, List<String> sentences) throws IOException {
        Set<String> there = new TreeSet<>();
        try {
            for (List<Comparable<?>> key : tallies(List.of(new Key(field, "")), List.of(), Where.always(), false)
                    .keySet()) {
                if (key.get(0) != null) {
                    there.add((String) key.get(0));
                }
            }
        } catch (QueryException tooMany) {
            return;
        }
        missing(field, asked, there, sentences);
    }

    private static void missing(Field field, Spans asked, Set<String> there, List<String> sentences) {
        for (Span span : asked.spans()) {
            String text = (String) span.from();
            if (!there.contains(text)) {
                sentences.add("No row has " + Reasons.quote(text) + " in " + field.name()
                        + Nearest.word(text, there)
                                .map(near -> ". Did you mean " + Reasons.quote(near) + "?")
                                .orElse(
                                        there.isEmpty() || there.size() > FEW
                                                ? ""
                                                : "; there is "
                                                        + there.stream()
                                                                .map(Reasons::quote)
                                                                .collect(Collectors.joining(", "))));
            }
        }
    }

    /**
     * What columns hold, some of it estimated where there are very many different values.
     *
     * @param columns which; empty for all that are declared
     * @param where conditions that rows must satisfy, all of them
     */
    public List<ColumnProfile> profile(List<String> columns, List<String> where) throws IOException, QueryException {
        return new Profiler(parts, where(where)).profile(profiled(columns));
    }

    /**
     * The same with nothing estimated, which takes much longer.
     *
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     */
    public List<ColumnProfile> exactProfile(List<String> columns, List<String> where, Path scratch)
            throws IOException, QueryException {
        return new Profiler(parts, where(where)).exact(profiled(columns), scratch);
    }

    private List<Field> profiled(List<String> columns) throws QueryException {
        List<Field> wanted = new ArrayList<>();
        for (String column : columns) {
            wanted.add(fields.field(column));
        }
        if (wanted.isEmpty()) {
            fields.all().stream().filter(field -> !field.name().startsWith("_")).forEach(wanted::add);
        }
        return wanted;
    }

    /**
     * What is counted.
     *
     * @param by at most four columns, or {@code _job}; dates and timestamps also as {@code sampled_at:month}, by one of
     *     {@link Key#UNITS}; empty for all rows as one group
     * @param measures what is found out of other columns in each group, such as {@code mean(value)}
     * @param where conditions, all of which must hold
     * @param sort columns of {@code by}, {@code rows}, or measures; with a {@code -} in front for descending
     * @param top how many groups are listed; 0 for all
     */
    public record Grouping(List<String> by, List<String> measures, List<String> where, List<String> sort, int top) {

        /** All rows, counted by columns. */
        public static Grouping by(String... columns) {
            return new Grouping(List.of(columns), List.of(), List.of(), List.of(), 0);
        }
    }

    /**
     * Rows counted by columns.
     *
     * @throws QueryException with a sentence for people, where it cannot be answered
     */
    public Counts counts(Grouping asked) throws IOException, QueryException {
        List<String> by = asked.by();
        if (by.size() > MOST_KEYS) {
            throw new QueryException("Rows are counted by " + MOST_KEYS + " columns at most, not by " + by.size());
        }
        if (asked.top() < 0) {
            throw new QueryException("The number of groups to list must be more than 0, not " + asked.top());
        }
        List<Key> keys = new ArrayList<>();
        for (String text : by) {
            keys.add(Key.parse(text.equals(Fields.JOB.name()) ? PartSchema.RUN : text, fields));
        }
        List<Measure> measures = new ArrayList<>();
        for (String text : asked.measures()) {
            measures.add(Measure.parse(text, fields));
        }
        List<String> names = measures.stream().map(Measure::name).toList();
        List<String> sort = asked.sort().isEmpty() && asked.top() > 0 ? List.of("-rows") : asked.sort();
        Comparator<Counts.Group> order = Counts.order(by, names, sort);
        Map<List<Comparable<?>>, Tally> tallies =
                byJob(by, tallies(keys, measures, where(asked.where()), asked.top() > 0), measures);
        Tally total = together(tallies.values(), measures);
        List<Counts.Group> groups = tallies.entrySet().stream()
                .map(entry -> group(entry.getKey(), entry.getValue(), measures))
                .sorted(order)
                .toList();
        Optional<Counts.Rest> rest = Optional.empty();
        if (asked.top() > 0 && groups.size() > asked.top()) {
            List<Counts.Group> others = groups.subList(asked.top(), groups.size());
            Tally all = together(
                    others.stream().map(one -> tallies.get(one.values())).toList(), measures);
            rest = Optional.of(new Counts.Rest(others.size(), group(List.of(), all, measures)));
            groups = groups.subList(0, asked.top());
        }
        return new Counts(by, names, group(List.of(), total, measures), groups, rest);
    }

    /** The same with the job of each run in place of it. */
    private Map<List<Comparable<?>>, Tally> byJob(
            List<String> by, Map<List<Comparable<?>>, Tally> byRun, List<Measure> measures) {
        if (!by.contains(Fields.JOB.name())) {
            return byRun;
        }
        Map<List<Comparable<?>>, Tally> tallies = new HashMap<>();
        byRun.forEach((key, tally) -> {
            List<Comparable<?>> named = new ArrayList<>(key);
            for (int i = 0; i < by.size(); i++) {
                if (by.get(i).equals(Fields.JOB.name())) {
                    named.set(i, jobs.of((Long) key.get(i)));
                }
            }
            tallies.merge(named, tally, (one, other) -> one.with(other, measures));
        });
        return tallies;
    }

    private static Counts.Group group(List<Comparable<?>> values, Tally tally, List<Measure> measures) {
        return new Counts.Group(values, tally.rows(), tally.values(measures));
    }

    private static Tally together(Collection<Tally> tallies, List<Measure> measures) {
        Tally all = Tally.none(measures);
        for (Tally one : tallies) {
            all = all.with(one, measures);
        }
        return all;
    }

    private Map<List<Comparable<?>>, Tally> tallies(
            List<Key> keys, List<Measure> measures, Where where, boolean firstOnly) throws IOException, QueryException {
        List<Field> needed = new ArrayList<>(keys.stream().map(Key::field).toList());
        needed.addAll(where.fields());
        int first = needed.size();
        measures.forEach(measure -> needed.add(measure.field()));
        int most = firstOnly ? MOST_GROUPS_OF_WHICH_SOME_ARE_LISTED : MOST_GROUPS;
        Map<List<Comparable<?>>, Tally> tallies = new HashMap<>();
        for (GroupCounts found : parts.each(
                parts.everyFile(), needed, () -> new GroupCounts(keys, measures, first), (slice, reader, groups) -> {
                    Filter filter = new Filter(where, keys.size());
                    reader.only(slice.groups(reader), group -> filter.mayHold(reader, group));
                    for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                        int count = filter.select(reader, rows);
                        groups.count(reader, filter.selected(), count);
                        few(groups.size(), most, keys);
                    }
                })) {
            found.addTo(tallies);
            few(tallies.size(), most, keys);
        }
        return tallies;
    }

    private static void few(int groups, int most, List<Key> keys) throws QueryException {
        if (groups > most) {
            throw new QueryException("Counting by "
                    + keys.stream().map(key -> key.field().name()).collect(Collectors.joining(", "))
                    + " gives more than " + Reasons.grouped(most)
                    + " groups; count by fewer columns, or by :month or :year of a date"
                    + (most == MOST_GROUPS ? ", or list only the largest groups" : ""));
        }
    }
}
