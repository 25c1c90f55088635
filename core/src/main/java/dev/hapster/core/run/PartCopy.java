package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.query.Field;
import dev.hapster.core.query.PartReader;
import dev.hapster.core.row.TypedBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartOrigin;
import dev.hapster.core.store.PartSchema;
import dev.hapster.core.store.PartWriter;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import java.io.IOException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Writes a part once more without some of its rows. Where a row comes from stays as it was. */
final class PartCopy {

    private PartCopy() {
    }

    /** @return rows written */
    static long without(Path part, BitSet dropped, DatasetDef dataset, Path target) throws IOException {
        List<Field> fields = new ArrayList<>(dataset.columns().stream().map(Field::of).toList());
        int declared = fields.size();
        fields.add(new Field(PartSchema.FILE, ColumnType.of(Kind.TEXT)));
        fields.add(new Field(PartSchema.PATH, ColumnType.of(Kind.TEXT)));
        fields.add(new Field(PartSchema.RUN, ColumnType.of(Kind.INTEGER)));
        fields.add(new Field(PartSchema.LOADED_AT, ColumnType.of(Kind.TIMESTAMP)));
        fields.add(new Field(PartSchema.LINE, ColumnType.of(Kind.INTEGER)));
        long written = 0;
        try (PartReader reader = new PartReader(part, fields)) {
            int rows = reader.next();
            PartOrigin origin = rows == 0 ? new PartOrigin("", "", 0, Instant.EPOCH) : new PartOrigin((String) reader.value(declared, 0), (String) reader.value(declared + 1, 0),
                    (Long) reader.value(declared + 2, 0), (Instant) reader.value(declared + 3, 0));
            List<Vector> columns = new ArrayList<>();
            for (int i = 0; i < declared; i++) {
                columns.add(reader.vector(i));
            }
            TypedBatch batch = new TypedBatch(columns);
            try (PartWriter writer = new PartWriter(target, dataset.columns(), origin)) {
                for (int at = 0; rows > 0; at += rows, rows = reader.next()) {
                    batch.line = ((Vector.Longs) reader.vector(declared + 4)).values;
                    batch.good = new int[rows];
                    batch.goodRows = 0;
                    for (int row = 0; row < rows; row++) {
                        if (!dropped.get(at + row)) {
                            batch.good[batch.goodRows++] = row;
                        }
                    }
                    written += batch.goodRows;
                    writer.write(batch);
                }
                writer.finish();
            }
        }
        return written;
    }
}
