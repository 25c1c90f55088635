package dev.hapster.core.query.write;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Widening;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** Rows as a Parquet file. It is gathered beside, since Parquet is written in one piece only once all is known. */
final class ParquetRows implements RowWriter {

    private static final int BATCH = 4096;

    private final OutputStream out;
    private final List<Vector> vectors = new ArrayList<>();
    private List<Field> fields = List.of();
    private TypedBatch batch;
    private Path draft;
    private PartWriter writer;

    ParquetRows(OutputStream out) {
        this.out = out;
    }

    @Override
    public void begin(List<Field> columns) throws IOException {
        fields = List.copyOf(columns);
        draft = Files.createTempDirectory("hapster-export-").resolve("rows.parquet"); // a folder of nobody else
        writer =
                PartWriter.plain(draft, fields.stream().map(ParquetRows::column).toList());
        fields.forEach(field -> vectors.add(Widening.NONE.target(field)));
        batch = new TypedBatch(vectors);
        batch.good = new int[BATCH];
        batch.line = new long[BATCH];
        for (int i = 0; i < BATCH; i++) {
            batch.good[i] = i;
        }
        reset();
    }

    private static ColumnDef column(Field field) {
        return new ColumnDef(
                field.name(),
                field.type(),
                false,
                Optional.empty(),
                Optional.empty(),
                List.of(),
                Optional.empty(),
                Optional.empty(),
                "",
                Optional.empty(),
                List.of());
    }

    private void reset() {
        vectors.forEach(vector -> vector.reset(BATCH));
        batch.goodRows = 0;
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        int row = batch.goodRows++;
        for (int i = 0; i < values.size(); i++) {
            Comparable<?> value = values.get(i) instanceof Instant moment
                    ? LocalDateTime.ofInstant(moment, ZoneOffset.UTC)
                    : values.get(i);
            Vector vector = vectors.get(i);
            if (value == null) {
                vector.empty[row] = true;
            } else if (vector instanceof Vector.Bytes bytes) {
                byte[] content = Widening.bytes(
                        value instanceof BigDecimal || fields.get(i).type().kind() == Kind.TEXT
                                ? value
                                : value.toString(),
                        fields.get(i).type());
                bytes.set(row, content, 0, content.length);
            } else if (vector instanceof Vector.Doubles doubles) {
                doubles.values[row] = (Double) value;
            } else {
                ((Vector.Longs) vector).values[row] =
                        Widening.plain(value, fields.get(i).type());
            }
        }
        if (batch.goodRows == BATCH) {
            writer.write(batch);
            reset();
        }
    }

    @Override
    public void finish() throws IOException {
        writer.write(batch);
        writer.finish();
        Files.copy(draft, out);
    }

    @Override
    public void close() throws IOException {
        if (draft != null) {
            try {
                if (writer != null) {
                    writer.close();
                }
            } finally {
                Files.deleteIfExists(draft);
                Files.deleteIfExists(draft.getParent());
            }
        }
    }
}
