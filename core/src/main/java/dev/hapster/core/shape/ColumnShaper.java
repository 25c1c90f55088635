package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.Vector;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;

/**
 * Makes one column of the dataset out of one field of the source: clean, recognise emptiness, convert, check. One
 * subclass for each way in which values are kept. Not thread-safe.
 */
abstract class ColumnShaper {

    /** Where faults go. */
    interface Faults {
        void add(int row, String column, String value, Reason reason);
    }

    /** Decimal digits that a binary floating point number keeps, whatever they are. */
    private static final int SURE_DIGITS = 15;

    final ColumnDef column;
    private final Cleaner cleaner;
    private final boolean cleans;
    private final byte[][] emptyWords;
    private final boolean blankIsEmpty;

    ColumnShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        this.column = column;
        cleaner = new Cleaner(source.clean());
        cleans = !source.clean().isEmpty();
        List<String> words = source.emptyAs().orElse(emptyAs);
        emptyWords = words.stream()
                .filter(word -> !word.isEmpty())
                .map(Cleaner::utf8)
                .toArray(byte[][]::new);
        blankIsEmpty = words.contains("");
    }

    abstract Vector vector();

    /** Whether white space around a value means nothing; so for all types but text. */
    boolean trims() {
        return true;
    }

    /** Converts and checks one value that is not empty, and stores it; null where all is well. */
    abstract Reason put(int row, byte[] bytes, int from, int to);

    /** The same for a value of which the file itself says what it is, by a kind of {@link RawBatch}. */
    Reason put(int row, byte kind, byte[] bytes, int from, int to) {
        return put(row, bytes, from, to);
    }

    /**
     * Whether most values of a batch are just what they are: nothing is cleaned, no words stand for nothing, and the
     * file says nothing of kinds.
     */
    final boolean isPlain(RawBatch batch) {
        return !cleans && emptyWords.length == 0 && batch.kinds == null;
    }

    /** Shapes field {@code field} of every row. Rows with a wrong number of fields are skipped. */
    void shape(RawBatch batch, int field, Faults faults) {
        Vector vector = vector();
        vector.reset(batch.rows);
        for (int row = 0; row < batch.rows; row++) {
            one(batch, row, field, vector, faults);
        }
    }

    /** Shapes one value, whatever it is. */
    final void one(RawBatch batch, int row, int field, Vector vector, Faults faults) {
        if (batch.fields[row] != batch.width) {
            vector.empty[row] = true;
            return;
        }
        int at = row * batch.width + field;
        byte kind = batch.kinds == null ? RawBatch.TEXT : batch.kinds[at];
        Reason reason = kind == RawBatch.TEXT
                ? value(row, RawBatch.TEXT, batch.bytes, batch.from[at], batch.to[at], vector)
                : kinded(row, kind, batch.bytes, batch.from[at], batch.to[at], vector);
        if (reason != null) {
            refuse(batch, row, field, reason, vector, faults);
        }
    }

    final void refuse(RawBatch batch, int row, int field, Reason reason, Vector vector, Faults faults) {
        vector.empty[row] = true;
        String text = batch.text(row, field);
        faults.add(row, column.name(), text, reason);
        others(cleaned(batch, row, field), reason).forEach(other -> faults.add(row, column.name(), text, other));
    }

    /** What else is wrong with a value that breaks a rule; a person who corrects it should know all of it at once. */
    List<Reason> others(String value, Reason first) {
        return List.of();
    }

    private Reason kinded(int row, byte kind, byte[] bytes, int from, int to, Vector vector) {
        if (kind == RawBatch.FAULT) {
            vector.empty[row] = true; // a mark says why
            return null;
        }
        if (kind == RawBatch.NOTHING) {
            vector.empty[row] = true;
            return column.required() ? Reasons.requiredEmpty(column.name()) : null;
        }
        if (kind == RawBatch.BINARY && to - from > SURE_DIGITS && column.type().kind() != ColumnType.Kind.DOUBLE) {
            byte[] rounded = rounded(text(bytes, from, to));
            return value(row, kind, rounded, 0, rounded.length, vector);
        }
        return value(row, kind, bytes, from, to, vector);
    }

    /** A binary number says no more than 15 decimal digits for sure: 0.30000000000000004 is meant as 0.3. */
    private static byte[] rounded(String number) {
        java.math.BigDecimal rounded = new java.math.BigDecimal(number)
                .round(new java.math.MathContext(SURE_DIGITS))
                .stripTrailingZeros();
        return Cleaner.utf8(rounded.scale() < -SURE_DIGITS ? rounded.toString() : rounded.toPlainString());
    }

    /**
     * Checks and stores a value that was calculated: a {@code String} is read as a file without any rules would have
     * it.
     *
     * @param value as {@link dev.hapster.core.expression.Expression.Ready#value} gives it; null for nothing
     */
    Reason put(int row, Object value) {
        if (value == null) {
            vector().empty[row] = true;
            return column.required() ? Reasons.requiredEmpty(column.name()) : null;
        }
        byte kind = value instanceof Double
                ? RawBatch.BINARY
                : value instanceof Number
                        ? RawBatch.NUMBER
                        : value instanceof Boolean
                                ? RawBatch.TRUTH
                                : value instanceof java.time.Instant ? RawBatch.MOMENT : RawBatch.TEXT;
        byte[] bytes = Cleaner.utf8(Expression.words(value));
        return kind == RawBatch.BINARY
                ? kinded(row, kind, bytes, 0, bytes.length, vector())
                : kind == RawBatch.TEXT ? put(row, bytes, 0, bytes.length) : put(row, kind, bytes, 0, bytes.length);
    }

    private Reason value(int row, byte kind, byte[] bytes, int from, int to, Vector vector) {
        byte[] text = bytes;
        int start = from;
        int end = to;
        if (cleans || (trims() && end > start && (text[start] <= ' ' || text[end - 1] <= ' '))) {
            cleaner.apply(text, start, end);
            if (trims()) {
                cleaner.trim();
            }
            text = cleaner.bytes;
            start = cleaner.from;
            end = cleaner.to;
        }
        if (start == end ? blankIsEmpty : emptyWords.length > 0 && isEmptyWord(text, start, end)) {
            vector.empty[row] = true;
            return column.required() ? Reasons.requiredEmpty(column.name()) : null;
        }
        return kind == RawBatch.TEXT ? put(row, text, start, end) : put(row, kind, text, start, end);
    }

    private boolean isEmptyWord(byte[] text, int from, int to) {
        for (byte[] word : emptyWords) {
            if (to - from == word.length && Arrays.equals(text, from, to, word, 0, word.length)) {
                return true;
            }
        }
        return false;
    }

    /** Gives every row the same value; null, or the reason why the value does not suit the column. */
    final Reason fill(String value, int rows) {
        Vector vector = vector();
        vector.reset(rows);
        byte[] bytes = Cleaner.utf8(value);
        Reason reason = value(0, RawBatch.TEXT, bytes, 0, bytes.length, vector);
        if (reason != null) {
            return reason;
        }
        Arrays.fill(vector.empty, 0, rows, vector.empty[0]);
        if (vector instanceof Vector.Longs longs) {
            Arrays.fill(longs.values, 0, rows, longs.values[0]);
        } else if (vector instanceof Vector.Doubles doubles) {
            Arrays.fill(doubles.values, 0, rows, doubles.values[0]);
        } else if (vector instanceof Vector.Bytes texts) {
            for (int row = 1; row < rows; row++) {
                texts.same(row, 0);
            }
        }
        return null;
    }

    /** A value after cleaning, before it is converted. */
    final String cleaned(RawBatch batch, int row, int field) {
        int at = row * batch.width + field;
        if (batch.fields[row] <= field) {
            return "";
        }
        cleaner.apply(batch.bytes, batch.from[at], batch.to[at]);
        if (trims()) {
            cleaner.trim();
        }
        return text(cleaner.bytes, cleaner.from, cleaner.to);
    }

    /** Leaves every row empty. */
    final void leaveEmpty(int rows) {
        vector().reset(rows);
        Arrays.fill(vector().empty, 0, rows, true);
    }

    static String text(byte[] bytes, int from, int to) {
        return new String(bytes, from, to - from, StandardCharsets.UTF_8);
    }
}
