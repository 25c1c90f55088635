package dev.hapster.core.read.parquet;

import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.work.Together;
import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.SeekableByteChannel;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.api.Converter;
import org.apache.parquet.io.api.GroupConverter;
import org.apache.parquet.schema.Type;

/**
 * The rows of a Parquet file in which no column holds others or several values: column after column, on all cores that
 * have nothing else to do, and no record is put together. Used by one thread.
 */
public final class ParquetColumns implements Closeable {

    /** Bytes of all values of one row together. */
    public static final int MOST_ROW_BYTES = 16 << 20;
    /** Bytes that the values of all columns have before they are given away, about. */
    private static final int AHEAD = 8 << 20;

    private static final int LEAST_AHEAD = 1 << 16;

    private final ParquetFileReader file;
    private final List<ColumnDescriptor> descriptors;
    private final Column[] columns;
    private byte[] bytes = new byte[0];
    private long given;

    private ParquetColumns(ParquetFileReader file) {
        this.file = file;
        descriptors = file.getFileMetaData().getSchema().getColumns();
        int most = Math.max(LEAST_AHEAD, AHEAD / descriptors.size());
        columns = descriptors.stream().map(column -> new Column(column, most)).toArray(Column[]::new);
    }

    /**
     * Opens a file.
     *
     * @param bytes closed with the file, and where it is not opened
     * @return nothing where columns of the file have a structure
     */
    public static Optional<ParquetColumns> open(SeekableByteChannel bytes) throws IOException, FileRejectedException {
        ParquetFileReader file = ParquetFile.open(bytes);
        List<Type> fields = file.getFileMetaData().getSchema().getFields();
        boolean flat = !fields.isEmpty()
                && fields.stream()
                        .allMatch(field -> field.isPrimitive() && !field.isRepetition(Type.Repetition.REPEATED))
                && fields.stream().map(Type::getName).distinct().count() == fields.size();
        if (!flat) {
            file.close();
            return Optional.empty();
        }
        boolean fits = file.getFooter().getBlocks().stream().allMatch(group -> group.getColumns().stream()
                .allMatch(column -> column.getValueCount() == group.getRowCount()));
        if (!fits) { // rows without values would go on for ever
            file.close();
            throw new FileRejectedException(Reasons.damaged(
                    "is a Parquet file whose footer gives a column more or fewer values than there are rows"));
        }
        return Optional.of(new ParquetColumns(file));
    }

    /** One column: values that were read and not given away yet stand one behind the other. */
    private final class Column extends ParquetValue {
        private final int present;
        private final int most;
        private ColumnReader reader;
        private long left;
        private byte[] texts = new byte[1 << 10];
        private int used;
        private int[] ends = new int[0];
        private byte[] kinds = new byte[0];
        private int held;

        Column(ColumnDescriptor descriptor, int most) {
            super(descriptor.getPrimitiveType());
            present = descriptor.getMaxDefinitionLevel();
            this.most = most;
        }

        @Override
        protected void take(byte kind, byte[] text, int length) {
            if (texts.length - used < length) {
                texts = Arrays.copyOf(texts, Math.max(texts.length * 2, used + length));
            }
            System.arraycopy(text, 0, texts, used, length);
            used += length;
            kinds[held] = kind;
        }

        @Override
        protected long record() {
            return given + held + 1;
        }

        /** Reads on until there are so many values, or enough bytes. */
        void read(int count) {
            if (ends.length < count) {
                ends = Arrays.copyOf(ends, count);
                kinds = Arrays.copyOf(kinds, count);
            }
            while (held < count && left > 0 && (used < most || held == 0)) {
                if (reader.getCurrentDefinitionLevel() == present) {
                    reader.writeCurrentValueToConverter();
                } else {
                    kinds[held] = RawBatch.NOTHING;
                }
                reader.consume();
                ends[held++] = used;
                left--;
            }
        }

        /** Gives the first values away, as one column of a batch. */
        void give(RawBatch batch, int count, int field, int place) {
            System.arraycopy(texts, 0, batch.bytes, place, end(count));
            int from = place;
            for (int row = 0; row < count; row++) {
                int cell = row * batch.width + field;
                int to = place + ends[row];
                boolean nothing = kinds[row] == RawBatch.NOTHING;
                batch.kinds[cell] = kinds[row];
                batch.from[cell] = nothing ? 0 : from;
                batch.to[cell] = nothing ? 0 : to;
                from = to;
            }
            int gone = end(count);
            System.arraycopy(texts, gone, texts, 0, used - gone);
            used -= gone;
            held -= count;
            System.arraycopy(kinds, count, kinds, 0, held);
            for (int i = 0; i < held; i++) {
                ends[i] = ends[i + count] - gone;
            }
        }

        /** Where the bytes of the first values end. */
        int end(int count) {
            return count == 0 ? 0 : ends[count - 1];
        }
    }

    /**
     * Fills a batch with the next rows, by the numbers of their records.
     *
     * @param batch as wide as there are columns
     */
    public void next(RawBatch batch) throws IOException, FileRejectedException {
        try {
            batch.rows = 0;
            while (columns[0].held == 0 && columns[0].left == 0) {
                PageReadStore group = file.readNextRowGroup();
                if (group == null) {
                    return;
                }
                begin(group);
            }
            Together.each(columns.length, true, column -> columns[column].read(batch.capacity));
            give(
                    batch,
                    Arrays.stream(columns).mapToInt(column -> column.held).min().orElseThrow());
        } catch (RuntimeException | IOException wrong) {
            throw ParquetFile.refusal(wrong);
        }
    }

    private void begin(PageReadStore group) {
        ColumnReadStoreImpl readers = new ColumnReadStoreImpl(
                group,
                new GroupConverter() {
                    @Override
                    public Converter getConverter(int field) {
                        return columns[field];
                    }

                    @Override
                    public void start() {
                        // there are no records
                    }

                    @Override
                    public void end() {
                        // there are no records
                    }
                },
                file.getFileMetaData().getSchema(),
                file.getFileMetaData().getCreatedBy());
        for (int i = 0; i < columns.length; i++) {
            columns[i].reader = readers.getColumnReader(descriptors.get(i));
            columns[i].left = group.getRowCount();
        }
    }

    private void give(RawBatch batch, int count) throws FileRejectedException {
        int[] places = new int[columns.length + 1];
        for (int i = 0; i < columns.length; i++) {
            places[i + 1] = Math.addExact(places[i], columns[i].end(count));
        }
        int size = places[columns.length];
        if (size > MOST_ROW_BYTES) {
            checkRows(count);
        }
        if (bytes.length < size) {
            bytes = new byte[Math.max(size, Math.min(size * 2, AHEAD))];
        }
        batch.bytes = bytes;
        batch.rows = count;
        batch.withKinds();
        batch.marks.clear();
        batch.unread.clear();
        Arrays.fill(batch.fields, 0, count, batch.width);
        Arrays.fill(batch.misquoted, 0, count, false);
        for (int row = 0; row < count; row++) {
            batch.line[row] = given + row + 1;
        }
        for (int i = 0; i < columns.length; i++) {
            columns[i].give(batch, count, i, places[i]);
        }
        given += count;
    }

    private void checkRows(int count) throws FileRejectedException {
        for (int row = 0; row < count; row++) {
            long size = 0;
            for (Column column : columns) {
                size += column.end(row + 1) - column.end(row);
            }
            if (size > MOST_ROW_BYTES) {
                throw new FileRejectedException(Reasons.recordTooLong(given + row + 1, MOST_ROW_BYTES));
            }
        }
    }

    @Override
    public void close() throws IOException {
        file.close();
    }
}
