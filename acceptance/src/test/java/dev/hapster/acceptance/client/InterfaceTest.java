package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.demo.LargeFiles;
import java.io.BufferedReader;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The HTTP interface as a program uses it: runs from start to end, rejects, rows, counts. */
class InterfaceTest {

    @TempDir
    private static Path folder;

    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        Workspaces.demo(folder);
        LargeFiles.write(folder.resolve("bulk"), 40, 400_000);
        Workspaces.write(
                folder,
                "datasets/bulk.yaml",
                "dataset: bulk\ncolumns:\n"
                        + String.join(
                                "",
                                LargeFiles.COLUMNS.stream()
                                        .map(column -> "  - " + column + "\n")
                                        .toList()));
        Workspaces.write(folder, "jobs/bulk.yaml", "job: bulk\ninto: bulk\nfind: [{folder: bulk, take: \"*.csv\"}]\n");
        service = TestService.start(folder);
    }

    @AfterAll
    static void stop() throws Exception {
        service.close();
    }

    private static HttpResponse<String> post(String path, String body) throws Exception {
        return HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(service.url() + "/api/v1" + path))
                                .header("Content-Type", "application/json")
                                .POST(HttpRequest.BodyPublishers.ofString(body))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
    }

    @Test
    void aRunIsFollowedRefusedASecondTimeAndCancelled() throws Exception {
        HttpResponse<String> started = post("/jobs/bulk/runs", "{}");
        assertThat(started.statusCode()).isEqualTo(202);
        long run = Api.JSON.readTree(started.body()).path("run").asLong();
        assertThat(started.headers().firstValue("Location"))
                .hasValueSatisfying(location -> assertThat(location).endsWith("/api/v1/runs/" + run));

        HttpResponse<String> second = post("/jobs/bulk/runs", "{}");
        assertThat(second.statusCode()).as(second.body()).isEqualTo(202);
        long waiting = Api.JSON.readTree(second.body()).path("run").asLong();
        assertThat(Api.JSON.readTree(second.body()).path("state").asText()).isEqualTo("queued");
        assertThat(Api.JSON
                        .readTree(post("/jobs/bulk/runs", "{}").body())
                        .path("run")
                        .asLong())
                .as("asked for once more, it is the same")
                .isEqualTo(waiting);
        HttpResponse<String> busy = post("/jobs/bulk/runs", "{\"again\": true}");
        assertThat(busy.statusCode()).isEqualTo(409);
        assertThat(busy.body()).contains("urn:hapster:job-busy", "bulk is being run already, as run " + waiting);

        post("/runs/" + waiting + "/cancel", "");
        JsonNode never = service.get("/runs/" + waiting);
        assertThat(never.path("state").asText()).isEqualTo("cancelled");
        assertThat(never.path("failure").asText()).isEqualTo("It was cancelled before it began");

        List<JsonNode> events = new ArrayList<>();
        service.api().follow("/runs/" + run + "/events", event -> {
            events.add(event);
            if (events.size() == 2) {
                service.api().post("/runs/" + run + "/cancel", null);
            }
        });
        assertThat(events)
                .first()
                .satisfies(event -> assertThat(event.path("kind").asText()).isEqualTo("progress"));
        JsonNode ended = events.get(events.size() - 1).path("run");
        assertThat(ended.path("state").asText()).isEqualTo("cancelled");
        JsonNode files = ended.path("files");
        assertThat(files.path("holds").asBoolean()).isTrue();
        assertThat(files.path("loaded").asLong() + files.path("notReached").asLong())
                .isEqualTo(40);
        assertThat(service.get("/datasets/bulk").path("rows").asLong())
                .as("what was committed stays, whole")
                .isEqualTo(files.path("loaded").asLong() * 10_000);

        JsonNode rest = service.run("bulk");
        assertThat(rest.path("files").path("unchanged").asLong())
                .isEqualTo(files.path("loaded").asLong());
        assertThat(rest.path("dataset").path("rows").asLong()).isEqualTo(400_000);
    }

    @Test
    void aRunThatWaitsBeginsOnceTheOneBeforeItHasEnded() throws Exception {
        long first = Api.JSON
                .readTree(post("/jobs/bulk/runs", "{\"again\": true}").body())
                .path("run")
                .asLong();
        long second = Api.JSON
                .readTree(post("/jobs/bulk/runs", "{}").body())
                .path("run")
                .asLong();
        assertThat(second).isGreaterThan(first);
        JsonNode waited = service.await(second);
        assertThat(waited.path("state").asText()).isEqualTo("finished");
        assertThat(waited.path("files").path("unchanged").asLong()).isEqualTo(40);
        assertThat(Instant.parse(waited.path("startedAt").asText()))
                .isAfterOrEqualTo(Instant.parse(
                                service.get("/runs/" + first).path("endedAt").asText())
                        .minusMillis(200));
    }

    @Test
    void aClientThatIsInterruptedSaysThatTheRunGoesOn() throws Exception {
        Process client = service.clientProcess("run", "bulk", "--again", "--all");
        try (BufferedReader err = client.errorReader()) {
            String begins = err.readLine();
            assertThat(begins).startsWith("bulk: run ").endsWith(" …");
            long run = Long.parseLong(begins.replaceAll("\\D", ""));
            client.toHandle().destroy(); // as Ctrl-C does; what it says is still read
            assertThat(err.lines().toList())
                    .containsExactly("Run " + run + " goes on in the service. hapster cancel " + run
                            + " ends it; files that it has finished stay. hapster runs " + run
                            + " shows what came of it.");
            service.api().follow("/runs/" + run + "/events", event -> {});
            assertThat(service.get("/runs/" + run).path("state").asText()).isEqualTo("finished");
        }
    }

    @Test
    void rejectsAreHadByReasonRowByRowAndAsAFile() throws Exception {
        JsonNode run = service.run("east-lab");
        long number = run.path("run").asLong();
        JsonNode reasons = service.get("/runs/" + number + "/rejects");
        assertThat(reasons)
                .extracting(reason -> reason.path("code").asText())
                .containsExactly("date-unreadable", "number-unreadable", "separator-differs", "file-empty");
        assertThat(reasons.get(0).path("count").asLong()).isEqualTo(41);
        assertThat(reasons.get(0).path("samples")).hasSize(5);

        JsonNode rows = service.get("/runs/" + number + "/rejects/rows?code=date-unreadable&offset=1&limit=2");
        assertThat(rows).hasSize(2);
        assertThat(rows.get(0).path("line").asLong()).isEqualTo(23);
        assertThat(rows.get(0).path("original").asText())
                .isEqualTo("O20019;VS-005;30.02.2026 18:00;Trübung;18,954;NTU");
        JsonNode aside = service.get("/runs/" + number + "/aside/rows?rule="
                + Api.encode("keep: parameter != 'chlorid'") + "&offset=1&limit=2");
        assertThat(aside).hasSize(2);
        assertThat(aside.get(0).path("line").asLong()).isEqualTo(178);
        assertThat(aside.get(0).path("original").asText())
                .isEqualTo("O10174;VS-020;21.01.2026 17:45;Chlorid;0,522;mg/l");
        assertThat(service.get("/runs/" + number + "/aside"))
                .singleElement()
                .satisfies(rule -> assertThat(rule.path("rows").asLong()).isEqualTo(11));
        HttpResponse<String> file = HttpClient.newHttpClient()
                .send(
                        HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/runs/" + number + "/rejects.csv"))
                                .build(),
                        HttpResponse.BodyHandlers.ofString());
        assertThat(file.headers().firstValue("Content-Type"))
                .hasValueSatisfying(type -> assertThat(type).startsWith("text/csv"));
        assertThat(file.body().lines().count()).as("a header, 50 rows, 2 files").isEqualTo(53);
        assertThat(file.body()).isEqualTo(Files.readString(folder.resolve("store/rejects/run-" + number + ".csv")));

        assertThat(service.get("/rejects?job=east-lab")).hasSize(4);
        assertThat(service.get("/reasons").size()).isGreaterThan(20);
    }

    @Test
    void rowsKeepTheirTypesOnTheWay() throws Exception {
        service.run("north-lab");
        JsonNode page = service.get(
                "/datasets/river_samples/rows?where=lab%20%3D%20North&where=_line%20%3D%202&sort=sample_id");
        assertThat(page.path("total").asLong()).isEqualTo(4);
        JsonNode row = page.path("rows").get(0);
        assertThat(row.path(0).asText()).isEqualTo("samples-2026-01.csv");
        assertThat(row.path(1).isIntegralNumber()).isTrue();
        assertThat(row.path(5).asText()).isEqualTo("N01-0001");
        assertThat(row.path(7).asText()).matches("2026-01-\\d\\dT\\d\\d:\\d\\d:00");
        assertThat(row.path(9).decimalValue().scale())
                .as("all digits of a decimal")
                .isEqualTo(4);
        assertThat(service.api()
                        .post(
                                "/jobs/north-lab/find",
                                Api.JSON.createObjectNode().put("limit", 100))
                        .path("files"))
                .extracting(file -> file.path("status").asText("skipped"))
                .containsExactly("skipped", "skipped", "skipped", "loaded", "loaded", "loaded", "loaded");
    }

    @Test
    void aQuestionThatIsWrongIsAnswered400() throws Exception {
        for (String path : List.of(
                "/datasets/river_samples/rows?limit=5000",
                "/datasets/river_samples/rows?sort=nothing",
                "/datasets/river_samples/rows?where=x",
                "/datasets/river_samples/counts?by=lab&by=unit&by=value&by=station&by=parameter",
                "/datasets/river_samples/counts?by=lab:month")) {
            HttpResponse<String> answer = HttpClient.newHttpClient()
                    .send(
                            HttpRequest.newBuilder(URI.create(service.url() + "/api/v1" + path))
                                    .build(),
                            HttpResponse.BodyHandlers.ofString());
            assertThat(answer.statusCode()).as(path).isEqualTo(400);
            assertThat(answer.body()).contains("urn:hapster:question-wrong");
        }
        assertThat(post("/jobs/north-lab/runs", "{\"again\": maybe}").statusCode())
                .isEqualTo(400);
    }
}
