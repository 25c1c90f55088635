package dev.hapster.core.query.group;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Gives each value of a column a number, the same in all row groups and files. A value becomes an object the first time
 * that it is met; of a column with a dictionary, only entries are looked up, once for each row group. Not thread-safe.
 */
final class ValueCodes {

    private static final int UNKNOWN = -1;
    private static final long MICROS_PER_HOUR = DatePattern.MICROS_PER_DAY / 24;

    private final Key key;
    /** Of timestamps: microseconds that have one number together, for they are never in two groups. */
    private final long together;

    private final List<Comparable<?>> values = new ArrayList<>();
    private int codeOfEmpty = UNKNOWN;
    private final LongCodes numbers = new LongCodes();
    private final ByteCodes texts = new ByteCodes();
    /** Numbers of texts by the order in which they were met. */
    private int[] codesOfTexts = new int[0];
    /** Where parts of dates count: several days have one number. */
    private final Map<Comparable<?>, Integer> units = new HashMap<>();

    /** For each entry of the present dictionary its number. */
    private int[] entries = new int[0];

    private PartReader of;
    private int opening = -1;

    ValueCodes(Key key) {
        this.key = key;
        together = key.unit().isEmpty() || key.field().type().kind() != Kind.TIMESTAMP
                ? 1
                : key.unit().equals("hour") ? MICROS_PER_HOUR : DatePattern.MICROS_PER_DAY;
    }

    /** The value that has a number; null for the empty one. */
    Comparable<?> value(int code) {
        return values.get(code);
    }

    /** Numbers of the values of some rows of the present batch. */
    void of(PartReader reader, int asked, int[] rows, int count, int[] to) throws IOException {
        if (reader.isCoded(asked)) {
            coded(reader, asked, rows, count, to);
            return;
        }
        Vector vector = reader.vector(asked);
        for (int i = 0; i < count; i++) {
            int row = rows[i];
            to[i] = vector.empty[row] ? empty() : code(vector, row);
        }
    }

    private void coded(PartReader reader, int asked, int[] rows, int count, int[] to) throws IOException {
        Vector all = reader.entries(asked);
        if (of != reader || opening != reader.opening()) {
            of = reader;
            opening = reader.opening();
            entries = new int[reader.entryCount(asked)];
            Arrays.fill(entries, UNKNOWN);
        }
        int[] codes = reader.codes(asked);
        for (int i = 0; i < count; i++) {
            int entry = codes[rows[i]];
            int code = entry < 0 ? empty() : entries[entry];
            if (code == UNKNOWN) {
                code = code(all, entry);
                entries[entry] = code;
            }
            to[i] = code;
        }
    }

    private int empty() {
        if (codeOfEmpty == UNKNOWN) {
            codeOfEmpty = values.size();
            values.add(null);
        }
        return codeOfEmpty;
    }

    private int code(Vector vector, int row) {
        if (vector instanceof Vector.Bytes bytes) {
            int known = texts.size();
            int text = texts.of(bytes, row);
            if (text == known) {
                codesOfTexts = known < codesOfTexts.length ? codesOfTexts : Arrays.copyOf(codesOfTexts, 2 * known + 16);
                codesOfTexts[known] = enter(vector, row);
            }
            return codesOfTexts[text];
        }
        long number = vector instanceof Vector.Doubles doubles
                ? Double.doubleToLongBits(doubles.values[row])
                : ((Vector.Longs) vector).values[row];
        if (together > 1) {
            number = Math.floorDiv(number, together);
        }
        int code = numbers.find(number);
        if (code < 0) {
            code = enter(vector, row);
            numbers.put(number, code);
        }
        return code;
    }

    /** Numbers a value that was not met before. */
    private int enter(Vector vector, int row) {
        Comparable<?> value = key.of(key.field().value(vector, row));
        if (!key.unit().isEmpty()) {
            Integer known = units.putIfAbsent(value, values.size());
            if (known != null) {
                return known;
            }
        }
        values.add(value);
        return values.size() - 1;
    }
}
