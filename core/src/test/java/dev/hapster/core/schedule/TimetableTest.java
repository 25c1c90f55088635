package dev.hapster.core.schedule;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.schedule.Start.By;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

class TimetableTest {

    /** What would be the service, its catalogue and its clock. */
    private static final class World extends Clock implements Timetable.Log, Timetable.Starter {
        Instant now = Instant.parse("2027-01-01T00:00:30Z");
        final Map<String, Progress> kept = new HashMap<>();
        final Map<String, When> jobs = new TreeMap<>();
        final Map<String, List<Started>> starts = new HashMap<>();
        final Map<String, Instant> busyUntil = new HashMap<>();
        final Map<String, Long> finished = new HashMap<>();
        Duration takes = Duration.ZERO;
        Instant up = now;
        boolean full;
        long runs;
        Timetable timetable = new Timetable(this, this, this);

        /** @param up since when the service has been up */
        record Started(Instant at, Start start, Instant up) {
            /** How many times it is for. */
            long times() {
                return start.missed() + (start.due().isBefore(up) ? 0 : 1);
            }
        }

        @Override
        public Map<String, Progress> all() {
            return kept;
        }

        @Override
        public void keep(String job, Progress progress) {
            if (full) {
                throw new IllegalStateException("no space left");
            }
            kept.put(job, progress);
        }

        @Override
        public void forget(String job) {
            kept.remove(job);
        }

        @Override
        public boolean start(String job, Start start, Progress then) {
            if (busyUntil.getOrDefault(job, Instant.MIN).isAfter(now)) {
                return false;
            }
            keep(job, then);
            starts.computeIfAbsent(job, fresh -> new ArrayList<>()).add(new Started(now, start, up));
            busyUntil.put(job, now.plus(takes));
            finished.put(job, ++runs);
            return true;
        }

        @Override
        public long lastFinished(Set<String> names) {
            return names.stream()
                    .mapToLong(name -> busyUntil.getOrDefault(name, Instant.MIN).isAfter(now)
                            ? 0
                            : finished.getOrDefault(name, 0L))
                    .max()
                    .orElse(0);
        }

        void job(String name, String when) {
            try {
                jobs.put(
                        name,
                        Definitions.when(
                                        "jobs/" + name + ".yaml",
                                        "job: " + name + "\nwhen: {zone: Europe/Vienna, " + when + "}\n",
                                        Values.none())
                                .orElseThrow());
            } catch (DefinitionException wrong) {
                throw new AssertionError(wrong.getMessage(), wrong);
            }
        }

        void tick() {
            timetable.declare(jobs);
            timetable.ended();
            timetable.tick();
        }

        void pass(Duration time) {
            Instant end = now.plus(time);
            while (now.isBefore(end)) {
                now = now.plusSeconds(30);
                tick();
            }
        }

        /** The service is down for a while. */
        void down(Duration time) {
            now = now.plus(time);
            up = now;
            timetable = new Timetable(this, this, this);
        }

        List<Started> of(String job) {
            return starts.getOrDefault(job, List.of());
        }

        List<String> times(String job) {
            return of(job).stream().map(one -> one.at().toString()).toList();
        }

        @Override
        public Instant instant() {
            return now;
        }

        @Override
        public ZoneId getZone() {
            return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
            throw new UnsupportedOperationException();
        }
    }

    @Test
    void startsEachTimeOnceAndWhatIsNewNeverForThePast() {
        World world = new World();
        world.job("a", "cron: \"0 6 * * *\"");
        world.tick();
        world.pass(Duration.ofDays(2));
        assertThat(world.times("a")).containsExactly("2027-01-01T05:00:00Z", "2027-01-02T05:00:00Z");
        world.job("a", "cron: \"0 0 * * *\""); // midnight has been an hour and a half ago
        world.pass(Duration.ofHours(2));
        assertThat(world.of("a")).hasSize(2);
    }

    @Test
    void makesUpForMissedTimesByOneRunOrLeavesThemOut() {
        World world = new World();
        world.job("once", "cron: \"0 * * * *\"");
        world.job("skip", "cron: \"0 * * * *\", missed: skip");
        world.tick();
        world.down(Duration.ofHours(5).plusMinutes(10));
        world.tick();
        assertThat(world.of("once"))
                .extracting(World.Started::start)
                .containsExactly(new Start(By.TIME, Instant.parse("2027-01-01T05:00:00Z"), 5, 0));
        assertThat(world.of("skip")).isEmpty();
        world.pass(Duration.ofHours(1));
        assertThat(world.of("once")).hasSize(2);
        assertThat(world.of("skip")).hasSize(1);
    }

    @Test
    void whatIsDueWhileTheJobRunsFollowsOnceAfterwards() {
        World world = new World();
        world.takes = Duration.ofMinutes(35);
        world.job("a", "every: 10 min");
        world.tick();
        world.pass(Duration.ofMinutes(60));
        assertThat(world.times("a")).containsExactly("2027-01-01T00:10:00Z", "2027-01-01T00:45:00Z");
    }

    @Test
    void aFullDiskLosesNoTime() {
        World world = new World();
        world.job("a", "cron: \"0 6 * * *\"");
        world.tick();
        world.full = true;
        world.pass(Duration.ofHours(6));
        assertThat(world.of("a")).isEmpty();
        assertThat(world.timetable.trouble("a", Set.of("a")))
                .contains("It is due, and cannot be started: no space left. It is tried again every second");
        world.full = false;
        world.pass(Duration.ofMinutes(1));
        assertThat(world.timetable.trouble("a", Set.of("a"))).isEmpty();
        assertThat(world.of("a")).hasSize(1);
    }

    @Test
    void pausesHolidaysAndFirstDays() {
        World world = new World();
        world.job("paused", "every: 1h");
        world.job("holidays", "every: 1h, not_on: \"2027-01-01 to 2027-01-02, 2027-01-04\"");
        world.job("later", "every: 12h, not_before: 2027-01-03T13:00");
        world.tick();
        world.timetable.pause("paused", Optional.of(Instant.parse("2027-01-02T00:30:00Z")), "stocktaking");
        world.down(Duration.ofHours(1)); // a pause survives
        world.pass(Duration.ofHours(23).plusMinutes(20));
        assertThat(world.of("paused")).isEmpty();
        world.pass(Duration.ofMinutes(15));
        assertThat(world.of("paused")).hasSize(1);
        assertThat(world.of("paused").get(0).start().missed()).isEqualTo(24);
        world.pass(Duration.ofDays(3));
        assertThat(world.of("holidays").stream()
                        .map(one -> one.at()
                                .atZone(ZoneId.of("Europe/Vienna"))
                                .toLocalDate()
                                .toString())
                        .distinct())
                .containsExactly("2027-01-03", "2027-01-05");
        assertThat(world.times("later").get(0)).isEqualTo("2027-01-03T23:00:00Z");
    }

    @Test
    void aDayOfTwentyFiveHoursHasNoMoreLongStepsThanOthers() {
        World world = new World();
        world.job("daily", "every: 24h");
        world.job("half", "every: 12h");
        world.job("hourly", "every: 1h");
        Instant before = Instant.parse("2027-10-30T21:59:00Z"); // of the day in Vienna on which clocks are put back
        assertThat(world.jobs.get("daily").next(before, 2))
                .containsExactly(Instant.parse("2027-10-30T22:00:00Z"), Instant.parse("2027-10-31T23:00:00Z"));
        assertThat(world.jobs.get("half").next(before, 3))
                .containsExactly(
                        Instant.parse("2027-10-30T22:00:00Z"),
                        Instant.parse("2027-10-31T10:00:00Z"),
                        Instant.parse("2027-10-31T23:00:00Z"));
        assertThat(world.jobs.get("hourly").next(before, 26))
                .as("25 of the day, and the first of the next")
                .endsWith(Instant.parse("2027-10-31T23:00:00Z"));
    }

    @Test
    void runsAfterOthersAndNeverInCircles() {
        World world = new World();
        world.job("first", "cron: \"0 6 * * *\"");
        world.job("second", "after: first");
        world.job("third", "after: [first, second]");
        world.job("x", "after: y");
        world.job("y", "after: x");
        world.tick();
        world.finished.put("x", 1L);
        world.pass(Duration.ofDays(1));
        world.down(Duration.ofMinutes(1));
        world.pass(Duration.ofDays(1));
        assertThat(world.of("first")).hasSize(2);
        assertThat(world.of("second")).hasSize(2);
        assertThat(world.of("third")).hasSizeBetween(2, 4);
        assertThat(world.of("y")).isEmpty();
        assertThat(world.timetable.trouble("x", Set.of("x", "y")))
                .contains("It starts after itself: x after y after x. It does not start after other jobs");
    }

    @Test
    void aClockThatJumpsNeitherDoublesNorStops() {
        World world = new World();
        world.job("a", "cron: \"0 6 * * *\"");
        world.tick();
        world.pass(Duration.ofHours(6));
        world.now = world.now.minus(Duration.ofHours(1)); // set right
        world.pass(Duration.ofHours(2));
        assertThat(world.of("a")).hasSize(1);
        world.now = world.now.plus(Duration.ofDays(3000)); // wrong for a moment
        world.tick();
        world.now = world.now.minus(Duration.ofDays(3000));
        world.busyUntil.clear();
        world.pass(Duration.ofDays(2));
        assertThat(world.of("a")).hasSize(4);
    }

    /** Fifty jobs, a year, services that go down and come back, runs that take long: each due time is met once. */
    @Test
    void aYearOfFiftyJobs() {
        Random random = new Random(1);
        World world = new World();
        for (int i = 0; i < 50; i++) {
            String missed = random.nextBoolean() ? "" : ", missed: skip";
            int minute = random.nextInt(60);
            world.job(
                    "job" + i,
                    switch (i % 5) {
                        case 0 -> "cron: \"" + minute + " " + random.nextInt(24) + " * * *\"" + missed;
                        case 1 -> "cron: [\"" + minute + " 2 * * *\", \"" + minute + " 3 1 * MON\"]" + missed;
                        case 2 -> "every: " + (1 + random.nextInt(12)) + "h" + missed;
                        case 3 -> "cron: \"" + minute + " */6 * * *\", not_on: 2027-12-24 to 2028-01-06" + missed;
                        default -> "after: job" + (i - 4);
                    });
        }
        Instant began = world.now;
        world.tick();
        List<Instant[]> downs = new ArrayList<>();
        Instant end = Instant.parse("2028-01-01T00:00:00Z");
        while (world.now.isBefore(end)) {
            if (random.nextInt(3000) == 0) {
                Instant from = world.now;
                world.down(Duration.ofMinutes(1 + random.nextInt(4000)));
                downs.add(new Instant[] {from, world.now});
            }
            world.takes = Duration.ofMinutes(random.nextInt(3));
            world.now = world.now.plusSeconds(60);
            world.tick();
        }
        world.jobs.forEach((job, when) -> {
            if (!when.isTimed()) {
                assertThat(world.of(job).size())
                        .isBetween(1, world.of(when.after().get(0)).size());
                return;
            }
            Set<Instant> met = new TreeSet<>();
            long times = 0;
            for (World.Started one : world.of(job)) {
                assertThat(met.add(one.start().due())).as(job).isTrue();
                times += one.times();
            }
            long down = 0;
            List<Instant> all = new ArrayList<>();
            for (Instant due = when.next(began).orElseThrow();
                    !due.isAfter(world.now);
                    due = when.next(due).orElse(Instant.MAX)) {
                Instant time = due;
                all.add(due);
                if (downs.stream().anyMatch(one -> time.isAfter(one[0]) && time.isBefore(one[1]))) {
                    down++;
                } else {
                    assertThat(met).as(job).contains(due);
                }
            }
            assertThat(all).as(job).containsAll(met);
            if (when.catchUp()) {
                assertThat(times).as(job).isEqualTo(all.size());
            } else {
                assertThat(met.size()).as(job).isGreaterThanOrEqualTo((int) (all.size() - down));
            }
        });
        assertThat(downs).hasSizeGreaterThan(20);
        assertThat(new HashSet<>(world.starts.keySet())).hasSize(50);
    }
}
