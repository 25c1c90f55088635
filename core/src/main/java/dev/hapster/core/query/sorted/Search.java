package dev.hapster.core.query.sorted;

import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.part.Parts.Slice;
import dev.hapster.core.query.part.StoredFile;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.PriorityQueue;
import java.util.Set;
import java.util.stream.Stream;

/**
 * Looks for the first rows that satisfy conditions, in an order. Row groups that cannot have one of them are not read,
 * and where rows come as they lie there, those behind the last one wanted are not either. Immutable.
 */
public final class Search {

    private final Parts parts;
    private final List<Sort> sorts;
    private final Where where;
    private final Comparator<Spot> order;
    private final List<Field> fields = new ArrayList<>();

    public Search(Parts parts, List<Sort> sorts, Where where) {
        this.parts = parts;
        this.sorts = sorts;
        this.where = where;
        order = Spot.order(sorts);
        fields.addAll(Sort.fields(sorts));
        fields.addAll(where.fields());
        fields.add(Fields.LINE);
    }

    /** The first rows of those that somebody has come to, the last of them on top. */
    private final class First {
        final int keep;
        final PriorityQueue<Spot> spots;
        final Filter filter = new Filter(where, sorts.size());
        final FirstKey key = sorts.isEmpty() ? null : new FirstKey(sorts.get(0));
        private final Comparable<?> limit;

        /** @param limit a value behind which none of the first rows is, by what they are sorted by; null for none */
        First(int keep, Comparable<?> limit) {
            this.keep = keep;
            this.limit = limit;
            spots = new PriorityQueue<>(Math.max(1, Math.min(keep, 1024)), order.reversed());
        }

        boolean isFull() {
            return spots.size() >= keep;
        }

        boolean mayBeIn(PartReader reader, int group) {
            return filter.mayHold(reader, group) && !(key != null && key.allBehind(reader, group, limit()));
        }

        /** The value behind which none of the first rows is; null where there is none. */
        Comparable<?> limit() {
            return isFull() ? spots.peek().keys().get(0) : limit;
        }

        void put(Spot spot) {
            if (!isFull()) {
                spots.add(spot);
            } else if (order.compare(spot, spots.peek()) < 0) {
                spots.poll();
                spots.add(spot);
            }
        }
    }

    /**
     * The first rows.
     *
     * @param keep how many; more than 0
     * @return in order
     */
    public List<Spot> first(int keep) throws IOException, QueryException {
        if (!sorts.isEmpty()) {
            return among(parts.everyFile(), keep, List.of(), limit(keep));
        }
        // in the order of their sources: a few files, and more only while there are too few rows
        List<Spot> found = List.of();
        Set<Integer> seen = new HashSet<>();
        int sources = 0;
        int most = 1;
        for (int part = 0; part < parts.all().size(); most *= 2) {
            List<Integer> files = new ArrayList<>();
            while (part < parts.all().size() && files.size() < most) {
                for (int end = parts.endOfSource(part); part < end; part++) {
                    int file = parts.fileOf(part);
                    if (seen.add(file)) {
                        files.add(file);
                    }
                }
                sources++;
            }
            found = among(files, keep, found, null);
            if (found.size() >= keep && found.get(keep - 1).group() < sources) {
                return found;
            }
        }
        return found;
    }

    /**
     * The value that the last of the first rows has in the column that is sorted by before all others, which alone is
     * read for it; null where it is not known. Other columns are then read only of those who may be among the first.
     */
    private Comparable<?> limit(int keep) throws IOException, QueryException {
        FirstKey key = new FirstKey(sorts.get(0));
        if (!key.isNumber()) {
            return null;
        }
        List<Field> read = new ArrayList<>(List.of(sorts.get(0).field()));
        read.addAll(where.fields());
        FirstKey.Best all = key.new Best(keep);
        for (FirstKey.Best one :
                parts.each(parts.everyFile(), read, () -> new FirstKey(sorts.get(0)).new Best(keep), this::lookAt)) {
            all.add(one);
        }
        return all.last();
    }

    private void lookAt(Slice slice, PartReader reader, FirstKey.Best best) throws IOException {
        Filter filter = new Filter(where, 1);
        reader.only(
                new FirstKey(sorts.get(0)).bestFirst(reader, slice.groups(reader)),
                group -> filter.mayHold(reader, group) && best.mayBeIn(reader, group));
        for (int rows = reader.next(); rows > 0; rows = reader.next()) {
            int count = filter.select(reader, rows);
            best.add(reader, filter.selected(), count);
        }
    }

    private List<Spot> among(List<Integer> files, int keep, List<Spot> before, Comparable<?> limit)
            throws IOException, QueryException {
        List<First> found = parts.each(files, fields, () -> new First(keep, limit), this::scan);
        return Stream.concat(before.stream(), found.stream().flatMap(one -> one.spots.stream()))
                .sorted(order)
                .limit(keep)
                .toList();
    }

    /** Puts the rows of a slice among the first. */
    private void scan(Slice slice, PartReader reader, First first) throws IOException {
        StoredFile file = parts.files().get(slice.file());
        int[] groups = slice.groups(reader);
        if (first.key != null) {
            groups = first.key.bestFirst(reader, groups);
        }
        reader.only(groups, group -> first.mayBeIn(reader, group));
        boolean inOrder = sorts.isEmpty() && !file.isBundle();
        int part = 0;
        long before = -1;
        for (int rows = reader.next(); rows > 0; rows = reader.next()) {
            if (first.isFull() && inOrder) {
                Spot last = first.spots.peek();
                int group = parts.groupOf(file.numbers().get(0));
                if (isBehind(group, lines(reader)[0], last)) {
                    return; // all that follows is behind
                }
            }
            int count = first.filter.select(reader, rows);
            int[] selected = first.filter.selected();
            if (count > 0 && first.key != null) {
                count = first.key.keep(reader, selected, count, first.limit());
            }
            if (count == 0) {
                continue;
            }
            long[] lines = lines(reader);
            for (int i = 0; i < count; i++) {
                int row = selected[i];
                long number = reader.numberOf(row);
                part = file.partOf(number, number < before ? 0 : part);
                before = number;
                put(reader, row, parts.groupOf(file.numbers().get(part)), lines[row], slice.file(), first);
            }
        }
    }

    private void put(PartReader reader, int row, int group, long line, int file, First first) throws IOException {
        if (first.isFull() && sorts.isEmpty() && isBehind(group, line, first.spots.peek())) {
            return;
        }
        List<Comparable<?>> keys = new ArrayList<>(sorts.size());
        for (int i = 0; i < sorts.size(); i++) {
            keys.add(reader.value(i, row));
        }
        first.put(new Spot(group, line, file, reader.numberOf(row), keys));
    }

    private static boolean isBehind(int group, long line, Spot last) {
        return group > last.group() || (group == last.group() && line > last.line());
    }

    private long[] lines(PartReader reader) throws IOException {
        return ((Vector.Longs) reader.vector(fields.size() - 1)).values;
    }
}
