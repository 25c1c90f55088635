package dev.hapster.core.query.write;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Texts;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.util.List;
import java.util.regex.Pattern;
import org.dhatim.fastexcel.Workbook;
import org.dhatim.fastexcel.Worksheet;

/**
 * An xlsx workbook: the header once a sheet, frozen, and columns as wide as their first values need. Numbers and dates
 * are numbers and dates where a workbook can hold them without loss, and texts otherwise. What does not fit into a
 * sheet goes on in the next.
 */
final class XlsxRows implements RowWriter {

    private static final int MOST_ROWS = 1_048_576;
    static final int MOST_TEXT = 32_767;
    private static final int FLUSH = 2_000;
    private static final int SURE_DIGITS = 15;
    private static final long MOST_WHOLE = 1_000_000_000_000_000L;
    private static final int MEASURED = 200;
    private static final LocalDate FIRST_DAY = LocalDate.of(1900, 3, 1);
    private static final LocalDate LAST_DAY = LocalDate.of(9999, 12, 31);
    private static final Pattern ESCAPED = Pattern.compile("_(?=x[0-9A-Fa-f]{4}_)");

    private final SheetsWithoutSize zip;
    private final Workbook book;
    private final String title;
    private List<Field> fields = List.of();
    private int[] widths = new int[0];
    private Worksheet sheet;
    private int sheets;
    private int rows;

    XlsxRows(OutputStream out, String title) {
        zip = new SheetsWithoutSize(out);
        book = new Workbook(zip, "Hapster", "1.0");
        book.setCompressionLevel(0); // it is compressed on its way
        this.title = title.length() > 25 ? title.substring(0, 25) : title;
    }

    @Override
    public void begin(List<Field> wanted) {
        fields = List.copyOf(wanted);
        widths = fields.stream().mapToInt(field -> field.name().length()).toArray();
        open();
    }

    private void open() {
        sheet = book.newWorksheet(title + (sheets++ == 0 ? "" : " " + sheets));
        sheet.freezePane(0, 1);
        for (int i = 0; i < fields.size(); i++) {
            sheet.value(0, i, fields.get(i).name());
            sheet.style(0, i).bold().set();
        }
        rows = 1;
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        if (rows == MOST_ROWS) {
            endSheet();
            open();
        }
        for (int i = 0; i < values.size(); i++) {
            if (values.get(i) != null) {
                cell(i, values.get(i));
            }
        }
        rows++;
        if (rows == MEASURED) {
            measure();
        }
        if (rows % FLUSH == 0) {
            sheet.flush();
        }
    }

    private void cell(int column, Comparable<?> value) throws IOException {
        if (rows < MEASURED) {
            widths[column] =
                    Math.max(widths[column], Math.min(60, value.toString().length()));
        }
        if (value instanceof Boolean truth) {
            sheet.value(rows, column, truth);
        } else if (isNumber(value)) {
            sheet.value(rows, column, (Number) value);
        } else if (value instanceof LocalDate day && isDay(day)) {
            sheet.value(rows, column, day);
            sheet.style(rows, column).format("yyyy-mm-dd").set();
        } else if (value instanceof LocalDateTime moment && isMoment(moment)) {
            sheet.value(rows, column, moment);
            sheet.style(rows, column).format("yyyy-mm-dd hh:mm:ss").set();
        } else {
            sheet.value(rows, column, written(text(value, fields.get(column).name(), rows + 1)));
        }
    }

    /** Whether a cell can have a value as a number, and lose nothing. */
    static boolean isNumber(Comparable<?> value) {
        return (value instanceof Long whole && whole > -MOST_WHOLE && whole < MOST_WHOLE)
                || (value instanceof BigDecimal exact
                        && exact.precision() <= SURE_DIGITS
                        && exact.scale() <= SURE_DIGITS)
                || (value instanceof Double real && !real.isNaN() && !real.isInfinite());
    }

    /** Whether workbooks have such a day. */
    static boolean isDay(LocalDate day) {
        return !day.isBefore(FIRST_DAY) && !day.isAfter(LAST_DAY);
    }

    /** Whether workbooks have such a time of such a day. */
    static boolean isMoment(LocalDateTime moment) {
        return isDay(moment.toLocalDate()) && moment.getNano() % 1_000_000 == 0;
    }

    /** A value as a text that a cell can hold. */
    static String text(Comparable<?> value, String column, int row) throws IOException {
        String text = Texts.of(value);
        if (text.length() > MOST_TEXT) {
            throw new IOException("A cell of a workbook holds at most " + MOST_TEXT + " characters, and " + column
                    + " has " + text.length() + " in row " + row);
        }
        return text;
    }

    /** Characters that XML cannot hold, in the way that workbooks have for them. */
    static String written(String text) {
        String escaped = text.indexOf('_') >= 0 ? ESCAPED.matcher(text).replaceAll("_x005F_") : text;
        StringBuilder whole = new StringBuilder(escaped.length());
        for (int i = 0; i < escaped.length(); i++) {
            char c = escaped.charAt(i);
            if (c < ' ' && c != '\t' && c != '\n') {
                whole.append(String.format("_x%04X_", (int) c));
            } else {
                whole.append(c);
            }
        }
        return whole.toString();
    }

    private void measure() {
        for (int i = 0; i < widths.length; i++) {
            sheet.width(i, widths[i] + 2);
        }
    }

    private void endSheet() throws IOException {
        if (rows < MEASURED) {
            measure();
        }
        sheet.finish();
    }

    @Override
    public void finish() throws IOException {
        endSheet();
        book.finish();
        zip.finish();
    }
}
