package dev.hapster.core.row;

import dev.hapster.core.reason.Reason;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Some records as they were read: slices of one byte array (UTF-8), never one object a cell.
 *
 * <p>Field {@code c} of record {@code r} is {@code bytes[from[r * width + c] .. to[r * width + c])}. Owned and reused
 * by the reader that made it: valid until the next batch is asked for. Not thread-safe.
 */
public final class RawBatch {

    /** Fields a record may have; a record with another count carries it in {@link #fields}. */
    public final int width;
    /** Records this batch can hold. */
    public final int capacity;
    /** The records' bytes, UTF-8. Replaced by the reader between batches. */
    public byte[] bytes = new byte[0];
    /** Records held. */
    public int rows;
    /** Start and end (exclusive) of each field, row by row: {@code capacity * width} entries. */
    public final int[] from;

    public final int[] to;
    /** Start and end (exclusive) of each record's original text, without its line end. */
    public final int[] recordFrom;

    public final int[] recordTo;
    /** Physical line, counted from 1, on which each record begins. */
    public final long[] line;
    /** Fields that each record really has. */
    public final int[] fields;
    /** Records in which text follows a closing quote. */
    public final boolean[] misquoted;

    /** What each field is; null where all are text as it stands in the file. */
    public byte[] kinds;
    /** What could not be read, in no order; rare. */
    public final List<Mark> marks = new ArrayList<>();
    /** Names the place of a field, such as {@code Mar!D17}; null where a line says it all. */
    public Places places;

    /** Writes the texts of records that do not stand in {@link #bytes}; null where they do. */
    public Originals originals;
    /** The original texts of records of which no field could be read, by their row; rare. */
    public final Map<Integer, String> unread = new HashMap<>();

    /** A text, as it stands in the file. */
    public static final byte TEXT = 0;
    /** A number: digits with a decimal point, whatever the job says of decimal marks. */
    public static final byte NUMBER = 1;
    /** The same, from a binary floating point number (IEEE 754 double), in as many digits as tell it from others. */
    public static final byte BINARY = 2;
    /** A date, a time or both, in ISO 8601, whatever the job says of patterns. */
    public static final byte MOMENT = 3;
    /** {@code true} or {@code false}, whatever the job's words for them are. */
    public static final byte TRUTH = 4;
    /** No value. */
    public static final byte NOTHING = 5;
    /** A value that cannot be had; a mark says why. */
    public static final byte FAULT = 6;

    /** Writes the text of a record from its fields. */
    public interface Originals {
        String of(RawBatch batch, int row);
    }

    /** Names the places of fields. */
    public interface Places {
        String of(long line, int field);
    }

    /**
     * Something that could not be read.
     *
     * @param field -1 for the whole row
     */
    public record Mark(int row, int field, Reason reason) {}

    /** Makes room for kinds, all of them text. */
    public void withKinds() {
        if (kinds == null) {
            kinds = new byte[width * capacity];
        }
    }

    public RawBatch(int width, int capacity) {
        this.width = width;
        this.capacity = capacity;
        from = new int[width * capacity];
        to = new int[width * capacity];
        recordFrom = new int[capacity];
        recordTo = new int[capacity];
        line = new long[capacity];
        fields = new int[capacity];
        misquoted = new boolean[capacity];
    }

    /** Takes over the records of a batch of the same width and capacity, which may be filled anew afterwards. */
    public void take(RawBatch other) {
        rows = other.rows;
        int cells = rows * width;
        System.arraycopy(other.from, 0, from, 0, cells);
        System.arraycopy(other.to, 0, to, 0, cells);
        System.arraycopy(other.recordFrom, 0, recordFrom, 0, rows);
        System.arraycopy(other.recordTo, 0, recordTo, 0, rows);
        System.arraycopy(other.line, 0, line, 0, rows);
        System.arraycopy(other.fields, 0, fields, 0, rows);
        System.arraycopy(other.misquoted, 0, misquoted, 0, rows);
        if (other.kinds != null) {
            withKinds();
            System.arraycopy(other.kinds, 0, kinds, 0, cells);
        }
        marks.clear();
        marks.addAll(other.marks);
        unread.clear();
        unread.putAll(other.unread);
        places = other.places;
        originals = other.originals;
        if (bytes.length < other.bytes.length) {
            bytes = new byte[other.bytes.length];
        }
        takeBytes(other.bytes, cells);
    }

    /** Records stand one behind the other; fields that do not stand as they are read do so behind all of them. */
    private void takeBytes(byte[] source, int cells) {
        boolean apart = originals != null; // where there are no records, fields stand anywhere
        int first = rows == 0 || apart ? 0 : recordFrom[0];
        int end = rows == 0 || apart ? 0 : recordTo[rows - 1];
        int others = source.length;
        int behind = 0;
        for (int i = 0; i < cells; i++) {
            if (to[i] > end) {
                others = Math.min(others, from[i]);
                behind = Math.max(behind, to[i]);
            }
        }
        System.arraycopy(source, first, bytes, first, end - first);
        if (behind > others) {
            System.arraycopy(source, others, bytes, others, behind - others);
        }
    }

    /** A cell as text: a copy that stays when the batch is filled again. */
    public String text(int row, int column) {
        int at = row * width + column;
        return new String(bytes, from[at], to[at] - from[at], StandardCharsets.UTF_8);
    }

    /** Whether a field holds nothing, or nothing but white space (as {@link String#isBlank} has it). */
    public boolean isBlank(int row, int column) {
        int at = row * width + column;
        if (kinds != null && kinds[at] == NOTHING) {
            return true;
        }
        for (int i = from[at]; i < to[at]; i++) {
            if (bytes[i] > ' ') {
                return false;
            }
            if (bytes[i] < 0) { // beyond ASCII
                return text(row, column).isBlank();
            }
        }
        return true;
    }

    /** The record's values as they stand in the file; as many as it has, and no more than there are columns. */
    public List<String> texts(int row) {
        List<String> texts = new ArrayList<>();
        for (int column = 0; column < Math.min(width, fields[row]); column++) {
            texts.add(text(row, column));
        }
        return texts;
    }

    /** The record's original text, without its line end. */
    public String original(int row) {
        if (unread.containsKey(row)) {
            return unread.get(row);
        }
        return originals != null
                ? originals.of(this, row)
                : new String(bytes, recordFrom[row], recordTo[row] - recordFrom[row], StandardCharsets.UTF_8);
    }
}
