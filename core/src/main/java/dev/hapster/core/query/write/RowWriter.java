package dev.hapster.core.query.write;

import dev.hapster.core.query.value.Field;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.util.List;
import java.util.Optional;

/** Writes rows for other programs. The stream stays open; it belongs to whoever gave it. */
public interface RowWriter extends Closeable {

    /** What rows can be written as. */
    List<String> FORMATS = List.of("csv", "xlsx", "json_lines", "parquet");

    /** How many UTF-16 units a text may have in a format. */
    static int mostText(String format) {
        return format.equals("xlsx") ? XlsxRows.MOST_TEXT : Integer.MAX_VALUE;
    }

    /** Said once, before the first row. */
    void begin(List<Field> fields) throws IOException;

    /** @param values in the order of the fields, of the classes that {@link Field} names; null where empty */
    void row(List<Comparable<?>> values) throws IOException;

    /** Ends what was written. */
    void finish() throws IOException;

    /** Lets go of what is needed to write, whether it was ended or not. */
    @Override
    default void close() throws IOException {
        // most keep nothing
    }

    /**
     * @param format one of {@link #FORMATS}
     * @param title name of the sheet, where there is one
     * @return empty where there is no such format
     */
    static Optional<RowWriter> of(String format, OutputStream out, String title) {
        return switch (format) {
            case "csv" -> Optional.of(new CsvRows(out));
            case "xlsx" -> Optional.of(new XlsxRows(out, title));
            case "json_lines" -> Optional.of(new JsonRows(out));
            case "parquet" -> Optional.of(new ParquetRows(out));
            default -> Optional.empty();
        };
    }
}
