package dev.hapster.core.store.column;

import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.bytes.HeapByteBufferAllocator;
import org.apache.parquet.column.ColumnReader;
import org.apache.parquet.column.Encoding;
import org.apache.parquet.column.page.DictionaryPage;
import org.apache.parquet.column.values.ValuesWriter;
import org.apache.parquet.column.values.delta.DeltaBinaryPackingValuesWriterForInteger;
import org.apache.parquet.column.values.delta.DeltaBinaryPackingValuesWriterForLong;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/** Values of fixed width up to 8 bytes: whole numbers, doubles (as their bits), booleans. */
@SuppressWarnings("deprecation") // bytes are copied, and no streams
final class LongChunk extends ColumnChunk {

    /** Entries beyond which a dictionary does not pay. */
    private static final int MOST_ENTRIES = 1 << 14;

    private static final int FEWEST_ENTRIES = 1 << 6;
    /** Numbers that lie further apart take as little room as they are. */
    private static final long MOST_SPREAD = 1L << 48;
    /** After so many values it is known whether they recur; after an eighth of a short row group as well. */
    private static final int MOST_TRIED = 4096;

    private static final int TRIED_OF_GROUP = 8;

    /** A dictionary pays where values recur: each entry stands for so many values or more. */
    private static final int FOR_EACH_ENTRY = 4;

    private static final int GROWTH = 4;

    /**
     * A larger dictionary does not pay in row groups as long as those of the part, and in a part of many columns it
     * would take the memory that a longer row group needs.
     */
    private final int mostEntries;

    private final int tried;
    /** With more entries after those, values do not recur. */
    private final int mostOfTried;

    private final boolean isBoolean;
    private final boolean isDouble;
    private final int width;
    private long[] held = new long[0];
    /** While a dictionary may pay: the entry of each value. */
    private int[] ids = new int[0];

    private long[] entries;
    private int entryCount;
    /** Entry + 1 by hash, 0 where there is none; a power of two, four times as long as {@link #entries}. */
    private int[] slots;

    /** The greatest number less the smallest one, once they are known; negative where that is no 64-bit number. */
    private long spread;

    private boolean recurs;
    private long lastValue;
    /** Entry of the value entered last; -1 where there is none yet. */
    private int lastEntry = -1;

    LongChunk(PrimitiveType type, int mostRows) {
        super(type);
        int most = FEWEST_ENTRIES;
        while (most < MOST_ENTRIES && most * GROWTH <= mostRows / FOR_EACH_ENTRY) {
            most *= GROWTH;
        }
        mostEntries = most;
        tried = Math.min(MOST_TRIED, mostRows / TRIED_OF_GROUP);
        mostOfTried = tried < MOST_TRIED ? tried * 3 / 4 : tried / 2;
        PrimitiveTypeName name = type.getPrimitiveTypeName();
        isBoolean = name == PrimitiveTypeName.BOOLEAN;
        isDouble = name == PrimitiveTypeName.DOUBLE;
        width = name == PrimitiveTypeName.INT32 ? 4 : 8;
        clear();
    }

    @Override
    void room(int count) {
        if (held.length < values + count) {
            held = Arrays.copyOf(held, Math.max(values + count, held.length * 2));
        }
        if (recurs && ids.length < held.length) {
            ids = Arrays.copyOf(ids, held.length);
        }
    }

    @Override
    void add(Vector vector, int row) {
        add(
                isDouble
                        ? Double.doubleToRawLongBits(((Vector.Doubles) vector).values[row])
                        : ((Vector.Longs) vector).values[row]);
    }

    @Override
    void add(ColumnChunk other, int value) {
        add(((LongChunk) other).held[value]);
    }

    @Override
    void add(ColumnReader column) {
        add(
                switch (type.getPrimitiveTypeName()) {
                    case INT32 -> column.getInteger();
                    case BOOLEAN -> column.getBoolean() ? 1 : 0;
                    case DOUBLE -> Double.doubleToRawLongBits(column.getDouble());
                    default -> column.getLong();
                });
    }

    private void add(long value) {
        held[values] = value;
        if (recurs) {
            if (value != lastValue || lastEntry < 0) {
                lastEntry = enter(value);
                lastValue = value;
            }
            ids[values] = lastEntry;
            if (values == tried && entryCount > mostOfTried) {
                giveUp();
            }
        }
    }

    private int enter(long value) {
        int slot = slot(value);
        while (slots[slot] != 0) {
            if (entries[slots[slot] - 1] == value) {
                return slots[slot] - 1;
            }
            slot = slot + 1 & slots.length - 1;
        }
        if (entryCount == mostEntries) {
            giveUp();
            return 0;
        }
        entries[entryCount++] = value;
        slots[slot] = entryCount;
        if (entryCount == entries.length && entryCount < mostEntries) {
            grow();
        }
        return entryCount - 1;
    }

    private void giveUp() {
        recurs = false;
        entries = new long[0];
        slots = new int[0];
        entryCount = 0;
    }

    private int slot(long value) {
        return (int) ((value * 0x9E3779B97F4A7C15L) >>> 40) & slots.length - 1;
    }

    private void grow() {
        entries = Arrays.copyOf(entries, entries.length * GROWTH);
        slots = new int[slots.length * GROWTH];
        for (int entry = 0; entry < entryCount; entry++) {
            int slot = slot(entries[entry]);
            while (slots[slot] != 0) {
                slot = slot + 1 & slots.length - 1;
            }
            slots[slot] = entry + 1;
        }
    }

    @Override
    public long bytes() {
        return (long) values * (recurs ? 12 : 8) + rows + entries.length * 8L + slots.length * 4L;
    }

    private boolean hasDictionary() {
        return recurs && entryCount <= values / FOR_EACH_ENTRY;
    }

    /** Differences pay where numbers lie close together; they are packed in as many bits as they need. */
    private boolean hasDifferences() {
        return !isBoolean && !isDouble && spread >= 0 && spread < MOST_SPREAD;
    }

    @Override
    Encoding encoding() {
        return hasDictionary()
                ? Encoding.RLE_DICTIONARY
                : hasDifferences() ? Encoding.DELTA_BINARY_PACKED : Encoding.PLAIN;
    }

    @Override
    DictionaryPage dictionary() {
        return hasDictionary()
                ? new DictionaryPage(BytesInput.from(plain(entries, 0, entryCount)), entryCount, Encoding.PLAIN)
                : null;
    }

    @Override
    BytesInput encoded(int from, int to) throws IOException {
        if (isBoolean) {
            byte[] bits = new byte[(to - from + 7) / 8];
            for (int i = from; i < to; i++) {
                bits[(i - from) >> 3] |= (byte) (held[i] << (i - from & 7));
            }
            return BytesInput.from(bits);
        }
        if (hasDictionary()) {
            return ids(ids, from, to, entryCount);
        }
        return hasDifferences() ? differences(from, to) : BytesInput.from(plain(held, from, to));
    }

    private BytesInput differences(int from, int to) throws IOException {
        HeapByteBufferAllocator memory = new HeapByteBufferAllocator();
        int most = Math.max(ENCODER_BYTES, (to - from) * Long.BYTES);
        if (width == Integer.BYTES) {
            try (ValuesWriter writer = new DeltaBinaryPackingValuesWriterForInteger(ENCODER_BYTES, most, memory)) {
                for (int i = from; i < to; i++) {
                    writer.writeInteger((int) held[i]);
                }
                return BytesInput.copy(writer.getBytes());
            }
        }
        try (ValuesWriter writer = new DeltaBinaryPackingValuesWriterForLong(ENCODER_BYTES, most, memory)) {
            for (int i = from; i < to; i++) {
                writer.writeLong(held[i]);
            }
            return BytesInput.copy(writer.getBytes());
        }
    }

    private byte[] plain(long[] numbers, int from, int to) {
        ByteBuffer bytes = ByteBuffer.allocate((to - from) * width).order(ByteOrder.LITTLE_ENDIAN);
        for (int i = from; i < to; i++) {
            if (width == 4) {
                bytes.putInt((int) numbers[i]);
            } else {
                bytes.putLong(numbers[i]);
            }
        }
        return bytes.array();
    }

    @Override
    byte[][] bounds() {
        long[] of = recurs && !isBoolean ? entries : held;
        int count = of == entries ? entryCount : values;
        long least = of[0];
        long greatest = of[0];
        for (int i = 1; i < count; i++) {
            if (compare(of[i], least) < 0) {
                least = of[i];
            } else if (compare(of[i], greatest) > 0) {
                greatest = of[i];
            }
        }
        if (isBoolean) {
            return new byte[][] {{(byte) least}, {(byte) greatest}};
        }
        spread = greatest - least;
        return new byte[][] {plain(new long[] {least}, 0, 1), plain(new long[] {greatest}, 0, 1)};
    }

    private int compare(long a, long b) {
        return isDouble ? Double.compare(Double.longBitsToDouble(a), Double.longBitsToDouble(b)) : Long.compare(a, b);
    }

    @Override
    void clear() {
        recurs = !isBoolean;
        entries = new long[recurs ? FEWEST_ENTRIES : 0];
        slots = new int[entries.length * 4];
        entryCount = 0;
        lastEntry = -1;
        spread = -1;
    }
}
