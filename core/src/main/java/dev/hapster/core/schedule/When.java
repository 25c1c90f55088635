package dev.hapster.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * When a job starts by itself. Each of the first four starts it; what follows holds for all of them.
 *
 * @param cron times by the clock
 * @param every so often, counted from midnight, each day anew
 * @param arrival how often the folders are looked at besides being watched, where it starts as soon as complete files
 *     are there; empty where it does not
 * @param after jobs after whose runs it starts
 * @param zone of times and days
 * @param notBefore nothing starts earlier; by the clock of the zone
 * @param notOn days on which nothing starts
 * @param catchUp whether times that were missed are made up for, by one run
 */
public record When(
        List<CronTimes> cron,
        Optional<Duration> every,
        Optional<Duration> arrival,
        List<String> after,
        ZoneId zone,
        Optional<LocalDateTime> notBefore,
        List<Days> notOn,
        boolean catchUp) {

    private static final Duration DAY = Duration.ofDays(1);

    public When {
        cron = List.copyOf(cron);
        after = List.copyOf(after);
        notOn = List.copyOf(notOn);
    }

    /** Days from one to another, both included. */
    public record Days(LocalDate from, LocalDate to) {
        boolean hold(LocalDate day) {
            return !day.isBefore(from) && !day.isAfter(to);
        }

        @Override
        public String toString() {
            return from.equals(to) ? from.toString() : from + " to " + to;
        }
    }

    /** So many days are looked through for one that is not among those on which nothing starts. */
    private static final int MOST_DAYS = 4000;

    /** Whether there are times by the clock. */
    public boolean isTimed() {
        return !cron.isEmpty() || every.isPresent();
    }

    /** The first time by the clock after a moment; empty where there is none. */
    public Optional<Instant> next(Instant moment) {
        Instant from = moment;
        for (int days = 0; days < MOST_DAYS; days++) {
            Optional<Instant> next = nextOfAny(from);
            Optional<Instant> until = next.flatMap(this::keptUntil);
            if (until.isEmpty()) {
                return next;
            }
            from = until.get().minusNanos(1);
        }
        return Optional.empty();
    }

    /** The next times after a moment, at most so many. */
    public List<Instant> next(Instant moment, int count) {
        List<Instant> times = new ArrayList<>();
        Optional<Instant> next = next(moment);
        while (next.isPresent() && times.size() < count) {
            times.add(next.get());
            next = next(next.get());
        }
        return times;
    }

    private Optional<Instant> nextOfAny(Instant from) {
        return Stream.concat(
                        cron.stream().map(times -> times.next(from, zone)),
                        every.stream().map(step -> nextStep(from, step)))
                .min(Instant::compareTo);
    }

    private Instant nextStep(Instant from, Duration step) {
        LocalDate day = LocalDate.ofInstant(from, zone);
        Instant midnight = day.atStartOfDay(zone).toInstant();
        long steps = Duration.between(midnight, from).dividedBy(step) + 1;
        Instant next = midnight.plus(step.multipliedBy(steps));
        Instant tomorrow = day.plusDays(1).atStartOfDay(zone).toInstant();
        Duration gained = Duration.between(midnight.plus(DAY), tomorrow); // where clocks are put back
        boolean twice = !next.isBefore(midnight.plus(DAY)) && step.compareTo(gained) > 0;
        return next.isBefore(tomorrow) && !twice ? next : tomorrow;
    }

    /** Until when nothing starts, where at a moment nothing does. */
    public Optional<Instant> keptUntil(Instant moment) {
        ZonedDateTime local = moment.atZone(zone);
        if (notBefore.filter(local.toLocalDateTime()::isBefore).isPresent()) {
            return notBefore.map(first -> first.atZone(zone).toInstant());
        }
        return notOn.stream()
                .filter(days -> days.hold(local.toLocalDate()))
                .map(days -> days.to().plusDays(1).atStartOfDay(zone).toInstant())
                .max(Instant::compareTo);
    }
}
