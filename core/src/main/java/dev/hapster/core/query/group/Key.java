package dev.hapster.core.query.group;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.YearMonth;
import java.time.ZoneOffset;
import java.util.List;

/**
 * What rows are counted by: a column, or the year, month or day of one.
 *
 * @param unit {@code year}, {@code month}, {@code day}, or empty for the value itself
 */
public record Key(Field field, String unit) {

    /** Reads {@code lab} or {@code sampled_at:month}. */
    public static Key parse(String text, Fields fields) throws QueryException {
        int colon = text.indexOf(':');
        Field field = fields.field(colon < 0 ? text : text.substring(0, colon));
        String unit = colon < 0 ? "" : text.substring(colon + 1);
        boolean dated = field.type().kind() == Kind.DATE || field.type().kind() == Kind.TIMESTAMP;
        if (!unit.isEmpty() && !(dated && List.of("year", "month", "day").contains(unit))) {
            throw new QueryException("'" + text
                    + "' cannot be counted by. Dates and timestamps can be counted by :year, :month and :day");
        }
        return new Key(field, unit);
    }

    /** What a value, which is not null, is counted under. */
    Comparable<?> of(Comparable<?> value) {
        if (unit.isEmpty()) {
            return value;
        }
        LocalDate day = value instanceof LocalDate date
                ? date
                : value instanceof LocalDateTime time
                        ? time.toLocalDate()
                        : ((Instant) value).atOffset(ZoneOffset.UTC).toLocalDate();
        return switch (unit) {
            case "year" -> (long) day.getYear();
            case "month" -> YearMonth.from(day);
            default -> day;
        };
    }
}
