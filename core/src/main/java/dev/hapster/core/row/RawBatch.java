package dev.hapster.core.row;

import java.nio.charset.StandardCharsets;

/**
 * Some records as they were read: slices of one byte array (UTF-8), never one object a cell.
 *
 * <p>Field {@code c} of record {@code r} is {@code bytes[from[r * width + c] .. to[r * width + c])}. Owned and reused by
 * the reader that made it: valid until the next batch is asked for. Not thread-safe.
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

    public String text(int row, int column) {
        int at = row * width + column;
        return new String(bytes, from[at], to[at] - from[at], StandardCharsets.UTF_8);
    }

    /** The record's original text, without its line end. */
    public String original(int row) {
        return new String(bytes, recordFrom[row], recordTo[row] - recordFrom[row], StandardCharsets.UTF_8);
    }
}
