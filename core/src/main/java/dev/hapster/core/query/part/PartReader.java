package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.DamagedPartException;
import dev.hapster.core.store.SealedInput;
import dev.hapster.core.store.Span;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.IntPredicate;
import java.util.function.LongFunction;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.apache.parquet.column.EncodingStats;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.column.statistics.Statistics;
import org.apache.parquet.filter2.columnindex.RowRanges;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.hadoop.metadata.ColumnChunkMetaData;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.Type;
import org.roaringbitmap.RoaringBitmap;

/**
 * Reads some columns of one part, batch by batch, as the dataset declares them now: a part that was written with a
 * narrower type is widened, one that has a column by a former name is asked for that, one that does not have it at all
 * has the column's default, or nothing. Of a batch, a column is unpacked once it is asked for. Not thread-safe.
 */
public final class PartReader implements AutoCloseable {

    /** As many rows as stand in a page, so that no batch goes over two of them. */
    static final int BATCH = 5000;

    /** The columns read, each once, and for each column asked for its place among them. */
    private final Column[] columns;

    private final int[] places;
    private final Path path;
    private final ParquetFileReader file;
    /** The first row of each group in the file, and behind them the number of all rows. */
    private final long[] firsts;

    /** Groups that are still to be read, in this order. */
    private int[] groups;

    private int nextGroup;
    /** Asked before a group is opened whether it is wanted. */
    private IntPredicate wanted = group -> true;

    /** Rows of the file that are not seen; null where all are. */
    private RoaringBitmap masked;
    /** The first row of the file that is read, and the one behind the last. */
    private long start;

    private long end;

    /** The group that is open; -1 where none is. */
    private int group = -1;
    /** Its pages, where only some are read; null where each column is read by itself. */
    private PageReadStore some;
    /** How many groups were opened, so that each can be told from those before. */
    private int opened;

    /** The row of the file that is read next. */
    private long at;
    /** The first row of the present batch in the file, before those that are not seen were taken out. */
    private long batchFrom;

    private int batch;
    /** Rows of the present batch, those that are not seen among them. */
    private int read;

    private int rows;
    private boolean taken;
    private int[] kept = new int[0];

    /** One column while it is read. */
    private static final class Column {
        final Field field;
        /** What it is called in the part; null where it has none. */
        final String name;

        final Widening widening;
        final Vector vector;
        /** As read, where that is not what is asked for. */
        final Vector raw;
        /** As the part has it; both null where it does not. */
        final MessageType alone;

        final PageColumn pages;
        /** The group that is read. */
        int readingOf = -1;
        /** Whether each value of a group is an entry of its dictionary, and of which group that is known. */
        boolean coded;

        int codedOf = -1;

        /** The entries as the column is now, with the group that they are of. */
        Vector entries;

        int entryCount;
        int entriesOf = -1;
        Comparable<?>[] objects = new Comparable<?>[0];
        /** The batches that {@link #vector} and {@link #codes} are of. */
        int filled = -1;

        int coding = -1;
        int[] codes = new int[BATCH];

        Column(Field field, String name, Widening widening, MessageType alone, PageColumn pages) {
            this.field = field;
            this.name = name;
            this.widening = widening;
            this.alone = alone;
            this.pages = pages;
            vector = widening.target(field);
            raw = widening.equals(Widening.NONE) ? vector : new Vector.Longs(BATCH);
        }
    }

    /**
     * Reads a file of the store from its first row to its last.
     *
     * @param asked the columns to read; one may be asked for several times
     * @throws IOException also where what the part holds cannot be turned into what the column is now
     */
    public PartReader(Path path, List<Field> asked) throws IOException {
        this(Span.whole(path), asked, Optional.empty());
    }

    /** @param masked rows that do not count, by their number in the part, counted from 0: they are not seen at all */
    public PartReader(Span span, List<Field> asked, Optional<RoaringBitmap> masked) throws IOException {
        this(span.file(), asked, rows -> Optional.empty());
        boolean there = false;
        try {
            moveTo(span, masked);
            there = true;
        } finally {
            if (!there) {
                close();
            }
        }
    }

    /** @param masked given how many rows the file has, those of them that are not seen */
    public PartReader(Path path, List<Field> asked, LongFunction<Optional<RoaringBitmap>> masked) throws IOException {
        List<Field> fields = asked.stream().distinct().toList();
        this.path = path;
        places = asked.stream().mapToInt(fields::indexOf).toArray();
        columns = new Column[fields.size()];
        file = SealedInput.openAgain(path);
        try {
            MessageType stored = file.getFileMetaData().getSchema();
            for (int i = 0; i < columns.length; i++) {
                Field field = fields.get(i);
                String name = Stream.concat(Stream.of(field.name()), field.was().stream())
                        .filter(stored::containsField)
                        .findFirst()
                        .orElse(null);
                Widening widening = name == null
                        ? Widening.NONE
                        : Widening.of(stored.getType(name).asPrimitiveType(), field, path);
                columns[i] = name == null
                        ? new Column(field, null, widening, null, null)
                        : new Column(
                                field,
                                name,
                                widening,
                                new MessageType("column", stored.getType(name)),
                                new PageColumn(path, stored.getColumnDescription(new String[] {name})));
            }
            int count = file.getRowGroups().size();
            firsts = new long[count + 1];
            for (int i = 0; i < count; i++) {
                firsts[i + 1] = firsts[i] + file.getRowGroups().get(i).getRowCount();
            }
            groups = IntStream.range(0, count).toArray();
            end = firsts[count];
            this.masked = masked.apply(end).filter(rows -> !rows.isEmpty()).orElse(null);
        } catch (IOException | RuntimeException wrong) {
            file.close();
            throw wrong;
        }
    }

    /**
     * Goes on with other rows of the same file, which lie behind those that were read.
     *
     * @param without rows that do not count, by their number in the part
     * @throws DamagedPartException where the file has no such rows
     */
    void moveTo(Span span, Optional<RoaringBitmap> without) throws IOException {
        long whole = firsts[firsts.length - 1];
        if (!span.isWhole() && span.end() > whole) {
            throw new DamagedPartException(
                    span.file(), "has " + whole + " rows, and not those from " + span.first() + " to " + span.end());
        }
        end = Math.min(whole, span.end());
        masked = without.filter(rows -> !rows.isEmpty())
                .map(rows -> span.first() == 0 ? rows : RoaringBitmap.addOffset(rows, span.first()))
                .orElse(null);
        start = span.first();
        at = start;
    }

    /** Whether {@link #moveTo} reaches a row. */
    boolean canReach(long row) {
        return at <= row;
    }

    /** How many row groups the file has. */
    public int groups() {
        return firsts.length - 1;
    }

    /** Rows of a group, those that are not seen among them. */
    public long rowsOf(int number) {
        return firsts[number + 1] - firsts[number];
    }

    /**
     * Reads some row groups only, in this order. To be called before anything is read.
     *
     * @param which asked before a group is opened whether it is wanted at all
     */
    public void only(int[] some, IntPredicate which) {
        groups = some.clone();
        wanted = which;
        nextGroup = 0;
    }

    /**
     * What is known of the values of a column in a group: their bounds and how many are empty. Nothing where the part
     * does not have the column as it is now.
     */
    public Optional<Statistics<?>> statistics(int asked, int number) {
        Column column = columns[places[asked]];
        if (column.name == null || !column.widening.equals(Widening.NONE)) {
            return Optional.empty();
        }
        Statistics<?> known = chunk(column, number).getStatistics();
        return known == null || known.isEmpty() ? Optional.empty() : Optional.of(known);
    }

    private ColumnChunkMetaData chunk(Column column, int number) {
        for (ColumnChunkMetaData chunk : file.getRowGroups().get(number).getColumns()) {
            if (chunk.getPath().size() == 1 && chunk.getPath().toArray()[0].equals(column.name)) {
                return chunk;
            }
        }
        throw new IllegalStateException("Row group " + number + " of " + path + " has no column " + column.name);
    }

    /**
     * Skips up to {@code count} rows by whole row groups; returns how many were skipped, those that are not seen left
     * out. To be called first, and of files that are read whole.
     */
    public long skip(long count) {
        long skipped = 0;
        while (nextGroup < groups.length && end == firsts[firsts.length - 1]) {
            long seen = rowsOf(nextGroup)
                    - (masked == null ? 0 : masked.rangeCardinality(firsts[nextGroup], firsts[nextGroup + 1]));
            if (skipped + seen > count) {
                break;
            }
            skipped += seen;
            nextGroup++;
        }
        return skipped;
    }

    /** The number of a row of the present batch in its file, counted from 0. */
    public long numberOf(int row) {
        return batchFrom + (taken ? kept[row] : row);
    }

    /** Reads the next rows; 0 at the end. */
    public int next() throws IOException {
        do {
            rows = nextOfAll();
        } while (rows > 0 && masked != null && unmask() == 0);
        return rows;
    }

    /** Leaves those of the rows just read that count. */
    private int unmask() {
        if (masked.rangeCardinality(batchFrom, at) == 0) {
            return rows;
        }
        if (kept.length < read) {
            kept = new int[BATCH];
        }
        int count = 0;
        for (int row = 0; row < read; row++) {
            if (!masked.contains((int) (batchFrom + row))) {
                kept[count++] = row;
            }
        }
        rows = count;
        taken = true;
        return count;
    }

    private int nextOfAll() throws IOException {
        taken = false;
        if (group < 0 || at >= Math.min(end, firsts[group + 1])) {
            if (!openNext()) {
                return 0;
            }
        }
        long inGroup = at - firsts[group];
        read = (int) Math.min(BATCH - inGroup % BATCH, Math.min(end, firsts[group + 1]) - at);
        batchFrom = at;
        at += read;
        batch++;
        return read;
    }

    private boolean openNext() throws IOException {
        while (nextGroup < groups.length) {
            int next = groups[nextGroup];
            if (firsts[next] >= end) {
                return false; // the next part may begin there
            }
            nextGroup++;
            if (firsts[next + 1] > start && wanted.test(next)) {
                open(next, null);
                at = Math.max(start, firsts[next]);
                return true;
            }
        }
        return false;
    }

    private void open(int number, RowRanges which) throws IOException {
        group = number;
        opened++;
        some = null;
        List<Type> types = Stream.of(columns)
                .filter(column -> column.name != null)
                .map(column -> column.alone.getType(0))
                .distinct()
                .toList();
        if (which != null && !types.isEmpty()) {
            file.setRequestedSchema(new MessageType("some", types));
            some = file.readFilteredRowGroup(number, which);
        }
    }

    /** The pages of a column in the present group, which are read once somebody asks for them. */
    private PageColumn pages(Column column) throws IOException {
        if (column.readingOf != opened) {
            column.readingOf = opened;
            PageReadStore store = some;
            if (store == null) {
                file.setRequestedSchema(column.alone);
                store = file.readRowGroup(group);
            }
            column.pages.begin(store.getPageReader(column.alone.getColumns().get(0)));
        }
        return column.pages;
    }

    private boolean isCoded(Column column) {
        if (column.codedOf != opened) {
            column.codedOf = opened;
            EncodingStats pages =
                    column.name == null ? null : chunk(column, group).getEncodingStats();
            column.coded = column.name == null
                    || (pages != null
                            && pages.hasDictionaryPages()
                            && pages.hasDictionaryEncodedPages()
                            && !pages.hasNonDictionaryEncodedPages());
        }
        return column.coded;
    }

    /** What is done with a row that was looked for. */
    public interface Found {
        void at(long number, int row) throws IOException;
    }

    /**
     * Reads some rows only, and of their columns no pages but those in which they lie.
     *
     * @param numbers of rows in the file, ascending
     */
    public void rows(long[] numbers, Found found) throws IOException {
        int next = 0;
        for (int number = 0; number < groups() && next < numbers.length; number++) {
            int behind = next;
            RowRanges.Builder ranges = RowRanges.builder();
            while (behind < numbers.length && numbers[behind] < firsts[number + 1]) {
                ranges.addSelectedRow(numbers[behind++] - firsts[number]);
            }
            if (behind == next) {
                continue;
            }
            open(number, ranges.build());
            for (; next < behind; next++) {
                batchFrom = numbers[next];
                read = 1;
                rows = 1;
                taken = false;
                batch++;
                found.at(numbers[next], 0);
            }
        }
    }

    /** The row group that is read. */
    public int group() {
        return group;
    }

    /**
     * A number for the present row group that no other has: what is known of the entries of its dictionaries holds
     * while it is the same.
     */
    public int opening() {
        return opened;
    }

    /**
     * Whether each value of a column in the present group is one of {@link #entries}, which are then better asked for
     * than values.
     */
    public boolean isCoded(int asked) {
        return isCoded(columns[places[asked]]);
    }

    /** The values that a column has in the present group, where it {@link #isCoded}. */
    public Vector entries(int asked) throws IOException {
        return entries(columns[places[asked]]);
    }

    /** How many there are. */
    public int entryCount(int asked) throws IOException {
        entries(asked);
        return columns[places[asked]].entryCount;
    }

    private Vector entries(Column column) throws IOException {
        if (column.entriesOf == opened) {
            return column.entries;
        }
        if (column.name == null) {
            column.entries = column.widening.target(column.field);
            Widening.fallback(column.field, column.entries, 1);
            column.entryCount = 1;
        } else {
            column.entries = pages(column).entries();
            column.entryCount = column.pages.entryCount();
            if (!column.widening.equals(Widening.NONE)) {
                column.entries = column.widening.target(column.field);
                column.entries.reset(column.entryCount);
                column.widening.widen((Vector.Longs) column.pages.entries(), column.entries, column.entryCount);
            }
        }
        column.entriesOf = opened;
        column.objects = new Comparable<?>[column.entryCount];
        return column.entries;
    }

    /** For each row of the present batch the number of its entry; -1 where it is empty. */
    public int[] codes(int asked) throws IOException {
        return codes(columns[places[asked]]);
    }

    private int[] codes(Column column) throws IOException {
        if (column.coding == batch) {
            return column.codes;
        }
        column.coding = batch;
        if (column.name == null) {
            Arrays.fill(column.codes, 0, rows, entries(column).empty[0] ? -1 : 0);
            return column.codes;
        }
        pages(column).codes(batchFrom - firsts[group], read, column.codes);
        if (taken) {
            for (int i = 0; i < rows; i++) {
                column.codes[i] = column.codes[kept[i]];
            }
        }
        return column.codes;
    }

    /**
     * The values of the present batch as they are, of a column by its place among those asked for. The vector is the
     * same for all batches, and is to be asked for anew for each.
     */
    public Vector vector(int asked) throws IOException {
        Column column = columns[places[asked]];
        if (column.filled == batch) {
            return column.vector;
        }
        column.filled = batch;
        column.vector.reset(read);
        if (column.name == null) {
            Widening.fallback(column.field, column.vector, read);
        } else {
            column.raw.reset(read);
            pages(column).fill(batchFrom - firsts[group], read, column.raw);
            if (column.raw != column.vector) {
                column.widening.widen((Vector.Longs) column.raw, column.vector, read);
            }
        }
        if (taken) {
            column.vector.keep(kept, rows);
        }
        return column.vector;
    }

    /** The values of the present batch of the first columns asked for. */
    public List<Vector> vectors(int count) throws IOException {
        List<Vector> vectors = new ArrayList<>(count);
        for (int asked = 0; asked < count; asked++) {
            vectors.add(vector(asked));
        }
        return vectors;
    }

    /**
     * A value as an object; null where it is empty.
     *
     * @param asked place of the column among those asked for
     */
    public Comparable<?> value(int asked, int row) throws IOException {
        Column column = columns[places[asked]];
        if (!isCoded(column)) {
            return column.field.value(vector(asked), row);
        }
        int code = codes(column)[row];
        return code < 0 ? null : object(column, code);
    }

    /** A column by its place among those asked for. */
    public Field field(int asked) {
        return columns[places[asked]].field;
    }

    /** Whether the part has values of a column, or the column has one that stands for them. */
    public boolean holds(int asked) {
        Column column = columns[places[asked]];
        return column.name != null || column.field.fallback().isPresent();
    }

    /** An entry as an object. */
    public Comparable<?> entry(int asked, int code) throws IOException {
        return object(columns[places[asked]], code);
    }

    private static final int MOST_OBJECTS = 4096;

    private Comparable<?> object(Column column, int code) throws IOException {
        Vector entries = entries(column);
        if (code >= MOST_OBJECTS) {
            return column.field.value(entries, code);
        }
        if (column.objects[code] == null) {
            column.objects[code] = column.field.value(entries, code);
        }
        return column.objects[code];
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
