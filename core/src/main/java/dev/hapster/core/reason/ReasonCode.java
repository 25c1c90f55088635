package dev.hapster.core.reason;

import java.util.Arrays;
import java.util.Optional;

/**
 * Every reason for which Hapster rejects a row or a file. The code is stable: scripts and rejects files may rely on it.
 *
 * <p>The sentence for a single case is made by {@link Reasons}; here stands what all cases of one code share.
 */
public enum ReasonCode {
    REQUIRED_EMPTY(
            Level.ROW,
            "required-empty",
            "A required column is empty in this row.",
            "Fill the value at its source; or drop `required` from the column if rows without it are welcome."),
    NUMBER_UNREADABLE(
            Level.ROW,
            "number-unreadable",
            "The text cannot be read as a number.",
            "Set `decimal` and `thousands` for the column, clean it with `clean`, or list words that mean "
                    + "nothing in `empty_as`."),
    NUMBER_TOO_LARGE(
            Level.ROW,
            "number-too-large",
            "The number does not fit the declared type.",
            "Widen the column's type in the dataset file, for example decimal(12,4) to decimal(18,4)."),
    NUMBER_TOO_FINE(
            Level.ROW,
            "number-too-fine",
            "The number has more decimals than the column keeps; none is cut off silently.",
            "Give the column's type more decimals, for example decimal(12,2) to decimal(12,4)."),
    BOOLEAN_UNREADABLE(
            Level.ROW,
            "boolean-unreadable",
            "The text is not a word for true or false.",
            "List the source's words in `true_as` and `false_as` of the column's mapping."),
    DATE_UNREADABLE(
            Level.ROW,
            "date-unreadable",
            "The text is not a date or time in the declared pattern, or not a valid one.",
            "Add the source's pattern to `pattern` of the column's mapping; several patterns may stand in a list."),
    TEXT_TOO_LONG(
            Level.ROW,
            "text-too-long",
            "The text is longer than the column's `length`.",
            "Raise `length` in the dataset file, or shorten the value with `clean`."),
    PATTERN_DIFFERS(
            Level.ROW,
            "pattern-differs",
            "The text does not match the column's `matches`.",
            "Clean the value with `clean` (trim, upper, remove, replace), or widen `matches` in the dataset file."),
    VALUE_NOT_ALLOWED(
            Level.ROW,
            "value-not-allowed",
            "The value is not among the column's `one_of`.",
            "Replace the source's word with `clean: [{replace: {…}}]`, or add it to `one_of`."),
    BELOW_MINIMUM(
            Level.ROW,
            "below-minimum",
            "The value is under the column's `min`.",
            "Correct the value at the source, or lower `min` if it is right."),
    ABOVE_MAXIMUM(
            Level.ROW,
            "above-maximum",
            "The value is over the column's `max`.",
            "Correct the value at the source, or raise `max` if it is right."),
    FIELDS_MISSING(
            Level.ROW,
            "fields-missing",
            "The row has fewer fields than the header.",
            "Look at the line: it is often cut off, or a line break stands inside an unquoted value."),
    FIELDS_EXTRA(
            Level.ROW,
            "fields-extra",
            "The row has more fields than the header.",
            "Look at the line: a separator often stands inside a value that is not quoted."),
    QUOTE_MISPLACED(
            Level.ROW,
            "quote-misplaced",
            "Text follows a closing quote within one field.",
            "Double quotes that belong to the text, or declare `quote: none` if the file does not use quotes."),
    CELL_UNREADABLE(
            Level.ROW,
            "cell-unreadable",
            "A cell of the workbook has no value: an error, or a formula that was never calculated.",
            "Open the workbook, correct the cell that is named, and save it."),
    VALUE_REPEATED(
            Level.ROW,
            "value-repeated",
            "A field has several values in one row.",
            "Make a row of each with `read: rows:`, or ask for the file with one value."),
    RECORD_UNREADABLE(
            Level.ROW,
            "record-unreadable",
            "The line is not a JSON value.",
            "Look at the line: it is often cut off. Correct it, or ask for the file again."),
    ROW_EMPTY(
            Level.ROW,
            "row-empty",
            "No column that is mapped has a value in this row.",
            "Look at the line: where it holds values, `separator` or `map` do not suit the file; where it holds none, "
                    + "`read: {empty_rows: skip}` skips such rows."),
    ROW_REPEATED(
            Level.ROW,
            "row-repeated",
            "The row is there already, by the columns that the job compares.",
            "Take the repeated row out at its source; or let the job keep the first or the last with "
                    + "`duplicates: {then: …}`."),
    RULE_FAILED(
            Level.ROW,
            "rule-failed",
            "A condition could not be evaluated for this row.",
            "Say in the condition what holds for empty values, such as `value == null || value > 0.0`."),

    COMPUTE_FAILED(
            Level.ROW,
            "compute-failed",
            "A computed column could not be calculated for this row.",
            "Say in `compute` what holds for such rows, such as `count == 0 ? null : total / count`; or correct the "
                    + "value that it works on."),
    LOOKUP_MISSING(
            Level.ROW,
            "lookup-missing",
            "The value is not among the keys of the table in which the job looks it up.",
            "Add a line to the table; or say with `otherwise` what holds for values that it does not have."),

    FILE_EMPTY(
            Level.FILE,
            "file-empty",
            "The file holds no header and no rows.",
            "Ask the sender for the file again; skip it with `skip` if it is empty on purpose."),
    FILE_SLOW(
            Level.FILE,
            "file-slow",
            "Reading the file takes longer than `slow` allows.",
            "Look at the file: is it what it ought to be, and on a disk that is quick enough? If it is, raise `slow` "
                    + "of the job's `read`."),
    FILE_UNREADABLE(
            Level.FILE,
            "file-unreadable",
            "The operating system denies access to the file.",
            "Give the account that runs the service the right to read it."),
    FILE_GONE(
            Level.FILE,
            "file-gone",
            "The file was there when the folder was listed and is gone now.",
            "Run again once the files have come to rest."),
    FILE_DAMAGED(
            Level.FILE,
            "file-damaged",
            "The file cannot be read to its end: it was cut off, damaged, or built as a trap.",
            "Ask the sender for the file again; it was mostly cut off on its way."),
    FILE_ENCRYPTED(
            Level.FILE,
            "file-encrypted",
            "The file is protected by a password.",
            "Ask the sender for it without a password, or open it and save it without one."),
    FORMAT_DIFFERS(
            Level.FILE,
            "format-differs",
            "The file is of another kind than the job reads, whatever its name says.",
            "Skip such files with `skip`, read them by a job of their own with `read: as:`, or ask for "
                    + "them as declared."),
    NOT_WELL_FORMED(
            Level.FILE,
            "not-well-formed",
            "The file breaks the rules of its format; nothing of it was kept.",
            "Look at the place that is named; it was mostly cut off on its way. Ask the sender for the file again."),
    STRUCTURE_REFUSED(
            Level.FILE,
            "structure-refused",
            "The file is built in a way that would take more than it is worth to read.",
            "Ask the sender for the file in a plainer structure."),
    ROWS_MISSING(
            Level.FILE,
            "rows-missing",
            "The file has nothing where the job looks for its rows.",
            "Correct `read: rows:`, or ask for the file again."),
    TABLE_MISSING(
            Level.FILE,
            "table-missing",
            "The sheet has no formatted table of the declared name.",
            "Correct `read: table:`, name the cells with `range`, or skip the sheet with `skip_sheets`."),
    COLUMN_EXTRA(
            Level.FILE,
            "column-extra",
            "The file has a column that is not mapped to the dataset; its values would be lost.",
            "Map it to a column of the dataset, or skip it with `read: extra_columns: [NAME]`; "
                    + "`extra_columns: ignore` skips all."),
    NOT_TEXT(
            Level.FILE,
            "not-text",
            "The file holds bytes that no text file has.",
            "Open it to see what it is; skip it with `skip`, or ask for it as text."),
    ENCODING_DIFFERS(
            Level.FILE,
            "encoding-differs",
            "The file is not written in the declared encoding.",
            "Set `read: encoding:` to the one the file is written in."),
    SEPARATOR_DIFFERS(
            Level.FILE,
            "separator-differs",
            "The header is separated by another character than the job declares.",
            "Set `read: separator:`, or give such files a job of their own."),
    COLUMN_MISSING(
            Level.FILE,
            "column-missing",
            "The header lacks a column that the job needs.",
            "Name the source's column with `map: … from:`, check `lines_above`, or ask for the file again."),
    HEADER_MISSING(
            Level.FILE,
            "header-missing",
            "No line of the file is the header that the job looks for.",
            "Look at the file; correct `header_contains`, or ask for the file again."),
    COLUMN_AMBIGUOUS(
            Level.FILE,
            "column-ambiguous",
            "Two columns of the header answer to the same name.",
            "Name the one that counts exactly as it stands, with `map: … from:`."),
    TOO_MANY_COLUMNS(
            Level.FILE,
            "too-many-columns",
            "The header has more columns than Hapster reads.",
            "Check separator and quote; a file with this many columns is usually turned on its side."),
    RECORD_TOO_LONG(
            Level.FILE,
            "record-too-long",
            "One row is longer than Hapster reads.",
            "Look at the line: a line break or a closing quote is usually missing."),
    QUOTE_OPEN(
            Level.FILE,
            "quote-open",
            "A quote is opened and never closed, so the rest of the file would be one value.",
            "Close the quote in the line named; or declare `quote: none` if the file does not use quotes."),
    CHANGED_WHILE_READ(
            Level.FILE,
            "changed-while-read",
            "The file changed after it was found or while it was read; nothing of it was kept.",
            "Run again once the file is complete."),
    STILL_WRITTEN(
            Level.FILE,
            "still-written",
            "The file is not complete yet, as far as can be told; a run leaves it until it is.",
            "Run again later. If it is complete, rename it, or change `settle` or `unfinished` of its place."),
    COPY(
            Level.FILE,
            "copy",
            "Another file of the job has the same content, and its rows are in the dataset once.",
            "Skip one of the two with `skip`; or load both with `copies: load`."),
    FACT_MISSING(
            Level.FILE,
            "fact-missing",
            "A value beside the table is not where the job looks for it.",
            "Look at the lines above the table (`hapster peek`); correct `read: {facts: …}`, or skip the file."),
    FACT_DIFFERS(
            Level.FILE,
            "fact-differs",
            "What the file's name, or a value beside its table, says does not suit the column that it feeds.",
            "Correct the name or the value, the pattern under `take` or `map`, or the column's type."),
    LIMIT_REACHED(
            Level.FILE,
            "limit-reached",
            "So many rows of the file were rejected that the job takes none of it.",
            "Look at the reasons of its rows and fix what most have in common; or raise `rejects: file_at`."),
    ROWS_UNUSUAL(
            Level.FILE,
            "rows-unusual",
            "The file has far more or fewer rows than its like, and the job takes no such file.",
            "Look whether the file is whole. If it is right, load it with `run --again FILE`; or say `rejects: "
                    + "{unusual: note}`."),
    OUTSIDE_ROOTS(
            Level.FILE,
            "outside-roots",
            "The file lies outside the folders that the service may use.",
            "Start the service with `--root FOLDER` for the folder, or move the file.");

    /** Whether a code speaks of one row or of a whole file. */
    public enum Level {
        ROW,
        FILE
    }

    private final Level level;
    private final String code;
    private final String cause;
    private final String cure;

    ReasonCode(Level level, String code, String cause, String cure) {
        this.level = level;
        this.code = code;
        this.cause = cause;
        this.cure = cure;
    }

    /** Whether it rejects a row or a whole file. */
    public Level level() {
        return level;
    }

    /** The stable code, lower case with hyphens, such as {@code date-unreadable}. */
    public String code() {
        return code;
    }

    /** What has happened, in one sentence that is true of every case. */
    public String cause() {
        return cause;
    }

    /** What to do about it. */
    public String cure() {
        return cure;
    }

    /** The reason of a code; empty for a code that an older version wrote and this one does not know. */
    public static Optional<ReasonCode> of(String code) {
        return Arrays.stream(values())
                .filter(reason -> reason.code.equals(code))
                .findFirst();
    }
}
