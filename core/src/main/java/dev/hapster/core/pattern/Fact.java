package dev.hapster.core.pattern;

import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Optional;

/**
 * What a piece of a file's name says.
 *
 * @param text as it stands in the name
 * @param iso the day or time that it means, in ISO 8601, where the piece has a date pattern; what the name leaves out
 *     is the first, so that {@code 2026-03} means 2026-03-01
 */
public record Fact(String text, Optional<String> iso) {

    private static final int DAY = 10;

    /** The day that it means; empty where it means none of the years 0 to 9999. */
    public Optional<LocalDate> day() {
        try {
            return iso.filter(written -> written.length() >= DAY)
                    .map(written -> LocalDate.parse(written.substring(0, DAY)));
        } catch (DateTimeException far) {
            return Optional.empty();
        }
    }
}
