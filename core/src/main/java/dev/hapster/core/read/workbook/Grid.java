package dev.hapster.core.read.workbook;

import dev.hapster.core.definition.read.Range;
import dev.hapster.core.reason.FileRejectedException;
import java.io.Closeable;
import java.io.IOException;
import java.util.List;
import java.util.Optional;

/** The cells of one sheet, row by row from the top. Used by one thread. */
public interface Grid extends Closeable {

    /** Rows and columns that a sheet can have, by the formats that there are. */
    int MOST_COLUMNS = 16_384;

    /** Puts the next row that has cells into {@code row}; false behind the last. */
    boolean next(GridRow row) throws IOException, FileRejectedException;

    /** The areas whose cells are merged into one, by their first row. Reads the sheet for that, where it must. */
    List<Range> merged() throws IOException, FileRejectedException;

    /**
     * A formatted table of the sheet.
     *
     * @param header whether its first row names the columns
     */
    record Table(String name, Range range, boolean header) {}

    /** The formatted tables of the sheet; empty where the format knows none. */
    Optional<List<Table>> tables() throws IOException, FileRejectedException;
}
