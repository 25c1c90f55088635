package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.sun.net.httpserver.HttpServer;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.Month;
import java.time.YearMonth;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Queue;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.function.BooleanSupplier;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * A year in minutes, by a clock that the test sets: fifty jobs that run by themselves in every way there is, daylight
 * saving, a service that is killed and comes back days later, files that are late, missing, doubled and broken. Which
 * times are due, the test reckons by itself.
 */
class YearTest {

    private static final ZoneId VIENNA = ZoneId.of("Europe/Vienna");
    private static final ZoneId NEW_YORK = ZoneId.of("America/New_York");
    private static final int YEAR = 2025;
    private static final Instant BEGIN = Instant.parse(YEAR + "-01-01T12:00:00Z");
    private static final Instant END = Instant.parse(YEAR + "-12-31T20:00:00Z");
    private static final Set<LocalDate> HOLIDAYS = Set.of(LocalDate.of(YEAR, 7, 28), LocalDate.of(YEAR, 12, 29));
    private static final int EACH_KIND = 5;
    private static final int ROWS = 3;

    /** What a job of each kind declares, and which times of days are due. */
    private enum Kind {
        MONTHLY("cron: \"0 6 8 * *\", zone: Europe/Vienna", VIENNA, LocalTime.of(6, 0)),
        QUARTERLY("cron: \"30 5 2 */3 *\", zone: UTC", ZoneOffset.UTC, LocalTime.of(5, 30)),
        WEEKLY(
                "cron: \"0 7 * * MON\", zone: America/New_York, not_on: [" + YEAR + "-07-28, " + YEAR + "-12-29]",
                NEW_YORK,
                LocalTime.of(7, 0)),
        /** Clocks are changed at two on a Sunday night: the time is skipped once, and comes twice once. */
        AT_NIGHT("cron: \"30 2 * * SUN\", zone: Europe/Vienna", VIENNA, LocalTime.of(2, 30)),
        DAILY("every: 24h, zone: Europe/Vienna", VIENNA, LocalTime.MIDNIGHT),
        SKIPPING("cron: \"15 4 * * 3\", zone: UTC, missed: skip", ZoneOffset.UTC, LocalTime.of(4, 15)),
        LATER("cron: \"45 3 * * TUE\", zone: UTC", ZoneOffset.UTC, LocalTime.of(3, 45)),
        FRIDAYS_AND_13THS("cron: \"0 9 13 * FRI\", zone: Europe/Vienna", VIENNA, LocalTime.of(9, 0)),
        AFTER("after: monthly", null, null),
        ARRIVAL("arrival: true", null, null);

        private final String when;
        private final ZoneId zone;
        private final LocalTime time;

        Kind(String when, ZoneId zone, LocalTime time) {
            this.when = when;
            this.zone = zone;
            this.time = time;
        }

        private boolean isOn(LocalDate day) {
            return switch (this) {
                case MONTHLY -> day.getDayOfMonth() == 8;
                case QUARTERLY -> day.getDayOfMonth() == 2 && day.getMonthValue() % 3 == 1;
                case WEEKLY -> day.getDayOfWeek() == DayOfWeek.MONDAY && !HOLIDAYS.contains(day);
                case AT_NIGHT -> day.getDayOfWeek() == DayOfWeek.SUNDAY;
                case DAILY -> true;
                case SKIPPING -> day.getDayOfWeek() == DayOfWeek.WEDNESDAY;
                case LATER -> day.getDayOfWeek() == DayOfWeek.TUESDAY;
                case FRIDAYS_AND_13THS -> day.getDayOfWeek() == DayOfWeek.FRIDAY || day.getDayOfMonth() == 13;
                case AFTER, ARRIVAL -> false;
            };
        }

        /** The first day on which a job runs by the clock; most of those that run often begin late, to spare time. */
        private LocalDate first(int number) {
            return switch (this) {
                case MONTHLY, QUARTERLY, AFTER, ARRIVAL -> LocalDate.of(YEAR, 1, 1);
                case LATER -> LocalDate.of(YEAR, number < 2 ? 6 : 10, 15);
                case DAILY -> number == 0 ? LocalDate.of(YEAR, 10, 20) : LocalDate.of(YEAR, 12, 15);
                case SKIPPING -> LocalDate.of(YEAR, number < 2 ? 7 : 10, 1);
                default -> LocalDate.of(YEAR, number < 2 ? 1 : 10, 1);
            };
        }

        String job(int number) {
            return name().toLowerCase(Locale.ROOT).replace('_', '-') + number;
        }

        /**
         * When it is due within the year. A time that is skipped comes at the end of the gap, one that is there twice
         * the first time.
         */
        Set<Instant> due(int number) {
            Set<Instant> due = new TreeSet<>();
            for (LocalDate day = first(number); zone != null && day.getYear() == YEAR; day = day.plusDays(1)) {
                if (isOn(day)) {
                    LocalTime at = zone.equals(VIENNA)
                                    && time.equals(LocalTime.of(2, 30))
                                    && day.equals(LocalDate.of(YEAR, Month.MARCH, 30))
                            ? LocalTime.of(3, 0)
                            : time;
                    Instant moment = day.atTime(at)
                            .atZone(zone)
                            .withEarlierOffsetAtOverlap()
                            .toInstant();
                    if (moment.isAfter(BEGIN) && !moment.isAfter(END)) {
                        due.add(moment);
                    }
                }
            }
            return due;
        }
    }

    private record Told(String type, String job, String text) {}

    @TempDir
    private Path workspace;

    private Path clock;
    private TestService service;
    private final Queue<Told> told = new ConcurrentLinkedQueue<>();
    private final List<Instant[]> downs = new ArrayList<>();
    /** Rows that must be in the dataset in the end, by job. */
    private final Map<String, Long> expected = new HashMap<>();
    /** Files about which somebody must be told, by type of the message. */
    private final Map<String, Set<String>> tellable = new LinkedHashMap<>();

    private int month;
    /** A job that cannot begin at the moment. */
    private String broken = "";

    private void now(Instant moment) throws Exception {
        Path next = Files.writeString(workspace.resolve("clock.new"), moment.toString());
        Files.move(next, clock, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    }

    private static void await(String what, BooleanSupplier met) throws Exception {
        Instant end = Instant.now().plus(Duration.ofSeconds(60));
        while (!met.getAsBoolean()) {
            assertThat(Instant.now()).as(what).isBefore(end);
            Thread.sleep(40); // what is asked takes the time of those who are waited for
        }
    }

    private void file(String job, String name, String content) throws Exception {
        Path folder = Files.createDirectories(workspace.resolve("in/" + job));
        Path whole = Files.writeString(workspace.resolve("coming"), content);
        Files.move(whole, folder.resolve(name), StandardCopyOption.ATOMIC_MOVE);
    }

    private void good(String job, String name) throws Exception {
        StringBuilder text = new StringBuilder("id,day,value\n");
        for (int i = 0; i < ROWS; i++) {
            text.append(job)
                    .append(name)
                    .append(i)
                    .append(",2025-01-01,")
                    .append(i)
                    .append('\n');
        }
        file(job, name, text.toString());
        expected.merge(job, (long) ROWS, Long::sum);
    }

    private void mustTell(String type, String job, String what) {
        tellable.computeIfAbsent(type, any -> new HashSet<>()).add(job + " " + what);
    }

    private void write(HttpServer web) throws Exception {
        Workspaces.write(workspace, "datasets/samples.yaml", Workspaces.DATASET);
        Workspaces.write(
                workspace,
                "accounts.yaml",
                "accounts:\n  - {name: alarms, http: {url: 'http://127.0.0.1:"
                        + web.getAddress().getPort() + "/'}}\n  - {name: daily, http: {url: 'http://127.0.0.1:"
                        + web.getAddress().getPort() + "/daily'}}\n");
        Workspaces.write(workspace, "notify.yaml", "notify: [{by: alarms}, {by: daily, digest: \"07:00\"}]\n");
        for (Kind kind : Kind.values()) {
            for (int i = 0; i < EACH_KIND; i++) {
                String job = kind.job(i);
                String when = kind == Kind.AFTER
                        ? kind.when + i
                        : kind.zone == null ? kind.when : kind.when + ", not_before: " + kind.first(i);
                Workspaces.write(
                        workspace,
                        "jobs/" + job + ".yaml",
                        "job: " + job + "\ninto: samples\nfind: [{folder: in/" + job
                                + ", settle: 0s, take: \"" + (kind == Kind.MONTHLY ? "{month:yyyy-MM}*.csv" : "*.csv")
                                + "\"}]\nwhen: {" + when + "}\n"
                                + (kind == Kind.MONTHLY
                                        ? "due: {each: month, files: 1, by: \"day 20 08:00\", from: 2025-01, until: 2025-10, "
                                                + "zone: UTC}\n"
                                        : ""));
                Files.createDirectories(workspace.resolve("in/" + job));
            }
        }
    }

    private JsonNode runs(String job) {
        return service.get("/runs?limit=1000&job=" + job);
    }

    @Test
    void everyTimeIsMetOnceEveryFileIsThereOnceAndSomebodyIsTold() throws Exception {
        clock = workspace.resolve("clock");
        now(BEGIN);
        HttpServer web = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        web.createContext("/", call -> {
            JsonNode event = Api.JSON.readTree(call.getRequestBody());
            told.add(new Told(
                    event.path("type").asText(),
                    event.path("data").path("job").asText(),
                    event.path("data").toString()));
            call.sendResponseHeaders(204, -1);
            call.close();
        });
        web.start();
        write(web);
        service = TestService.start(
                workspace, "-Dhapster.clock=" + clock, "-Dhapster.step=25", "-Dhapster.message-pause=100");
        try {
            live();
            check();
        } finally {
            service.close();
            web.stop(0);
        }
    }

    /** The year, from one time that is due to the next. */
    private void live() throws Exception {
        Map<Instant, List<String>> due = new TreeMap<>();
        for (Kind kind : Kind.values()) {
            for (int i = 0; i < EACH_KIND; i++) {
                for (Instant moment : kind.due(i)) {
                    due.computeIfAbsent(moment, any -> new ArrayList<>()).add(kind.job(i));
                }
            }
        }
        int step = 0;
        Instant downUntil = Instant.MIN;
        for (Map.Entry<Instant, List<String>> entry : due.entrySet()) {
            Instant moment = entry.getKey();
            if (moment.isBefore(downUntil)) {
                continue;
            }
            deliver(moment);
            now(moment);
            Set<String> jobs = new HashSet<>(entry.getValue());
            jobs.remove(broken);
            await("runs due at " + moment, () -> met(moment, jobs));
            if (++step % 60 == 45) {
                down(moment, moment.plus(Duration.ofDays(3).plusHours(7)));
                downUntil = moment.plus(Duration.ofDays(3).plusHours(7));
            }
        }
        now(END);
    }

    /** Whether all jobs that are due have a run for it that has ended. */
    private boolean met(Instant moment, Set<String> jobs) {
        Set<String> left = new HashSet<>(jobs);
        for (JsonNode run : service.get("/runs?limit=40")) {
            if (run.path("start").path("due").asText().equals(moment.toString()) && run.has("endedAt")) {
                left.remove(run.path("job").asText());
            }
        }
        return left.isEmpty();
    }

    /** The service is killed, and comes back later: what was due meanwhile is made up for before anything else. */
    private void down(Instant from, Instant until) throws Exception {
        service.kill();
        deliver(until);
        now(until);
        service.startAgain();
        downs.add(new Instant[] {from, until});
        Set<String> missed = new HashSet<>();
        for (Kind kind : Kind.values()) {
            for (int i = 0; kind != Kind.SKIPPING && i < EACH_KIND; i++) {
                if (kind.due(i).stream().anyMatch(due -> due.isAfter(from) && !due.isAfter(until))) {
                    missed.add(kind.job(i));
                }
            }
        }
        missed.remove(broken);
        await("runs that make up for what was due from " + from + " to " + until, () -> {
            Set<String> left = new HashSet<>(missed);
            for (JsonNode run : service.get("/runs?limit=90")) {
                Instant due = Instant.parse(run.path("start").path("due").asText("2000-01-01T00:00:00Z"));
                if (due.isAfter(from) && run.has("endedAt")) {
                    left.remove(run.path("job").asText());
                }
            }
            return left.isEmpty();
        });
    }

    /** What comes at the beginning of a month, before anything runs in it. */
    private void deliver(Instant moment) throws Exception {
        int present = moment.atZone(ZoneOffset.UTC).getMonthValue();
        if (present == month) {
            return;
        }
        month = present;
        for (Kind kind : Kind.values()) {
            for (int i = 0; i < EACH_KIND; i++) {
                String job = kind.job(i);
                if (kind != Kind.MONTHLY) {
                    good(job, "m" + month + ".csv");
                }
            }
        }
        if (month > 1 && month < 12) {
            for (int i = 0; i < EACH_KIND; i++) {
                monthly(Kind.MONTHLY.job(i), YearMonth.of(YEAR, month - 1), month * EACH_KIND + i);
            }
        }
        if (month == 5) {
            broken = Kind.WEEKLY.job(0);
            into("samples", "nothing");
            mustTell("dev.hapster.run.failed", broken, "nothing");
        } else if (month == 6) {
            into("nothing", "samples");
            mustTell("dev.hapster.run.recovered", broken, "");
            broken = "";
        }
    }

    private void into(String before, String now) throws Exception {
        Path file = workspace.resolve("jobs/" + broken + ".yaml");
        Files.writeString(file, Files.readString(file).replace("into: " + before, "into: " + now));
    }

    /** A file about the month before: there, missing, doubled, broken, or late. */
    private void monthly(String job, YearMonth about, int number) throws Exception {
        switch (number % 7) {
            case 0 -> mustTell("dev.hapster.arrivals.missing", job, about.toString());
            case 1 -> {
                good(job, about + ".csv");
                Files.copy(
                        workspace.resolve("in/" + job + "/" + about + ".csv"),
                        workspace.resolve("in/" + job + "/" + about + " - copy.csv"));
                mustTell("dev.hapster.run.rejected", job, about + " - copy.csv");
            }
            case 2 -> {
                file(job, about + ".csv", "what is this\n");
                mustTell("dev.hapster.run.rejected", job, about + ".csv");
            }
            case 5 -> { // a job of which the file was missing a month ago, or nothing has been said yet
                late(job, about.minusMonths(1));
                good(job, about + ".csv");
            }
            default -> good(job, about + ".csv");
        }
    }

    private void late(String job, YearMonth about) throws Exception {
        if (tellable.getOrDefault("dev.hapster.arrivals.missing", Set.of()).contains(job + " " + about)) {
            good(job, about + ".csv");
            mustTell("dev.hapster.arrivals.late", job, about.toString());
        }
    }

    private void check() throws Exception {
        await("arrivals are all there", () -> expected.entrySet().stream()
                .filter(job -> job.getKey().startsWith("arrival"))
                .allMatch(job -> rows(job.getKey()) == job.getValue()));
        for (Kind kind : Kind.values()) {
            for (int i = 0; i < EACH_KIND; i++) {
                if (kind.zone != null) {
                    timed(kind, i);
                }
            }
        }
        for (int i = 0; i < EACH_KIND; i++) {
            assertThat(runs(Kind.AFTER.job(i)).size())
                    .as("a run after each run")
                    .isEqualTo(runs(Kind.MONTHLY.job(i)).size());
        }
        Map<String, Long> counted = new HashMap<>();
        for (JsonNode group : service.get("/datasets/samples/counts?by=_job").path("groups")) {
            counted.put(
                    group.path("values").path(0).asText(), group.path("rows").asLong());
        }
        unread();
        assertThat(counted).as("every row once").isEqualTo(expected);
        for (Map.Entry<String, Set<String>> type : tellable.entrySet()) {
            for (String one : type.getValue()) {
                String job = one.substring(0, one.indexOf(' '));
                String what = one.substring(one.indexOf(' ') + 1);
                await(type.getKey() + " of " + job + " that names " + what, () -> told.stream()
                        .anyMatch(event -> event.type().equals(type.getKey())
                                && event.job().equals(job)
                                && event.text().contains(what)));
            }
        }
        await("what is told once a day", () -> told.stream()
                .filter(event -> event.type().equals("dev.hapster.digest"))
                .anyMatch(event -> event.text().contains(" - copy.csv")));
        assertThat(tellable.keySet()).hasSize(5);
        assertThat(downs).hasSizeGreaterThan(2);
    }

    /** What came after the last run of a job is not expected. */
    private void unread() {
        for (Kind kind : Kind.values()) {
            for (int i = 0; kind.zone != null && i < EACH_KIND; i++) {
                Instant last = kind.due(i).stream().max(Instant::compareTo).orElse(END);
                int month = last.atZone(ZoneOffset.UTC).getMonthValue();
                String job = kind.job(i);
                for (int later = month + 1; later <= 12 && kind != Kind.MONTHLY; later++) {
                    expected.computeIfPresent(job, (any, rows) -> rows - ROWS);
                }
            }
        }
    }

    private long rows(String job) {
        return service.get("/datasets/samples/rows?limit=1&where=" + Api.encode("_job = '" + job + "'"))
                .path("total")
                .asLong();
    }

    /** Each time that was due is met by one run: by its own, or after a while in which the service was down. */
    private void timed(Kind kind, int number) {
        String job = kind.job(number);
        Set<Instant> met = new HashSet<>();
        long times = 0;
        for (JsonNode run : runs(job)) {
            Instant due = Instant.parse(run.path("start").path("due").asText());
            assertThat(met.add(due))
                    .as(job + " at " + due + " once")
                    .isTrue(); // by itself, or with others that were missed
            times += run.path("start").path("missed").asLong();
            boolean live = downs.stream().noneMatch(down -> due.isAfter(down[0]) && due.isBefore(down[1]));
            times += live ? 1 : 0;
        }
        Set<Instant> all = kind.due(number);
        assertThat(all).as(job).containsAll(met);
        Set<Instant> whileUp = all.stream()
                .filter(one -> downs.stream().noneMatch(down -> one.isAfter(down[0]) && !one.isAfter(down[1])))
                .collect(Collectors.toSet());
        if (kind == Kind.SKIPPING) {
            assertThat(met).as(job).isEqualTo(whileUp);
        } else if (!job.equals(Kind.WEEKLY.job(0))) {
            assertThat(met).as(job).containsAll(whileUp);
            assertThat(times).as(job + ": all times").isEqualTo(all.size());
        } else {
            assertThat(met).as(job + ", which could not begin for a month").hasSizeGreaterThan(40);
        }
    }
}
