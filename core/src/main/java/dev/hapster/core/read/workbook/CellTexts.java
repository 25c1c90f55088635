package dev.hapster.core.read.workbook;

import dev.hapster.core.row.RawBatch;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;

/**
 * How the numbers of workbooks become texts: by the number format of their cells (ECMA-376 part 1, 18.8.30 and
 * 18.8.31).
 */
final class CellTexts {

    /** What a number format makes of a number. */
    enum Shown {
        NUMBER,
        DATE,
        DATE_TIME,
        TIME,
        PADDED
    }

    /** @param digits for {@link Shown#PADDED} how many digits are shown at least */
    record Style(Shown shown, int digits) {
        static final Style PLAIN = new Style(Shown.NUMBER, 0);
    }

    private static final double DAYS_TO_1904 = 1462;
    private static final double LATEST_DAY = 2_958_466; // behind 9999-12-31
    private static final DateTimeFormatter SECONDS = DateTimeFormatter.ofPattern("HH:mm:ss");
    private static final DateTimeFormatter MILLIS = DateTimeFormatter.ofPattern("HH:mm:ss.SSS");
    private static final int SURE_DIGITS = 15;

    private CellTexts() {}

    /**
     * The style of a format that every workbook knows by its number; null for one that the workbook itself declares.
     */
    static Style builtIn(int format) {
        if ((format >= 14 && format <= 17)
                || (format >= 27 && format <= 31)
                || (format >= 34 && format <= 36)
                || (format >= 50 && format <= 54)
                || (format >= 57 && format <= 58)) {
            return new Style(Shown.DATE, 0);
        }
        if (format == 22) {
            return new Style(Shown.DATE_TIME, 0);
        }
        if ((format >= 18 && format <= 21)
                || format == 32
                || format == 33
                || format == 45
                || format == 47
                || format == 55
                || format == 56) {
            return new Style(Shown.TIME, 0);
        }
        return format < 164 ? Style.PLAIN : null;
    }

    /** The style that the code of a format stands for. */
    static Style of(String code) {
        StringBuilder letters = new StringBuilder();
        for (int i = 0; i < code.length() && code.charAt(i) != ';'; i++) {
            char c = code.charAt(i);
            if (c == '"') {
                i = code.indexOf('"', i + 1) < 0 ? code.length() : code.indexOf('"', i + 1);
            } else if (c == '\\' || c == '_' || c == '*') {
                i++;
            } else if (c == '[') {
                int end = code.indexOf(']', i);
                String inside = end < 0 ? "" : code.substring(i + 1, end).toLowerCase(Locale.ROOT);
                if (inside.matches("h+|m+|s+")) {
                    return Style.PLAIN; // a length of time
                }
                i = end < 0 ? code.length() : end;
            } else {
                letters.append(Character.toLowerCase(c));
            }
        }
        String plain = letters.toString();
        if (plain.matches("0+")) {
            return plain.length() > 1 ? new Style(Shown.PADDED, plain.length()) : Style.PLAIN;
        }
        if (plain.contains("general")
                || (plain.indexOf('0') >= 0 && plain.replaceAll("s\\.0+", "s").indexOf('0') >= 0)
                || plain.indexOf('#') >= 0) {
            return Style.PLAIN;
        }
        boolean time = plain.indexOf('h') >= 0 || plain.indexOf('s') >= 0;
        boolean date = plain.indexOf('y') >= 0 || plain.indexOf('d') >= 0 || (plain.indexOf('m') >= 0 && !time);
        return date && time
                ? new Style(Shown.DATE_TIME, 0)
                : date ? new Style(Shown.DATE, 0) : time ? new Style(Shown.TIME, 0) : Style.PLAIN;
    }

    /** Puts a number into a cell, as its style says. */
    static void number(GridRow row, int column, double value, Style style, boolean from1904) {
        if (Double.isNaN(value) || Double.isInfinite(value)) {
            row.fault(column, String.valueOf(value), "holds a number that is none");
        } else if (style.shown == Shown.NUMBER || style.shown == Shown.PADDED) {
            String text = plain(value);
            if (style.shown == Shown.PADDED
                    && text.length() < style.digits
                    && text.chars().allMatch(c -> c >= '0' && c <= '9')) {
                text = "0".repeat(style.digits - text.length()) + text;
            }
            row.set(column, RawBatch.BINARY, text);
        } else {
            moment(row, column, value, style, from1904);
        }
    }

    private static void moment(GridRow row, int column, double value, Style style, boolean from1904) {
        double serial = value + (from1904 ? DAYS_TO_1904 : 0);
        if (serial < 0 || serial >= LATEST_DAY) {
            row.fault(column, plain(value), "is formatted as a date and holds " + plain(value) + ", which is none");
            return;
        }
        // The first of these calendars has a 29 February 1900, which there was not.
        long millis = Math.round(serial * 86_400_000);
        long day = Math.floorDiv(millis, 86_400_000L);
        LocalTime time = LocalTime.ofNanoOfDay(Math.floorMod(millis, 86_400_000L) * 1_000_000);
        boolean whole = time.equals(LocalTime.MIDNIGHT);
        String clock = time.getNano() == 0 ? SECONDS.format(time) : MILLIS.format(time);
        if (style.shown == Shown.TIME && day == 0) {
            row.set(column, RawBatch.MOMENT, clock);
            return;
        }
        LocalDateTime moment =
                LocalDate.of(1899, 12, day < 61 ? 31 : 30).plusDays(day).atTime(time);
        row.set(
                column,
                RawBatch.MOMENT,
                style.shown == Shown.DATE && whole
                        ? moment.toLocalDate().toString()
                        : moment.toLocalDate() + "T" + clock);
    }

    /** A number in plain digits: as few as tell it from others, and none behind a point that says nothing. */
    static String plain(double value) {
        if (value == Math.rint(value) && Math.abs(value) < 1e15) {
            return Long.toString((long) value);
        }
        BigDecimal shortest = new BigDecimal(Double.toString(value)).stripTrailingZeros();
        return Math.abs(shortest.precision() - shortest.scale()) > 40 ? shortest.toString() : shortest.toPlainString();
    }

    /** Whether a number that stands in a file so is what {@link #plain} would make of it. */
    static boolean isPlain(byte[] text, int from, int to) {
        int length = to - from;
        if (length == 0 || length > SURE_DIGITS) {
            return false;
        }
        boolean point = false;
        int digits = 0;
        for (int i = from; i < to; i++) {
            byte c = text[i];
            if (c == '.') {
                if (point || digits == 0) {
                    return false;
                }
                point = true;
            } else if (c >= '0' && c <= '9') {
                digits++;
            } else if (c != '-' || i != from) {
                return false;
            }
        }
        boolean leads = (text[from] == '0' && length > 1 && text[from + 1] != '.')
                || (text[from] == '-' && length > 2 && text[from + 1] == '0' && text[from + 2] != '.');
        return digits > 0
                && !leads
                && !(point && (text[to - 1] == '0' || text[to - 1] == '.'))
                && !(text[from] == '-' && digits == 1 && text[from + 1] == '0');
    }

    /** The styles of cells, from the number of the format of each and the codes that the workbook declares. */
    static Style[] styles(List<Integer> formats, java.util.Map<Integer, String> codes) {
        return formats.stream()
                .map(format -> {
                    String code = codes.get(format);
                    Style known = code == null ? builtIn(format) : of(code);
                    return known == null ? Style.PLAIN : known;
                })
                .toArray(Style[]::new);
    }
}
