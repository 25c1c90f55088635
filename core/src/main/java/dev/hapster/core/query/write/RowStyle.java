package dev.hapster.core.query.write;

import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.value.Texts;
import dev.hapster.core.reason.Reasons;
import java.math.BigDecimal;
import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.StandardCharsets;
import java.nio.charset.UnsupportedCharsetException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;

/**
 * How rows are written as text, where others want it otherwise than usual.
 *
 * @param separator between the fields of CSV
 * @param encoding of CSV
 * @param decimal the decimal mark of CSV
 * @param dates a pattern (CLDR) for dates in CSV, JSON and XML; empty for ISO 8601
 * @param timestamps one for timestamps
 * @param quoteAll whether every field of CSV is quoted
 * @param header whether CSV begins with the names of the columns
 * @param safe whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front
 * @param root the outermost element of XML
 * @param row the element of a row in XML
 */
public record RowStyle(
        char separator,
        Charset encoding,
        char decimal,
        Optional<String> dates,
        Optional<String> timestamps,
        boolean quoteAll,
        boolean header,
        boolean safe,
        String root,
        String row) {

    public static final RowStyle USUAL = new RowStyle(
            ',', StandardCharsets.UTF_8, '.', Optional.empty(), Optional.empty(), false, true, false, "rows", "row");

    /**
     * What a person asks for, as it is written.
     *
     * @param separator one character, or {@code tab}
     * @throws QueryException with what is wrong
     */
    public static RowStyle of(
            Optional<String> separator,
            Optional<String> encoding,
            Optional<String> decimal,
            Optional<String> dates,
            Optional<String> timestamps,
            boolean quoteAll,
            boolean header,
            boolean safe,
            String root,
            String row)
            throws QueryException {
        RowStyle style = new RowStyle(
                separator.isEmpty() ? USUAL.separator : one("separator", separator.get()),
                encoding.isEmpty() ? USUAL.encoding : encoding(encoding.get()),
                decimal.isEmpty() ? USUAL.decimal : one("decimal", decimal.get()),
                dates,
                timestamps,
                quoteAll,
                header,
                safe,
                root,
                row);
        style.check();
        return style;
    }

    private static char one(String name, String text) throws QueryException {
        String meant = text.equals("tab") ? "\t" : text;
        if (meant.length() != 1) {
            throw new QueryException("'" + name + "' must be one character, or tab, not '" + text + "'");
        }
        return meant.charAt(0);
    }

    private static final String FORMULA = "=+-@\t\r";

    /** @throws QueryException with what is wrong */
    void check() throws QueryException {
        if (separator == '"' || separator == '\n' || separator == '\r') {
            throw new QueryException("The separator cannot be a quote or a line break");
        }
        if (decimal != '.' && decimal != ',') {
            throw new QueryException("The decimal mark is a point or a comma, not '" + decimal + "'");
        }
        check(dates, LocalDate.of(2026, 3, 1));
        check(timestamps, LocalDateTime.of(2026, 3, 1, 8, 0));
        for (String element : new String[] {root, row}) {
            if (!XmlRows.isName(element)) {
                throw new QueryException(Reasons.quote(element) + " cannot be the name of an element in XML");
            }
        }
    }

    private static void check(Optional<String> pattern, java.time.temporal.TemporalAccessor example)
            throws QueryException {
        if (pattern.isEmpty()) {
            return;
        }
        try {
            String unused = formatter(pattern.get()).format(example);
        } catch (IllegalArgumentException | java.time.DateTimeException wrong) {
            throw new QueryException(Reasons.quote(pattern.get()) + " is not a pattern for "
                    + (example instanceof LocalDate
                            ? "dates, such as dd.MM.yyyy"
                            : "timestamps, such as dd.MM.yyyy HH:mm")
                    + ": " + wrong.getMessage());
        }
    }

    private static DateTimeFormatter formatter(String pattern) {
        return DateTimeFormatter.ofPattern(pattern, Locale.ROOT);
    }

    /** The encoding of a name. */
    public static Charset encoding(String name) throws QueryException {
        try {
            Charset found = Charset.forName(name);
            if (found.canEncode()) {
                return found;
            }
        } catch (IllegalCharsetNameException | UnsupportedCharsetException unknown) {
            // said below
        }
        throw new QueryException(
                "'" + name + "' is no encoding that can be written; common ones are UTF-8, ISO-8859-1, windows-1252");
    }

    /** Whether every character can be written in the encoding. */
    boolean isUnicode() {
        return encoding.name().startsWith("UTF-");
    }

    /** Writes values as texts. Not thread-safe. */
    final class Values {
        private final Optional<DateTimeFormatter> days = dates.map(RowStyle::formatter);
        private final Optional<DateTimeFormatter> moments = timestamps.map(RowStyle::formatter);

        String of(Comparable<?> value) {
            if (value instanceof LocalDate day && days.isPresent()) {
                return days.get().format(day);
            }
            if (value instanceof LocalDateTime moment && moments.isPresent()) {
                return moments.get().format(moment);
            }
            if (value instanceof Instant moment && moments.isPresent()) {
                return moments.get().format(moment.atOffset(ZoneOffset.UTC));
            }
            return Texts.of(value);
        }

        /** The same as a field of CSV. */
        String field(Comparable<?> value) {
            String text = of(value);
            if (value instanceof BigDecimal || value instanceof Double) {
                return decimal == '.' ? text : text.replace('.', decimal);
            }
            boolean texts = !(value instanceof Long || value instanceof Boolean || value instanceof LocalTime);
            return safe && texts && !text.isEmpty() && FORMULA.indexOf(text.charAt(0)) >= 0 ? "'" + text : text;
        }
    }
}
