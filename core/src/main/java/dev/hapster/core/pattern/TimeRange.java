package dev.hapster.core.pattern;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A range of moments in the words that people use, some of them relative to the present:
 *
 * <ul>
 *   <li>{@code today}, {@code yesterday}, {@code this week}, {@code last month}, {@code last year}: whole periods of
 *       the calendar
 *   <li>{@code last 7 days}, {@code last 12 hours}, {@code last 3 months}: from so long ago until now
 *   <li>{@code since 2026-01-01}, {@code since last month}: from the beginning of that on
 *   <li>{@code before 2026-01-01}: earlier than the beginning of that
 *   <li>{@code 2026-01-01 to 2026-03-31}: both days included
 *   <li>{@code 2026-01-31}: that day
 * </ul>
 *
 * Moments are ISO 8601 days or times, or such as {@code 31.01.2026} and {@code 31.01.2026 06:00}. Weeks begin on
 * Monday. Immutable.
 */
public final class TimeRange {

    private static final Map<String, ChronoUnit> UNITS = Map.of(
            "minute",
            ChronoUnit.MINUTES,
            "hour",
            ChronoUnit.HOURS,
            "day",
            ChronoUnit.DAYS,
            "week",
            ChronoUnit.WEEKS,
            "month",
            ChronoUnit.MONTHS,
            "year",
            ChronoUnit.YEARS);
    private static final Pattern BACK = Pattern.compile("last (\\d{1,6}) (minute|hour|day|week|month|year)s?");
    private static final Pattern PERIOD = Pattern.compile("(this|last) (day|week|month|year)");
    private static final Pattern DAY = Pattern.compile("(\\d{4})-(\\d{2})-(\\d{2})");
    private static final Pattern LOCAL_DAY = Pattern.compile("(\\d{1,2})\\.(\\d{1,2})\\.(\\d{4})");
    private static final Pattern LOCAL_MOMENT =
            Pattern.compile("(\\d{1,2}\\.\\d{1,2}\\.\\d{4})[ t](\\d{2}:\\d{2}(?::\\d{2})?)");
    private static final String FORMS =
            "Write `last 7 days`, `last month`, `since 2026-01-01`, `before 2026-01-01`, or `2026-01-01 to 2026-03-31`";

    /** A stretch of time: from its beginning (inclusive) to its end (exclusive). */
    public record Span(Optional<Instant> from, Optional<Instant> to) {

        public boolean holds(Instant moment) {
            return (from.isEmpty() || !moment.isBefore(from.get())) && (to.isEmpty() || moment.isBefore(to.get()));
        }
    }

    private final String written;
    private final UnaryOperator<ZonedDateTime> from;
    private final UnaryOperator<ZonedDateTime> to;

    private TimeRange(String written, UnaryOperator<ZonedDateTime> from, UnaryOperator<ZonedDateTime> to) {
        this.written = written;
        this.from = from;
        this.to = to;
    }

    /** @throws IllegalArgumentException with a sentence for people, where the words mean no range */
    public static TimeRange of(String written) {
        String words = written.strip().toLowerCase(Locale.ROOT).replaceAll("\\s+", " ");
        Matcher back = BACK.matcher(words);
        if (back.matches()) {
            long count = Long.parseLong(back.group(1));
            ChronoUnit unit = UNITS.get(back.group(2));
            return new TimeRange(written, now -> now.minus(count, unit), null);
        }
        if (words.startsWith("since ")) {
            return new TimeRange(written, period(words.substring(6), written).from, null);
        }
        if (words.startsWith("before ")) {
            return new TimeRange(written, null, period(words.substring(7), written).from);
        }
        int between = words.indexOf(" to ");
        if (between > 0) {
            return new TimeRange(
                    written,
                    period(words.substring(0, between), written).from,
                    period(words.substring(between + 4), written).to);
        }
        return period(words, written);
    }

    /** A day, a moment, or a whole period of the calendar. */
    private static TimeRange period(String words, String written) {
        String named = words.equals("today") ? "this day" : words.equals("yesterday") ? "last day" : words;
        Matcher period = PERIOD.matcher(named);
        if (period.matches()) {
            ChronoUnit unit = UNITS.get(period.group(2));
            long back = period.group(1).equals("last") ? 1 : 0;
            return new TimeRange(written, now -> begin(now, unit).minus(back, unit), now -> begin(now, unit)
                    .minus(back, unit)
                    .plus(1, unit));
        }
        Optional<LocalDate> day = day(named);
        if (day.isPresent()) {
            return new TimeRange(written, now -> day.get().atStartOfDay(now.getZone()), now -> day.get()
                    .plusDays(1)
                    .atStartOfDay(now.getZone()));
        }
        Matcher local = LOCAL_MOMENT.matcher(named);
        String moment = !local.matches() ? named : day(local.group(1)).orElseThrow() + "t" + local.group(2);
        return moment(moment, words, written);
    }

    private static TimeRange moment(String named, String words, String written) {
        long micros = DatePattern.ISO.parse(named.toUpperCase(Locale.ROOT));
        if (micros <= DatePattern.NO_SUCH_DAY || DAY.matcher(named).matches() || !named.contains("-")) {
            throw new IllegalArgumentException("'" + words + "' is not a time"
                    + (micros == DatePattern.NO_SUCH_DAY ? " of the calendar" : "") + ". " + FORMS);
        }
        LocalDateTime moment =
                LocalDateTime.ofEpochSecond(Math.floorDiv(micros, 1_000_000L), 0, java.time.ZoneOffset.UTC);
        return new TimeRange(written, now -> moment.atZone(now.getZone()), now -> moment.atZone(now.getZone()));
    }

    private static Optional<LocalDate> day(String text) {
        Matcher iso = DAY.matcher(text);
        Matcher local = LOCAL_DAY.matcher(text);
        try {
            if (iso.matches()) {
                return Optional.of(LocalDate.parse(text));
            }
            return local.matches()
                    ? Optional.of(LocalDate.of(
                            Integer.parseInt(local.group(3)),
                            Integer.parseInt(local.group(2)),
                            Integer.parseInt(local.group(1))))
                    : Optional.empty();
        } catch (java.time.DateTimeException wrong) {
            throw new IllegalArgumentException("'" + text + "' is not a valid date", wrong);
        }
    }

    private static ZonedDateTime begin(ZonedDateTime now, ChronoUnit unit) {
        ZonedDateTime day = now.truncatedTo(ChronoUnit.DAYS);
        return switch (unit) {
            case WEEKS -> day.with(TemporalAdjusters.previousOrSame(java.time.DayOfWeek.MONDAY));
            case MONTHS -> day.withDayOfMonth(1);
            case YEARS -> day.withDayOfYear(1);
            default -> day;
        };
    }

    /** The stretch of time that the words mean at a moment, in a zone. */
    public Span at(Instant now, ZoneId zone) {
        ZonedDateTime here = now.atZone(zone);
        return new Span(
                Optional.ofNullable(from).map(edge -> edge.apply(here).toInstant()),
                Optional.ofNullable(to).map(edge -> edge.apply(here).toInstant()));
    }

    @Override
    public String toString() {
        return written;
    }
}
