package dev.hapster.core.store.column;

import dev.hapster.core.row.Vector;
import dev.hapster.core.row.Words;
import java.io.IOException;
import java.util.Arrays;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.Encoding;
import org.apache.parquet.column.page.DictionaryPage;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/** Texts, and decimals of 16 bytes. Begins with a dictionary, and gives it up where values do not recur. */
final class BytesChunk extends ColumnChunk {

    private static final int MOST_ENTRIES = 1 << 15;
    private static final int MOST_DICTIONARY_BYTES = 1 << 20;
    private static final int FEWEST_ENTRIES = 1 << 6;
    /** Where a row group has fewer rows, since there are many columns, an entry must stand for so many of them. */
    private static final int FEW_ROWS = 1 << 14;

    private static final int ROWS_FOR_ENTRY = 1 << 5;
    /** After so many values it is known whether they recur. */
    private static final int TRIED = 4096;
    /** Bounds longer than this are of little use to anybody; they are left out. */
    private static final int LONGEST_BOUND = 256;

    private static final int FEWEST_BYTES = 1 << 10;
    private static final int MOST_KEPT = 1 << 16;
    private static final int KEPT_FOR_ROW = 8;

    /**
     * Bytes of room that stays for the next row group: of many columns each keeps little. What is kept says nothing of
     * how much is held.
     */
    private final int mostKept;
    /** Entries take up to 110 bytes of the memory that rows of a row group need. */
    private final int mostEntries;
    /** Whether each value is preceded by its length (4 bytes, little-endian); so for texts. */
    private final boolean prefixed;
    /** The dictionary's entries, or all values, as PLAIN. */
    private byte[] plain = new byte[FEWEST_BYTES];

    private int used;
    /** Where each entry, or each value, begins in {@link #plain}; its bytes stand behind its length. */
    private int[] starts = new int[FEWEST_ENTRIES];

    private boolean recurs = true;
    private int[] ids = new int[0];
    private int[] lengths = new int[FEWEST_ENTRIES];
    private long[] firsts = new long[FEWEST_ENTRIES];
    private long[] lasts = new long[FEWEST_ENTRIES];
    /** The value entered last, so that a constant is recognised at once. Holds within one batch. */
    private int lastFrom = -1;

    private int lastLength;
    private int lastEntry;
    private int entryCount;
    /**
     * Entry + 1 by hash, 0 where there is none; a power of two, kept at most a quarter full, so that columns with few
     * values stay small.
     */
    private int[] slots = new int[FEWEST_ENTRIES * 4];

    BytesChunk(PrimitiveType type, int mostRows) {
        super(type);
        mostEntries = mostRows < FEW_ROWS
                ? Math.max(FEWEST_ENTRIES, Integer.highestOneBit(mostRows / ROWS_FOR_ENTRY))
                : MOST_ENTRIES;
        mostKept = (int) Math.min(MOST_KEPT, Math.max(FEWEST_BYTES, (long) mostRows * KEPT_FOR_ROW));
        prefixed = type.getPrimitiveTypeName() == PrimitiveTypeName.BINARY;
    }

    @Override
    void room(int count) {
        lastFrom = -1;
        if (recurs && ids.length < values + count) {
            ids = Arrays.copyOf(ids, Math.max(values + count, ids.length * 2));
        }
        if (!recurs && starts.length < values + count) {
            starts = Arrays.copyOf(starts, Math.max(values + count, starts.length * 2));
        }
    }

    @Override
    void add(Vector vector, int row) {
        Vector.Bytes bytes = (Vector.Bytes) vector;
        add(bytes.data, bytes.from[row], bytes.length[row]);
    }

    @Override
    void add(ColumnChunk other, int value) {
        BytesChunk bytes = (BytesChunk) other;
        int at = bytes.recurs ? bytes.ids[value] : value;
        int from = bytes.starts[at] + (prefixed ? 4 : 0);
        add(bytes.plain, from, bytes.end(at, bytes.recurs ? bytes.entryCount : bytes.values) - from);
    }

    @Override
    void add(ColumnReader column) {
        byte[] value = column.getBinary().getBytesUnsafe();
        lastFrom = -1; // each value is an array of its own
        add(value, 0, value.length);
    }

    private void add(byte[] data, int from, int length) {
        if (recurs) {
            int entry = from == lastFrom && length == lastLength ? lastEntry : enter(data, from, length);
            if (entry >= 0) {
                ids[values] = entry;
                lastFrom = from;
                lastLength = length;
                lastEntry = entry;
                if (values != TRIED || entryCount < TRIED / 2) {
                    return;
                }
                giveUp(values + 1);
                return;
            }
            giveUp(values);
        }
        if (starts.length <= values) {
            starts = Arrays.copyOf(starts, Math.max(values + 1, starts.length * 2));
        }
        starts[values] = used;
        put(data, from, length);
    }

    /** The entry of a value; -1 where the dictionary is full. */
    private int enter(byte[] data, int from, int length) {
        long first = Words.first(data, from, length);
        long last = Words.last(data, from, length);
        int slot = Words.hash(data, from, length, first, last) & slots.length - 1;
        while (slots[slot] != 0) {
            int entry = slots[slot] - 1;
            if (firsts[entry] == first
                    && lasts[entry] == last
                    && lengths[entry] == length
                    && (length <= Words.WHOLE || same(entry, data, from, length))) {
                return entry;
            }
            slot = slot + 1 & slots.length - 1;
        }
        if (entryCount == mostEntries || used + length > MOST_DICTIONARY_BYTES) {
            return -1;
        }
        if (entryCount == starts.length) {
            starts = Arrays.copyOf(starts, entryCount * 2);
        }
        if (entryCount == lengths.length) {
            lengths = Arrays.copyOf(lengths, entryCount * 2);
            firsts = Arrays.copyOf(firsts, entryCount * 2);
            lasts = Arrays.copyOf(lasts, entryCount * 2);
        }
        starts[entryCount] = used;
        lengths[entryCount] = length;
        firsts[entryCount] = first;
        lasts[entryCount] = last;
        put(data, from, length);
        slots[slot] = ++entryCount;
        if (entryCount * 4 > slots.length) {
            grow();
        }
        return entryCount - 1;
    }

    private void grow() {
        slots = new int[slots.length * 4];
        for (int entry = 0; entry < entryCount; entry++) {
            int from = starts[entry] + (prefixed ? 4 : 0);
            int slot = Words.hash(plain, from, lengths[entry], firsts[entry], lasts[entry]) & slots.length - 1;
            while (slots[slot] != 0) {
                slot = slot + 1 & slots.length - 1;
            }
            slots[slot] = entry + 1;
        }
    }

    private boolean same(int entry, byte[] data, int from, int length) {
        int start = starts[entry] + (prefixed ? 4 : 0);
        return Arrays.equals(plain, start, start + length, data, from, from + length);
    }

    private void put(byte[] data, int from, int length) {
        int needed = used + length + 4;
        if (plain.length < needed) {
            plain = Arrays.copyOf(plain, Math.max(needed, plain.length * 2));
        }
        if (prefixed) {
            plain[used++] = (byte) length;
            plain[used++] = (byte) (length >>> 8);
            plain[used++] = (byte) (length >>> 16);
            plain[used++] = (byte) (length >>> 24);
        }
        System.arraycopy(data, from, plain, used, length);
        used += length;
    }

    /** Puts the values themselves in place of their entries; {@code count} of them are entered. */
    private void giveUp(int count) {
        byte[] dictionary = plain;
        int[] entries = Arrays.copyOf(starts, entryCount + 1);
        entries[entryCount] = used;
        plain = new byte[Math.max(FEWEST_BYTES, used * 2)];
        used = 0;
        recurs = false;
        starts = new int[Math.max(ids.length, count + 1)];
        for (int i = 0; i < count; i++) {
            starts[i] = used;
            int from = entries[ids[i]] + (prefixed ? 4 : 0);
            put(dictionary, from, entries[ids[i] + 1] - from);
        }
        forgetEntries();
    }

    private void forgetEntries() {
        slots = new int[FEWEST_ENTRIES * 4];
        lengths = new int[FEWEST_ENTRIES];
        firsts = new long[FEWEST_ENTRIES];
        lasts = new long[FEWEST_ENTRIES];
        entryCount = 0;
    }

    @Override
    public long bytes() {
        return used + used / 2 + 4L * values + rows + slots.length * 4L + lengths.length * 24L;
    }

    /** A column without any value has none: readers look for a dictionary that is promised. */
    private boolean hasDictionary() {
        return recurs && entryCount > 0;
    }

    @Override
    Encoding encoding() {
        return hasDictionary() ? Encoding.RLE_DICTIONARY : Encoding.PLAIN;
    }

    @Override
    DictionaryPage dictionary() {
        return hasDictionary()
                ? new DictionaryPage(BytesInput.from(Arrays.copyOf(plain, used)), entryCount, Encoding.PLAIN)
                : null;
    }

    @Override
    BytesInput encoded(int from, int to) throws IOException {
        if (hasDictionary()) {
            return ids(ids, from, to, entryCount);
        }
        int start = from < values ? starts[from] : used;
        int end = to < values ? starts[to] : used;
        return BytesInput.from(plain, start, end - start);
    }

    @Override
    byte[][] bounds() {
        int count = recurs ? entryCount : values;
        int least = 0;
        int greatest = 0;
        for (int i = 1; i < count; i++) {
            if (compare(i, least, count) < 0) {
                least = i;
            } else if (compare(i, greatest, count) > 0) {
                greatest = i;
            }
        }
        byte[][] bounds = {value(least, count), value(greatest, count)};
        return bounds[0].length > LONGEST_BOUND || bounds[1].length > LONGEST_BOUND ? null : bounds;
    }

    private int compare(int a, int b, int count) {
        int fromA = starts[a] + (prefixed ? 4 : 0);
        int fromB = starts[b] + (prefixed ? 4 : 0);
        return prefixed
                ? Arrays.compareUnsigned(plain, fromA, end(a, count), plain, fromB, end(b, count))
                : signed(fromA, fromB);
    }

    /** Compares two numbers of 16 bytes, big-endian two's complement. */
    private int signed(int a, int b) {
        int first = Byte.compare(plain[a], plain[b]);
        return first != 0 ? first : Arrays.compareUnsigned(plain, a + 1, a + 16, plain, b + 1, b + 16);
    }

    private int end(int index, int count) {
        return index + 1 < count ? starts[index + 1] : used;
    }

    private byte[] value(int index, int count) {
        return Arrays.copyOfRange(plain, starts[index] + (prefixed ? 4 : 0), end(index, count));
    }

    @Override
    void clear() {
        forgetEntries();
        plain = plain.length > mostKept ? new byte[FEWEST_BYTES] : plain;
        starts = recurs ? new int[FEWEST_ENTRIES] : starts;
        used = 0;
        recurs = true;
    }
}
