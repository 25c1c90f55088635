package dev.hapster.core.definition.read;

import dev.hapster.core.reason.ReasonCode;

/**
 * What to do about a reason, in words that suit how the files are read: nobody sets {@code lines_above} for JSON. Where
 * the format makes no difference, the reason's own cure holds ({@link ReasonCode#cure}).
 */
public final class Cures {

    private Cures() {}

    /** One sentence or two, in Markdown. */
    public static String of(ReasonCode code, Format format) {
        return switch (code) {
            case COLUMN_MISSING ->
                format.mayHaveHeader()
                        ? code.cure()
                        : "Name the source's column with `map: … from:`, "
                                + (format.isOrdered()
                                        ? "correct its name in `read`"
                                        : "look whether `read: rows:` leads to its rows")
                                + ", or ask for the file again.";
            case ROW_EMPTY ->
                format == Format.DELIMITED
                        ? code.cure()
                        : "Look at the row: where it holds values, `map` does not suit the file"
                                + (format.isOrdered()
                                        ? "; where it holds none, `read: {empty_rows: skip}` skips such rows."
                                        : ".");
            case TOO_MANY_COLUMNS ->
                format == Format.DELIMITED
                        ? code.cure()
                        : "Look at the file; one with this many columns is usually turned on its side.";
            case RECORD_TOO_LONG ->
                format == Format.DELIMITED ? code.cure() : "Look at the line: a line break is usually missing.";
            case FIELDS_MISSING, FIELDS_EXTRA ->
                format == Format.DELIMITED
                        ? code.cure()
                        : format == Format.FIXED
                                ? "Look at the line; correct `columns` in `read`, or say `"
                                        + (code == ReasonCode.FIELDS_MISSING ? "short_rows: fill" : "long_rows: cut")
                                        + "` if such lines are welcome."
                                : "Look at the row that is named; correct it at the source.";
            case FILE_EMPTY ->
                format == Format.WORKBOOK
                        ? "Skip the sheet with `skip_sheets` if it is empty on purpose, or ask for the file again."
                        : code.cure();
            default -> code.cure();
        };
    }
}
