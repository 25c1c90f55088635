package dev.hapster.core.query;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.SealedInput;
import dev.hapster.core.store.SnappyOnly;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.parquet.ParquetReadOptions;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.impl.ColumnReadStoreImpl;
import org.apache.parquet.column.page.PageReadStore;
import org.apache.parquet.conf.PlainParquetConfiguration;
import org.apache.parquet.hadoop.ParquetFileReader;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.io.api.Converter;
import org.apache.parquet.io.api.GroupConverter;
import org.apache.parquet.io.api.PrimitiveConverter;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.roaringbitmap.RoaringBitmap;

/**
 * Reads some columns of one part, batch by batch, as the dataset declares them now: a part that was written with a
 * narrower type is widened, one that has a column by a former name is asked for that, one that does not have it at all
 * has the column's default, or nothing. Not thread-safe.
 */
@SuppressWarnings("deprecation") // the codec is given bytes, and no stream
public final class PartReader implements AutoCloseable {

    private static final int BATCH = 8192;

    /** The columns read, each once, and for each column asked for its place among them. */
    private final List<Field> fields;

    private final int[] places;
    private final ParquetFileReader file;
    private final MessageType schema;
    /** What each column is called in the part; null where it has none. */
    private final List<String> names = new ArrayList<>();

    private final List<Widening> widenings = new ArrayList<>();
    private final List<Vector> vectors = new ArrayList<>();
    /** As read, where that is not what is asked for. */
    private final List<Vector> raw = new ArrayList<>();

    private List<ColumnReader> columns = List.of();
    /** Rows of the part that do not count; null where all do. */
    private final RoaringBitmap masked;

    private long leftInGroup;
    private int nextGroup;
    private int rows;
    /** Rows of the part that were read or skipped so far, those that do not count included. */
    private long at;

    private int[] kept = new int[0];

    /**
     * @param asked the columns to read; one may be asked for several times
     * @throws IOException also where what the part holds cannot be turned into what the column is now
     */
    public PartReader(Path path, List<Field> asked) throws IOException {
        this(path, asked, Optional.empty());
    }

    /** @param masked rows that do not count, by their number in the part, counted from 0: they are not seen at all */
    public PartReader(Path path, List<Field> asked, Optional<RoaringBitmap> masked) throws IOException {
        this.masked = masked.filter(rows -> !rows.isEmpty()).orElse(null);
        fields = asked.stream().distinct().toList();
        places = asked.stream().mapToInt(fields::indexOf).toArray();
        file = SealedInput.open(
                path,
                ParquetReadOptions.builder(new PlainParquetConfiguration()).withCodecFactory(new SnappyOnly()));
        try {
            MessageType stored = file.getFileMetaData().getSchema();
            List<org.apache.parquet.schema.Type> wanted = new ArrayList<>();
            for (Field field : fields) {
                String name = Stream.concat(Stream.of(field.name()), field.was().stream())
                        .filter(stored::containsField)
                        .findFirst()
                        .orElse(null);
                names.add(name);
                Widening widening = name == null
                        ? Widening.NONE
                        : Widening.of(stored.getType(name).asPrimitiveType(), field, path);
                widenings.add(widening);
                if (name != null
                        && wanted.stream().noneMatch(type -> type.getName().equals(name))) {
                    wanted.add(stored.getType(name));
                }
                vectors.add(widening.target(field));
                raw.add(widening.equals(Widening.NONE) ? vectors.get(vectors.size() - 1) : new Vector.Longs(BATCH));
            }
            schema = new MessageType("part", wanted);
            file.setRequestedSchema(schema);
        } catch (IOException | RuntimeException wrong) {
            file.close();
            throw wrong;
        }
    }

    /** Skips up to {@code count} rows by whole row groups; returns how many were skipped. To be called first. */
    long skip(long count) throws IOException {
        long skipped = 0;
        for (var group : file.getRowGroups()) {
            long end = at + group.getRowCount();
            long seen = group.getRowCount() - (masked == null ? 0 : masked.rangeCardinality(at, end));
            if (skipped + seen > count) {
                break;
            }
            file.skipNextRowGroup();
            nextGroup++;
            skipped += seen;
            at = end;
        }
        return skipped;
    }

    /** Reads the next rows; 0 at the end. */
    public int next() throws IOException {
        int read = nextOfAll();
        while (read > 0 && masked != null) {
            int left = unmasked(read);
            if (left > 0) {
                return left;
            }
            read = nextOfAll();
        }
        return read;
    }

    /** Leaves those of the rows just read that count. */
    private int unmasked(int read) {
        long from = at - read;
        if (masked.rangeCardinality(from, at) == 0) {
            return read;
        }
        if (kept.length < read) {
            kept = new int[read];
        }
        int count = 0;
        for (int row = 0; row < read; row++) {
            if (!masked.contains((int) (from + row))) {
                kept[count++] = row;
            }
        }
        for (Vector vector : vectors) {
            vector.keep(kept, count);
        }
        rows = count;
        return count;
    }

    private int nextOfAll() throws IOException {
        if (leftInGroup == 0) {
            PageReadStore group = schema.getFieldCount() == 0 ? null : file.readNextRowGroup();
            if (schema.getFieldCount() == 0 && nextGroup < file.getRowGroups().size()) {
                leftInGroup = file.getRowGroups()
                        .get(nextGroup++)
                        .getRowCount(); // none of the columns is in the part, yet it has rows
                columns = new ArrayList<>(java.util.Collections.nCopies(names.size(), null));
                return batch();
            }
            if (group == null) {
                return 0;
            }
            leftInGroup = group.getRowCount();
            ColumnReadStoreImpl store = new ColumnReadStoreImpl(
                    group, new Ignoring(), schema, file.getFileMetaData().getCreatedBy());
            columns = new ArrayList<>();
            for (String name : names) {
                columns.add(
                        name == null ? null : store.getColumnReader(schema.getColumnDescription(new String[] {name})));
            }
        }
        return batch();
    }

    private int batch() {
        rows = (int) Math.min(BATCH, leftInGroup);
        leftInGroup -= rows;
        at += rows;
        for (int i = 0; i < vectors.size(); i++) {
            Vector vector = vectors.get(i);
            vector.reset(rows);
            if (columns.get(i) == null) {
                Widening.fallback(fields.get(i), vector, rows);
            } else if (widenings.get(i).equals(Widening.NONE)) {
                fill(vector, columns.get(i), rows);
            } else {
                raw.get(i).reset(rows);
                fill(raw.get(i), columns.get(i), rows);
                widenings.get(i).widen((Vector.Longs) raw.get(i), vector, rows);
            }
        }
        return rows;
    }

    private static void fill(Vector vector, ColumnReader column, int rows) {
        int whole = column.getDescriptor().getMaxDefinitionLevel();
        PrimitiveType.PrimitiveTypeName type =
                column.getDescriptor().getPrimitiveType().getPrimitiveTypeName();
        for (int row = 0; row < rows; row++) {
            if (column.getCurrentDefinitionLevel() < whole) {
                vector.empty[row] = true;
            } else if (vector instanceof Vector.Bytes bytes) {
                Binary value = column.getBinary();
                byte[] array = value.getBytesUnsafe();
                bytes.set(row, array, 0, array.length);
            } else if (vector instanceof Vector.Doubles doubles) {
                doubles.values[row] = column.getDouble();
            } else {
                ((Vector.Longs) vector).values[row] = switch (type) {
                    case INT32 -> column.getInteger();
                    case BOOLEAN -> column.getBoolean() ? 1 : 0;
                    default -> column.getLong();
                };
            }
            column.consume();
        }
    }

    /** The values of the present batch as they are, of a column by its place among those asked for. */
    public Vector vector(int asked) {
        return vectors.get(places[asked]);
    }

    /** @param asked place of the column among those asked for */
    public Comparable<?> value(int asked, int row) {
        return fields.get(places[asked]).value(vectors.get(places[asked]), row);
    }

    @Override
    public void close() throws IOException {
        file.close();
    }

    /** Values are taken from the column readers directly; these converters are asked for and never used. */
    private static final class Ignoring extends GroupConverter {
        private final PrimitiveConverter primitive = new PrimitiveConverter() {};

        @Override
        public Converter getConverter(int index) {
            return primitive;
        }

        @Override
        public void start() {
            // no records are put together
        }

        @Override
        public void end() {
            // no records are put together
        }
    }
}
