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
import java.io.BufferedInputStream;
import java.io.BufferedOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.List;
import java.util.PriorityQueue;
import java.util.concurrent.atomic.AtomicInteger;

/**
 * Sorts the rows that satisfy conditions, however many these are: what memory does not hold is put into files, sorted
 * piece by piece, and these are merged. Used once; not thread-safe.
 */
public final class RowSorter implements AutoCloseable {

    /** Bytes of rows in memory, of all who gather them. */
    private static final long HELD = 48L << 20;
    /** Files that are merged at once. */
    private static final int MERGED = 64;

    private static final int BUFFER = 1 << 16;

    private final Parts parts;
    private final List<Field> wanted;
    private final List<Field> keys;
    private final Where where;
    private final Comparator<StoredRow> order;
    private final Path folder;
    private final long held;
    private final AtomicInteger files = new AtomicInteger();
    private final Deque<Path> written = new ArrayDeque<>();

    /** What is done with a row. */
    public interface EachRow {
        void at(List<Comparable<?>> values) throws IOException;
    }

    /** @param scratch folder in which a folder for files may be made, which goes when this is closed */
    public RowSorter(Parts parts, List<Field> wanted, List<Sort> sorts, Where where, Path scratch) throws IOException {
        this(parts, wanted, sorts, where, scratch, HELD / Runtime.getRuntime().availableProcessors());
    }

    /** @param held bytes of rows that each who gathers them holds in memory */
    RowSorter(Parts parts, List<Field> wanted, List<Sort> sorts, Where where, Path scratch, long held)
            throws IOException {
        this.parts = parts;
        this.wanted = List.copyOf(wanted);
        this.keys = Sort.fields(sorts);
        this.where = where;
        this.held = held;
        Comparator<Spot> spots = Spot.order(sorts);
        order = (a, b) -> spots.compare(a.spot(), b.spot());
        folder = Files.createTempDirectory(scratch, "sort-");
    }

    /** Rows that one has come to and not yet written. */
    private static final class Gathered {
        final List<StoredRow> rows = new ArrayList<>();
        long bytes;
    }

    /**
     * Goes through the rows in order.
     *
     * @return how many there were
     */
    public long each(EachRow each) throws IOException, QueryException {
        List<Field> fields = new ArrayList<>(keys);
        fields.addAll(where.fields());
        fields.addAll(wanted);
        fields.add(Fields.LINE);
        List<List<StoredRow>> rest = new ArrayList<>();
        for (Gathered left : parts.each(parts.everyFile(), fields, Gathered::new, this::gather)) {
            left.rows.sort(order);
            rest.add(left.rows);
        }
        while (written.size() > MERGED) {
            Path target = folder.resolve(Integer.toString(files.getAndIncrement()));
            List<Path> some = new ArrayList<>();
            for (int i = 0; i < MERGED; i++) {
                some.add(written.poll());
            }
            try (DataOutputStream out = out(target)) {
                merge(some, List.of(), row -> row.write(out, keys, wanted));
            }
            for (Path one : some) {
                Files.delete(one);
            }
            written.add(target);
        }
        return merge(List.copyOf(written), rest, row -> each.at(row.values()));
    }

    private void gather(Slice slice, PartReader reader, Gathered gathered) throws IOException {
        StoredFile file = parts.files().get(slice.file());
        Filter filter = new Filter(where, keys.size());
        int first = keys.size() + where.fields().size();
        int line = first + wanted.size();
        reader.only(slice.groups(reader), group -> filter.mayHold(reader, group));
        int part = 0;
        for (int rows = reader.next(); rows > 0; rows = reader.next()) {
            int count = filter.select(reader, rows);
            for (int i = 0; i < count; i++) {
                int row = filter.selected()[i];
                part = file.partOf(reader.numberOf(row), part);
                List<Comparable<?>> sorted = new ArrayList<>(keys.size());
                for (int key = 0; key < keys.size(); key++) {
                    sorted.add(reader.value(key, row));
                }
                List<Comparable<?>> values = new ArrayList<>(wanted.size());
                for (int value = 0; value < wanted.size(); value++) {
                    values.add(reader.value(first + value, row));
                }
                Spot spot = new Spot(
                        parts.groupOf(file.numbers().get(part)),
                        ((Vector.Longs) reader.vector(line)).values[row],
                        slice.file(),
                        reader.numberOf(row),
                        sorted);
                StoredRow found = new StoredRow(spot, values);
                gathered.rows.add(found);
                gathered.bytes += found.bytes();
            }
            if (gathered.bytes > held) {
                write(gathered);
            }
        }
    }

    private void write(Gathered gathered) throws IOException {
        gathered.rows.sort(order);
        Path target = folder.resolve(Integer.toString(files.getAndIncrement()));
        try (DataOutputStream out = out(target)) {
            for (StoredRow row : gathered.rows) {
                row.write(out, keys, wanted);
            }
        }
        gathered.rows.clear();
        gathered.bytes = 0;
        synchronized (written) {
            written.add(target);
        }
    }

    private static DataOutputStream out(Path target) throws IOException {
        return new DataOutputStream(new BufferedOutputStream(Files.newOutputStream(target), BUFFER));
    }

    /** Rows in order, of which the next one is known. */
    private abstract static class Run {
        StoredRow next;

        /** Goes on; {@code next} is null at the end. */
        abstract void advance() throws IOException;
    }

    private static final class Held extends Run {
        private final List<StoredRow> rows;
        private int at;

        Held(List<StoredRow> rows) {
            this.rows = rows;
            advance();
        }

        @Override
        void advance() {
            next = at < rows.size() ? rows.get(at) : null;
            at++;
        }
    }

    private final class Written extends Run {
        private final DataInputStream in;

        Written(DataInputStream in) throws IOException {
            this.in = in;
            advance();
        }

        @Override
        void advance() throws IOException {
            in.mark(1);
            if (in.read() < 0) {
                next = null;
                return;
            }
            in.reset();
            try {
                next = StoredRow.read(in, keys, wanted);
            } catch (EOFException cut) {
                throw new IOException("A file of rows that were sorted ends early", cut);
            }
        }
    }

    private interface EachStored {
        void at(StoredRow row) throws IOException;
    }

    private long merge(List<Path> some, List<List<StoredRow>> rest, EachStored each) throws IOException {
        List<DataInputStream> open = new ArrayList<>();
        try {
            PriorityQueue<Run> runs = new PriorityQueue<>((a, b) -> order.compare(a.next, b.next));
            for (Path one : some) {
                DataInputStream in = new DataInputStream(new BufferedInputStream(Files.newInputStream(one), BUFFER));
                open.add(in);
                add(runs, new Written(in));
            }
            for (List<StoredRow> rows : rest) {
                add(runs, new Held(rows));
            }
            long count = 0;
            for (Run first = runs.poll(); first != null; first = runs.poll()) {
                each.at(first.next);
                count++;
                first.advance();
                add(runs, first);
            }
            return count;
        } finally {
            for (DataInputStream in : open) {
                in.close();
            }
        }
    }

    private static void add(PriorityQueue<Run> runs, Run run) {
        if (run.next != null) {
            runs.add(run);
        }
    }

    /** Lets go of the files. */
    @Override
    public void close() throws IOException {
        try (var all = Files.list(folder)) {
            for (Path one : (Iterable<Path>) all::iterator) {
                Files.delete(one);
            }
        }
        Files.delete(folder);
    }
}
