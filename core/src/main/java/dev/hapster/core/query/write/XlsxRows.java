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
        if (value instanceof Long number && number > -MOST_WHOLE && number < MOST_WHOLE) {
            sheet.value(rows, column, number);
        } else if (value instanceof BigDecimal number
                && number.precision() <= SURE_DIGITS
                && number.scale() <= SURE_DIGITS) {
            sheet.value(rows, column, number);
        } else if (value instanceof Double number && !number.isNaN() && !number.isInfinite()) {
            sheet.value(rows, column, number);
        } else if (value instanceof Boolean truth) {
            sheet.value(rows, column, truth);
        } else if (value instanceof LocalDate day && !day.isBefore(FIRST_DAY) && !day.isAfter(LAST_DAY)) {
            sheet.value(rows, column, day);
            sheet.style(rows, column).format("yyyy-mm-dd").set();
        } else if (value instanceof LocalDateTime moment
                && !moment.toLocalDate().isBefore(FIRST_DAY)
                && !moment.toLocalDate().isAfter(LAST_DAY)
                && moment.getNano() % 1_000_000 == 0) {
            sheet.value(rows, column, moment);
            sheet.style(rows, column).format("yyyy-mm-dd hh:mm:ss").set();
        } else {
            String text = Texts.of(value);
            if (text.length() > MOST_TEXT) {
                throw new IOException("A cell of a workbook holds at most " + MOST_TEXT + " characters, and "
                        + fields.get(column).name() + " has " + text.length() + " in row " + (rows + 1));
            }
            sheet.value(rows, column, written(text));
        }
    }

    /** Characters that XML cannot hold, in the way that workbooks have for them. */
    private static String written(String text) {
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
