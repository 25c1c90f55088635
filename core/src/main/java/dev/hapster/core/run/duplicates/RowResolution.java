package dev.hapster.core.run.duplicates;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.arrival.Order;
import dev.hapster.core.arrival.RowRule;
import dev.hapster.core.arrival.RowRule.Kind;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartSchema;
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
    public record Rows(Arrival arrival, Path part, Optional<Path> deletions, String name) {}

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
            try (KeyIndex index = new KeyIndex(scratch, members)) {
                for (int i = 0; i < all.size(); i++) {
                    scan(index, i, all.get(i).part(), columns, newest, PartSchema.LINE);
                    if (all.get(i).deletions().isPresent()
                            && members.get(i).rule().kind() == Kind.UPDATE) {
                        scan(index, i, all.get(i).deletions().get(), columns, newest, BEFORE);
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
        try (KeyIndex index = new KeyIndex(scratch, List.of(new KeyIndex.Member(0, 0, rule)))) {
            scan(index, 0, part, columns, Optional.empty(), PartSchema.LINE);
            return index.settle();
        }
    }

    /** Puts the rows of a part into the index, or those that say what is to go. */
    private static void scan(
            KeyIndex index, int source, Path part, List<ColumnDef> columns, Optional<ColumnDef> newest, String where)
            throws IOException {
        if (!Files.exists(part)) {
            throw new IOException(
                    "The part " + part + " is gone. `hapster verify` says what is missing, and how it is loaded again");
        }
        int compared = columns.size();
        List<Field> fields = new ArrayList<>(
                Stream.concat(columns.stream(), newest.stream()).map(Field::of).toList());
        fields.add(new Field(PartSchema.LINE, ColumnType.of(ColumnType.Kind.INTEGER)));
        boolean deletes = where.equals(BEFORE);
        if (deletes) {
            fields.add(new Field(BEFORE, ColumnType.of(ColumnType.Kind.INTEGER)));
        }
        KeyHash keys = new KeyHash();
        try (PartReader reader = new PartReader(part, fields)) {
            List<Vector> values = new ArrayList<>();
            for (int i = 0; i < compared; i++) {
                values.add(reader.vector(i));
            }
            int at = 0;
            int line = compared + (newest.isPresent() ? 1 : 0);
            for (int rows = reader.next(); rows > 0; at += rows, rows = reader.next()) {
                long[] lines = ((Vector.Longs) reader.vector(line)).values;
                Vector how = newest.isPresent() ? reader.vector(compared) : null;
                for (int row = 0; row < rows; row++) {
                    long value = how == null || how.empty[row] ? KeyIndex.OLDEST : ((Vector.Longs) how).values[row];
                    if (deletes) {
                        index.delete(
                                source,
                                (int) ((Vector.Longs) reader.vector(line + 1)).values[row],
                                lines[row],
                                keys.of(values, row),
                                value);
                    } else {
                        index.add(source, at + row, lines[row], keys.of(values, row), value);
                    }
                }
            }
        }
    }
}
