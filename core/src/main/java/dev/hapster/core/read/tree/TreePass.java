package dev.hapster.core.read.tree;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.parquet.ParquetColumns;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.Closeable;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;

/** The second pass through a nested file, once its columns are known: its rows, batch after batch. */
interface TreePass extends Closeable {

    /** Fills the batch with the next rows; with none where there are no more. */
    void next(RawBatch batch) throws IOException, FileRejectedException;

    /** Elements that should hold rows and hold none. */
    default long withoutRows() {
        return 0;
    }

    /** Element after element. */
    final class OfElements implements TreePass {
        private static final int MOST_ARENA = 4 << 20;

        private final TreeSource source;
        private final TreeRows rows;
        private boolean done;

        OfElements(TreeSource source, TreeShape shape) {
            this.source = source;
            rows = new TreeRows(shape);
        }

        @Override
        public void next(RawBatch batch) throws IOException, FileRejectedException {
            if (rows.waiting() == 0) {
                rows.clear();
                while (!done && rows.waiting() < batch.capacity && rows.bytes() < MOST_ARENA) {
                    done = !source.advance(rows);
                }
            }
            rows.give(batch);
        }

        @Override
        public long withoutRows() {
            return rows.withoutRows();
        }

        @Override
        public void close() throws IOException {
            source.close();
        }
    }

    /** JSON lines, several pieces at a time. */
    final class OfLines implements TreePass {
        /** Fields that the lines of one piece have. */
        private static final int CELLS = 1 << 18;

        private static final int FEWEST = 16;

        private final JsonLinesShared<TreeRows> pieces;
        private Optional<TreeRows> rows = Optional.empty();

        /** @param in closed with this */
        OfLines(InputStream in, Read rules, TreeShape shape) throws IOException, FileRejectedException {
            TreeRows[] rowsOf = new TreeRows[JsonLinesShared.PIECES];
            int lines = Math.max(
                    FEWEST,
                    Math.min(
                            JsonLinesShared.LINES,
                            CELLS / Math.max(1, shape.fields().size())));
            pieces = new JsonLinesShared<>(in, rules, lines, (piece, some) -> {
                if (rowsOf[piece] == null) {
                    rowsOf[piece] = new TreeRows(shape.copy());
                }
                rowsOf[piece].clear();
                JsonLinesShared.give(some, rowsOf[piece]);
                return rowsOf[piece];
            });
        }

        @Override
        public void next(RawBatch batch) throws IOException, FileRejectedException {
            boolean more = true;
            while (more && (rows.isEmpty() || rows.get().waiting() == 0)) {
                rows = pieces.next();
                more = rows.isPresent();
            }
            batch.rows = 0;
            if (rows.isPresent()) {
                rows.get().give(batch);
            }
        }

        @Override
        public void close() throws IOException {
            pieces.close();
        }
    }

    /** Column after column. */
    record OfColumns(ParquetColumns columns) implements TreePass {
        @Override
        public void next(RawBatch batch) throws IOException, FileRejectedException {
            columns.next(batch);
        }

        @Override
        public void close() throws IOException {
            columns.close();
        }
    }
}
