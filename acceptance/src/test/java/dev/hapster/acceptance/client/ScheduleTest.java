package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.core.crash.CrashPoint;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Jobs that run by themselves: by the clock, when files arrive, after one another; paused, cut off, broken. */
class ScheduleTest {

    private static final String HEADER = "id,day,value\n";

    @TempDir
    private Path workspace;

    private TestService service;

    @BeforeEach
    void make() throws Exception {
        Workspaces.small(workspace);
    }

    @AfterEach
    void stop() {
        if (service != null) {
            service.close();
        }
    }

    private void job(String name, String rest) throws Exception {
        Files.createDirectories(workspace.resolve("in/" + name));
        Workspaces.write(
                workspace,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: samples\nfind: [{folder: in/" + name
                        + ", depth: 2, settle: 0s, take: \"**.csv\"}]\n" + rest);
    }

    private void file(String path, String rows) throws Exception {
        Workspaces.write(workspace, path, HEADER + rows);
    }

    private List<JsonNode> runs(String job) {
        List<JsonNode> all = new ArrayList<>();
        service.get("/runs?limit=100&job=" + job).forEach(all::add);
        return all;
    }

    /** The runs of a job, the latest first, once they are as expected. */
    private List<JsonNode> await(String job, Predicate<List<JsonNode>> expected) throws Exception {
        Instant end = Instant.now().plus(Duration.ofSeconds(40));
        List<JsonNode> runs = runs(job);
        while (!expected.test(runs)) {
            assertThat(Instant.now()).as("The runs of " + job + " are " + runs).isBefore(end);
            Thread.sleep(100);
            runs = runs(job);
        }
        return runs;
    }

    private static boolean finished(List<JsonNode> runs, int count) {
        return runs.size() == count
                && runs.stream().allMatch(run -> run.path("state").asText().equals("finished"));
    }

    private long rows() {
        return service.get("/datasets/samples").path("rows").asLong();
    }

    @Test
    void filesAreTakenAsTheyArriveAndOthersFollow() throws Exception {
        job("arriving", "when: {arrival: true, look: 2s}\n");
        job("following", "when: {after: arriving}\n");
        file("in/following/x.csv", "x,2026-01-01,1\n");
        service = TestService.start(workspace);
        file("in/arriving/a.csv", "a,2026-01-01,1\n");
        JsonNode first = await("arriving", runs -> finished(runs, 1)).get(0);
        assertThat(first.path("start").path("by").asText()).isEqualTo("arrival");
        JsonNode after = await("following", runs -> finished(runs, 1)).get(0);
        assertThat(after.path("start").path("run").asLong())
                .isEqualTo(first.path("run").asLong());
        Files.createDirectories(workspace.resolve("in/arriving/deep/deeper"));
        file("in/arriving/deep/deeper/b.csv", "b,2026-01-01,1\nc,2026-01-01,wrong\n");
        await("arriving", runs -> finished(runs, 2));
        await("following", runs -> finished(runs, 2));
        assertThat(rows()).isEqualTo(3);
        Files.write(workspace.resolve("in/arriving/unreadable.csv"), new byte[] {0, 1, 2, 3});
        await("arriving", runs -> finished(runs, 3));
        Thread.sleep(5000); // what is rejected does not start one run after the other
        assertThat(runs("arriving")).hasSize(3);
        assertThat(service.client("undo", first.path("run").asText()).out()).contains("1 row taken out");
        int entries = runs("arriving").size();
        service.kill();
        service.startAgain();
        Thread.sleep(4000);
        assertThat(runs("arriving")).as("what was undone has not arrived").hasSize(entries);
        assertThat(service.client("runs", "--job", "arriving").out()).contains("files arrived");
        assertThat(service.client("runs", after.path("run").asText()).out())
                .contains("started after run " + first.path("run").asLong());
    }

    @Test
    void aPausedJobDoesNotRunAndMakesUpForItOnce() throws Exception {
        job("often", "when: {every: 10s, zone: UTC}\n");
        file("in/often/a.csv", "a,2026-01-01,1\n");
        service = TestService.start(workspace);
        Result paused = service.client("schedule", "often", "--pause", "--because", "stocktaking");
        assertThat(paused.status()).isZero();
        assertThat(paused.out()).contains("every 10s").contains("Paused since").contains("stocktaking");
        int before = runs("often").size();
        service.kill();
        service.startAgain();
        Instant waited = Instant.now().plusSeconds(12);
        while (Instant.now().isBefore(waited)) {
            assertThat(runs("often")).hasSize(before);
            Thread.sleep(500);
        }
        assertThat(service.client("schedule").out()).contains("often").contains("paused");
        assertThat(service.client("jobs", "rename", "often", "seldom").status()).isZero();
        assertThat(service.get("/jobs/seldom/schedule")
                        .path("pause")
                        .path("because")
                        .asText())
                .isEqualTo("stocktaking");
        assertThat(service.client("schedule", "seldom", "--resume").out()).contains("Next times in UTC:");
        JsonNode run = await("seldom", runs -> finished(runs, before + 1)).get(0);
        assertThat(run.path("start").path("by").asText()).isEqualTo("time");
        assertThat(run.path("start").path("missed").asLong()).isPositive();
        assertThat(rows()).isEqualTo(1);
    }

    @Test
    void aRunThatWasCutOffIsMadeUpFor(@TempDir Path pauses) throws Exception {
        job("daily", "when: {every: 10s, zone: UTC}\n");
        file("in/daily/a.csv", "a,2026-01-01,1\n");
        Files.createFile(pauses.resolve(CrashPoint.BEFORE_MERGE.name()));
        service = TestService.start(workspace, "-Dhapster.pauses=" + pauses);
        Path reached = pauses.resolve(CrashPoint.BEFORE_MERGE + ".reached");
        Instant end = Instant.now().plusSeconds(30);
        while (!Files.exists(reached)) {
            assertThat(Instant.now()).isBefore(end);
            Thread.sleep(50);
        }
        service.kill();
        Files.delete(reached);
        Workspaces.write(
                workspace,
                "jobs/daily.yaml",
                Files.readString(workspace.resolve("jobs/daily.yaml"))); // touched, and still the same
        service.startAgain();
        List<JsonNode> runs = await(
                "daily",
                all -> all.size() > 1
                        && all.get(all.size() - 2).path("state").asText().equals("finished"));
        JsonNode cutOff = runs.get(runs.size() - 1);
        JsonNode again = runs.get(runs.size() - 2);
        assertThat(cutOff.path("state").asText()).isEqualTo("failed");
        assertThat(Instant.parse(again.path("start").path("due").asText()))
                .isAfterOrEqualTo(Instant.parse(cutOff.path("start").path("due").asText()));
        assertThat(again.path("start").path("missed").asLong()
                        + (again.path("start")
                                        .path("due")
                                        .equals(cutOff.path("start").path("due"))
                                ? 1
                                : 0))
                .isPositive();
        assertThat(rows()).isEqualTo(1);
    }

    @Test
    void whatCannotRunSaysSo() throws Exception {
        job("broken", "keep: \"nothing > 1\"\nwhen: {every: 10s, zone: UTC}\n");
        job("gone", "when: {arrival: true, look: 1s}\n");
        Files.delete(workspace.resolve("in/gone"));
        job("x", "when: {after: y}\n");
        job("y", "when: {after: x}\n");
        job("z", "when: {after: nobody}\n");
        service = TestService.start(workspace);
        JsonNode failed = await(
                        "broken",
                        runs -> !runs.isEmpty()
                                && runs.get(0).path("start").path("again").asInt() > 0)
                .get(0);
        assertThat(runs("broken")).hasSize(1);
        assertThat(failed.path("failure").asText())
                .contains("It could not begin")
                .contains("jobs/broken.yaml:4:")
                .contains("nothing");
        assertThat(service.client("runs", failed.path("run").asText()).out())
                .contains("started by the clock")
                .contains("with the same result");
        await(
                "gone",
                runs -> runs.size() == 1 && runs.get(0).path("failure").asText().contains("in/gone"));
        String problems = service.get("/store").path("schedules").toString();
        assertThat(problems)
                .contains("x after y after x")
                .contains("there is no such job")
                .contains("The job gone does not run by itself as it should")
                .contains(
                        "The job broken does not run by itself as it should: It could not begin: jobs/broken.yaml:4:");
        Result all = service.client("schedule");
        assertThat(all.status()).isEqualTo(1);
        Files.createDirectory(workspace.resolve("in/gone"));
        file("in/gone/a.csv", "a,2026-01-01,1\n");
        await(
                "gone",
                runs -> runs.size() == 2 && runs.get(0).path("state").asText().equals("finished"));
        assertThat(service.get("/store").path("schedules").toString()).doesNotContain("The job gone");
    }

    @Test
    void aCopyIsPausedAndAJobOfADeletedNameIsNot() throws Exception {
        job("arriving", "when: {arrival: true}\n");
        service = TestService.start(workspace);
        file("in/arriving/a.csv", "a,2026-01-01,1\n");
        await("arriving", runs -> finished(runs, 1));
        assertThat(service.client("jobs", "copy", "arriving", "second").out())
                .contains("hapster schedule second --resume");
        assertThat(service.client("schedule", "arriving", "--pause").status()).isZero();
        String text = Files.readString(workspace.resolve("jobs/arriving.yaml"));
        service.api().delete("/jobs/arriving");
        Workspaces.write(workspace, "jobs/arriving.yaml", text);
        file("in/arriving/b.csv", "b,2026-01-01,1\n");
        await("arriving", runs -> finished(runs, 2));
        assertThat(runs("second")).isEmpty();
        assertThat(service.client("schedule", "second").out()).contains("It is a copy of arriving");
        assertThat(rows()).isEqualTo(2);
    }

    @Test
    void mistakesInWhenHaveTheirPlaceAndTheirCure() throws Exception {
        service = TestService.start(workspace);
        for (String[] one : new String[][] {
            {"when: {cron: \"61 * * * *\"}", "'61' in '61 * * * *' is not a valid minute; write 0 to 59"},
            {"when: {every: 5s}", "must be from 10s to 1d"},
            {"when: {zone: Europe/Wien, every: 1h}", "unknown time zone 'Europe/Wien'"},
            {"when: {zone: UTC}", "does not say what starts the job"},
            {"when: {every: 1h, not_on: 2026-02-30}", "'2026-02-30' must be a day"},
            {"when: {every: 1h, missed: twice}", "'missed' must be"},
            {"when: {after: small}", "a job cannot run after itself"},
            {"when: {evry: 1h}", "Did you mean 'every'?"}
        }) {
            Workspaces.job(workspace, "small", "in", one[0] + "\n");
            Result check = service.client("check", "small");
            assertThat(check.out() + check.err())
                    .as(one[0])
                    .contains("jobs/small.yaml:")
                    .contains(one[1]);
        }
        Workspaces.job(workspace, "small", "in", "when: {cron: \"0 6 * * *\", zone: UTC}\n");
        Result next = service.client("schedule", "small", "--count", "3");
        assertThat(next.out()).contains("It runs by the clock, at 0 6 * * * (UTC).");
        assertThat(next.out().lines().filter(line -> line.endsWith(" 06:00:00")))
                .hasSize(3);
        assertThat(service.client("schedule", "nobody").status()).isEqualTo(2);
        assertThat(service.client("schedule", "small", "--pause", "--until", "2020-01-01")
                        .err())
                .contains("must be later than now");
    }
}
