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
import java.time.temporal.IsoFields;
import java.util.List;
import java.util.Locale;

/**
 * What rows are counted by: a column, or the year, quarter, month, week, day or hour of one. Units that no class of
 * {@code java.time} stands for are texts, written so that they can be asked for
 * ({@link dev.hapster.core.query.value.Period}).
 *
 * @param unit one of {@link #UNITS}, or empty for the value itself
 */
public record Key(Field field, String unit) {

    /** Times that values can be put together by. Weeks are those of ISO 8601, which begin on Monday. */
    public static final List<String> UNITS = List.of("year", "quarter", "month", "week", "day", "hour");

    /** Reads {@code lab} or {@code sampled_at:month}. */
    public static Key parse(String text, Fields fields) throws QueryException {
        int colon = text.indexOf(':');
        Field field = fields.field(colon < 0 ? text : text.substring(0, colon));
        String unit = colon < 0 ? "" : text.substring(colon + 1);
        if (colon < 0) {
            return new Key(field, unit);
        }
        Kind kind = field.type().kind();
        if (kind != Kind.DATE && kind != Kind.TIMESTAMP) {
            throw new QueryException(
                    "'" + text + "' cannot be counted by: " + field.name() + " is of type " + field.type()
                            + ", and only dates and timestamps have a " + (UNITS.contains(unit) ? unit : "unit"));
        }
        if (!UNITS.contains(unit) || (kind == Kind.DATE && unit.equals("hour"))) {
            throw new QueryException("'" + text + "' cannot be counted by. Write " + field.name()
                    + " with :year, :quarter, :month, :week" + (kind == Kind.DATE ? " or :day" : ", :day or :hour"));
        }
        return new Key(field, unit);
    }

    /** What a value, which is not null, is counted under. */
    Comparable<?> of(Comparable<?> value) {
        if (unit.isEmpty()) {
            return value;
        }
        LocalDateTime time = value instanceof LocalDate date
                ? date.atStartOfDay()
                : value instanceof LocalDateTime exact
                        ? exact
                        : LocalDateTime.ofInstant((Instant) value, ZoneOffset.UTC);
        LocalDate day = time.toLocalDate();
        return switch (unit) {
            case "year" -> (long) day.getYear();
            case "quarter" -> text("%04d-Q%d", day.getYear(), day.get(IsoFields.QUARTER_OF_YEAR));
            case "month" -> YearMonth.from(day);
            case "week" ->
                text("%04d-W%02d", day.get(IsoFields.WEEK_BASED_YEAR), day.get(IsoFields.WEEK_OF_WEEK_BASED_YEAR));
            case "hour" -> text("%sT%02d", day, time.getHour());
            default -> day;
        };
    }

    private static String text(String format, Object... values) {
        return String.format(Locale.ROOT, format, values);
    }
}
