package dev.hapster.core.query.part;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * Goes through the rows of sources in the order of their lines. Rows of one source may be in several parts. Not
 * thread-safe.
 */
public final class SourceRows implements AutoCloseable {

    /** What is done with a row; whether to go on. */
    public interface EachRow {
        boolean at(PartReader reader, int row) throws IOException;
    }

    /** What is done with a batch of rows that stand as they are wanted; whether to go on. */
    public interface EachBatch {
        boolean at(PartReader reader, int rows) throws IOException;
    }

    private final Parts parts;
    private final List<Field> fields;
    private final PartReaders readers;

    /** @param fields the columns to read; the line is read with them, as the last one */
    public SourceRows(Parts parts, List<Field> fields) {
        this.parts = parts;
        this.fields = new ArrayList<>(fields);
        this.fields.add(Fields.LINE);
        readers = new PartReaders(this.fields);
    }

    /** Goes through the rows of a source that is in a single part. */
    public void batches(int part, EachBatch each) throws IOException {
        PartFile one = parts.all().get(part);
        PartReader reader = readers.at(one.span(), one.masked());
        for (int rows = reader.next(); rows > 0; rows = reader.next()) {
            if (!each.at(reader, rows)) {
                return;
            }
        }
    }

    /** Goes through the rows of a source, of which the parts stand from one to another (exclusive). */
    public void rows(int first, int end, EachRow each) throws IOException {
        List<Cursor> cursors = new ArrayList<>();
        try {
            for (int part = first; part < end; part++) {
                cursors.add(new Cursor(parts.all().get(part).read(fields), fields.size() - 1));
            }
            for (Cursor next = least(cursors); next != null; next = least(cursors)) {
                if (!each.at(next.reader, next.at)) {
                    return;
                }
                next.advance();
            }
        } finally {
            for (Cursor cursor : cursors) {
                cursor.reader.close();
            }
        }
    }

    /** One part while it is read. */
    private static final class Cursor {
        private final PartReader reader;
        private final int lineField;
        private int at = -1;
        private int rows;

        Cursor(PartReader reader, int lineField) throws IOException {
            this.reader = reader;
            this.lineField = lineField;
            boolean there = false;
            try {
                advance();
                there = true;
            } finally {
                if (!there) {
                    reader.close();
                }
            }
        }

        boolean isThere() {
            return at < rows;
        }

        long line() throws IOException {
            return ((Vector.Longs) reader.vector(lineField)).values[at];
        }

        void advance() throws IOException {
            at++;
            if (at >= rows) {
                rows = reader.next();
                at = 0;
            }
        }
    }

    private static Cursor least(List<Cursor> cursors) throws IOException {
        Cursor least = null;
        for (Cursor cursor : cursors) {
            if (cursor.isThere() && (least == null || cursor.line() < least.line())) {
                least = cursor;
            }
        }
        return least;
    }

    @Override
    public void close() throws IOException {
        readers.close();
    }
}
