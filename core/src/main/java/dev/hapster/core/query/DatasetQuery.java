package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartSchema;
import java.io.IOException;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import org.roaringbitmap.RoaringBitmap;

/**
 * Answers questions about one dataset from the Parquet files of its parts. Each answer reads only the columns it needs,
 * batch by batch. Immutable.
 */
public final class DatasetQuery {

    /** How deep a sorted or filtered list can be paged. */
    public static final int DEEPEST = 100_000;
    /** How many groups a count may have. */
    public static final int MOST_GROUPS = 20_000;

    /** How many rows can be sorted to be exported. */
    public static final int MOST_SORTED = 200_000;

    private static final Field LINE = new Field(PartSchema.LINE, ColumnType.of(Kind.INTEGER));

    private final Fields fields;
    /** By source; parts of one source follow each other. */
    private final List<PartFile> parts;
    /** For each part the number of its source, counted from 0. */
    private final int[] groups;

    /**
     * One part.
     *
     * @param source the file that its rows are from: parts of one source are put in order by line; empty where that
     *     does not matter
     * @param rows rows of it that count
     * @param masked those that do not, by their number in the part, counted from 0
     */
    public record PartFile(Path path, String source, long rows, Optional<RoaringBitmap> masked) {

        public PartFile(Path path, long rows, Optional<RoaringBitmap> masked) {
            this(path, "", rows, masked);
        }

        /** A part of which all rows count. */
        public PartFile(Path path, long rows) {
            this(path, rows, Optional.empty());
        }

        PartReader read(List<Field> fields) throws IOException {
            return new PartReader(path, fields, masked);
        }
    }

    public DatasetQuery(DatasetDef dataset, List<PartFile> parts) {
        this.fields = new Fields(dataset);
        this.parts =
                parts.stream().sorted(Comparator.comparing(PartFile::source)).toList();
        groups = new int[parts.size()];
        for (int i = 1; i < groups.length; i++) {
            String source = this.parts.get(i).source();
            boolean same =
                    !source.isEmpty() && source.equals(this.parts.get(i - 1).source());
            groups[i] = groups[i - 1] + (same ? 0 : 1);
        }
    }

    /** Whether other parts have rows of the same source, so that its rows do not simply follow each other. */
    private boolean isMixed(int part) {
        return (part > 0 && groups[part] == groups[part - 1])
                || (part + 1 < groups.length && groups[part] == groups[part + 1]);
    }

    private record Sort(Field field, boolean descending) {
        static List<Sort> parse(List<String> texts, Fields fields) throws QueryException {
            List<Sort> sorts = new ArrayList<>();
            for (String text : texts) {
                boolean descending = text.startsWith("-");
                sorts.add(new Sort(fields.field(descending ? text.substring(1) : text), descending));
            }
            return sorts;
        }
    }

    /** Where a row stands: its part and its number within it, with the values it is sorted by. */
    private record Spot(int group, long line, int part, long row, List<Comparable<?>> keys) {}

    /** The order of rows that are not sorted otherwise: by source and line. */
    private static int byPlace(Spot a, Spot b) {
        int order = Integer.compare(a.group, b.group);
        order = order != 0 ? order : Long.compare(a.line, b.line);
        order = order != 0 ? order : Integer.compare(a.part, b.part);
        return order != 0 ? order : Long.compare(a.row, b.row);
    }

    /**
     * Some rows.
     *
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order by source and line
     * @param where conditions, all of which must hold
     */
    public Page rows(long offset, int limit, List<String> sort, List<String> where) throws IOException, QueryException {
        List<Sort> sorts = Sort.parse(sort, fields);
        List<Condition> conditions = conditions(where);
        if (sorts.isEmpty() && conditions.isEmpty()) {
            return plain(offset, limit);
        }
        if (offset + limit > DEEPEST) {
            throw new QueryException(
                    "A sorted or filtered list can be paged to row " + DEEPEST + "; narrow it with a condition");
        }
        Comparator<Spot> order = order(sorts);
        int keep = (int) offset + limit;
        List<First> found = scan(sorts, conditions, keep, order);
        List<Spot> spots = found.stream()
                .flatMap(one -> one.spots.stream())
                .sorted(order)
                .skip(offset)
                .limit(limit)
                .toList();
        long total = found.stream().mapToLong(one -> one.total).sum();
        return new Page(fields.all(), total, fetch(spots, fields.all()));
    }

    /** The first rows of those that somebody has come to, and how many satisfy the conditions. */
    private static final class First {
        final PriorityQueue<Spot> spots;
        long total;

        First(int keep, Comparator<Spot> order) {
            spots = new PriorityQueue<>(Math.max(1, Math.min(keep, 1024)), order.reversed());
        }
    }

    private List<First> scan(List<Sort> sorts, List<Condition> conditions, int keep, Comparator<Spot> order)
            throws IOException, QueryException {
        List<Field> needed = new ArrayList<>(sorts.stream().map(Sort::field).toList());
        conditions.forEach(condition -> needed.add(condition.field()));
        return Spread.over(
                parts.size(),
                () -> new First(keep, order),
                (part, first) -> first.total += scan(part, needed, sorts, conditions, keep, first.spots, order));
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
     * An export of which is known that it can be written: that all parts are there and can be read as the columns are
     * now, and that what is written can hold their values.
     */
    public final class Export {
        private final List<Field> wanted;
        private final List<Sort> sorts;
        private final List<Condition> conditions;
        private final long rows;

        private Export(List<Field> wanted, List<Sort> sorts, List<Condition> conditions, long rows) {
            this.rows = rows;
            this.wanted = wanted;
            this.sorts = sorts;
            this.conditions = conditions;
        }

        /** How many rows it has. */
        public long rows() {
            return rows;
        }

        /** @return how many rows there were */
        public long to(RowWriter to) throws IOException {
            try (RowWriter writer = to) {
                writer.begin(wanted);
                long count = sorts.isEmpty() ? inPlace(writer) : sorted(writer);
                writer.finish();
                return count;
            }
        }

        private List<Field> needed() {
            List<Field> needed = new ArrayList<>(wanted);
            conditions.forEach(condition -> needed.add(condition.field()));
            sorts.forEach(sort -> needed.add(sort.field()));
            needed.add(LINE);
            return needed;
        }

        private long inPlace(RowWriter writer) throws IOException {
            long[] count = {0};
            List<Field> read = needed();
            List<Comparable<?>> row = new ArrayList<>();
            for (int part = 0, end; part < parts.size(); part = end) {
                end = endOfSource(part);
                merge(part, end, read, read.size() - 1, next -> {
                    if (satisfies(next.reader, next.at, wanted.size(), conditions)) {
                        row.clear();
                        for (int i = 0; i < wanted.size(); i++) {
                            row.add(next.reader.value(i, next.at));
                        }
                        writer.row(row);
                        count[0]++;
                    }
                });
            }
            return count[0];
        }

        private long sorted(RowWriter writer) throws IOException {
            Comparator<Spot> order = order(sorts);
            PriorityQueue<Spot> all = new PriorityQueue<>(order.reversed());
            List<Field> needed = new ArrayList<>(sorts.stream().map(Sort::field).toList());
            conditions.forEach(condition -> needed.add(condition.field()));
            for (int part = 0; part < parts.size(); part++) {
                scan(part, needed, sorts, conditions, MOST_SORTED, all, order);
            }
            List<Spot> spots = all.stream().sorted(order).toList();
            for (int from = 0; from < spots.size(); from += FETCHED) {
                for (List<Comparable<?>> row :
                        fetch(spots.subList(from, Math.min(spots.size(), from + FETCHED)), wanted)) {
                    writer.row(row);
                }
            }
            return spots.size();
        }
    }

    private static final int FETCHED = 20_000;

    /** One part while it is read. */
    private static final class Cursor {
        private final PartReader reader;
        private final int lineField;
        private int at = -1;
        private int rows;

        Cursor(PartReader reader, int lineField) throws IOException {
            this.reader = reader;
            this.lineField = lineField;
            advance();
        }

        boolean isThere() {
            return at < rows;
        }

        long line() {
            return lines(reader, lineField)[at];
        }

        void advance() throws IOException {
            at++;
            if (at >= rows) {
                rows = reader.next();
                at = 0;
            }
        }
    }

    /**
     * Makes an export ready. Opens every part, so that an export that cannot be written fails before the first byte.
     *
     * @param mostText how many UTF-16 units a text may have in what is written
     * @param all whether every part is read whole before, too
     * @throws QueryException with a sentence for people, where it cannot be written
     */
    public Export export(Selection what, int mostText, boolean all) throws IOException, QueryException {
        List<Field> wanted = new ArrayList<>();
        for (Field field : fields.all()) {
            boolean ours = field.name().startsWith("_");
            if (ours ? what.origins() : what.columns().isEmpty()) {
                wanted.add(field);
            }
        }
        for (String column : what.columns()) {
            Field field = fields.field(column);
            if (!wanted.contains(field)) {
                wanted.add(field);
            }
        }
        List<Sort> sorts = Sort.parse(what.sort(), fields);
        List<Condition> conditions = conditions(what.where());
        if (!sorts.isEmpty()) {
            long rows = parts.stream().mapToLong(PartFile::rows).sum();
            if (rows > MOST_SORTED) {
                throw new QueryException("At most " + Reasons.grouped(MOST_SORTED)
                        + " rows can be sorted to be exported, and the dataset has " + Reasons.grouped(rows)
                        + ". Export them without `sort`: they come by source and line");
            }
        }
        List<Field> needed = new ArrayList<>(wanted);
        conditions.forEach(condition -> needed.add(condition.field()));
        sorts.forEach(sort -> needed.add(sort.field()));
        for (PartFile part : parts) {
            try (PartReader reader = part.read(needed)) {
                while (all && reader.next() > 0) {
                    continue;
                }
            }
        }
        if (mostText < Integer.MAX_VALUE) {
            checkTexts(wanted, mostText);
        }
        return new Export(wanted, sorts, conditions, matching(conditions));
    }

    /** Rows for which the conditions hold. */
    private long matching(List<Condition> conditions) throws IOException, QueryException {
        if (conditions.isEmpty()) {
            return parts.stream().mapToLong(PartFile::rows).sum();
        }
        List<Field> needed = conditions.stream().map(Condition::field).toList();
        List<long[]> counts = Spread.over(parts.size(), () -> new long[1], (part, count) -> {
            try (PartReader reader = parts.get(part).read(needed)) {
                for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                    for (int row = 0; row < rows; row++) {
                        count[0] += satisfies(reader, row, 0, conditions) ? 1 : 0;
                    }
                }
            }
        });
        return counts.stream().mapToLong(count -> count[0]).sum();
    }

    private void checkTexts(List<Field> wanted, int most) throws IOException, QueryException {
        List<Field> texts = new ArrayList<>(wanted.stream()
                .filter(field -> field.type().kind() == Kind.TEXT)
                .toList());
        int count = texts.size();
        texts.add(fields.all().get(0));
        texts.add(LINE);
        for (PartFile part : parts) {
            try (PartReader reader = part.read(texts)) {
                for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                    for (int i = 0; i < count; i++) {
                        Vector.Bytes bytes = (Vector.Bytes) reader.vector(i);
                        for (int row = 0; row < rows; row++) {
                            if (!bytes.empty[row]
                                    && bytes.length[row] > most
                                    && reader.value(i, row).toString().length() > most) {
                                throw new QueryException("A cell of a workbook holds at most " + Reasons.grouped(most)
                                        + " characters, and " + texts.get(i).name() + " in "
                                        + reader.value(count, row) + ":" + reader.value(count + 1, row) + " has "
                                        + Reasons.grouped(
                                                reader.value(i, row).toString().length())
                                        + ". Export it as csv, json_lines or parquet, or leave the column out");
                            }
                        }
                    }
                }
            }
        }
    }

    private List<Condition> conditions(List<String> where) throws QueryException {
        List<Condition> conditions = new ArrayList<>();
        for (String text : where) {
            conditions.add(Condition.parse(text, fields));
        }
        return conditions;
    }

    private static Comparator<Spot> order(List<Sort> sorts) {
        return (a, b) -> {
            for (int i = 0; i < sorts.size(); i++) {
                int order = Ordering.compareEmptyLast(a.keys.get(i), b.keys.get(i), sorts.get(i).descending);
                if (order != 0) {
                    return order;
                }
            }
            return byPlace(a, b);
        };
    }

    /** Puts the rows of one part among the first; returns how many satisfy the conditions. */
    private long scan(
            int part,
            List<Field> needed,
            List<Sort> sorts,
            List<Condition> conditions,
            int keep,
            PriorityQueue<Spot> first,
            Comparator<Spot> order)
            throws IOException {
        long total = 0;
        long at = 0;
        boolean inOrder = sorts.isEmpty() && !isMixed(part);
        List<Field> read = new ArrayList<>(needed);
        read.add(LINE);
        try (PartReader reader = parts.get(part).read(read)) {
            for (int rows = reader.next(); rows > 0; at += rows, rows = reader.next()) {
                for (int row = 0; row < rows; row++) {
                    if (!satisfies(reader, row, sorts.size(), conditions)) {
                        continue;
                    }
                    total++;
                    if (inOrder && first.size() >= keep) {
                        continue; // without a sort order, rows come in their own
                    }
                    if (!sorts.isEmpty() && first.size() >= keep && keep > 0 && isBehind(reader, row, sorts, first)) {
                        continue;
                    }
                    List<Comparable<?>> keys = new ArrayList<>(sorts.size());
                    for (int i = 0; i < sorts.size(); i++) {
                        keys.add(reader.value(i, row));
                    }
                    Spot spot = new Spot(groups[part], lines(reader, needed.size())[row], part, at + row, keys);
                    if (first.size() < keep) {
                        first.add(spot);
                    } else if (keep > 0 && order.compare(spot, first.peek()) < 0) {
                        first.poll();
                        first.add(spot);
                    }
                }
            }
        }
        return total;
    }

    /** Whether a row comes after all of the first, by what it is sorted by before anything else. */
    private static boolean isBehind(PartReader reader, int row, List<Sort> sorts, PriorityQueue<Spot> first) {
        return Ordering.compareEmptyLast(reader.value(0, row), first.peek().keys.get(0), sorts.get(0).descending) > 0;
    }

    private static long[] lines(PartReader reader, int field) {
        return ((Vector.Longs) reader.vector(field)).values;
    }

    private static boolean satisfies(PartReader reader, int row, int firstField, List<Condition> conditions) {
        for (int i = 0; i < conditions.size(); i++) {
            if (!conditions.get(i).test(reader.value(firstField + i, row))) {
                return false;
            }
        }
        return true;
    }

    private List<List<Comparable<?>>> fetch(List<Spot> spots, List<Field> wantedFields) throws IOException {
        Map<Integer, Map<Long, Integer>> wanted = new HashMap<>();
        List<List<Comparable<?>>> found = new ArrayList<>();
        for (int i = 0; i < spots.size(); i++) {
            wanted.computeIfAbsent(spots.get(i).part, part -> new HashMap<>()).put(spots.get(i).row, i);
            found.add(List.of());
        }
        for (Map.Entry<Integer, Map<Long, Integer>> part : wanted.entrySet()) {
            long last = part.getValue().keySet().stream()
                    .mapToLong(Long::longValue)
                    .max()
                    .orElse(-1);
            try (PartReader reader = parts.get(part.getKey()).read(wantedFields)) {
                long at = reader.skip(part.getValue().keySet().stream()
                        .mapToLong(Long::longValue)
                        .min()
                        .orElse(0));
                for (int rows = reader.next(); rows > 0 && at <= last; at += rows, rows = reader.next()) {
                    for (int row = 0; row < rows; row++) {
                        Integer place = part.getValue().get(at + row);
                        if (place != null) {
                            found.set(place, values(reader, row, wantedFields.size()));
                        }
                    }
                }
            }
        }
        return found;
    }

    private static List<Comparable<?>> values(PartReader reader, int row, int count) {
        List<Comparable<?>> values = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            values.add(reader.value(i, row));
        }
        return values;
    }

    /** Rows by source and line. Whole sources, and whole row groups of them, are skipped unread. */
    private Page plain(long offset, int limit) throws IOException {
        List<List<Comparable<?>>> found = new ArrayList<>();
        long before = 0;
        for (int part = 0; part < parts.size(); ) {
            int end = endOfSource(part);
            long rows =
                    parts.subList(part, end).stream().mapToLong(PartFile::rows).sum();
            if (before + rows > offset && found.size() < limit) {
                if (end == part + 1) {
                    take(parts.get(part), before, offset, limit, found);
                } else {
                    takeMerged(part, end, before, offset, limit, found);
                }
            }
            before += rows;
            part = end;
        }
        return new Page(fields.all(), before, found);
    }

    private int endOfSource(int part) {
        int end = part + 1;
        while (end < parts.size() && groups[end] == groups[part]) {
            end++;
        }
        return end;
    }

    private void take(PartFile part, long before, long offset, int limit, List<List<Comparable<?>>> found)
            throws IOException {
        try (PartReader reader = part.read(fields.all())) {
            long at = before + reader.skip(Math.max(0, offset - before));
            for (int rows = reader.next(); rows > 0 && found.size() < limit; at += rows, rows = reader.next()) {
                for (int row = (int) Math.max(0, Math.min(rows, offset - at));
                        row < rows && found.size() < limit;
                        row++) {
                    found.add(values(reader, row, fields.all().size()));
                }
            }
        }
    }

    private void takeMerged(int first, int end, long before, long offset, int limit, List<List<Comparable<?>>> found)
            throws IOException {
        long[] at = {before};
        merge(first, end, fields.all(), fields.all().indexOf(LINE), cursor -> {
            if (at[0]++ >= offset && found.size() < limit) {
                found.add(values(cursor.reader, cursor.at, fields.all().size()));
            }
        });
    }

    private interface EachRow {
        void at(Cursor cursor) throws IOException;
    }

    /** Goes through the rows of one source, which may be in several parts, in the order of their lines. */
    private void merge(int first, int end, List<Field> read, int lineField, EachRow each) throws IOException {
        List<Cursor> cursors = new ArrayList<>();
        try {
            for (int part = first; part < end; part++) {
                cursors.add(new Cursor(parts.get(part).read(read), lineField));
            }
            for (Cursor next = least(cursors); next != null; next = least(cursors)) {
                each.at(next);
                next.advance();
            }
        } finally {
            for (Cursor cursor : cursors) {
                cursor.reader.close();
            }
        }
    }

    private static Cursor least(List<Cursor> cursors) {
        Cursor least = null;
        for (Cursor cursor : cursors) {
            if (cursor.isThere() && (least == null || cursor.line() < least.line())) {
                least = cursor;
            }
        }
        return least;
    }

    /** What rows are counted by: a column, or the year, month or day of one. */
    private record Key(Field field, String unit) {
        static Key parse(String text, Fields fields) throws QueryException {
            int colon = text.indexOf(':');
            Field field = fields.field(colon < 0 ? text : text.substring(0, colon));
            String unit = colon < 0 ? "" : text.substring(colon + 1);
            boolean dated = field.type().kind() == Kind.DATE || field.type().kind() == Kind.TIMESTAMP;
            if (!unit.isEmpty() && !(dated && List.of("year", "month", "day").contains(unit))) {
                throw new QueryException("'" + text
                        + "' cannot be counted by. Dates and timestamps can be counted by :year, :month and :day");
            }
            return new Key(field, unit);
        }

        Comparable<?> of(Comparable<?> value) {
            if (unit.isEmpty() || value == null) {
                return value;
            }
            LocalDate day = value instanceof LocalDate date
                    ? date
                    : value instanceof LocalDateTime time
                            ? time.toLocalDate()
                            : ((java.time.Instant) value)
                                    .atOffset(ZoneOffset.UTC)
                                    .toLocalDate();
            return switch (unit) {
                case "year" -> (long) day.getYear();
                case "month" -> YearMonth.from(day);
                default -> day;
            };
        }
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
        conditions.forEach(condition -> needed.add(condition.field()));
        Map<List<Comparable<?>>, Long> counts = new HashMap<>();
        for (Groups found : Spread.over(parts.size(), Groups::new, (part, groups) -> {
            try (PartReader reader = parts.get(part).read(needed)) {
                for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                    groups.count(reader, rows, keys, conditions);
                    few(groups.size(), by);
                }
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

    /** Rows counted by keys: as they lie there, or, where only a part of a date counts, by that. */
    private static final class Groups {
        private final GroupTable whole = new GroupTable();
        private final Map<List<Comparable<?>>, Long> units = new HashMap<>();

        void count(PartReader reader, int rows, List<Key> keys, List<Condition> conditions) {
            boolean plain = keys.stream().allMatch(key -> key.unit().isEmpty());
            Vector[] vectors = new Vector[keys.size()];
            for (int i = 0; i < vectors.length; i++) {
                vectors[i] = reader.vector(i);
            }
            GroupTable.AsObjects objects = row -> key(reader, row, keys);
            for (int row = 0; row < rows; row++) {
                if (!conditions.isEmpty() && !satisfies(reader, row, keys.size(), conditions)) {
                    continue;
                }
                if (plain) {
                    whole.add(vectors, row, objects);
                } else {
                    units.merge(key(reader, row, keys), 1L, Long::sum);
                }
            }
        }

        int size() {
            return whole.size() + units.size();
        }

        void addTo(Map<List<Comparable<?>>, Long> counts) {
            whole.forEach((values, rows) -> counts.merge(values, rows, Long::sum));
            units.forEach((values, rows) -> counts.merge(values, rows, Long::sum));
        }
    }

    private static void few(int groups, List<String> by) throws QueryException {
        if (groups > MOST_GROUPS) {
            throw new QueryException("Counting by " + String.join(", ", by) + " gives more than " + MOST_GROUPS
                    + " groups; count by fewer columns, or by :month or :year of a date");
        }
    }

    private static List<Comparable<?>> key(PartReader reader, int row, List<Key> keys) {
        List<Comparable<?>> key = new ArrayList<>(keys.size());
        for (int i = 0; i < keys.size(); i++) {
            key.add(keys.get(i).of(reader.value(i, row)));
        }
        return key;
    }
}
