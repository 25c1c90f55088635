package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.section.JobSection.Starts;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.Durations;
import dev.hapster.core.schedule.CronTimes;
import dev.hapster.core.schedule.When;
import dev.hapster.core.schedule.When.Days;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads what a job's file says of when it runs. */
final class WhenParser {

    private static final Duration LEAST = Duration.ofSeconds(10);
    private static final Duration MOST = Duration.ofDays(1);
    private static final Pattern DAYS = Pattern.compile("(\\S+)(?:\\s+to\\s+(\\S+))?");
    private static final int MOST_CRON = 100;

    private WhenParser() {}

    /** @param job its own name */
    static Optional<When> when(YamlMap root, String job) {
        if (!root.has(JobSection.WHEN.name())) {
            return Optional.empty();
        }
        YamlMap map = JobSection.WHEN.in(root).orElseThrow();
        boolean arrival = Starts.ARRIVAL.in(map);
        Duration look = Starts.LOOK.in(map);
        between(map, Starts.LOOK.name(), look, Duration.ofSeconds(1));
        if (map.has(Starts.LOOK.name()) && !arrival) {
            map.wrongKey(Starts.LOOK.name(), "'look' goes with `arrival: true` only", "");
        }
        List<String> after = Starts.AFTER.in(map);
        if (after.contains(job)) {
            map.wrong(Starts.AFTER.name(), "a job cannot run after itself", "Name other jobs");
        }
        When when = new When(
                cron(map),
                every(map),
                arrival ? Optional.of(look) : Optional.empty(),
                after,
                Starts.ZONE.in(map).orElse(ZoneId.systemDefault()),
                notBefore(map),
                notOn(map),
                Starts.CATCH_UP.in(map));
        if (!map.has("cron") && !map.has("every") && !arrival && after.isEmpty()) {
            map.wrong(
                    "'when' does not say what starts the job",
                    "Write one or several of `cron: \"0 6 * * *\"`, `every: 15 min`, `arrival: true`, `after: JOB`");
        }
        return Optional.of(when);
    }

    private static List<CronTimes> cron(YamlMap map) {
        List<CronTimes> all = new ArrayList<>();
        List<String> texts = Starts.CRON.in(map);
        if (texts.size() > MOST_CRON) {
            map.wrong(Starts.CRON.name(), "'cron' has more than " + MOST_CRON + " expressions", "");
            return all;
        }
        for (String text : texts) {
            try {
                all.add(CronTimes.of(text));
            } catch (IllegalArgumentException wrong) {
                map.wrong(
                        Starts.CRON.name(),
                        wrong.getMessage(),
                        "For example \"0 6 * * 1-5\": at 06:00 from Monday to Friday");
            }
        }
        return all;
    }

    private static Optional<Duration> every(YamlMap map) {
        return Starts.EVERY.in(map).flatMap(text -> {
            try {
                Duration every = Durations.parse(text);
                between(map, Starts.EVERY.name(), every, LEAST);
                return every.compareTo(LEAST) < 0 ? Optional.empty() : Optional.of(every);
            } catch (IllegalArgumentException wrong) {
                map.wrong(Starts.EVERY.name(), wrong.getMessage(), "");
                return Optional.empty();
            }
        });
    }

    /** Durations that a schedule is made of have limits. */
    static void between(YamlMap map, String key, Duration duration, Duration least) {
        if (duration.compareTo(least) < 0 || duration.compareTo(MOST) > 0) {
            map.wrong(
                    key,
                    "'" + key + "' must be from " + Durations.format(least) + " to " + Durations.format(MOST) + ", not "
                            + Durations.format(duration),
                    key.equals("every") ? "For rarer times use `cron`" : "");
        }
    }

    private static Optional<LocalDateTime> notBefore(YamlMap map) {
        return Starts.NOT_BEFORE.in(map).flatMap(text -> {
            try {
                return Optional.of(
                        text.contains("T")
                                ? LocalDateTime.parse(text)
                                : LocalDate.parse(text).atStartOfDay());
            } catch (DateTimeException wrong) {
                map.wrong(
                        Starts.NOT_BEFORE.name(),
                        "'" + text + "' must be a date, or a date with a time",
                        "Write it like 2027-01-01 or 2027-01-01T06:00");
                return Optional.empty();
            }
        });
    }

    private static List<Days> notOn(YamlMap map) {
        List<Days> all = new ArrayList<>();
        for (String texts : Starts.NOT_ON.in(map)) {
            for (String text : texts.split(",")) {
                if (!text.isBlank()) {
                    days(map, text.strip()).ifPresent(all::add);
                }
            }
        }
        return all;
    }

    private static Optional<Days> days(YamlMap map, String text) {
        Matcher form = DAYS.matcher(text);
        try {
            if (form.matches()) {
                LocalDate from = LocalDate.parse(form.group(1));
                LocalDate to = form.group(2) == null ? from : LocalDate.parse(form.group(2));
                if (!to.isBefore(from)) {
                    return Optional.of(new Days(from, to));
                }
            }
        } catch (DateTimeException wrong) {
            // said below
        }
        map.wrong(
                Starts.NOT_ON.name(),
                "'" + text + "' must be a day, or days from one to a later one",
                "Write it like 2026-12-25, or 2026-12-24 to 2027-01-06");
        return Optional.empty();
    }
}
