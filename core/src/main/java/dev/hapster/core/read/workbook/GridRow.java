package dev.hapster.core.read.workbook;

import dev.hapster.core.row.RawBatch;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** One row of a sheet: texts in UTF-8, with what each is. Columns are counted from 0. Reused; not thread-safe. */
public final class GridRow {

    /** Counted from 1. */
    public long number;
    /** Columns up to the last one that has a cell. */
    public int width;

    byte[] bytes = new byte[1024];
    int used;
    public byte[] kinds = new byte[64];
    public int[] from = new int[64];
    public int[] to = new int[64];
    /** What is wrong with a cell of kind {@link RawBatch#FAULT}. */
    String[] faults = new String[64];

    void clear(long row) {
        number = row;
        width = 0;
        used = 0;
    }

    /** Makes all columns up to and including one known; new ones hold nothing. */
    private void reach(int column) {
        if (column >= kinds.length) {
            int size = Math.max(column + 1, kinds.length * 2);
            kinds = Arrays.copyOf(kinds, size);
            from = Arrays.copyOf(from, size);
            to = Arrays.copyOf(to, size);
            faults = Arrays.copyOf(faults, size);
        }
        while (width <= column) {
            kinds[width] = RawBatch.NOTHING;
            from[width] = 0;
            to[width] = 0;
            width++;
        }
    }

    void set(int column, byte kind, byte[] source, int start, int length) {
        reach(column);
        if (bytes.length - used < length) {
            bytes = Arrays.copyOf(bytes, Math.max(bytes.length * 2, used + length));
        }
        System.arraycopy(source, start, bytes, used, length);
        from[column] = used;
        used += length;
        to[column] = used;
        kinds[column] = kind;
    }

    void set(int column, byte kind, String text) {
        byte[] utf8 = text.getBytes(StandardCharsets.UTF_8);
        set(column, kind, utf8, 0, utf8.length);
    }

    void fault(int column, String shown, String why) {
        set(column, RawBatch.FAULT, shown);
        faults[column] = why;
    }

    boolean isBlank(int column) {
        if (column >= width || kinds[column] == RawBatch.NOTHING) {
            return true;
        }
        for (int i = from[column]; i < to[column]; i++) {
            if (bytes[i] > ' ' || bytes[i] < 0) {
                return false;
            }
        }
        return kinds[column] != RawBatch.FAULT;
    }

    /** A cell as text; empty beyond the last one. */
    public String text(int column) {
        return column >= width
                ? ""
                : new String(bytes, from[column], to[column] - from[column], StandardCharsets.UTF_8);
    }

    /** Makes this row the same as another. */
    void copy(GridRow other) {
        clear(other.number);
        for (int column = 0; column < other.width; column++) {
            if (other.kinds[column] != RawBatch.NOTHING) {
                set(
                        column,
                        other.kinds[column],
                        other.bytes,
                        other.from[column],
                        other.to[column] - other.from[column]);
                faults[column] = other.faults[column];
            }
        }
    }
}
