package dev.hapster.core.store;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnWriteStore;
import org.apache.parquet.column.ColumnWriter;
import org.apache.parquet.column.ParquetProperties;
import org.apache.parquet.hadoop.ColumnChunkPageWriteStore;
import org.apache.parquet.hadoop.ParquetFileWriter;
import org.apache.parquet.hadoop.ParquetFileWriter.Mode;
import org.apache.parquet.hadoop.ParquetWriter;
import org.apache.parquet.io.LocalOutputFile;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/**
 * Writes one part as a Parquet file, column by column and batch by batch. Row groups are closed by size, so memory does
 * not depend on the length of the part. Not thread-safe.
 */
public final class PartWriter implements AutoCloseable {

    private static final long ROW_GROUP_BYTES = 24L << 20;
    private static final int TRUNCATED = 64;

    private final MessageType schema;
    private final PartOrigin origin;
    private final ParquetFileWriter file;
    private final ParquetProperties properties;
    private final Snappy compressor = new Snappy();
    private ColumnChunkPageWriteStore pages;
    private ColumnWriteStore columns;
    private long rowsInGroup;
    private boolean closed;

    public PartWriter(Path target, List<ColumnDef> dataset, PartOrigin origin) throws IOException {
        schema = PartSchema.of(dataset);
        this.origin = origin;
        properties = ParquetProperties.builder().withWriterVersion(ParquetProperties.WriterVersion.PARQUET_1_0)
                .withAllocator(new HeapByteBufferAllocator()).build();
        file = new ParquetFileWriter(new LocalOutputFile(target), schema, Mode.CREATE, ParquetWriter.DEFAULT_BLOCK_SIZE,
                ParquetWriter.MAX_PADDING_SIZE_DEFAULT, null, properties);
        file.start();
        open();
    }

    private void open() {
        pages = new ColumnChunkPageWriteStore(compressor, schema, new HeapByteBufferAllocator(), TRUNCATED, true);
        columns = properties.newColumnWriteStore(schema, pages);
        rowsInGroup = 0;
    }

    /** Writes the rows of a batch that passed. */
    public void write(TypedBatch batch) throws IOException {
        if (batch.goodRows == 0) {
            return;
        }
        List<ColumnDescriptor> descriptors = schema.getColumns();
        int declared = batch.columns.size();
        for (int i = 0; i < declared; i++) {
            ColumnWriter writer = columns.getColumnWriter(descriptors.get(i));
            write(writer, descriptors.get(i).getPrimitiveType().getPrimitiveTypeName(), batch.columns.get(i), batch);
        }
        same(descriptors.get(declared), Binary.fromString(origin.file()), batch.goodRows);
        same(descriptors.get(declared + 1), Binary.fromString(origin.path()), batch.goodRows);
        ColumnWriter lines = columns.getColumnWriter(descriptors.get(declared + 2));
        for (int i = 0; i < batch.goodRows; i++) {
            lines.write(batch.line[batch.good[i]], 0, 0);
        }
        same(descriptors.get(declared + 3), origin.run(), batch.goodRows);
        same(descriptors.get(declared + 4), micros(origin.loadedAt()), batch.goodRows);
        for (int i = 0; i < batch.goodRows; i++) {
            columns.endRecord();
        }
        rowsInGroup += batch.goodRows;
        if (columns.getBufferedSize() > ROW_GROUP_BYTES) {
            closeGroup();
            open();
        }
    }

    static long micros(java.time.Instant instant) {
        return instant.getEpochSecond() * 1_000_000 + instant.getNano() / 1000;
    }

    private void same(ColumnDescriptor column, Binary value, int rows) {
        ColumnWriter writer = columns.getColumnWriter(column);
        for (int i = 0; i < rows; i++) {
            writer.write(value, 0, 0);
        }
    }

    private void same(ColumnDescriptor column, long value, int rows) {
        ColumnWriter writer = columns.getColumnWriter(column);
        for (int i = 0; i < rows; i++) {
            writer.write(value, 0, 0);
        }
    }

    private static void write(ColumnWriter writer, PrimitiveTypeName type, Vector vector, TypedBatch batch) {
        int[] good = batch.good;
        int rows = batch.goodRows;
        boolean[] empty = vector.empty;
        if (vector instanceof Vector.Bytes texts) {
            for (int i = 0; i < rows; i++) {
                int row = good[i];
                if (empty[row]) {
                    writer.writeNull(0, 0);
                } else {
                    writer.write(Binary.fromReusedByteArray(texts.data, texts.from[row], texts.length[row]), 0, 1);
                }
            }
        } else if (vector instanceof Vector.Doubles doubles) {
            for (int i = 0; i < rows; i++) {
                int row = good[i];
                if (empty[row]) {
                    writer.writeNull(0, 0);
                } else {
                    writer.write(doubles.values[row], 0, 1);
                }
            }
        } else if (vector instanceof Vector.Longs longs) {
            for (int i = 0; i < rows; i++) {
                int row = good[i];
                if (empty[row]) {
                    writer.writeNull(0, 0);
                } else if (type == PrimitiveTypeName.INT64) {
                    writer.write(longs.values[row], 0, 1);
                } else if (type == PrimitiveTypeName.INT32) {
                    writer.write((int) longs.values[row], 0, 1);
                } else {
                    writer.write(longs.values[row] != 0, 0, 1);
                }
            }
        }
    }

    private void closeGroup() throws IOException {
        file.startBlock(rowsInGroup);
        columns.flush();
        pages.flushToFileWriter(file);
        file.endBlock();
        columns.close();
        pages.close();
    }

    /** Ends the file: after this it is complete, though not yet forced to disk. */
    public void finish() throws IOException {
        if (rowsInGroup > 0) {
            closeGroup();
        } else {
            columns.close();
            pages.close();
        }
        file.end(Map.of("hapster.part", "1"));
        closed = true;
    }

    /** Lets go of an unfinished file; what was written of it has no footer and is of no use. */
    @Override
    public void close() throws IOException {
        if (!closed) {
            closed = true;
            columns.close();
            pages.close();
            file.close();
        }
    }
}
