package dev.hapster.core.draft.reading;

import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * A row as it stands in the file, before it is known what it is.
 *
 * @param line where it begins
 * @param fields how many fields it has
 * @param cells as many of them as there is room for
 * @param kinds what each cell is, as in {@link RawBatch}
 * @param misquoted whether text follows a closing quote
 */
record Row(long line, int fields, List<String> cells, byte[] kinds, boolean misquoted) {

    /** The first rows of a reader. */
    static List<Row> first(RecordReader reader, int most) throws IOException, FileRejectedException {
        Header header = reader.header();
        List<Row> rows = new ArrayList<>();
        RawBatch batch = RecordReader.batchFor(header);
        while (rows.size() < most && reader.next(batch)) {
            for (int row = 0; row < batch.rows && rows.size() < most; row++) {
                List<String> cells = batch.texts(row);
                byte[] kinds = new byte[cells.size()];
                if (batch.kinds != null) {
                    System.arraycopy(batch.kinds, row * batch.width, kinds, 0, kinds.length);
                }
                rows.add(new Row(batch.line[row], batch.fields[row], cells, kinds, batch.misquoted[row]));
            }
        }
        return rows;
    }

    /** The same with empty cells at its end. */
    Row filled(int width) {
        List<String> more = new ArrayList<>(cells);
        while (more.size() < width) {
            more.add("");
        }
        return new Row(line, width, more, java.util.Arrays.copyOf(kinds, width), misquoted);
    }

    boolean isBlank() {
        return cells.stream().allMatch(String::isBlank);
    }

    int filled() {
        return (int) cells.stream().filter(cell -> !cell.isBlank()).count();
    }
}
