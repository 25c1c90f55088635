package dev.hapster.core.query.write;

import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.CharsetEncoder;
import java.util.List;
import java.util.Optional;
import java.util.function.IntPredicate;

/** Writes rows for other programs. The stream stays open; it belongs to whoever gave it. */
public interface RowWriter extends Closeable {

    /** What rows can be written as. */
    List<String> FORMATS = List.of("csv", "xlsx", "json", "json_lines", "xml", "parquet");

    /**
     * What is in the way of columns and values of a format.
     *
     * @param mostText how many UTF-16 units a text may have
     * @param characters which characters a text may have, as code points; null for all
     * @param groupedBy columns by which rows must be sorted before all else, since those that are the same in them are
     *     written as one
     */
    record Limits(int mostText, IntPredicate characters, List<Integer> groupedBy) {

        /** Nothing is in the way. */
        public static final Limits NONE = new Limits(Integer.MAX_VALUE, null);

        /** For rows that are not grouped. */
        public Limits(int mostText, IntPredicate characters) {
            this(mostText, characters, List.of());
        }

        /** Whether texts need not be looked at. */
        public boolean isNone() {
            return mostText == Integer.MAX_VALUE && characters == null;
        }
    }

    /**
     * What a format can hold.
     *
     * @param columns what the columns are called
     * @throws QueryException where it cannot hold columns of these names
     */
    static Limits limits(String format, RowStyle style, List<String> columns) throws QueryException {
        switch (format) {
            case "xlsx" -> {
                return new Limits(XlsxRows.MOST_TEXT, null);
            }
            case "xml" -> {
                XmlRows.check(columns);
                return new Limits(
                        Integer.MAX_VALUE,
                        XmlRows::isCharacter,
                        Nesting.of(columns).groupedBy());
            }
            case "json", "json_lines" -> {
                return new Limits(Integer.MAX_VALUE, null, Nesting.of(columns).groupedBy());
            }
            case "csv" -> {
                if (style.isUnicode()) {
                    return Limits.NONE;
                }
                CharsetEncoder encoder = style.encoding().newEncoder();
                return new Limits(Integer.MAX_VALUE, c -> {
                    synchronized (encoder) {
                        return c < 0x80 || encoder.canEncode(Character.toString(c));
                    }
                });
            }
            default -> {
                return Limits.NONE;
            }
        }
    }

    /** Said once, before the first row. */
    void begin(List<Field> fields) throws IOException;

    /** @param values in the order of the fields, of the classes that {@link Field} names; null where empty */
    void row(List<Comparable<?>> values) throws IOException;

    /**
     * Rows of the present batch of a reader; the same as each by itself.
     *
     * @param rows their numbers in the batch
     * @param columns the reader's first columns are written, so many
     */
    default void batch(PartReader reader, int[] rows, int count, int columns) throws IOException {
        for (int i = 0; i < count; i++) {
            row(Parts.values(reader, rows[i], columns));
        }
    }

    /** Ends what was written. */
    void finish() throws IOException;

    /** Lets go of what is needed to write, whether it was ended or not. */
    @Override
    default void close() throws IOException {
        // most keep nothing
    }

    /**
     * The usual way.
     *
     * @param format one of {@link #FORMATS}
     * @param title name of the sheet, where there is one
     * @return empty where there is no such format
     */
    static Optional<RowWriter> of(String format, OutputStream out, String title) {
        return of(format, out, title, RowStyle.USUAL);
    }

    /**
     * @param format one of {@link #FORMATS}
     * @param title name of the sheet, where there is one
     * @param style how texts are written; what it says of other formats does not matter
     * @return empty where there is no such format
     */
    static Optional<RowWriter> of(String format, OutputStream out, String title, RowStyle style) {
        return switch (format) {
            case "csv" -> Optional.of(new CsvRows(out, style));
            case "xlsx" -> Optional.of(new XlsxRows(out, title));
            case "json" -> Optional.of(new JsonRows(out, false, style));
            case "json_lines" -> Optional.of(new JsonRows(out, true, style));
            case "xml" -> Optional.of(new XmlRows(out, style));
            case "parquet" -> Optional.of(new ParquetRows(out));
            default -> Optional.empty();
        };
    }

    /**
     * Into one sheet of a workbook that is there; all else in it stays as it is. What it can hold is what the format
     * {@code xlsx} can.
     *
     * @param book the workbook; closed with the writer
     * @param out where it is written anew
     * @param below whether the rows go below the last one of the sheet; otherwise they take the place of all
     * @throws QueryException where it is not a workbook, or cannot be written into
     */
    static RowWriter intoSheet(SeekableByteChannel book, OutputStream out, String sheet, boolean below)
            throws IOException, QueryException {
        return new SheetRows(book, out, sheet, below);
    }
}
