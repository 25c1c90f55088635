package dev.hapster.core.query.sorted;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Widening;
import java.io.DataInput;
import java.io.DataOutput;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/**
 * A row on its way to be sorted.
 *
 * @param spot where it stands and what it is sorted by
 * @param values what is wanted of it; null where empty
 */
record StoredRow(Spot spot, List<Comparable<?>> values) {

    private static final long OF_ROW = 160;
    private static final long OF_VALUE = 32;

    /** Bytes that it takes in memory, about. */
    long bytes() {
        long bytes = OF_ROW;
        for (Comparable<?> value : values) {
            bytes += OF_VALUE + (value instanceof String text ? 16 + 2L * text.length() : 0);
        }
        return bytes;
    }

    /** Writes it for {@link #read}. */
    void write(DataOutput out, List<Field> keys, List<Field> wanted) throws IOException {
        out.writeInt(spot.group());
        out.writeLong(spot.line());
        out.writeInt(spot.file());
        out.writeLong(spot.row());
        writeAll(out, keys, spot.keys());
        writeAll(out, wanted, values);
    }

    private static void writeAll(DataOutput out, List<Field> fields, List<Comparable<?>> values) throws IOException {
        for (int i = 0; i < fields.size(); i++) {
            Comparable<?> value = values.get(i);
            out.writeBoolean(value != null);
            if (value == null) {
                continue;
            }
            Field field = fields.get(i);
            if (field.type().kind() == Kind.DOUBLE) {
                out.writeDouble((Double) value);
            } else if (field.type().kind() == Kind.TEXT || field.type().isWideDecimal()) {
                byte[] bytes = value instanceof BigDecimal number
                        ? number.setScale(field.type().scale()).unscaledValue().toByteArray()
                        : value.toString().getBytes(StandardCharsets.UTF_8);
                out.writeInt(bytes.length);
                out.write(bytes);
            } else {
                out.writeLong(Widening.plain(value, field.type()));
            }
        }
    }

    static StoredRow read(DataInput in, List<Field> keys, List<Field> wanted) throws IOException {
        int group = in.readInt();
        long line = in.readLong();
        int file = in.readInt();
        long row = in.readLong();
        List<Comparable<?>> sorted = values(in, keys);
        return new StoredRow(new Spot(group, line, file, row, sorted), values(in, wanted));
    }

    private static List<Comparable<?>> values(DataInput in, List<Field> fields) throws IOException {
        List<Comparable<?>> values = new ArrayList<>(fields.size());
        for (Field field : fields) {
            values.add(in.readBoolean() ? value(in, field) : null);
        }
        return values;
    }

    private static Comparable<?> value(DataInput in, Field field) throws IOException {
        if (field.type().kind() == Kind.DOUBLE) {
            return in.readDouble();
        }
        if (field.type().kind() != Kind.TEXT && !field.type().isWideDecimal()) {
            return field.ofLong(in.readLong());
        }
        byte[] bytes = new byte[in.readInt()];
        in.readFully(bytes);
        return field.type().kind() == Kind.TEXT
                ? new String(bytes, StandardCharsets.UTF_8)
                : new BigDecimal(new BigInteger(bytes), field.type().scale());
    }
}
