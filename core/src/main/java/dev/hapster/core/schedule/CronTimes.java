package dev.hapster.core.schedule;

import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.time.ExecutionTime;
import com.cronutils.parser.CronParser;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.time.zone.ZoneOffsetTransition;
import java.time.zone.ZoneRules;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The times that a cron expression of five fields stands for (POSIX, with steps such as {@code *}{@code /15} and names
 * of months and days). Where both the day of the month and the day of the week are restricted, either will do.
 *
 * <p>Where clocks are changed: a time that is skipped comes at the end of the gap, and one that is there twice comes
 * once, the first time. Expressions whose hour is {@code *} or a step of it go on by elapsed time: every hour of the
 * day has its turn, also the one that comes twice.
 */
public final class CronTimes {

    private static final CronParser PARSER = new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));

    private static final Pattern SPACE = Pattern.compile("\\s+");
    private static final Pattern ITEM = Pattern.compile("(\\*|\\w+)(?:-(\\w+))?(?:/(\\d{1,4}))?");
    private static final String MONTHS = "JAN FEB MAR APR MAY JUN JUL AUG SEP OCT NOV DEC";
    private static final String DAYS = "SUN MON TUE WED THU FRI SAT";

    /**
     * One of the five.
     *
     * @param names that stand for numbers, the first for the smallest
     */
    private record Field(String what, int least, int most, List<String> names) {
        String range() {
            return least + " to " + most
                    + (names.isEmpty() ? "" : ", or " + names.get(0) + " to " + names.get(names.size() - 1));
        }
    }

    private static final List<Field> FIELDS = List.of(
            new Field("minute", 0, 59, List.of()),
            new Field("hour", 0, 23, List.of()),
            new Field("day of the month", 1, 31, List.of()),
            new Field("month", 1, 12, List.of(MONTHS.split(" "))),
            new Field("day of the week", 0, 7, List.of(DAYS.split(" "))));

    private final String text;
    private final ExecutionTime times;
    private final boolean byElapsedTime;

    private CronTimes(String text, ExecutionTime times, boolean byElapsedTime) {
        this.text = text;
        this.times = times;
        this.byElapsedTime = byElapsedTime;
    }

    /** @throws IllegalArgumentException with a sentence for people that names the field */
    public static CronTimes of(String text) {
        String[] fields = SPACE.split(text.strip());
        if (fields.length != FIELDS.size()) {
            throw new IllegalArgumentException("'" + text + "' has " + fields.length
                    + " fields; a cron expression has five: minute, hour, day of the month, month, day of the week");
        }
        for (int i = 0; i < fields.length; i++) {
            for (String item : fields[i].split(",", -1)) {
                check(text, FIELDS.get(i), item);
            }
        }
        ExecutionTime times = ExecutionTime.forCron(PARSER.parse(String.join(" ", fields)));
        CronTimes made = new CronTimes(text.strip(), times, fields[1].startsWith("*"));
        if (made.local(LocalDateTime.of(2000, 1, 1, 0, 0)).isEmpty()) {
            throw new IllegalArgumentException("'" + text + "' never comes: no month has such a day");
        }
        return made;
    }

    private static void check(String text, Field field, String item) {
        Matcher form = ITEM.matcher(item);
        boolean fits = form.matches();
        if (fits && !form.group(1).equals("*")) {
            int from = number(field, form.group(1));
            int to = form.group(2) == null ? from : number(field, form.group(2));
            fits = from >= field.least && to <= field.most && from <= to;
            if (fits && form.group(3) != null && form.group(2) == null) {
                throw new IllegalArgumentException("'" + item + "' in '" + text
                        + "' needs a range in front of the step: " + item.replace("/", "-" + field.most + "/"));
            }
        } else if (fits) {
            fits = form.group(2) == null;
        }
        if (fits && form.group(3) != null) {
            int step = Integer.parseInt(form.group(3));
            fits = step > 0 && step <= field.most;
        }
        if (!fits) {
            throw new IllegalArgumentException(
                    "'" + item + "' in '" + text + "' is not a valid " + field.what + "; write "
                            + field.range() + ", a range such as " + field.least + "-" + (field.least + 3)
                            + ", a step such as */2, or several with commas between");
        }
    }

    private static int number(Field field, String text) {
        int named = field.names.indexOf(text.toUpperCase(Locale.ROOT));
        if (named >= 0) {
            return named + field.least;
        }
        return text.matches("\\d{1,2}") ? Integer.parseInt(text) : Integer.MAX_VALUE;
    }

    /** The first time after a moment. */
    public Instant next(Instant after, ZoneId zone) {
        return byElapsedTime ? nextElapsed(after, zone.getRules()) : nextByClock(after, zone.getRules());
    }

    private Instant nextByClock(Instant after, ZoneRules rules) {
        LocalDateTime local = LocalDateTime.ofInstant(after, rules.getOffset(after));
        while (true) {
            LocalDateTime next = local(local).orElseThrow();
            ZoneOffsetTransition change = rules.getTransition(next);
            Instant moment = change == null
                    ? next.toInstant(rules.getOffset(next))
                    : change.isGap() ? change.getInstant() : next.toInstant(change.getOffsetBefore());
            if (moment.isAfter(after)) {
                return moment;
            }
            local = next; // it was there before the clock was put back
        }
    }

    private Instant nextElapsed(Instant after, ZoneRules rules) {
        Instant from = after;
        LocalDateTime local = LocalDateTime.ofInstant(after, rules.getOffset(after));
        while (true) {
            Instant next = local(local).orElseThrow().toInstant(rules.getOffset(from));
            ZoneOffsetTransition change = rules.nextTransition(from);
            if (change == null || next.isBefore(change.getInstant())) {
                return next;
            }
            from = change.getInstant();
            local = change.getDateTimeAfter().minusNanos(1);
        }
    }

    /** The first time by the clock on the wall, as if it were never changed. */
    private Optional<LocalDateTime> local(LocalDateTime after) {
        return times.nextExecution(after.atZone(ZoneOffset.UTC))
                .map(next -> next.toLocalDateTime().truncatedTo(ChronoUnit.MINUTES));
    }

    /** As it was written. */
    public String text() {
        return text;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof CronTimes times && times.text.equals(text);
    }

    @Override
    public int hashCode() {
        return text.hashCode();
    }

    @Override
    public String toString() {
        return text;
    }
}
