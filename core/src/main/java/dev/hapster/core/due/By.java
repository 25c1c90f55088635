package dev.hapster.core.due;

import java.time.DateTimeException;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * By when the files of a period are to be there.
 *
 * @param day counted from 1 in the period in which they are to arrive; {@link #LAST} for its last. A day that a period
 *     does not have is its last
 * @param time by the clock; empty for the end of the day
 * @param same whether files that bear the date of a period are to arrive within it; otherwise they are to arrive within
 *     the one after it, once it is over
 */
public record By(int day, Optional<LocalTime> time, boolean same) {

    public static final int LAST = 0;
    /** The end of the period. */
    public static final By END = new By(LAST, Optional.empty(), false);

    private static final Pattern FORM =
            Pattern.compile("(?:(?:day (\\d{1,3})|(last day)|([a-z]+day))(?: |$))?(?:(\\d{1,2}:\\d{2})(?: |$))?"
                    + "(?:of the same ([a-z]+))?");

    /**
     * Reads {@code day 5 08:00}, {@code last day}, {@code Tuesday 12:00}, {@code 08:00}, with {@code of the same month}
     * behind it where that is meant.
     *
     * @throws IllegalArgumentException with a sentence for people, where it cannot be read or does not suit the periods
     */
    public static By of(String text, Each each) {
        Matcher form = FORM.matcher(text.strip().toLowerCase(Locale.ROOT).replaceAll("\\s+", " "));
        if (text.isBlank() || !form.matches()) {
            throw new IllegalArgumentException("'" + text + "' does not say by when");
        }
        if (form.group(5) != null && !form.group(5).equals(each.word())) {
            throw new IllegalArgumentException(
                    "'" + text + "' speaks of a " + form.group(5) + ", and files are due each " + each.word());
        }
        Optional<LocalTime> time = Optional.ofNullable(form.group(4)).map(clock -> time(clock, text));
        return new By(day(form, each, text), time, form.group(5) != null);
    }

    private static int day(Matcher form, Each each, String text) {
        if (form.group(1) != null) {
            int day = Integer.parseInt(form.group(1));
            int most = each.days(each.start(LocalDate.of(2024, 12, 30))); // the longest there is of each, or nearly
            if (day < 1 || day > most) {
                throw new IllegalArgumentException(
                        "'" + text + "' names day " + day + ", and a " + each.word() + " has days 1 to " + most);
            }
            return day;
        }
        if (form.group(3) != null) {
            if (each != Each.WEEK) {
                throw new IllegalArgumentException(
                        "'" + text + "' names a day of the week, which goes with each: week");
            }
            return weekday(form.group(3), text).getValue();
        }
        if (form.group(2) == null && each != Each.DAY && form.group(4) != null) {
            throw new IllegalArgumentException("'" + text + "' does not say on which day of the " + each.word());
        }
        return LAST;
    }

    private static DayOfWeek weekday(String name, String text) {
        try {
            return DayOfWeek.valueOf(name.toUpperCase(Locale.ROOT));
        } catch (IllegalArgumentException none) {
            throw new IllegalArgumentException("'" + text + "' names a day that no week has", none);
        }
    }

    private static LocalTime time(String clock, String text) {
        try {
            return LocalTime.parse(clock.length() == 4 ? "0" + clock : clock);
        } catch (DateTimeException none) {
            throw new IllegalArgumentException("'" + text + "' names a time that no clock shows", none);
        }
    }

    /**
     * The moment at which the files of a period are late.
     *
     * @param start the period's first day
     * @param dated whether files bear the date of the period that they are about
     */
    public Instant at(LocalDate start, Each each, boolean dated, ZoneId zone) {
        LocalDate first = dated && !same ? each.plus(start, 1) : start;
        int last = each.days(first);
        LocalDate on = first.plusDays(day == LAST ? last - 1 : Math.min(day, last) - 1);
        return time.map(clock -> on.atTime(clock).atZone(zone).toInstant())
                .orElseGet(() -> on.plusDays(1).atStartOfDay(zone).toInstant());
    }

    /** In the words of a file. */
    public String words(Each each) {
        String clock = time.map(LocalTime::toString).orElse("");
        String on = day == LAST
                ? each == Each.DAY && time.isPresent() ? "" : "last day"
                : each == Each.WEEK
                        ? DayOfWeek.of(day).name().charAt(0)
                                + DayOfWeek.of(day).name().substring(1).toLowerCase(Locale.ROOT)
                        : "day " + day;
        return (on + " " + clock).strip() + (same ? " of the same " + each.word() : "");
    }
}
