package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What runs did line by line, by which definitions they went, and how they went one after another. */
class HistoryTest {

    private static void file(Path workspace, String name, String rows) throws Exception {
        Workspaces.write(workspace, "in/" + name, "id,day,value\n" + rows);
    }

    private static List<JsonNode> log(TestService service, long run) throws Exception {
        List<JsonNode> lines = new ArrayList<>();
        for (String line : service.client("log", String.valueOf(run), "--json")
                .out()
                .lines()
                .toList()) {
            lines.add(Api.JSON.readTree(line));
        }
        return lines;
    }

    private static List<String> events(List<JsonNode> lines) {
        return lines.stream().map(line -> line.path("event").asText()).toList();
    }

    @Test
    void aRunLogsWhatItDidAndIsFollowedWhileItGoesOn(@TempDir Path workspace, @TempDir Path pauses) throws Exception {
        Workspaces.small(workspace);
        Workspaces.job(workspace, "small", "in", "after:\n  loaded: {move: done}\n");
        try (TestService service = TestService.start(workspace, "-Dhapster.pauses=" + pauses)) {
            file(workspace, "a.csv", "a,2026-01-01,1\naa,2026-01-01,x\n");
            Files.write(workspace.resolve("in/b.csv"), new byte[] {0, 1, 2});
            service.client("run", "small");
            List<JsonNode> lines = log(service, 1);
            assertThat(events(lines)).containsExactly("started", "found", "file", "file", "moved", "ended");
            JsonNode loaded = lines.stream()
                    .filter(line -> line.path("file").asText().equals("a.csv")
                            && line.path("event").asText().equals("file"))
                    .findFirst()
                    .orElseThrow();
            assertThat(loaded.path("outcome").asText()).isEqualTo("loaded");
            assertThat(loaded.path("rows").path("loaded").asInt()).isEqualTo(1);
            assertThat(loaded.path("rows").path("rejected").asInt()).isEqualTo(1);
            assertThat(service.client("log", "1", "--level", "warn").out())
                    .contains("b.csv  rejected not-text")
                    .doesNotContain("moved");
            assertThat(service.client("log", "--job", "small").out()).containsPattern("a.csv +moved to\\s");

            service.client("run", "small");
            assertThat(events(log(service, 2)))
                    .as("what was rejected before has no news")
                    .containsExactly("started", "found", "ended");
            assertThat(service.client("log", "2", "--level", "error").out()).contains("No line of its log");
            assertThat(service.client("log", "3").err()).contains("There is no run 3");
            assertThat(service.client("log").status()).isEqualTo(2);
            assertThat(service.client("log", "1", "--level", "loud").err()).contains("info, warn or error");

            service.client("undo", "1");
            assertThat(service.client("log", "--job", "small").out())
                    .as("the last run, not the undo behind it")
                    .contains("Run 2 of small");
            service.client("undo", "3");
            file(workspace, "c.csv", "c,2026-01-01,1\n");
            Path reached = service.runUpTo(CrashPoint.BEFORE_END, "small", pauses);
            Process follower = service.clientProcess("log", "5", "--follow");
            String first = new String(follower.getInputStream().readNBytes(60), StandardCharsets.UTF_8);
            assertThat(first).contains("Run 5 of small, running");
            service.kill();
            follower.destroyForcibly();
            Files.delete(reached);
            Path log = workspace.resolve("store/logs/run-5.jsonl");
            Files.writeString(log, "{\"at\":\"2026-", StandardOpenOption.APPEND); // a line that was cut off
            service.startAgain();
            lines = log(service, 5);
            assertThat(events(lines)).startsWith("started", "found", "file").endsWith("ended");
            JsonNode ended = lines.get(lines.size() - 1);
            assertThat(ended.path("level").asText()).isEqualTo("error");
            assertThat(ended.path("text").asText()).contains("was stopped while this run was going on");
            assertThat(service.client("log", "5").out()).contains("Run 5 of small, failed");

            Process whole = service.clientProcess("log", "5", "-f");
            assertThat(whole.waitFor(20, TimeUnit.SECONDS))
                    .as("it ends with the run")
                    .isTrue();
        }
    }

    @Test
    void definitionsOfARunAreComparedWithThoseOfNowAndOfOtherRuns(@TempDir Path workspace) throws Exception {
        Workspaces.small(workspace);
        Workspaces.job(workspace, "small", "in", "");
        git(workspace, "init", "-q");
        try (TestService service = TestService.start(workspace)) {
            file(workspace, "a.csv", "a,2026-01-01,1\n");
            service.client("run", "small");
            assertThat(service.get("/runs/1").has("commit"))
                    .as("nothing is committed yet")
                    .isFalse();
            git(workspace, "add", "jobs", "datasets");
            git(workspace, "commit", "-qm", "The first");
            String commit = git(workspace, "rev-parse", "HEAD").strip();
            service.client("run", "small");
            JsonNode second = service.get("/runs/2").path("commit");
            assertThat(second.path("id").asText()).isEqualTo(commit);
            assertThat(second.path("uncommitted")).isEmpty();

            Path job = workspace.resolve("jobs/small.yaml");
            Files.writeString(job, Files.readString(job) + "rejects: {run_at: 7 files}\n");
            assertThat(service.client("runs", "2", "--definitions").out())
                    .contains("run 2: commit " + commit.substring(0, 10) + "\n")
                    .contains("from which jobs/small.yaml differs")
                    .contains("+rejects: {run_at: 7 files}")
                    .contains("datasets/samples.yaml");
            service.client("run", "small");
            assertThat(service.get("/runs/3")
                            .path("commit")
                            .path("uncommitted")
                            .path(0)
                            .asText())
                    .isEqualTo("jobs/small.yaml");
            JsonNode both = service.get("/runs/3/definitions?with=1");
            assertThat(both.path("before").path("run").asInt()).isEqualTo(1);
            assertThat(both.path("files").path(0).path("changes").toString()).contains("+rejects");
            assertThat(both.path("files").path(1).path("same").asBoolean()).isTrue();

            service.client("jobs", "rename", "small", "tiny");
            assertThat(service.client("runs", "1", "--definitions").out())
                    .as("what its runs went by is known under the new name")
                    .contains("jobs/tiny.yaml")
                    .contains("-job: small")
                    .contains("+job: tiny");
            Files.writeString(workspace.resolve("jobs/tiny.yaml"), "job: ][");
            assertThat(service.client("runs", "3", "--definitions").out()).contains("+job: ][");
            Files.delete(workspace.resolve("jobs/tiny.yaml"));
            assertThat(service.client("runs", "3", "--definitions").out()).contains("now: there is no such file");
            assertThat(service.client("runs", "--definitions").err()).contains("is about one run");
        }
    }

    @Test
    void aTrendHasTheRunsThatFoundSomething(@TempDir Path workspace) throws Exception {
        Workspaces.small(workspace);
        Workspaces.job(workspace, "small", "in", "");
        try (TestService service = TestService.start(workspace)) {
            assertThat(service.client("runs", "--job", "small", "--trend").out())
                    .contains("small has not run yet");
            file(workspace, "a.csv", "a,2026-01-01,1\n");
            service.client("run", "small");
            service.client("run", "small");
            Files.write(workspace.resolve("in/b.csv"), new byte[] {0, 1, 2});
            service.client("run", "small");
            service.client("run", "small");
            file(workspace, "c.csv", "c,2026-01-01,1\nd,2026-01-01,1\ne,2026-01-01,\n");
            service.client("run", "small");
            JsonNode trend = service.get("/jobs/small/trend");
            assertThat(trend.path("points").findValuesAsText("run"))
                    .as("run 3 found a file to reject, runs 2 and 4 nothing")
                    .containsExactly("1", "3", "5");
            assertThat(trend.path("points").findValuesAsText("rowsLoaded")).containsExactly("1", "0", "3");
            assertThat(trend.path("idle").asInt()).isEqualTo(2);
            assertThat(service.client("runs", "--job", "small", "--trend").out())
                    .contains("▪▪▪")
                    .contains("2 runs since run 1 are not listed");
            assertThat(service.client("runs", "--job", "nobody", "--trend").err())
                    .contains("There is no job 'nobody'");
            assertThat(service.client("runs", "--trend").err()).contains("say which");
        }
    }

    private static String git(Path folder, String... arguments) throws Exception {
        List<String> command = new ArrayList<>(List.of("git", "-c", "user.name=Test", "-c", "user.email=test@example"));
        command.addAll(List.of(arguments));
        Process git = new ProcessBuilder(command).directory(folder.toFile()).start();
        String out = new String(git.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(git.waitFor())
                .as(new String(git.getErrorStream().readAllBytes(), StandardCharsets.UTF_8))
                .isZero();
        return out;
    }
}
