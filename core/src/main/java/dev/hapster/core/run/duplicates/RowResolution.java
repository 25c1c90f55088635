package dev.hapster.core.run.duplicates;

import com.dynatrace.hash4j.hashing.HashValue128;
import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.arrival.RowRule.Kind;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.PartReaders;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartSchema;
import dev.hapster.core.store.Span;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which rows of the arrivals that count do not, since another row with the same key does: by the rule under which each
 * arrived, in the order of arrival. Reads the columns that are compared of all parts, and nothing else; what it says
 * depends on these parts and rules alone.
 */
public final class RowResolution {

    /** Where a deletion stands in its part: how many rows stand before it. */
    public static final String BEFORE = "_before";

    private final DatasetDef dataset;
    private final Path scratch;

    public RowResolution(DatasetDef dataset, Path scratch) {
        this.dataset = dataset;
        this.scratch = scratch;
    }

    /**
     * Rows that are compared.
     *
     * @param part where they are
     * @param deletions where the rows are that say that others are to go
     * @param name of the file, for people
     */
    public record Rows(Arrival arrival, Span part, Optional<Path> deletions, String name) {}

    /** What stands in the place of a row. */
    public record Instead(Rows rows, long line) {}

    /**
     * What was found, by the numbers of arrivals.
     *
     * @param masks rows that do not count
     * @param counted rows that repeat others and count nevertheless
     */
    public record Resolved(
            Map<Long, RoaringBitmap> masks, Map<Long, Long> counted, Map<Long, Map<Integer, Instead>> instead) {

        public long masked(long arrival) {
            return masks.containsKey(arrival) ? masks.get(arrival).getLongCardinality() : 0;
        }
    }

    /** The columns by which the rows of an arrival are compared, as they are called now; none where they are gone. */
    private List<ColumnDef> columns(RowRule rule) {
        if (rule.kind() != Kind.UPDATE && rule.columns().isEmpty()) {
            return dataset.columns();
        }
        List<ColumnDef> columns = new ArrayList<>();
        for (String name : rule.kind() == Kind.UPDATE ? dataset.key() : rule.columns()) {
            Optional<ColumnDef> column = column(name);
            if (column.isEmpty()) {
                return List.of();
            }
            columns.add(column.get());
        }
        return columns;
    }

    private Optional<ColumnDef> column(String name) {
        return dataset.column(name).or(() -> dataset.columns().stream()
                .filter(column -> column.was().contains(name))
                .findFirst());
    }

    public Resolved resolve(List<Rows> all) throws IOException {
        Set<List<ColumnDef>> ways = new LinkedHashSet<>();
        all.stream()
                .filter(rows -> rows.arrival().rule().kind() != Kind.NONE)
                .map(rows -> columns(rows.arrival().rule()))
                .filter(columns -> !columns.isEmpty())
                .forEach(ways::add);
        Map<Long, RoaringBitmap> masks = new HashMap<>();
        Map<Long, Long> counted = new HashMap<>();
        Map<Long, Map<Integer, Instead>> instead = new HashMap<>();
        List<Order> places = new ArrayList<>(
                new TreeSet<>(all.stream().map(rows -> rows.arrival().place()).toList()));
        Map<Order, Integer> ranks = new HashMap<>();
        places.forEach(place -> ranks.put(place, ranks.size()));
        for (List<ColumnDef> columns : ways) {
            List<KeyIndex.Member> members = all.stream()
                    .map(rows -> new KeyIndex.Member(
                            ranks.get(rows.arrival().place()),
                            rows.arrival().place().entry(),
                            columns(rows.arrival().rule()).equals(columns)
                                    ? rows.arrival().rule()
                                    : RowRule.NONE))
                    .toList();
            Optional<ColumnDef> newest = members.stream()
                    .flatMap(member -> member.rule().newest().flatMap(this::column).stream())
                    .findFirst();
            try (KeyIndex index = new KeyIndex(scratch, members);
                    PartReaders readers = new PartReaders(fields(columns, newest, PartSchema.LINE))) {
                for (int i = 0; i < all.size(); i++) {
                    add(index, i, readers.at(present(all.get(i).part()), Optional.empty()), columns.size(), newest);
                    if (all.get(i).deletions().isPresent()
                            && members.get(i).rule().kind() == Kind.UPDATE) {
                        delete(index, i, all.get(i).deletions().get(), columns, newest);
                    }
                }
                KeyIndex.Found found = index.settle();
                found.dropped()
                        .forEach((source, rows) ->
                                masks.merge(all.get(source).arrival().id(), rows, (a, b) -> RoaringBitmap.or(a, b)));
                found.counted()
                        .forEach((source, rows) ->
                                counted.merge(all.get(source).arrival().id(), rows, Long::sum));
                found.instead().forEach((spot, stays) -> instead.computeIfAbsent(
                                all.get((int) (spot >>> 32)).arrival().id(), id -> new HashMap<>())
                        .put((int) (long) spot, new Instead(all.get(stays.source()), stays.line())));
            }
        }
        masks.values().forEach(RoaringBitmap::runOptimize);
        return new Resolved(masks, counted, instead);
    }

    /** Rows that one part has twice, the first or the last of which is to stay. */
    public static KeyIndex.Found within(Path part, List<ColumnDef> columns, RowRule rule, Path scratch)
            throws IOException {
        try (KeyIndex index = new KeyIndex(scratch, List.of(new KeyIndex.Member(0, 0, rule)));
                PartReader reader = new PartReader(part, fields(columns, Optional.empty(), PartSchema.LINE))) {
            add(index, 0, reader, columns.size(), Optional.empty());
            return index.settle();
        }
    }

    private static Span present(Span part) throws IOException {
        if (!Files.exists(part.file())) {
            throw new IOException("The part " + part.file()
                    + " is gone. `hapster verify` says what is missing, and how it is loaded again");
        }
        return part;
    }

    /** The columns that are compared, the one that says how new a row is, the line, and where a deletion stands. */
    private static List<Field> fields(List<ColumnDef> columns, Optional<ColumnDef> newest, String last) {
        List<Field> fields = new ArrayList<>(
                Stream.concat(columns.stream(), newest.stream()).map(Field::of).toList());
        fields.add(new Field(PartSchema.LINE, ColumnType.of(ColumnType.Kind.INTEGER)));
        if (last.equals(BEFORE)) {
            fields.add(new Field(BEFORE, ColumnType.of(ColumnType.Kind.INTEGER)));
        }
        return fields;
    }

    private interface EachRow {
        void of(int row, long line, HashValue128 key, long newness) throws IOException;
    }

    private static void each(PartReader reader, int compared, Optional<ColumnDef> newest, EachRow each)
            throws IOException {
        KeyHash keys = new KeyHash();
        int line = compared + (newest.isPresent() ? 1 : 0);
        for (int rows = reader.next(); rows > 0; rows = reader.next()) {
            List<Vector> values = reader.vectors(compared);
            long[] lines = ((Vector.Longs) reader.vector(line)).values;
            Vector how = newest.isPresent() ? reader.vector(compared) : null;
            for (int row = 0; row < rows; row++) {
                long value = how == null || how.empty[row] ? KeyIndex.OLDEST : ((Vector.Longs) how).values[row];
                each.of(row, lines[row], keys.of(values, row), value);
            }
        }
    }

    /** Puts the rows of a part into the index. */
    private static void add(KeyIndex index, int source, PartReader reader, int compared, Optional<ColumnDef> newest)
            throws IOException {
        int[] number = {0};
        each(reader, compared, newest, (row, line, key, newness) -> index.add(source, number[0]++, line, key, newness));
    }

    /** Puts rows into the index that say which others are to go. */
    private static void delete(
            KeyIndex index, int source, Path deletions, List<ColumnDef> columns, Optional<ColumnDef> newest)
            throws IOException {
        try (PartReader reader =
                new PartReader(present(Span.whole(deletions)).file(), fields(columns, newest, BEFORE))) {
            int before = columns.size() + (newest.isPresent() ? 1 : 0) + 1;
            each(
                    reader,
                    columns.size(),
                    newest,
                    (row, line, key, newness) -> index.delete(
                            source, (int) ((Vector.Longs) reader.vector(before)).values[row], line, key, newness));
        }
    }
}
