package dev.hapster.core.query.write;

import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.value.Field;
import java.io.IOException;
import java.io.OutputStream;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.time.temporal.Temporal;
import java.util.Arrays;
import java.util.Locale;

/**
 * Writes batches of rows in the text format of PostgreSQL's {@code COPY} (documented with that command), in UTF-8. Not
 * thread-safe.
 */
public final class CopyBatches extends TextBatches {

    private static final byte[] NOTHING = "\\N".getBytes(StandardCharsets.US_ASCII);
    /** Years before the first count back from it. */
    private static final DateTimeFormatter EARLY_DAY = DateTimeFormatter.ofPattern("yyyy-MM-dd G", Locale.ROOT);

    private static final DateTimeFormatter EARLY_MOMENT =
            DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss.SSSSSS G", Locale.ROOT);

    /** What every row ends with, behind its columns. */
    private byte[] end = new byte[0];

    public CopyBatches(OutputStream out) {
        super(out, '\t', 1);
    }

    /** A text that a database cannot hold, since it has the character U+0000. */
    public static final class NulException extends IOException {
        private static final long serialVersionUID = 1;

        private NulException() {
            super("A text has the character U+0000");
        }
    }

    /**
     * Writes rows of the present batch of a reader.
     *
     * @param columns the reader's first columns are written, so many
     * @param further one more field of each row; empty for none
     */
    public void write(PartReader reader, int[] rows, int count, int columns, String further) throws IOException {
        end = (further.isEmpty() ? "\n" : "\t" + further + "\n").getBytes(StandardCharsets.US_ASCII);
        write(reader, rows, count, columns);
    }

    /** Passes on what was written. */
    public void finish() throws IOException {
        flush();
    }

    @Override
    void lineEnd() throws IOException {
        append(end);
    }

    @Override
    byte[] nothing() {
        return NOTHING;
    }

    @Override
    boolean isPlain(Field field) {
        return true;
    }

    @Override
    byte[] cell(Comparable<?> value, boolean first) throws IOException {
        byte[] bytes = words(value).getBytes(StandardCharsets.UTF_8);
        byte[] escaped = new byte[2 * bytes.length];
        int length = escape(bytes, 0, bytes.length, escaped, 0);
        return Arrays.copyOf(escaped, length);
    }

    private static String words(Comparable<?> value) {
        if (value instanceof LocalDate day && day.getYear() <= 0) {
            return EARLY_DAY.format(day);
        }
        if (value instanceof LocalDateTime moment && moment.getYear() <= 0) {
            return EARLY_MOMENT.format(moment);
        }
        String words = value instanceof BigDecimal number ? number.toPlainString() : value.toString();
        // years of more than four digits have a sign here, and none there
        return value instanceof Temporal && words.startsWith("+") ? words.substring(1) : words;
    }

    @Override
    void text(byte[] data, int from, int length, boolean first) throws IOException {
        append(2 * length, (buffer, start) -> escape(data, from, length, buffer, start));
    }

    private static int escape(byte[] data, int from, int length, byte[] to, int start) throws NulException {
        int at = start;
        for (int i = from; i < from + length; i++) {
            byte b = data[i];
            if (b <= '\r' && b >= 0) {
                switch (b) {
                    case '\n' -> at = escape('n', to, at);
                    case '\r' -> at = escape('r', to, at);
                    case '\t' -> at = escape('t', to, at);
                    case 0 -> throw new NulException();
                    default -> to[at++] = b;
                }
            } else if (b == '\\') {
                at = escape('\\', to, at);
            } else {
                to[at++] = b;
            }
        }
        return at;
    }

    private static int escape(char letter, byte[] to, int at) {
        to[at] = '\\';
        to[at + 1] = (byte) letter;
        return at + 2;
    }
}
