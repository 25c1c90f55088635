package dev.hapster.core.row;

import java.util.Arrays;

/**
 * The values of one column of a batch, in primitive arrays. {@code empty[r]} says that row {@code r} has no value; what
 * stands in the value array there means nothing.
 *
 * <p>Made for reuse: arrays grow and are never shrunk. Not thread-safe.
 */
public abstract sealed class Vector {

    public boolean[] empty;

    private Vector(int capacity) {
        empty = new boolean[capacity];
    }

    /** Makes the vector ready for up to {@code rows} values. */
    public void reset(int rows) {
        if (empty.length < rows) {
            empty = new boolean[rows];
        } else {
            Arrays.fill(empty, 0, rows, false);
        }
    }

    /** Keeps some of the rows, which move up; {@code rows} are their indexes, ascending. */
    public void keep(int[] rows, int count) {
        for (int i = 0; i < count; i++) {
            empty[i] = empty[rows[i]];
        }
    }

    /** Whole numbers: integer, unscaled decimal of up to 18 digits, boolean (0 or 1), days, microseconds. */
    public static final class Longs extends Vector {
        public long[] values;

        public Longs(int capacity) {
            super(capacity);
            values = new long[capacity];
        }

        @Override
        public void keep(int[] rows, int count) {
            super.keep(rows, count);
            for (int i = 0; i < count; i++) {
                values[i] = values[rows[i]];
            }
        }

        @Override
        public void reset(int rows) {
            super.reset(rows);
            if (values.length < rows) {
                values = new long[rows];
            }
        }
    }

    /** Binary floating point numbers (IEEE 754 double). */
    public static final class Doubles extends Vector {
        public double[] values;

        public Doubles(int capacity) {
            super(capacity);
            values = new double[capacity];
        }

        @Override
        public void keep(int[] rows, int count) {
            super.keep(rows, count);
            for (int i = 0; i < count; i++) {
                values[i] = values[rows[i]];
            }
        }

        @Override
        public void reset(int rows) {
            super.reset(rows);
            if (values.length < rows) {
                values = new double[rows];
            }
        }
    }

    /** Text in UTF-8, or decimals of more than 18 digits as 16 bytes of big-endian two's complement. */
    public static final class Bytes extends Vector {
        public byte[] data;
        /** Value {@code r} is {@code data[from[r] .. from[r] + length[r])}. */
        public int[] from;

        public int[] length;
        private int used;
        private byte[] own;

        public Bytes(int capacity) {
            super(capacity);
            own = new byte[capacity * 16];
            data = own;
            from = new int[capacity];
            length = new int[capacity];
        }

        @Override
        public void keep(int[] rows, int count) {
            super.keep(rows, count);
            for (int i = 0; i < count; i++) {
                from[i] = from[rows[i]];
                length[i] = length[rows[i]];
            }
        }

        @Override
        public void reset(int rows) {
            super.reset(rows);
            used = 0;
            data = own;
            if (from.length < rows) {
                from = new int[rows];
                length = new int[rows];
            }
        }

        /**
         * From now on to the next reset, values are slices of {@code source} itself and none is copied. To be said
         * before the first value.
         */
        public void refer(byte[] source) {
            data = source;
        }

        public void set(int row, byte[] source, int offset, int count) {
            if (data != own) {
                if (source != data) {
                    throw new IllegalStateException("A vector that refers to an array holds nothing else");
                }
                from[row] = offset;
                length[row] = count;
                return;
            }
            if (data.length - used < count) {
                own = Arrays.copyOf(data, Math.max(data.length * 2, used + count));
                data = own;
            }
            if (count <= Words.WHOLE && offset + Words.WHOLE <= source.length && used + Words.WHOLE <= data.length) {
                Words.copy(source, offset, data, used);
            } else {
                System.arraycopy(source, offset, data, used, count);
            }
            from[row] = used;
            length[row] = count;
            used += count;
        }

        /** Lets row {@code row} show the same bytes as row {@code other}. */
        public void same(int row, int other) {
            from[row] = from[other];
            length[row] = length[other];
        }
    }
}
