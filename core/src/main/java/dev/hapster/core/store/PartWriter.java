package dev.hapster.core.store;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.column.ColumnChunk;
import dev.hapster.core.work.Meanwhile;
import dev.hapster.core.work.Together;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.function.BooleanSupplier;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.ParquetProperties;
import org.apache.parquet.column.page.PageWriteStore;
import org.apache.parquet.hadoop.ColumnChunkPageWriteStore;
import org.apache.parquet.hadoop.ParquetFileWriter;
import org.apache.parquet.hadoop.ParquetFileWriter.Mode;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.Type;

/**
 * Writes one part as a Parquet file, column by column and batch by batch. Row groups are closed by size, so memory does
 * not depend on the length of the part, but for what the footer says of them. Not thread-safe.
 */
public final class PartWriter implements AutoCloseable {

    private static final long ROW_GROUP_BYTES = 16L << 20;
    /**
     * Of each column of each row group the writer keeps up to a kilobyte until the footer is written. After so many of
     * them row groups become twice as large,
     */
    private static final long MANY_DESCRIBED = 50_000;

    /** and more than this nobody could hold. */
    private static final long MOST_DESCRIBED = 200_000;

    private static final int TRUNCATED = 64;
    private static final int COPIED = 8192;
    /** Columns of which there is room to be gathered twice. */
    private static final int MOST_TWICE = 1000;
    /** Batches of as many values are gathered by several. */
    private static final int SHARED = 1 << 13;
    /** Parts of more bytes than this have a file for themselves. */
    private static final long MOST_HELD = 1L << 19;

    private final MessageType schema;
    private final List<ColumnDescriptor> columns;
    private final Path target;
    /** Null until a row group is written. */
    private ParquetFileWriter file;

    private SealedOutput out;
    private final SnappyOnly.Compressor compressor = new SnappyOnly.Compressor();
    private List<ColumnChunk> chunks;
    /** Bytes of each of them, as far as it is filled: asking all of many after each batch takes long. */
    private final long[] sizes;
    /** Those of the row group before, which are written meanwhile and then used again; null at first. */
    private List<ColumnChunk> others;

    private Meanwhile<List<ColumnChunk>> writing;
    private BooleanSupplier spare = () -> false;
    /** Where a row comes from, as vectors of one batch's length: constants but for the line. */
    private final List<Vector> origin = new ArrayList<>();

    private final Vector.Longs lines = new Vector.Longs(0);
    private final PartOrigin from;
    private int prepared;
    private long groupBytes = ROW_GROUP_BYTES;
    private long described;
    private boolean closed;

    /** A part of so many columns cannot have so many rows. */
    public static final class TooManyRowsException extends IOException {
        private TooManyRowsException(int columns) {
            super("A part of " + columns + " columns cannot have so many rows");
        }
    }

    /** @param target where its file will be; there is none before rows are written to it, or the part is finished */
    public PartWriter(Path target, List<ColumnDef> dataset, PartOrigin from) {
        this(target, PartSchema.of(dataset), from);
    }

    /** A file with these columns and no others. */
    public static PartWriter plain(Path target, List<ColumnDef> columns) {
        return new PartWriter(target, PartSchema.plain(columns), null);
    }

    /** A file for parts that were gathered before. */
    static PartWriter of(Path target, MessageType schema) {
        return new PartWriter(target, schema, null);
    }

    private PartWriter(Path target, MessageType schema, PartOrigin from) {
        this.target = target;
        this.schema = schema;
        columns = schema.getColumns(); // which are found anew each time
        this.from = from;
        chunks = chunksOf(schema);
        sizes = new long[chunks.size()];
        origin.addAll(
                List.of(new Vector.Bytes(0), new Vector.Bytes(0), lines, new Vector.Longs(0), new Vector.Longs(0)));
    }

    /**
     * Lets other cores take a share of the work.
     *
     * @param now whether one of them has nothing to do
     */
    public void shareWhere(BooleanSupplier now) {
        spare = now;
    }

    /** Has row groups closed at another size, for tests. */
    void closeGroupsAt(long bytes) {
        groupBytes = bytes;
    }

    /** Adds the rows of a part that has no file of its own. */
    void write(HeldPart part) throws IOException {
        for (int i = 0; i < chunks.size(); i++) {
            chunks.get(i).append(part.chunks.get(i));
            sizes[i] = chunks.get(i).bytes();
        }
        closeFullGroup();
    }

    /** Adds the next rows of columns of the same types. */
    void write(List<ColumnReader> columns, long rows) throws IOException {
        for (long left = rows; left > 0; left -= COPIED) {
            for (int i = 0; i < chunks.size(); i++) {
                chunks.get(i).append(columns.get(i), (int) Math.min(left, COPIED));
                sizes[i] = chunks.get(i).bytes();
            }
            closeFullGroup();
        }
    }

    private void begin() throws IOException {
        if (file != null) {
            return;
        }
        ParquetProperties properties = ParquetProperties.builder()
                .withAllocator(new HeapByteBufferAllocator())
                .build();
        out = new SealedOutput(target);
        file = new ParquetFileWriter(
                out,
                schema,
                Mode.CREATE,
                ParquetWriter.DEFAULT_BLOCK_SIZE,
                ParquetWriter.MAX_PADDING_SIZE_DEFAULT,
                null,
                properties);
        file.start();
    }

    /**
     * Writes the rows of a batch that passed.
     *
     * @throws TooManyRowsException where no memory would be left for the footer
     */
    public void write(TypedBatch batch) throws IOException {
        if (batch.goodRows == 0) {
            return;
        }
        if (from != null) {
            prepareOrigin(batch);
        }
        boolean shared = batch.goodRows * chunks.size() >= SHARED && spare.getAsBoolean();
        Together.each(chunks.size(), shared, i -> gather(batch, i));
        closeFullGroup();
    }

    private void gather(TypedBatch batch, int column) {
        int declared = batch.columns.size();
        Vector values = column < declared ? batch.columns.get(column) : origin.get(column - declared);
        ColumnChunk chunk = chunks.get(column);
        chunk.append(values, batch.good, batch.goodRows);
        sizes[column] = chunk.bytes();
    }

    private static <T> T finish(Meanwhile<T> work) throws IOException {
        try {
            return work.get();
        } catch (ExecutionException unknown) {
            throw new IOException(unknown.getCause());
        }
    }

    private void prepareOrigin(TypedBatch batch) {
        int rows = batch.good[batch.goodRows - 1] + 1;
        lines.reset(rows);
        System.arraycopy(batch.line, 0, lines.values, 0, rows);
        if (rows <= prepared) {
            return;
        }
        same((Vector.Bytes) origin.get(0), from.file(), rows);
        same((Vector.Bytes) origin.get(1), from.path(), rows);
        same((Vector.Longs) origin.get(3), from.run(), rows);
        same((Vector.Longs) origin.get(4), micros(from.loadedAt()), rows);
        prepared = rows;
    }

    private static void same(Vector.Bytes vector, String value, int rows) {
        byte[] bytes = value.getBytes(StandardCharsets.UTF_8);
        vector.reset(rows);
        vector.set(0, bytes, 0, bytes.length);
        for (int row = 1; row < rows; row++) {
            vector.same(row, 0);
        }
    }

    private static void same(Vector.Longs vector, long value, int rows) {
        vector.reset(rows);
        java.util.Arrays.fill(vector.values, 0, rows, value);
    }

    private static long micros(Instant instant) {
        return instant.getEpochSecond() * 1_000_000 + instant.getNano() / 1000;
    }

    private static List<ColumnChunk> chunksOf(MessageType schema) {
        long row = 0;
        for (Type field : schema.getFields()) {
            row += ColumnChunk.least(field.asPrimitiveType());
        }
        int mostRows = (int) (ROW_GROUP_BYTES / row);
        return schema.getFields().stream()
                .map(field -> ColumnChunk.of(field.asPrimitiveType(), mostRows))
                .toList();
    }

    /** Bytes gathered and not yet written, about. */
    private long bytes() {
        long bytes = 0;
        for (long size : sizes) {
            bytes += size;
        }
        return bytes;
    }

    private void closeFullGroup() throws IOException {
        if (bytes() > (described < MANY_DESCRIBED ? groupBytes : 2 * groupBytes)) {
            closeGroup();
        }
    }

    /** Lets another core write what was gathered, while the next row group is. */
    private void closeGroup() throws IOException {
        described += columns.size();
        if (described > MOST_DESCRIBED) {
            throw new TooManyRowsException(columns.size());
        }
        begin();
        settle();
        if (chunks.size() > MOST_TWICE || !spare.getAsBoolean()) {
            flush(chunks);
            return;
        }
        List<ColumnChunk> full = chunks;
        chunks = others == null ? chunksOf(schema) : others;
        writing = Meanwhile.begin(() -> flush(full));
    }

    /** Waits until all row groups that were closed are written. */
    private void settle() throws IOException {
        if (writing == null) {
            return;
        }
        Meanwhile<List<ColumnChunk>> present = writing;
        writing = null;
        others = finish(present);
    }

    private List<ColumnChunk> flush(List<ColumnChunk> full) throws IOException {
        try (ColumnChunkPageWriteStore pages =
                new ColumnChunkPageWriteStore(compressor, schema, new HeapByteBufferAllocator(), TRUNCATED, true)) {
            file.startBlock(full.get(0).rows());
            Together.each(full.size(), full.size() > MOST_TWICE && spare.getAsBoolean(), i -> flush(full, i, pages));
            pages.flushToFileWriter(file);
            file.endBlock();
        } catch (UncheckedIOException wrong) {
            throw wrong.getCause();
        }
        return full;
    }

    private void flush(List<ColumnChunk> full, int column, PageWriteStore pages) {
        try {
            full.get(column).flush(pages.getPageWriter(columns.get(column)));
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        }
    }

    /** Ends the file: after this it is complete, though not yet forced to disk. */
    public String finish() throws IOException {
        return finish(Map.of());
    }

    /**
     * Ends the file.
     *
     * @param notes what its footer says of it, by name; {@link PartStore#notes} reads them back
     * @return by what it will be known: the hash of all that follows its rows, in hexadecimal
     */
    public String finish(Map<String, String> notes) throws IOException {
        begin();
        settle();
        if (chunks.get(0).rows() > 0) {
            flush(chunks);
        }
        Map<String, String> footer = new HashMap<>();
        footer.put("hapster.part", "2");
        notes.forEach((name, value) -> footer.put(PartStore.NOTE + name, value));
        footer.put(Sums.NOTE, out.end().text());
        file.end(footer);
        closed = true;
        return out.seal();
    }

    /**
     * Ends a part that is small enough to share a file with others.
     *
     * @param notes what will be known of it, by name
     * @return the part, or nothing where it needs a file for itself; then it is as before
     */
    public Optional<HeldPart> hold(Map<String, String> notes) {
        if (file != null || chunks.get(0).rows() == 0 || bytes() > MOST_HELD) {
            return Optional.empty();
        }
        closed = true;
        return Optional.of(new HeldPart(schema, List.copyOf(chunks), Map.copyOf(notes)));
    }

    /** Lets go of an unfinished file; what was written of it has no footer and is of no use. */
    @Override
    public void close() throws IOException {
        if (writing != null) {
            writing.drop();
        }
        if (!closed && file != null) {
            file.close();
        }
        closed = true;
    }
}
