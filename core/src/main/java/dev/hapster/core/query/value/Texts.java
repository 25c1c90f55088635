package dev.hapster.core.query.value;

import java.math.BigDecimal;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.format.DateTimeFormatter;

/** Values as texts for other programs, each kind always in one form. */
public final class Texts {

    private Texts() {}

    /**
     * A value as text: dates and times in ISO 8601 with seconds ({@code 2026-03-01T08:00:00}), and with a fraction only
     * where there is one; numbers with all their digits and no exponent, but for doubles.
     */
    public static String of(Comparable<?> value) {
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        if (value instanceof LocalDateTime moment) {
            return DateTimeFormatter.ISO_LOCAL_DATE_TIME.format(moment);
        }
        return value instanceof LocalTime time ? DateTimeFormatter.ISO_LOCAL_TIME.format(time) : value.toString();
    }
}
