package dev.hapster.core.query.value;

import dev.hapster.core.definition.ColumnType.Kind;
import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.IsoFields;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A value that others are compared with. A date or time may be given less exactly than the column has it, and then
 * stands for all of that year ({@code 2026}), quarter ({@code 2026-Q1}), month ({@code 2026-03}), week of ISO 8601
 * ({@code 2026-W11}), day ({@code 2026-03-14}) or hour ({@code 2026-03-14T08}).
 *
 * @param from the value, or the first one of the time
 * @param to the value, or the first one behind the time
 * @param isOne whether it is one value, and no stretch of time
 */
public record Period(Comparable<?> from, Comparable<?> to, boolean isOne) {

    private static final Pattern LESS_EXACT =
            Pattern.compile("(\\d{4})(?:-Q([1-4])|-W(\\d{2})|-(\\d{2})(?:-(\\d{2})(?:[T ](\\d{2}))?)?)?");

    /**
     * Reads a value of a column as a person writes it.
     *
     * @throws QueryException where the column can have no such value
     */
    public static Period parse(Field field, String text) throws QueryException {
        Kind kind = field.type().kind();
        if (kind == Kind.DATE || kind == Kind.TIMESTAMP) {
            Matcher matcher = LESS_EXACT.matcher(text);
            if (matcher.matches() && !(kind == Kind.DATE && matcher.group(5) != null)) {
                try {
                    return of(field, matcher);
                } catch (DateTimeException impossible) {
                    throw field.isNot(text);
                }
            }
        }
        Comparable<?> value = field.parse(text);
        return new Period(value, value, true);
    }

    private static Period of(Field field, Matcher matcher) {
        int year = Integer.parseInt(matcher.group(1));
        LocalDateTime from = LocalDate.of(year, 1, 1).atStartOfDay();
        LocalDateTime to;
        if (matcher.group(2) != null) {
            from = from.plusMonths(3L * (Integer.parseInt(matcher.group(2)) - 1));
            to = from.plusMonths(3);
        } else if (matcher.group(3) != null) {
            LocalDate monday = LocalDate.of(year, 1, 4)
                    .with(IsoFields.WEEK_OF_WEEK_BASED_YEAR, Integer.parseInt(matcher.group(3)))
                    .with(DayOfWeek.MONDAY);
            if (monday.get(IsoFields.WEEK_BASED_YEAR) != year) {
                throw new DateTimeException("a year without this week");
            }
            from = monday.atStartOfDay();
            to = from.plusWeeks(1);
        } else if (matcher.group(4) == null) {
            to = from.plusYears(1);
        } else {
            from = LocalDate.of(year, Integer.parseInt(matcher.group(4)), 1).atStartOfDay();
            to = from.plusMonths(1);
            if (matcher.group(5) != null) {
                from = LocalDate.of(year, from.getMonth(), Integer.parseInt(matcher.group(5)))
                        .atStartOfDay();
                to = from.plusDays(1);
            }
            if (matcher.group(6) != null) {
                from = from.toLocalDate().atTime(Integer.parseInt(matcher.group(6)), 0);
                to = from.plusHours(1);
            }
        }
        return new Period(value(field, from), value(field, to), false);
    }

    private static Comparable<?> value(Field field, LocalDateTime time) {
        if (field.type().kind() == Kind.DATE) {
            return time.toLocalDate();
        }
        return field.isInstant() ? time.toInstant(ZoneOffset.UTC) : time;
    }
}
