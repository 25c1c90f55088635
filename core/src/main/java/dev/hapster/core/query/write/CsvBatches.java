package dev.hapster.core.query.write;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.value.Field;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/**
 * Writes batches of rows as CSV in UTF-8. What it writes is, byte for byte, what {@link CsvRows} writes row by row. Not
 * thread-safe.
 */
final class CsvBatches extends TextBatches {

    /** With these, numbers, dates and times never need quotes. */
    private static final String SEPARATORS = ",;\t|";

    private static final byte[] NOTHING = new byte[0];
    private static final byte[] LINE_END = {'\r', '\n'};

    private final RowStyle style;
    private final RowStyle.Values values;

    CsvBatches(OutputStream out, RowStyle style) {
        super(out, style.separator(), 0);
        this.style = style;
        values = style.new Values();
    }

    /** Whether rows can be written so in this style. */
    static boolean suits(RowStyle style) {
        return style.encoding().equals(StandardCharsets.UTF_8)
                && !style.quoteAll()
                && SEPARATORS.indexOf(style.separator()) >= 0;
    }

    @Override
    void lineEnd() throws IOException {
        append(LINE_END);
    }

    @Override
    byte[] nothing() {
        return NOTHING;
    }

    @Override
    boolean isPlain(Field field) {
        Kind kind = field.type().kind();
        return switch (kind) {
            case TEXT -> !style.safe();
            case DECIMAL -> style.decimal() == '.';
            case DATE -> style.dates().isEmpty();
            case TIMESTAMP -> style.timestamps().isEmpty();
            default -> true;
        };
    }

    @Override
    byte[] cell(Comparable<?> value, boolean first) {
        byte[] bytes = values.field(value).getBytes(StandardCharsets.UTF_8);
        if (!needsQuotes(bytes, 0, bytes.length, first)) {
            return bytes;
        }
        byte[] quoted = new byte[2 * bytes.length + 2];
        int length = quote(bytes, 0, bytes.length, quoted, 0);
        return Arrays.copyOf(quoted, length);
    }

    @Override
    void text(byte[] data, int from, int length, boolean first) throws IOException {
        if (needsQuotes(data, from, length, first)) {
            append(2 * length + 2, (buffer, start) -> quote(data, from, length, buffer, start));
        } else {
            append(data, from, length);
        }
    }

    /** A line that begins with # would be taken for a comment by some. */
    private boolean needsQuotes(byte[] data, int from, int length, boolean first) {
        if (first && length > 0 && data[from] == '#') {
            return true;
        }
        byte separator = separator();
        for (int i = from; i < from + length; i++) {
            byte b = data[i];
            if (b == separator || b == '"' || b == '\n' || b == '\r') {
                return true;
            }
        }
        return false;
    }

    private static int quote(byte[] data, int from, int length, byte[] to, int start) {
        int at = start;
        to[at++] = '"';
        for (int i = from; i < from + length; i++) {
            if (data[i] == '"') {
                to[at++] = '"';
            }
            to[at++] = data[i];
        }
        to[at++] = '"';
        return at;
    }
}
