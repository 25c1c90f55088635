package dev.hapster.core.store;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.ParquetProperties;
import org.apache.parquet.hadoop.ColumnChunkPageWriteStore;
import org.apache.parquet.hadoop.ParquetFileWriter;
import org.apache.parquet.hadoop.ParquetFileWriter.Mode;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/**
 * Writes one part as a Parquet file, column by column and batch by batch. Row groups are closed by size, so memory does
 * not depend on the length of the part. Not thread-safe.
 */
public final class PartWriter implements AutoCloseable {

    private static final long ROW_GROUP_BYTES = 24L << 20;
    private static final int TRUNCATED = 64;

    private final MessageType schema;
    private final ParquetFileWriter file;
    private final SealedOutput out;
    private final Snappy compressor = new Snappy();
    private final List<ColumnChunk> chunks = new ArrayList<>();
    /** Where a row comes from, as vectors of one batch's length: constants but for the line. */
    private final List<Vector> origin = new ArrayList<>();

    private final Vector.Longs lines = new Vector.Longs(0);
    private final PartOrigin from;
    private int prepared;
    private boolean closed;

    public PartWriter(Path target, List<ColumnDef> dataset, PartOrigin from) throws IOException {
        this(target, PartSchema.of(dataset), from);
    }

    /** A file with these columns and no others. */
    public static PartWriter plain(Path target, List<ColumnDef> columns) throws IOException {
        return new PartWriter(target, PartSchema.plain(columns), null);
    }

    private PartWriter(Path target, MessageType schema, PartOrigin from) throws IOException {
        this.schema = schema;
        this.from = from;
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
        schema.getFields().forEach(field -> chunks.add(chunk(field.asPrimitiveType())));
        origin.addAll(
                List.of(new Vector.Bytes(0), new Vector.Bytes(0), lines, new Vector.Longs(0), new Vector.Longs(0)));
    }

    private static ColumnChunk chunk(PrimitiveType type) {
        PrimitiveTypeName name = type.getPrimitiveTypeName();
        return name == PrimitiveTypeName.BINARY || name == PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY
                ? new BytesChunk(type)
                : new LongChunk(type);
    }

    /** Writes the rows of a batch that passed. */
    public void write(TypedBatch batch) throws IOException {
        if (batch.goodRows == 0) {
            return;
        }
        if (from != null) {
            prepareOrigin(batch);
        }
        int declared = batch.columns.size();
        long bytes = 0;
        for (int i = 0; i < chunks.size(); i++) {
            chunks.get(i)
                    .append(i < declared ? batch.columns.get(i) : origin.get(i - declared), batch.good, batch.goodRows);
            bytes += chunks.get(i).bytes();
        }
        if (bytes > ROW_GROUP_BYTES) {
            closeGroup();
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

    private void closeGroup() throws IOException {
        try (ColumnChunkPageWriteStore pages =
                new ColumnChunkPageWriteStore(compressor, schema, new HeapByteBufferAllocator(), TRUNCATED, true)) {
            file.startBlock(chunks.get(0).rows);
            for (int i = 0; i < chunks.size(); i++) {
                chunks.get(i).flush(pages.getPageWriter(schema.getColumns().get(i)));
            }
            pages.flushToFileWriter(file);
            file.endBlock();
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
        if (chunks.get(0).rows > 0) {
            closeGroup();
        }
        Map<String, String> footer = new HashMap<>();
        footer.put("hapster.part", "2");
        notes.forEach((name, value) -> footer.put(PartStore.NOTE + name, value));
        footer.put(Sums.NOTE, out.end().text());
        file.end(footer);
        closed = true;
        return out.seal();
    }

    /** Lets go of an unfinished file; what was written of it has no footer and is of no use. */
    @Override
    public void close() throws IOException {
        if (!closed) {
            closed = true;
            file.close();
        }
    }
}
