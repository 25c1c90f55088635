package dev.hapster.core.expression;

import static dev.hapster.core.expression.Library.DURATION;
import static dev.hapster.core.expression.Library.INTEGER;
import static dev.hapster.core.expression.Library.MOMENT;
import static dev.hapster.core.expression.Library.TEXT;
import static dev.hapster.core.expression.Library.function;
import static dev.hapster.core.expression.Library.method;

import dev.hapster.core.pattern.DateNames;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.reason.Reasons;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.temporal.ChronoField;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.ToLongFunction;

/** Functions on dates and times, which know no zone: a date is the midnight with which it begins. */
final class TimeFunctions {

    private static final int MOST_PATTERNS = 1_000;
    private static final Map<String, DatePattern> PATTERNS = new ConcurrentHashMap<>();

    private TimeFunctions() {}

    static List<Function> all() {
        return List.of(
                function(
                                "date",
                                "a text in ISO 8601 as a date or time",
                                (frame, a) -> parsed(TextFunctions.text(a, 0), DatePattern.ISO))
                        .form(MOMENT, TEXT)
                        .example("date('2026-07-14')", "2026-07-14T00:00:00Z"),
                function(
                                "date",
                                "a text in a pattern (CLDR) as a date or time; with the language of its names as a tag "
                                        + "of BCP 47",
                                (frame, a) -> parsed(TextFunctions.text(a, 0), pattern(TextFunctions.text(a, 1), "")))
                        .form(MOMENT, TEXT, TEXT)
                        .checked(constants -> mistake(constants[1], null))
                        .example("date('14.07.2026', 'dd.MM.yyyy')", "2026-07-14T00:00:00Z"),
                function(
                                "date",
                                "",
                                (frame, a) -> parsed(
                                        TextFunctions.text(a, 0),
                                        pattern(TextFunctions.text(a, 1), TextFunctions.text(a, 2))))
                        .form(MOMENT, TEXT, TEXT, TEXT)
                        .checked(constants -> mistake(constants[1], constants[2]))
                        .example("date('14. Juli 2026', 'd. MMMM yyyy', 'de')", "2026-07-14T00:00:00Z"),
                function(
                                "timestamp",
                                "a text in ISO 8601 with a zone (RFC 3339) as a time",
                                (frame, a) -> a[0] instanceof Instant
                                        ? a[0]
                                        : parsed(TextFunctions.text(a, 0), DatePattern.ISO))
                        .form(MOMENT, TEXT)
                        .form(MOMENT, MOMENT)
                        .example("timestamp('2026-07-14T12:00:00+02:00')", "2026-07-14T10:00:00Z"),
                function(
                                "duration",
                                "a length of time: a number with `h`, `m` or `s`, or several",
                                (frame, a) -> duration(TextFunctions.text(a, 0)))
                        .form(DURATION, TEXT)
                        .checked(TimeFunctions::length)
                        .example("date('2026-07-14') + duration('36h')", "2026-07-15T12:00:00Z"),
                method(
                                "format",
                                "a date or time as a text, in a pattern (CLDR)",
                                (frame, a) -> formatted(moment(a, 0), TextFunctions.text(a, 1)))
                        .form(TEXT, MOMENT, TEXT)
                        .checked(constants -> writing(constants[1]))
                        .example("date('2026-07-14').format('yyyy-MM')", "2026-07"),
                part("year", "its year", day -> day.getYear()).example("year(date('2026-07-14'))", "2026"),
                part("month", "its month, 1 to 12", day -> day.getMonthValue())
                        .example("month(date('2026-07-14'))", "7"),
                part("day", "its day in the month", day -> day.getDayOfMonth())
                        .example("day(date('2026-07-14'))", "14"),
                part(
                                "weekday",
                                "its day in the week: 1 is Monday, 7 Sunday (ISO 8601)",
                                day -> day.getLong(ChronoField.DAY_OF_WEEK))
                        .example("weekday(date('2026-07-14'))", "2"),
                part("hour", "its hour, 0 to 23", day -> day.getHour()).example("hour(date('2026-07-14T09:30'))", "9"),
                part("minute", "its minute", day -> day.getMinute()).example("minute(date('2026-07-14T09:30'))", "30"),
                part("second", "its second", day -> day.getSecond())
                        .example("second(date('2026-07-14T09:30:15'))", "15"),
                function(
                                "addDays",
                                "so many days later; earlier where they are negative",
                                (frame, a) -> later(moment(a, 0), TextFunctions.whole(a, 1), ChronoUnit.DAYS))
                        .form(MOMENT, MOMENT, INTEGER)
                        .example("addDays(date('2026-07-14'), 30)", "2026-08-13T00:00:00Z"),
                function(
                                "addMonths",
                                "so many months later, at most the last day of that month",
                                (frame, a) -> later(moment(a, 0), TextFunctions.whole(a, 1), ChronoUnit.MONTHS))
                        .form(MOMENT, MOMENT, INTEGER)
                        .example("addMonths(date('2026-01-31'), 1)", "2026-02-28T00:00:00Z"),
                function(
                                "daysBetween",
                                "how many days the second lies behind the first",
                                (frame, a) -> Math.floorDiv(
                                        Duration.between(moment(a, 0), moment(a, 1))
                                                .toSeconds(),
                                        86_400L))
                        .form(INTEGER, MOMENT, MOMENT)
                        .example("daysBetween(date('2026-07-01'), date('2026-07-14'))", "13"));
    }

    private static Function part(String name, String means, ToLongFunction<LocalDateTime> part) {
        return function(name, means, (frame, a) -> part.applyAsLong(Values.local(moment(a, 0))))
                .form(INTEGER, MOMENT);
    }

    private static Instant moment(Object[] arguments, int at) throws FailedException {
        if (arguments[at] instanceof Instant moment) {
            return moment;
        }
        throw new FailedException("a date or time is expected, and there is " + Values.kind(arguments[at]));
    }

    private static Instant parsed(String text, DatePattern pattern) throws FailedException {
        long micros = pattern.parse(text.strip());
        if (micros <= DatePattern.NO_SUCH_DAY) {
            throw new FailedException(Reasons.quote(text)
                    + (micros == DatePattern.UNREADABLE
                            ? " is not written as " + (pattern == DatePattern.ISO ? "ISO 8601" : pattern)
                            : " is not a valid date"));
        }
        return Instant.EPOCH.plus(micros, ChronoUnit.MICROS);
    }

    private static Instant later(Instant moment, int count, ChronoUnit unit) throws FailedException {
        try {
            return Values.local(moment).plus(count, unit).toInstant(ZoneOffset.UTC);
        } catch (DateTimeException far) {
            throw new FailedException("the date lies too far away");
        }
    }

    private static Duration duration(String text) throws FailedException {
        if (length(text).isPresent()) {
            throw new FailedException(length(text).get());
        }
        try {
            return Duration.parse((text.startsWith("-") ? "-PT" : "PT")
                    + text.replaceFirst("^-", "").toUpperCase(java.util.Locale.ROOT));
        } catch (DateTimeException | ArithmeticException far) {
            throw new FailedException(Reasons.quote(text) + " is not a length of time");
        }
    }

    private static Optional<String> length(Object... constants) {
        return constants[0] instanceof String text
                        && !text.matches("-?(\\d{1,9}h)?(\\d{1,9}m)?(\\d{1,9}(\\.\\d{1,9})?s)?(?<!^|-)")
                ? Optional.of(Reasons.quote(text) + " is not a length of time, such as 36h or 1h30m")
                : Optional.empty();
    }

    private static DatePattern pattern(String written, String language) throws FailedException {
        String key = language + '\n' + written;
        DatePattern known = PATTERNS.get(key);
        if (known != null) {
            return known;
        }
        Optional<String> mistake = mistake(written, language.isEmpty() ? null : language);
        if (mistake.isPresent()) {
            throw new FailedException(mistake.get());
        }
        DatePattern made = DatePattern.of(written).in(Optional.of(language).filter(tag -> !tag.isEmpty()));
        if (PATTERNS.size() < MOST_PATTERNS) { // patterns may come from rows
            PATTERNS.put(key, made);
        }
        return made;
    }

    private static Optional<String> mistake(Object written, Object language) {
        try {
            if (language instanceof String tag && DateNames.of(tag).isEmpty()) {
                return Optional.of("no names of months are known of a language " + Reasons.quote(tag));
            }
            DatePattern unused = written instanceof String pattern ? DatePattern.of(pattern) : DatePattern.ISO;
            return Optional.empty();
        } catch (IllegalArgumentException wrong) {
            return Optional.of(wrong.getMessage());
        }
    }

    private static Optional<String> writing(Object written) {
        try {
            if (written instanceof String pattern && !pattern.equals("iso")) {
                String unused = DatePattern.partial(pattern).format(LocalDateTime.of(2026, 1, 31, 0, 0));
            }
            return Optional.empty();
        } catch (IllegalArgumentException wrong) {
            return Optional.of(wrong.getMessage());
        }
    }

    private static String formatted(Instant moment, String written) throws FailedException {
        LocalDateTime local = Values.local(moment);
        if (written.equals("iso")) {
            return local.toLocalTime().toSecondOfDay() == 0
                    ? local.toLocalDate().toString()
                    : local.toString();
        }
        try {
            String key = "\n\n" + written;
            DatePattern pattern = PATTERNS.get(key);
            if (pattern == null) {
                pattern = DatePattern.partial(written);
                if (PATTERNS.size() < MOST_PATTERNS) {
                    PATTERNS.put(key, pattern);
                }
            }
            return pattern.format(local);
        } catch (IllegalArgumentException wrong) {
            throw new FailedException(wrong.getMessage());
        }
    }
}
