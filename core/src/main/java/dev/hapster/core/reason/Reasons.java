package dev.hapster.core.reason;

import static dev.hapster.core.reason.ReasonCode.*;

import dev.hapster.core.remote.RemoteFault;
import java.io.IOException;
import java.nio.file.FileSystemException;
import java.util.Collection;
import java.util.List;

/**
 * All sentences of rejects, in one place. Values are shown in quotes, shortened, with invisible characters made
 * visible.
 */
public final class Reasons {

    private static final int SHOWN = 60;
    private static final int MOST_NAMED = 4;

    private Reasons() {}

    // rows

    public static Reason requiredEmpty(String column) {
        return new Reason(REQUIRED_EMPTY, column + " is empty and required");
    }

    public static Reason numberUnreadable(String value, String hint) {
        return new Reason(NUMBER_UNREADABLE, quote(value) + " is not a number" + (hint.isEmpty() ? "" : "; " + hint));
    }

    public static Reason numberTooLarge(String value, String type) {
        return new Reason(NUMBER_TOO_LARGE, quote(value) + " does not fit " + type);
    }

    public static Reason numberTooFine(String value, String type, int scale) {
        if (type.equals("double")) {
            return new Reason(NUMBER_TOO_FINE, quote(value) + " is nearer to zero than any double can be");
        }
        return new Reason(
                NUMBER_TOO_FINE, quote(value) + " has more than the " + scale + " decimals that " + type + " keeps");
    }

    public static Reason booleanUnreadable(String value) {
        return new Reason(BOOLEAN_UNREADABLE, quote(value) + " is not a word for true or false");
    }

    /**
     * @param noun what it should be: {@code date} or {@code time of day}
     * @param flaw why it is none, such as {@code February has no day 30}; empty where that is not known
     */
    public static Reason dateInvalid(String value, String noun, String flaw) {
        return new Reason(
                DATE_UNREADABLE, quote(value) + " is not a valid " + noun + (flaw.isEmpty() ? "" : ": " + flaw));
    }

    /** A value that is less than a date: {@code 2010-01}. */
    public static Reason datePartial(String value, String what, String expected) {
        return new Reason(
                DATE_UNREADABLE, quote(value) + " is a " + what + ", not a full date (expected " + expected + ")");
    }

    public static Reason dateUnreadable(String value, Collection<String> patterns) {
        return new Reason(DATE_UNREADABLE, quote(value) + " is not written as " + String.join(" or ", patterns));
    }

    public static Reason textTooLong(String value, int characters, int length) {
        return new Reason(
                TEXT_TOO_LONG, quote(value) + " has " + characters + " characters, " + length + " are allowed");
    }

    public static Reason patternDiffers(String value, String pattern) {
        return new Reason(PATTERN_DIFFERS, quote(value) + " does not match " + pattern);
    }

    public static Reason valueNotAllowed(String value, List<String> allowed) {
        String list = allowed.size() <= 6
                ? String.join(", ", allowed)
                : String.join(", ", allowed.subList(0, 5)) + " and " + (allowed.size() - 5) + " more";
        return new Reason(VALUE_NOT_ALLOWED, quote(value) + " is not one of the allowed values: " + list);
    }

    public static Reason belowMinimum(String value, String minimum) {
        return new Reason(BELOW_MINIMUM, quote(value) + " is under " + minimum);
    }

    public static Reason aboveMaximum(String value, String maximum) {
        return new Reason(ABOVE_MAXIMUM, quote(value) + " is over " + maximum);
    }

    public static Reason rowEmpty() {
        return new Reason(ROW_EMPTY, "no column that is mapped has a value");
    }

    public static Reason fieldCount(int found, int expected) {
        String sentence = found + (found == 1 ? " field" : " fields") + " where the header has " + expected;
        return new Reason(found < expected ? FIELDS_MISSING : FIELDS_EXTRA, sentence);
    }

    public static Reason quoteMisplaced() {
        return new Reason(QUOTE_MISPLACED, "text follows a closing quote within one field");
    }

    public static Reason cell(String address, String why) {
        return new Reason(CELL_UNREADABLE, "the cell " + address + " " + why);
    }

    public static Reason strayCell(String address, String value) {
        return new Reason(
                FIELDS_EXTRA, "the cell " + address + " holds " + quote(value) + " in a column without a header");
    }

    public static Reason valueRepeated(String field) {
        return new Reason(VALUE_REPEATED, field + " has several values in one row");
    }

    public static Reason recordUnreadable(String why) {
        return new Reason(RECORD_UNREADABLE, "is not JSON: " + shorten(why, 200));
    }

    /** Why a run fails that cannot write what a file brought, or cannot fetch it now. */
    public static String storeFailed(String file, IOException wrong) {
        if (wrong instanceof RemoteFault fault) {
            return fault.getMessage() + ". Files that were finished stay; the next run takes " + file + " and the rest";
        }
        String why = wrong instanceof FileSystemException system && system.getReason() != null
                ? system.getReason() + " (" + system.getFile() + ")"
                : String.valueOf(wrong.getMessage());
        return "While " + file + " was loaded, the store could not be written: " + why
                + ". Files that were finished stay, nothing else was kept; once the store can be written, the "
                + "next run takes the rest";
    }

    /** Why a run fails for which nothing was foreseen; told by what lies deepest. */
    public static String runFailed(String where, Throwable wrong) {
        return where + ": " + deepest(wrong)
                + ". What was finished stays, nothing else was kept; the service's log has more";
    }

    /** What lies deepest under something that went wrong, without the words of a statement that it may carry. */
    public static String deepest(Throwable wrong) {
        Throwable deepest = wrong;
        while (deepest.getCause() != null && deepest.getCause() != deepest) {
            deepest = deepest.getCause();
        }
        return deepest.getMessage() == null
                ? deepest.toString()
                : deepest.getMessage().replaceFirst("; SQL statement:[\\s\\S]*", "");
    }

    /** The same reason with the place of its cell. */
    public static Reason at(Reason reason, String address) {
        return new Reason(reason.code(), reason.sentence() + " (" + address + ")");
    }

    // files

    public static Reason fileEmpty() {
        return new Reason(FILE_EMPTY, "holds 0 bytes");
    }

    public static Reason noHeader(long lines, int above) {
        return new Reason(
                FILE_EMPTY,
                "ends after " + lines + (lines == 1 ? " line" : " lines")
                        + (above > 0 ? "; " + above + " lie above the header" : "") + ", before any header");
    }

    public static Reason headerNotFound(String text, long lines) {
        return new Reason(
                HEADER_MISSING,
                "none of its " + grouped(lines) + (lines == 1 ? " line" : " lines") + " holds " + quote(text)
                        + ", by which the header is known");
    }

    public static Reason sharedHeaderMissing() {
        return new Reason(
                HEADER_MISSING,
                "has no header of its own, and none of the job's files has the one that `header: once` speaks of");
    }

    public static Reason unreadable(String why) {
        return new Reason(FILE_UNREADABLE, why);
    }

    public static Reason tooMuchMemory() {
        return new Reason(FILE_UNREADABLE, "needs more memory to be read than the service has");
    }

    /** @param columns of the dataset */
    public static Reason tooManyRows(int columns, long rows) {
        return new Reason(
                FILE_UNREADABLE,
                "has more rows than can be stored of " + grouped(columns) + " columns in one part (" + grouped(rows)
                        + " were read); split the file, or declare fewer columns");
    }

    public static Reason slow(String most) {
        return new Reason(FILE_SLOW, "takes longer than " + most + " to read");
    }

    public static Reason gone() {
        return new Reason(FILE_GONE, "was listed and is gone now");
    }

    public static Reason damaged(String sentence) {
        return new Reason(FILE_DAMAGED, sentence);
    }

    public static Reason notText(long line, long offset) {
        return new Reason(
                NOT_TEXT,
                "holds a NUL byte at line " + line + " (byte " + offset
                        + "); it is not text, or it was cut off while written");
    }

    /** @param ending of a name that promises something else; empty where it does not */
    public static Reason formatDiffers(String found, String ending, String declared, boolean archive) {
        return new Reason(
                FORMAT_DIFFERS,
                (ending.isEmpty() ? "is " + found : "is named " + ending + ", but is " + found) + "; the job reads "
                        + declared
                        + (archive
                                ? " (what lies in an archive is found with a pattern such as \"*.zip!/*.csv\")"
                                : ""));
    }

    public static Reason encrypted(String what) {
        return new Reason(FILE_ENCRYPTED, "is an encrypted " + what + "; it cannot be read without its password");
    }

    public static Reason notWellFormed(String format, String place, String why) {
        return new Reason(
                NOT_WELL_FORMED,
                "is not valid " + format + (place.isEmpty() ? "" : " from " + place + " on") + ": "
                        + shorten(why, 200));
    }

    public static Reason structureRejected(String why) {
        return new Reason(STRUCTURE_REFUSED, why);
    }

    public static Reason noRecords() {
        return new Reason(FILE_EMPTY, "holds no records");
    }

    public static Reason rowsMissing(String path, List<String> found) {
        return new Reason(
                ROWS_MISSING, "has no rows at " + path + "; it has " + (found.isEmpty() ? "nothing" : list(found)));
    }

    public static Reason sheetEmpty(int above) {
        return new Reason(
                FILE_EMPTY,
                "is a sheet that holds nothing"
                        + (above > 0 ? " below its first " + above + (above == 1 ? " row" : " rows") : ""));
    }

    public static Reason sheetGone(String name, List<String> found) {
        return new Reason(FILE_GONE, "has no sheet " + quote(name) + " any more; it has " + list(found));
    }

    public static Reason tableMissing(String name, String what) {
        return new Reason(TABLE_MISSING, "has no table " + quote(name) + "; " + what);
    }

    public static Reason columnsExtra(List<String> extra) {
        return new Reason(
                COLUMN_EXTRA,
                "has "
                        + (extra.size() == 1
                                ? "a column that is not mapped to the dataset: "
                                : "columns that are not mapped to the dataset: ")
                        + list(extra.stream().map(Reasons::quote).toList()));
    }

    private static String list(List<String> names) {
        return shorten(
                names.size() <= 12
                        ? String.join(", ", names)
                        : String.join(", ", names.subList(0, 12)) + " and " + (names.size() - 12) + " more",
                240);
    }

    public static Reason encodingDiffers(String declared, long line, long offset, String byteInHex, String guess) {
        return new Reason(
                ENCODING_DIFFERS,
                "is not " + declared + ": byte " + byteInHex + " at line " + line + " (byte " + offset + ")"
                        + (guess.isEmpty() ? "" : "; it looks like " + guess));
    }

    public static Reason encodingMarked(String declared, String marked) {
        return new Reason(
                ENCODING_DIFFERS, "opens with the byte-order mark of " + marked + "; the job declares " + declared);
    }

    public static Reason separatorDiffers(List<String> declared, String looks) {
        return new Reason(
                SEPARATOR_DIFFERS,
                "looks separated by " + separator(looks) + "; the job declares "
                        + String.join(
                                " and ",
                                declared.stream().map(Reasons::separator).toList()));
    }

    public static Reason columnsMissing(List<String> missing, List<String> found) {
        return new Reason(COLUMN_MISSING, "its header lacks " + String.join(", ", missing) + "; it has " + list(found));
    }

    /** @param cause what is probably behind it, as a sentence */
    public static Reason columnsMissing(List<String> missing, List<String> found, String cause) {
        return new Reason(
                COLUMN_MISSING, columnsMissing(missing, found).sentence() + (cause.isEmpty() ? "" : "; " + cause));
    }

    public static Reason columnAmbiguous(String name, List<String> found) {
        return new Reason(
                COLUMN_AMBIGUOUS,
                "its header has "
                        + String.join(
                                " and ", found.stream().map(Reasons::quote).toList()) + ", which both answer to "
                        + name);
    }

    public static Reason tooManyColumns(int limit) {
        return new Reason(TOO_MANY_COLUMNS, "has more than " + grouped(limit) + " columns in its header");
    }

    public static Reason recordTooLong(long line, int limit) {
        return new Reason(RECORD_TOO_LONG, "the row at line " + line + " is longer than " + grouped(limit) + " bytes");
    }

    public static Reason quoteOpen(long line) {
        return new Reason(QUOTE_OPEN, "a quote opened in line " + line + " is not closed");
    }

    public static Reason changedWhileRead() {
        return new Reason(CHANGED_WHILE_READ, "changed while it was read; nothing of it was kept");
    }

    public static Reason changedSinceListed() {
        return new Reason(
                CHANGED_WHILE_READ, "changed after the folder was listed; the next run takes it as it is then");
    }

    /** @param expected rows that were rejected before, of which {@code found} are still there */
    public static Reason changedWhileRetried(long expected, long found) {
        return new Reason(
                CHANGED_WHILE_READ,
                "has " + found + " of the " + expected
                        + " rows that were rejected before; it is no longer what it was");
    }

    public static Reason stillWritten(String why) {
        return new Reason(STILL_WRITTEN, why);
    }

    /** @param run the run that loaded the first; 0 where it is this one */
    public static Reason copy(String first, long run) {
        return new Reason(COPY, "has the same content as " + first + (run > 0 ? ", which run " + run + " loaded" : ""));
    }

    /** @param beside whether it stands beside the table; otherwise the file's name says it */
    public static Reason factDiffers(String fact, boolean beside, String value, String why) {
        return new Reason(
                FACT_DIFFERS,
                "says " + quote(value) + " for "
                        + (beside ? fact + " beside its table: " : "{" + fact + "} in its name: ") + why);
    }

    public static Reason outsideRoots(String realPath) {
        return new Reason(OUTSIDE_ROOTS, "leads to " + realPath + ", outside the folders that the service may use");
    }

    /** @param where the row that stays; empty where it is not known any more */
    public static Reason repeated(String by, String where) {
        return new Reason(ROW_REPEATED, "has the same " + by + (where.isEmpty() ? " as another row" : " as " + where));
    }

    public static Reason computeFailed(String column, String expression, String why) {
        return new Reason(COMPUTE_FAILED, column + " = " + quote(expression) + " could not be calculated: " + why);
    }

    /**
     * @param file the table, as the job names it
     * @param by its column that holds the keys
     */
    public static Reason lookupMissing(String key, String file, String by) {
        return new Reason(LOOKUP_MISSING, quote(key) + " is not in the column " + quote(by) + " of " + file);
    }

    public static Reason factMissing(String fact, String why) {
        return new Reason(FACT_MISSING, "lacks the fact '" + fact + "': " + why);
    }

    public static Reason ruleFailed(String rule, String why) {
        return new Reason(RULE_FAILED, quote(rule) + " could not be evaluated: " + why);
    }

    public static Reason limitReached(long rejected, long read, String limit) {
        return new Reason(
                LIMIT_REACHED,
                grouped(rejected) + " of its " + grouped(read) + (read == 1 ? " row was" : " rows were")
                        + " rejected, and the job takes no file at " + limit);
    }

    public static Reason rowsUnusual(long rows, long usual, int others) {
        return new Reason(
                ROWS_UNUSUAL,
                "has " + grouped(rows) + (rows == 1 ? " row" : " rows") + ", where " + others
                        + " files of its kind have about " + grouped(usual));
    }

    /** The first few of some names, and how many more there are. */
    public static String some(List<String> names) {
        return names.size() <= MOST_NAMED
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, MOST_NAMED - 1)) + " and " + grouped(names.size() - MOST_NAMED + 1)
                        + " more";
    }

    /** The value in double quotes, shortened, with line breaks, tabs and other invisible characters made visible. */
    public static String quote(String value) {
        StringBuilder shown = new StringBuilder("\"");
        String text = shorten(value, SHOWN);
        for (int i = 0; i < text.length(); i++) {
            char c = text.charAt(i);
            switch (c) {
                case '\n' -> shown.append("\\n");
                case '\r' -> shown.append("\\r");
                case '\t' -> shown.append("\\t");
                case '\u00a0' -> shown.append("\\u00a0");
                case '\ufeff' -> shown.append("\\ufeff");
                default -> {
                    if (Character.isISOControl(c) || Character.getType(c) == Character.FORMAT) {
                        shown.append(String.format("\\u%04x", (int) c));
                    } else {
                        shown.append(c);
                    }
                }
            }
        }
        return shown.append('"').toString();
    }

    /** A separator as sentences name it. */
    public static String separator(String separator) {
        return separator.equals("\t") ? "tab" : "\"" + separator + "\"";
    }

    private static String shorten(String text, int most) {
        return text.length() <= most ? text : text.substring(0, most - 1) + "…";
    }

    /** A number with a space between groups of three digits. */
    public static String grouped(long number) {
        return String.format(java.util.Locale.ROOT, "%,d", number).replace(',', ' ');
    }
}
