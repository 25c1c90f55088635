package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowWriter;
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

    private final Fields fields;
    private final List<PartFile> parts;

    /**
     * One part.
     *
     * @param rows rows of it that count
     * @param masked those that do not, by their number in the part, counted from 0
     */
    public record PartFile(Path path, long rows, Optional<RoaringBitmap> masked) {

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
        this.parts = List.copyOf(parts);
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
    private record Spot(int part, long row, List<Comparable<?>> keys) {}

    /**
     * Some rows.
     *
     * @param sort columns to sort by, with a {@code -} in front for descending; empty for the order of loading
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
        PriorityQueue<Spot> first = new PriorityQueue<>(Math.max(1, Math.min(keep, 1024)), order.reversed());
        long total = 0;
        List<Field> needed = new ArrayList<>(sorts.stream().map(Sort::field).toList());
        conditions.forEach(condition -> needed.add(condition.field()));
        for (int part = 0; part < parts.size(); part++) {
            total += scan(part, needed, sorts, conditions, keep, first, order);
        }
        List<Spot> spots = first.stream().sorted(order).skip(offset).toList();
        return new Page(fields.all(), total, fetch(spots));
    }

    /**
     * Gives every row to a writer, in the order of loading.
     *
     * @param origins whether the columns that say where a row comes from are written too
     * @return how many rows there were
     */
    public long export(RowWriter writer, boolean origins) throws IOException {
        List<Field> wanted = fields.all().stream()
                .filter(field -> origins || !field.name().startsWith("_"))
                .toList();
        writer.begin(wanted);
        long count = 0;
        List<Comparable<?>> row = new ArrayList<>();
        for (PartFile part : parts) {
            try (PartReader reader = part.read(wanted)) {
                for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                    for (int at = 0; at < rows; at++) {
                        row.clear();
                        for (int i = 0; i < wanted.size(); i++) {
                            row.add(reader.value(i, at));
                        }
                        writer.row(row);
                        count++;
                    }
                }
            }
        }
        writer.finish();
        return count;
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
            return a.part != b.part ? Integer.compare(a.part, b.part) : Long.compare(a.row, b.row);
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
        try (PartReader reader = parts.get(part).read(needed)) {
            for (int rows = reader.next(); rows > 0; at += rows, rows = reader.next()) {
                for (int row = 0; row < rows; row++) {
                    if (!satisfies(reader, row, sorts.size(), conditions)) {
                        continue;
                    }
                    total++;
                    if (sorts.isEmpty() && first.size() >= keep) {
                        continue; // without a sort order, rows come in their own
                    }
                    List<Comparable<?>> keys = new ArrayList<>(sorts.size());
                    for (int i = 0; i < sorts.size(); i++) {
                        keys.add(reader.value(i, row));
                    }
                    Spot spot = new Spot(part, at + row, keys);
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

    private static boolean satisfies(PartReader reader, int row, int firstField, List<Condition> conditions) {
        for (int i = 0; i < conditions.size(); i++) {
            if (!conditions.get(i).test(reader.value(firstField + i, row))) {
                return false;
            }
        }
        return true;
    }

    private List<List<Comparable<?>>> fetch(List<Spot> spots) throws IOException {
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
            try (PartReader reader = parts.get(part.getKey()).read(fields.all())) {
                long at = reader.skip(part.getValue().keySet().stream()
                        .mapToLong(Long::longValue)
                        .min()
                        .orElse(0));
                for (int rows = reader.next(); rows > 0 && at <= last; at += rows, rows = reader.next()) {
                    for (int row = 0; row < rows; row++) {
                        Integer place = part.getValue().get(at + row);
                        if (place != null) {
                            found.set(place, values(reader, row));
                        }
                    }
                }
            }
        }
        return found;
    }

    private List<Comparable<?>> values(PartReader reader, int row) {
        List<Comparable<?>> values = new ArrayList<>();
        for (int i = 0; i < fields.all().size(); i++) {
            values.add(reader.value(i, row));
        }
        return values;
    }

    private Page plain(long offset, int limit) throws IOException {
        List<List<Comparable<?>>> found = new ArrayList<>();
        long before = 0;
        for (PartFile part : parts) {
            if (before + part.rows() > offset && found.size() < limit) {
                try (PartReader reader = part.read(fields.all())) {
                    long at = before + reader.skip(Math.max(0, offset - before));
                    for (int rows = reader.next(); rows > 0 && found.size() < limit; at += rows, rows = reader.next()) {
                        for (int row = (int) Math.max(0, Math.min(rows, offset - at));
                                row < rows && found.size() < limit;
                                row++) {
                            found.add(values(reader, row));
                        }
                    }
                }
            }
            before += part.rows();
        }
        return new Page(fields.all(), before, found);
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
        Map<List<Comparable<?>>, long[]> counts = new HashMap<>();
        long total = 0;
        for (PartFile part : parts) {
            try (PartReader reader = part.read(needed)) {
                for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                    for (int row = 0; row < rows; row++) {
                        if (satisfies(reader, row, keys.size(), conditions)) {
                            total++;
                            counts.computeIfAbsent(key(reader, row, keys), key -> new long[1])[0]++;
                        }
                    }
                    if (counts.size() > MOST_GROUPS) {
                        throw new QueryException("Counting by " + String.join(", ", by) + " gives more than "
                                + MOST_GROUPS + " groups; count by fewer columns, or by :month or :year of a date");
                    }
                }
            }
        }
        return new Counts(
                by,
                total,
                counts.entrySet().stream()
                        .map(entry -> new Counts.Group(entry.getKey(), entry.getValue()[0]))
                        .sorted((a, b) -> Ordering.compare(a.values(), b.values()))
                        .toList());
    }

    private static List<Comparable<?>> key(PartReader reader, int row, List<Key> keys) {
        List<Comparable<?>> key = new ArrayList<>(keys.size());
        for (int i = 0; i < keys.size(); i++) {
            key.add(keys.get(i).of(reader.value(i, row)));
        }
        return key;
    }
}
