package dev.hapster.core.due;

import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.YearMonth;
import java.time.format.DateTimeFormatter;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.time.temporal.TemporalAdjusters;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Periods of one kind, each beginning where the one before ends. Weeks are those of ISO 8601, from Monday. */
public enum Each {
    DAY,
    WEEK,
    MONTH,
    QUARTER,
    YEAR;

    private static final Pattern QUARTERS = Pattern.compile("(\\d{4})-?Q([1-4])");
    private static final Pattern MONTHS = Pattern.compile("(\\d{4})-(\\d{2})");
    private static final Pattern YEARS = Pattern.compile("\\d{4}");
    private static final Pattern WEEKS = Pattern.compile("\\d{4}-W\\d{2}");
    private static final DateTimeFormatter WEEK_NAME = DateTimeFormatter.ofPattern("YYYY-'W'ww", Locale.GERMANY);

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** The first day of the period in which a day lies. */
    public LocalDate start(LocalDate day) {
        return switch (this) {
            case DAY -> day;
            case WEEK -> day.with(TemporalAdjusters.previousOrSame(DayOfWeek.MONDAY));
            case MONTH -> day.withDayOfMonth(1);
            case QUARTER -> day.with(IsoFields.DAY_OF_QUARTER, 1);
            case YEAR -> day.withDayOfYear(1);
        };
    }

    /** The first day of the period so many later; earlier where the number is negative. */
    public LocalDate plus(LocalDate start, long periods) {
        return switch (this) {
            case DAY -> start.plusDays(periods);
            case WEEK -> start.plusWeeks(periods);
            case MONTH -> start.plusMonths(periods);
            case QUARTER -> start.plusMonths(3 * periods);
            case YEAR -> start.plusYears(periods);
        };
    }

    /** Days of the period that begins on a day. */
    public int days(LocalDate start) {
        return Math.toIntExact(ChronoUnit.DAYS.between(start, plus(start, 1)));
    }

    /**
     * What people call a period: {@code 2026-03-05}, {@code 2026-W10}, {@code 2026-03}, {@code 2026-Q1}, {@code 2026}.
     */
    public String name(LocalDate start) {
        return switch (this) {
            case DAY -> start.toString();
            case WEEK -> WEEK_NAME.format(start);
            case MONTH -> YearMonth.from(start).toString();
            case QUARTER -> start.getYear() + "-Q" + start.get(IsoFields.QUARTER_OF_YEAR);
            case YEAR -> String.valueOf(start.getYear());
        };
    }

    /**
     * The first day of the period that a text names, be it by a shorter one that lies in it; empty where it names none.
     */
    public Optional<LocalDate> parse(String text) {
        return first(text.strip()).map(this::start);
    }

    private static Optional<LocalDate> first(String text) {
        try {
            Matcher quarter = QUARTERS.matcher(text);
            if (quarter.matches()) {
                return Optional.of(LocalDate.of(
                        Integer.parseInt(quarter.group(1)), 3 * Integer.parseInt(quarter.group(2)) - 2, 1));
            }
            if (MONTHS.matcher(text).matches()) {
                return Optional.of(YearMonth.parse(text).atDay(1));
            }
            if (YEARS.matcher(text).matches()) {
                return Optional.of(LocalDate.of(Integer.parseInt(text), 1, 1));
            }
            return Optional.of(
                    WEEKS.matcher(text).matches()
                            ? LocalDate.parse(text + "-1", DateTimeFormatter.ISO_WEEK_DATE)
                            : LocalDate.parse(text));
        } catch (DateTimeException none) {
            return Optional.empty();
        }
    }
}
