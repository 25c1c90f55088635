package dev.hapster.core.query.part;

import dev.hapster.core.row.Vector;
import dev.hapster.core.store.DamagedPartException;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import org.apache.parquet.bytes.BytesInput;
import org.apache.parquet.column.ColumnDescriptor;
import org.apache.parquet.column.Encoding;
import org.apache.parquet.column.page.DataPage;
import org.apache.parquet.column.page.DataPageV1;
import org.apache.parquet.column.page.DictionaryPage;
import org.apache.parquet.column.page.PageReader;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/**
 * One column of a part, a row group at a time. A page is unpacked as a whole once one of its rows is asked for, and
 * rows are asked for in ascending order. Reads what {@link dev.hapster.core.store.PartWriter} writes: pages of version
 * 1, PLAIN, by dictionary, or whole numbers by their differences, without nesting. Not thread-safe.
 */
@SuppressWarnings("deprecation") // pages are arrays, and no streams
final class PageColumn {

    private static final int WIDE = 16;
    /** As many more than asked for may be unpacked. */
    private static final int SPARE = 8;

    private final Path part;
    private final String name;
    private final PrimitiveTypeName type;
    private final boolean optional;

    private PageReader pages;
    /** The dictionary's entries; null where the group has none. */
    private Vector entries;

    private int entryCount;

    /** First row of the present page in its group, and the one behind its last. */
    private long first;

    private long end;
    private boolean coded;
    private boolean[] empty = new boolean[0];
    private boolean hasEmpty;
    private int[] ids = new int[0];
    private long[] longs = new long[0];
    private double[] doubles = new double[0];
    private byte[] bytes = new byte[0];
    private int[] from = new int[0];
    private int[] length = new int[0];

    PageColumn(Path part, ColumnDescriptor column) {
        this.part = part;
        name = column.getPath()[0];
        type = column.getPrimitiveType().getPrimitiveTypeName();
        optional = column.getMaxDefinitionLevel() > 0;
    }

    private interface Reading {
        void read();
    }

    /** Whatever is wrong with the bytes of a part is told as that. */
    private void guarded(Reading reading) throws DamagedPartException {
        try {
            reading.read();
        } catch (RuntimeException wrong) {
            throw new DamagedPartException(
                    part, "cannot be read as Parquet in column " + name + ": " + wrong.getMessage());
        }
    }

    /** Goes on with another row group. */
    void begin(PageReader next) throws DamagedPartException {
        pages = next;
        entries = null;
        entryCount = 0;
        first = 0;
        end = 0;
        guarded(() -> {
            DictionaryPage page = pages.readDictionaryPage();
            if (page != null) {
                dictionary(page);
            }
        });
    }

    /** The entries of the dictionary, to be asked by the numbers of {@link #codes}; null where the group has none. */
    Vector entries() {
        return entries;
    }

    int entryCount() {
        return entryCount;
    }

    private void dictionary(DictionaryPage page) {
        ByteBuffer content = content(page.getBytes());
        entryCount = page.getDictionarySize();
        coded = false;
        plain(content, entryCount);
        switch (type) {
            case INT32, INT64, BOOLEAN -> {
                Vector.Longs all = new Vector.Longs(entryCount);
                System.arraycopy(longs, 0, all.values, 0, entryCount);
                entries = all;
            }
            case DOUBLE -> {
                Vector.Doubles all = new Vector.Doubles(entryCount);
                System.arraycopy(doubles, 0, all.values, 0, entryCount);
                entries = all;
            }
            default -> {
                Vector.Bytes all = new Vector.Bytes(0);
                all.reset(entryCount);
                all.refer(bytes);
                System.arraycopy(from, 0, all.from, 0, entryCount);
                System.arraycopy(length, 0, all.length, 0, entryCount);
                entries = all;
            }
        }
    }

    private static ByteBuffer content(BytesInput input) {
        try {
            ByteBuffer buffer = input.toByteBuffer();
            return (buffer.hasArray() ? buffer.slice() : ByteBuffer.wrap(input.toByteArray()))
                    .order(ByteOrder.LITTLE_ENDIAN);
        } catch (IOException wrong) {
            throw new UncheckedIOException(wrong);
        }
    }

    /** Makes the page ready in which a row lies. */
    private void reach(long row) throws DamagedPartException {
        if (row < end) {
            return;
        }
        guarded(() -> {
            while (row >= end) {
                DataPage page = pages.readPage();
                if (!(page instanceof DataPageV1 ours)) {
                    throw new IllegalArgumentException(
                            page == null ? "it has no row " + row : "a page of a version that no part of ours has");
                }
                first = page.getFirstRowIndex().orElse(end);
                end = first + page.getValueCount();
                if (row < end) {
                    unpack(ours);
                }
            }
        });
    }

    private void unpack(DataPageV1 page) {
        int rows = page.getValueCount();
        ByteBuffer content = content(page.getBytes());
        int there = rows;
        hasEmpty = false;
        if (optional) {
            int levels = content.getInt();
            there = levels(content, levels, rows);
            content.position(content.position() + levels);
        }
        Encoding encoding = page.getValueEncoding();
        coded = encoding == Encoding.RLE_DICTIONARY;
        if (coded) {
            ids(content, there);
        } else if (encoding == Encoding.PLAIN) {
            plain(content, there);
        } else if (encoding == Encoding.DELTA_BINARY_PACKED) {
            differences(content, there);
        } else {
            throw new IllegalArgumentException("values encoded as " + encoding);
        }
        if (hasEmpty) {
            spread(rows, there);
        }
    }

    /** Reads which rows are empty; returns how many are not. */
    private int levels(ByteBuffer content, int size, int rows) {
        if (ids.length < rows + SPARE) {
            ids = new int[rows + SPARE];
        }
        int start = content.arrayOffset() + content.position();
        Runs.read(content.array(), start, start + size, 1, ids, rows);
        int there = 0;
        for (int row = 0; row < rows; row++) {
            there += ids[row];
        }
        hasEmpty = there < rows;
        if (hasEmpty) {
            if (empty.length < rows) {
                empty = new boolean[rows];
            }
            for (int row = 0; row < rows; row++) {
                empty[row] = ids[row] == 0;
            }
        }
        return there;
    }

    private void ids(ByteBuffer content, int count) {
        if (ids.length < count + SPARE) {
            ids = new int[count + SPARE];
        }
        if (count == 0) {
            return;
        }
        int width = content.get();
        int start = content.arrayOffset() + content.position();
        Runs.read(content.array(), start, content.arrayOffset() + content.limit(), width, ids, count);
        int entry = 0;
        for (int i = 0; i < count; i++) {
            entry = Math.max(entry, ids[i]);
            if (ids[i] < 0) {
                throw new IllegalArgumentException("an entry that the dictionary does not have");
            }
        }
        if (entry >= entryCount) {
            throw new IllegalArgumentException("an entry that the dictionary does not have");
        }
    }

    private void plain(ByteBuffer content, int count) {
        switch (type) {
            case INT64 -> content.asLongBuffer().get(longs(count), 0, count);
            case INT32 -> {
                long[] to = longs(count);
                int start = content.position();
                for (int i = 0; i < count; i++) {
                    to[i] = content.getInt(start + Integer.BYTES * i);
                }
            }
            case BOOLEAN -> {
                long[] to = longs(count);
                int start = content.position();
                for (int i = 0; i < count; i++) {
                    to[i] = content.get(start + (i >> 3)) >> (i & 7) & 1;
                }
            }
            case DOUBLE -> {
                if (doubles.length < count) {
                    doubles = new double[count];
                }
                content.asDoubleBuffer().get(doubles, 0, count);
            }
            case BINARY, FIXED_LEN_BYTE_ARRAY -> slices(content, count);
            default -> throw new IllegalArgumentException("values of the type " + type);
        }
    }

    private void differences(ByteBuffer content, int count) {
        long[] to = longs(count);
        if (count == 0) {
            return;
        }
        int start = content.arrayOffset() + content.position();
        Differences.read(
                content.array(),
                start,
                content.arrayOffset() + content.limit(),
                type == PrimitiveTypeName.INT32,
                to,
                count);
    }

    private long[] longs(int count) {
        if (longs.length < count) {
            longs = new long[count];
        }
        return longs;
    }

    private void slices(ByteBuffer content, int count) {
        if (from.length < count) {
            from = new int[count];
            length = new int[count];
        }
        bytes = content.array();
        int at = content.position();
        for (int i = 0; i < count; i++) {
            int size = WIDE;
            if (type == PrimitiveTypeName.BINARY) {
                size = content.getInt(at);
                at += Integer.BYTES;
            }
            if (size < 0 || at + size > content.limit()) {
                throw new IllegalArgumentException("a value that goes beyond its page");
            }
            from[i] = content.arrayOffset() + at;
            length[i] = size;
            at += size;
        }
    }

    /** Values stand one behind the other; moves each to its row. */
    private void spread(int rows, int there) {
        int value = there - 1;
        if (coded) {
            for (int row = rows - 1; row >= 0; row--) {
                ids[row] = empty[row] ? -1 : ids[value--];
            }
            return;
        }
        switch (type) {
            case INT32, INT64, BOOLEAN -> {
                long[] to = java.util.Arrays.copyOf(longs, Math.max(rows, longs.length));
                for (int row = rows - 1; row >= 0; row--) {
                    if (!empty[row]) {
                        to[row] = longs[value--];
                    }
                }
                longs = to;
            }
            case DOUBLE -> {
                double[] to = java.util.Arrays.copyOf(doubles, Math.max(rows, doubles.length));
                for (int row = rows - 1; row >= 0; row--) {
                    if (!empty[row]) {
                        to[row] = doubles[value--];
                    }
                }
                doubles = to;
            }
            default -> {
                int[] begins = java.util.Arrays.copyOf(from, Math.max(rows, from.length));
                int[] lengths = java.util.Arrays.copyOf(length, begins.length);
                for (int row = rows - 1; row >= 0; row--) {
                    if (!empty[row]) {
                        begins[row] = from[value];
                        lengths[row] = length[value--];
                    }
                }
                from = begins;
                length = lengths;
            }
        }
    }

    /**
     * Gives the numbers of the entries of rows, -1 where a row is empty. To be called of groups that are coded only.
     *
     * @param row the first one in the group
     */
    void codes(long row, int count, int[] to) throws DamagedPartException {
        for (int done = 0; done < count; ) {
            reach(row + done);
            if (!coded) {
                throw new DamagedPartException(part, "has values beside the dictionary of column " + name);
            }
            int at = (int) (row + done - first);
            int some = (int) Math.min(count - done, end - row - done);
            System.arraycopy(ids, at, to, done, some);
            done += some;
        }
    }

    /**
     * Gives the values of rows. Texts are those of the page itself, and not copied, where one page holds all.
     *
     * @param row the first one in the group
     * @param to a vector that was reset
     */
    void fill(long row, int count, Vector to) throws DamagedPartException {
        for (int done = 0; done < count; ) {
            reach(row + done);
            int at = (int) (row + done - first);
            int some = (int) Math.min(count - done, end - row - done);
            if (coded) {
                entries(at, some, to, done);
            } else {
                if (hasEmpty) {
                    System.arraycopy(empty, at, to.empty, done, some);
                }
                if (to instanceof Vector.Longs target) {
                    System.arraycopy(longs, at, target.values, done, some);
                } else if (to instanceof Vector.Doubles target) {
                    System.arraycopy(doubles, at, target.values, done, some);
                } else {
                    texts(at, some, (Vector.Bytes) to, done, some == count);
                }
            }
            done += some;
        }
    }

    private void texts(int at, int count, Vector.Bytes to, int offset, boolean all) {
        if (all) {
            to.refer(bytes);
            System.arraycopy(from, at, to.from, offset, count);
            System.arraycopy(length, at, to.length, offset, count);
            return;
        }
        for (int i = 0; i < count; i++) {
            if (!to.empty[offset + i]) {
                to.set(offset + i, bytes, from[at + i], length[at + i]);
            }
        }
    }

    private void entries(int at, int count, Vector to, int offset) {
        if (to instanceof Vector.Longs target) {
            long[] all = ((Vector.Longs) entries).values;
            for (int i = 0; i < count; i++) {
                int id = ids[at + i];
                target.empty[offset + i] = id < 0;
                target.values[offset + i] = id < 0 ? 0 : all[id];
            }
        } else if (to instanceof Vector.Doubles target) {
            double[] all = ((Vector.Doubles) entries).values;
            for (int i = 0; i < count; i++) {
                int id = ids[at + i];
                target.empty[offset + i] = id < 0;
                target.values[offset + i] = id < 0 ? 0 : all[id];
            }
        } else {
            Vector.Bytes target = (Vector.Bytes) to;
            Vector.Bytes all = (Vector.Bytes) entries;
            target.refer(all.data);
            for (int i = 0; i < count; i++) {
                int id = ids[at + i];
                target.empty[offset + i] = id < 0;
                if (id >= 0) {
                    target.from[offset + i] = all.from[id];
                    target.length[offset + i] = all.length[id];
                }
            }
        }
    }
}
