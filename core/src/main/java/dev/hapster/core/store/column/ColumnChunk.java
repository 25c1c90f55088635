package dev.hapster.core.store.column;

import dev.hapster.core.row.Vector;
import java.io.IOException;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.Encoding;
import org.apache.parquet.column.page.DictionaryPage;
import org.apache.parquet.column.page.PageWriter;
import org.apache.parquet.column.statistics.Statistics;
import org.apache.parquet.column.values.rle.RunLengthBitPackingHybridEncoder;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type.Repetition;

/**
 * The values of one column for one row group, gathered batch by batch and encoded as pages at its end. Working on whole
 * columns, it looks at each value once; that is what makes loading fast. Reused for group after group; not thread-safe.
 *
 * <p>Encodings are those of the Parquet format: RLE_DICTIONARY where few values recur, DELTA_BINARY_PACKED for whole
 * numbers that lie close together, PLAIN for others, RLE for definition levels.
 */
@SuppressWarnings("deprecation") // the writer of pages wants the encoding of levels by its old name
public abstract class ColumnChunk {

    /** Rows in a page: few, since whoever wants one row reads the page. */
    static final int PAGE_ROWS = 5_000;

    static final int ENCODER_BYTES = 1 << 12;
    private static final int MOST_ENCODER_BYTES = 1 << 20;

    final PrimitiveType type;
    private final boolean optional;
    private boolean[] empty = new boolean[0];
    /** Rows gathered. */
    int rows;
    /** Values gathered; rows that are empty have none. */
    int values;

    ColumnChunk(PrimitiveType type) {
        this.type = type;
        optional = type.isRepetition(Repetition.OPTIONAL);
    }

    /**
     * For the values of a column of a part.
     *
     * @param mostRows rows of a row group in which no value is empty, about
     */
    public static ColumnChunk of(PrimitiveType type, int mostRows) {
        return holdsBytes(type) ? new BytesChunk(type, mostRows) : new LongChunk(type, mostRows);
    }

    private static boolean holdsBytes(PrimitiveType type) {
        PrimitiveTypeName name = type.getPrimitiveTypeName();
        return name == PrimitiveTypeName.BINARY || name == PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY;
    }

    /** Bytes that a value of the type takes at least while it is gathered. */
    public static int least(PrimitiveType type) {
        return 1 + (holdsBytes(type) ? Integer.BYTES : Long.BYTES);
    }

    /** Rows gathered. */
    public final int rows() {
        return rows;
    }

    /** Gathers the given rows of a vector. */
    public final void append(Vector vector, int[] good, int count) {
        if (empty.length < rows + count) {
            empty = java.util.Arrays.copyOf(empty, Math.max(rows + count, empty.length * 2));
        }
        room(count);
        for (int i = 0; i < count; i++) {
            int row = good[i];
            boolean none = vector.empty[row];
            empty[rows++] = none;
            if (!none) {
                add(vector, row);
                values++;
            }
        }
    }

    /** Gathers all that another chunk of the same type has gathered. */
    public final void append(ColumnChunk other) {
        if (empty.length < rows + other.rows) {
            empty = java.util.Arrays.copyOf(empty, Math.max(rows + other.rows, empty.length * 2));
        }
        room(other.values);
        System.arraycopy(other.empty, 0, empty, rows, other.rows);
        rows += other.rows;
        for (int value = 0; value < other.values; value++) {
            add(other, value);
            values++;
        }
    }

    /** Gathers the next rows of a column of the same type. */
    public final void append(ColumnReader column, int count) {
        if (empty.length < rows + count) {
            empty = java.util.Arrays.copyOf(empty, Math.max(rows + count, empty.length * 2));
        }
        room(count);
        int whole = column.getDescriptor().getMaxDefinitionLevel();
        for (int row = 0; row < count; row++) {
            boolean none = column.getCurrentDefinitionLevel() < whole;
            empty[rows++] = none;
            if (!none) {
                add(column);
                values++;
            }
            column.consume();
        }
    }

    /** Makes room for so many more values. */
    abstract void room(int count);

    abstract void add(Vector vector, int row);

    abstract void add(ColumnChunk other, int value);

    /** Adds the value at which a reader stands. */
    abstract void add(ColumnReader column);

    /** Bytes held, about. */
    public abstract long bytes();

    /** How values are encoded in this group; to be asked once all are gathered. */
    abstract Encoding encoding();

    /** The dictionary's entries one after another, as PLAIN; null where there is no dictionary. */
    abstract DictionaryPage dictionary();

    /** The values from one index to another (exclusive), encoded. */
    abstract BytesInput encoded(int from, int to) throws IOException;

    /** Smallest and greatest value as PLAIN bytes, or null where there is no value. */
    abstract byte[][] bounds();

    abstract void clear();

    /** Writes everything gathered, and forgets it. */
    public final void flush(PageWriter pages) throws IOException {
        byte[][] bounds = values == 0 ? null : bounds();
        int value = 0;
        for (int row = 0; row < rows; row += PAGE_ROWS) {
            int end = Math.min(rows, row + PAGE_ROWS);
            int first = value;
            BytesInput levels = BytesInput.empty();
            if (optional) {
                RunLengthBitPackingHybridEncoder encoder = encoder(1);
                for (int i = row; i < end; i++) {
                    encoder.writeInt(empty[i] ? 0 : 1);
                    value += empty[i] ? 0 : 1;
                }
                BytesInput runs = BytesInput.copy(encoder.toBytes());
                levels = BytesInput.concat(BytesInput.fromInt((int) runs.size()), runs);
            } else {
                value += end - row;
            }
            Statistics.Builder statistics =
                    Statistics.getBuilderForReading(type).withNumNulls(end - row - (value - first));
            if (bounds != null) {
                statistics.withMin(bounds[0]).withMax(bounds[1]);
            }
            pages.writePage(
                    BytesInput.concat(levels, encoded(first, value)),
                    end - row,
                    end - row,
                    statistics.build(),
                    Encoding.BIT_PACKED,
                    optional ? Encoding.RLE : Encoding.BIT_PACKED,
                    encoding());
        }
        DictionaryPage dictionary = dictionary();
        if (dictionary != null) {
            pages.writeDictionaryPage(dictionary);
        }
        rows = 0;
        values = 0;
        clear();
    }

    static RunLengthBitPackingHybridEncoder encoder(int bitWidth) {
        return new RunLengthBitPackingHybridEncoder(
                bitWidth, ENCODER_BYTES, MOST_ENCODER_BYTES, new HeapByteBufferAllocator());
    }

    /** Ids of dictionary entries: their width in bits in one byte, then runs of them. */
    static BytesInput ids(int[] ids, int from, int to, int entries) throws IOException {
        int width = 32 - Integer.numberOfLeadingZeros(Math.max(0, entries - 1));
        RunLengthBitPackingHybridEncoder encoder = encoder(width);
        for (int i = from; i < to; i++) {
            encoder.writeInt(ids[i]);
        }
        return BytesInput.concat(BytesInput.from(new byte[] {(byte) width}), BytesInput.copy(encoder.toBytes()));
    }
}
