package dev.hapster.core.query.write;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Arrays;

/**
 * Writes batches of rows as lines of text in UTF-8, straight from the numbers and bytes as which values are stored. Not
 * thread-safe.
 */
abstract class TextBatches {

    private static final long SECOND = 1_000_000L;
    private static final long DAY = 86_400 * SECOND;
    private static final int LAST_YEAR = 9999;
    /** Digits of the longest number, its sign and point, or of a timestamp. */
    private static final int LONGEST_NUMBER = 64;

    private final OutputStream out;
    private final byte separator;
    private final int firstYear;
    private byte[] buffer = new byte[1 << 17];
    private int used;
    /** For each column what is written for an entry of its dictionary, in the row group of that number. */
    private byte[][][] cells = new byte[0][][];

    private int[] cellsOf = new int[0];
    private PartReader last;

    /**
     * @param separator what stands between two fields; no number, date or time has it
     * @param firstYear the first that is written as four digits
     */
    TextBatches(OutputStream out, char separator, int firstYear) {
        this.out = out;
        this.firstYear = firstYear;
        this.separator = (byte) separator;
    }

    /**
     * A value as it stands in a field.
     *
     * @param first whether the field is the first of its line
     */
    abstract byte[] cell(Comparable<?> value, boolean first) throws IOException;

    /** Writes a text as it stands in a field; its bytes are UTF-8. */
    abstract void text(byte[] data, int from, int length, boolean first) throws IOException;

    /** Writes what ends a row. */
    abstract void lineEnd() throws IOException;

    /** What stands in a field that has no value. */
    abstract byte[] nothing();

    /** Whether values of a column may be written as they usually are, without becoming objects. */
    abstract boolean isPlain(Field field);

    final byte separator() {
        return separator;
    }

    final void write(PartReader reader, int[] rows, int count, int columns) throws IOException {
        if (cells.length != columns || last != reader) {
            last = reader;
            cells = new byte[columns][][];
            cellsOf = new int[columns];
            Arrays.fill(cellsOf, -1);
        }
        Column[] all = new Column[columns];
        for (int i = 0; i < columns; i++) {
            all[i] = column(reader, i);
        }
        for (int i = 0; i < count; i++) {
            for (int column = 0; column < columns; column++) {
                if (column > 0) {
                    room(1);
                    buffer[used++] = separator;
                }
                all[column].append(rows[i]);
            }
            lineEnd();
        }
    }

    /** Whether anything was written that is not passed on yet. */
    final boolean isPending() {
        return used > 0;
    }

    final void flush() throws IOException {
        out.write(buffer, 0, used);
        used = 0;
    }

    private void room(int bytes) throws IOException {
        if (buffer.length - used < bytes) {
            flush();
            if (buffer.length < bytes) {
                buffer = new byte[bytes];
            }
        }
    }

    /** Writes the value of a row of the present batch. */
    private interface Column {
        void append(int row) throws IOException;
    }

    private Column column(PartReader reader, int number) throws IOException {
        if (reader.isCoded(number)) {
            return coded(reader, number);
        }
        Vector vector = reader.vector(number);
        Field field = reader.field(number);
        Column plain = plain(vector, field, number == 0);
        if (plain == null) {
            return row -> {
                Comparable<?> value = reader.value(number, row);
                append(value == null ? nothing() : cell(value, number == 0));
            };
        }
        boolean[] empty = vector.empty;
        byte[] nothing = nothing();
        return row -> {
            if (empty[row]) {
                append(nothing);
            } else {
                plain.append(row);
            }
        };
    }

    private Column coded(PartReader reader, int number) throws IOException {
        if (cellsOf[number] != reader.opening()) {
            cellsOf[number] = reader.opening();
            cells[number] = new byte[reader.entryCount(number)][];
        }
        byte[][] known = cells[number];
        int[] codes = reader.codes(number);
        byte[] nothing = nothing();
        return row -> {
            int code = codes[row];
            if (code < 0) {
                append(nothing);
            } else {
                if (known[code] == null) {
                    Comparable<?> value = reader.entry(number, code);
                    known[code] = value == null ? nothing : cell(value, number == 0);
                }
                append(known[code]);
            }
        };
    }

    /** How values are written that need no object; null where each becomes one. */
    private Column plain(Vector vector, Field field, boolean first) {
        if (!isPlain(field)) {
            return null;
        }
        Kind kind = field.type().kind();
        if (vector instanceof Vector.Bytes bytes) {
            return kind == Kind.TEXT ? row -> text(bytes.data, bytes.from[row], bytes.length[row], first) : null;
        }
        if (!(vector instanceof Vector.Longs longs)) {
            return null;
        }
        long[] of = longs.values;
        int scale = field.type().scale();
        return switch (kind) {
            case INTEGER -> row -> number(of[row], 0);
            case DECIMAL -> row -> number(of[row], scale);
            case BOOLEAN -> row -> append(of[row] != 0 ? TRUE : FALSE);
            case TIME -> row -> time(of[row]);
            case DATE -> row -> day(of[row], field);
            case TIMESTAMP -> field.isInstant() ? null : row -> moment(of[row], field);
            default -> null;
        };
    }

    private static final byte[] TRUE = "true".getBytes(StandardCharsets.US_ASCII);
    private static final byte[] FALSE = "false".getBytes(StandardCharsets.US_ASCII);

    final void append(byte[] bytes) throws IOException {
        append(bytes, 0, bytes.length);
    }

    /** Something that is put at the end of what was written. */
    interface Appending {

        /** @return where it ends */
        int at(byte[] buffer, int start) throws IOException;
    }

    /** @param most bytes that it takes at most */
    final void append(int most, Appending what) throws IOException {
        room(most);
        used = what.at(buffer, used);
    }

    final void append(byte[] data, int from, int length) throws IOException {
        room(length);
        System.arraycopy(data, from, buffer, used, length);
        used += length;
    }

    /** A number of which the last digits, as many as its scale, stand behind the point. */
    private void number(long value, int scale) throws IOException {
        if (value == Long.MIN_VALUE) {
            append(BigDecimal.valueOf(value, scale).toPlainString().getBytes(StandardCharsets.US_ASCII));
            return;
        }
        room(LONGEST_NUMBER);
        long rest = Math.abs(value);
        if (value < 0) {
            buffer[used++] = '-';
        }
        int digits = 1;
        for (long bound = rest / 10; bound > 0; bound /= 10) {
            digits++;
        }
        digits = Math.max(digits, scale + 1);
        int end = used + digits + (scale > 0 ? 1 : 0);
        int at = end;
        for (int i = 0; i < digits; i++) {
            if (i == scale && scale > 0) {
                buffer[--at] = '.';
            }
            buffer[--at] = (byte) ('0' + rest % 10);
            rest /= 10;
        }
        used = end;
    }

    private void day(long epochDay, Field field) throws IOException {
        LocalDate day = LocalDate.ofEpochDay(epochDay);
        if (day.getYear() < firstYear || day.getYear() > LAST_YEAR) {
            append(cell(field.ofLong(epochDay), false));
            return;
        }
        room(LONGEST_NUMBER);
        day(day);
    }

    private void day(LocalDate day) {
        int year = day.getYear();
        two(year / 100);
        two(year % 100);
        buffer[used++] = '-';
        two(day.getMonthValue());
        buffer[used++] = '-';
        two(day.getDayOfMonth());
    }

    private void two(int number) {
        buffer[used++] = (byte) ('0' + number / 10);
        buffer[used++] = (byte) ('0' + number % 10);
    }

    private void moment(long micros, Field field) throws IOException {
        LocalDate day = LocalDate.ofEpochDay(Math.floorDiv(micros, DAY));
        if (day.getYear() < firstYear || day.getYear() > LAST_YEAR) {
            append(cell(field.ofLong(micros), false));
            return;
        }
        room(2 * LONGEST_NUMBER);
        day(day);
        buffer[used++] = 'T';
        time(Math.floorMod(micros, DAY));
    }

    private void time(long ofDay) throws IOException {
        room(LONGEST_NUMBER);
        int seconds = (int) (ofDay / SECOND);
        two(seconds / 3600);
        buffer[used++] = ':';
        two(seconds / 60 % 60);
        buffer[used++] = ':';
        two(seconds % 60);
        int fraction = (int) (ofDay % SECOND);
        if (fraction > 0) {
            buffer[used++] = '.';
            for (int digit = 100_000; fraction > 0; digit /= 10) {
                buffer[used++] = (byte) ('0' + fraction / digit);
                fraction %= digit;
            }
        }
    }
}
