package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ExitStatus;
import java.io.IOException;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What callers and files do to a service of 512 MB costs nobody a row, a file, or the service. */
class AttackTest {

    private static final int SLOW = Integer.getInteger("hapster.slow.callers", 300);
    private static final Duration SOON = Duration.ofSeconds(2);

    @TempDir
    private Path folder;

    private TestService service;
    private final List<Socket> sockets = new ArrayList<>();
    private final HttpClient http = HttpClient.newHttpClient();

    @BeforeEach
    void start() throws Exception {
        Workspaces.small(folder);
        Workspaces.write(folder, "in/a.csv", rows(0, 1000));
        Workspaces.job(folder, "other", "other", "");
        Workspaces.write(folder, "other/b.csv", rows(5000, 10));
        service = TestService.start(folder, "-Xmx512m");
        assertThat(service.run("small").path("dataset").path("rows").asLong()).isEqualTo(1000);
    }

    @AfterEach
    void stop() throws IOException {
        for (Socket socket : sockets) {
            socket.close();
        }
        service.close();
    }

    private static String rows(int from, int count) {
        StringBuilder text = new StringBuilder("id,day,value\n");
        for (int i = from; i < from + count; i++) {
            text.append('r').append(i).append(",2026-01-01,").append(i).append('\n');
        }
        return text.toString();
    }

    private HttpResponse<String> send(String method, String path, String body, String type) throws Exception {
        return http.send(
                HttpRequest.newBuilder(URI.create(service.url() + path))
                        .timeout(Duration.ofSeconds(60))
                        .header("Content-Type", type)
                        .method(method, BodyPublishers.ofString(body))
                        .build(),
                BodyHandlers.ofString());
    }

    private HttpResponse<String> soon(String path) throws Exception {
        return http.send(
                HttpRequest.newBuilder(URI.create(service.url() + path))
                        .timeout(SOON)
                        .build(),
                BodyHandlers.ofString());
    }

    private void open(String text) throws IOException {
        Socket socket = new Socket("127.0.0.1", URI.create(service.url()).getPort());
        socket.setReceiveBufferSize(4096);
        socket.getOutputStream().write(text.getBytes(StandardCharsets.US_ASCII));
        sockets.add(socket);
    }

    private Path part() throws IOException {
        try (Stream<Path> parts = Files.list(folder.resolve("store/parts/samples"))) {
            return parts.sorted().findFirst().orElseThrow();
        }
    }

    @Test
    void slowCallersAndFilesThatStallKeepNobodyElseWaiting() throws Exception {
        String host = "Host: 127.0.0.1\r\n";
        for (int i = 0; i < SLOW; i++) {
            open(
                    i % 3 == 0
                            ? "POST /api/v1/jobs/small/runs HTTP/1.1\r\n" + host
                                    + "Content-Type: application/json\r\nContent-Length: 500\r\n\r\n{"
                            : i % 3 == 1
                                    ? "GET /api/v1/datasets/samples/export HTTP/1.1\r\n" + host + "\r\n"
                                    : "GET /api/v1/jo");
        }
        Workspaces.write(
                folder,
                "jobs/stall.yaml",
                "job: stall\ninto: samples\nfind: [{folder: stall, settle: 0s, take: \"*.xml\"}]\n"
                        + "read: {as: xml}\nmap: {id: \"@id\", day: \"@day\", value: \"@value\"}\n");
        for (int file = 0; file < 2; file++) {
            StringBuilder xml = new StringBuilder("<all>");
            for (int i = 0; i < 90_000; i++) { // names are looked for one after another: this takes long
                xml.append("<n").append(i).append("/>");
            }
            Workspaces.write(
                    folder, "stall/" + file + ".xml", xml.append("</all>").toString());
        }
        long stalled = service.post("/jobs/stall/runs").path("run").asLong();

        long begun = System.nanoTime();
        JsonNode run = service.run("other");
        assertThat(run.path("files").path("loaded").asLong()).isEqualTo(1);
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(Duration.ofSeconds(10));
        assertThat(soon("/health/live").statusCode()).isEqualTo(200);
        assertThat(soon("/api/v1/jobs").statusCode()).isEqualTo(200);
        service.post("/runs/" + stalled + "/cancel");
        assertThat(service.await(stalled).path("state").asText()).isIn("cancelled", "finished");
    }

    @Test
    void bodiesThatAreNoneGetAnAnswer() throws Exception {
        assertThat(send("POST", "/api/v1/jobs/small/runs", "{}", "text/plain").statusCode())
                .isEqualTo(415);
        assertThat(send("POST", "/api/v1/runs/1/undo", "", "application/x-www-form-urlencoded")
                        .statusCode())
                .isEqualTo(415);
        assertThat(send("PUT", "/api/v1/jobs/small", "x".repeat(3 << 20), "application/json"))
                .satisfies(large -> assertThat(large.statusCode()).isEqualTo(413))
                .satisfies(large -> assertThat(large.body()).contains("has at most 2 MiB"));
        for (String body : List.of(
                "null",
                "[]",
                "{",
                "[".repeat(5_000),
                "{\"changes\": [null]}",
                "{\"set\": {\"a\": null}}",
                "{\"limit\": 1e400}",
                "\"\\ud800\"")) {
            HttpResponse<String> answer = send("POST", "/api/v1/jobs/small/find", body, "application/json");
            assertThat(answer.statusCode()).as(body + " " + answer.body()).isEqualTo(400);
            assertThat(answer.headers().firstValue("Content-Type")).hasValue("application/problem+json");
        }
        HttpResponse<String> page = soon("/jobs/small");
        assertThat(page.headers().firstValue("Cache-Control")).hasValue("no-cache");
        assertThat(page.headers().firstValue("Content-Security-Policy").orElseThrow())
                .contains("base-uri 'none'", "form-action 'none'", "frame-ancestors 'none'");
        assertThat(page.headers().firstValue("Cross-Origin-Resource-Policy")).hasValue("same-origin");
        assertThat(Files.readString(folder.resolve("service-test.log"))).doesNotContain("\tat ");
    }

    @Test
    void aDamagedPartIsSaidAndLeftOutOnlyWhereThatIsAskedFor() throws Exception {
        service.run("other");
        Path part = part();
        byte[] bytes = Files.readAllBytes(part);
        byte[] flipped = bytes.clone();
        flipped[100] ^= 1;
        Files.write(part, flipped);

        Path target = folder.resolve("all.csv");
        Result whole = service.client("export", "samples", "--to", target.toString());
        assertThat(whole.status()).isEqualTo(ExitStatus.FAILED);
        assertThat(whole.err())
                .contains("is damaged: bytes 0 to", "hapster run small --again \"in/a.csv\"", "--partial");
        assertThat(target).doesNotExist();
        assertThat(soon("/health").body()).contains("is damaged");

        Result rows = service.client("rows", "samples", "--partial", "--where", "value > 0");
        assertThat(rows.status()).isEqualTo(ExitStatus.FINDINGS);
        assertThat(rows.out()).contains("10 rows");
        assertThat(rows.err()).contains("Left out: The part");
        assertThat(service.client("export", "samples", "--to", target.toString(), "--partial")
                        .status())
                .isZero();
        assertThat(target).content().hasLineCount(11);
        assertThat(service.client("verify").status()).isEqualTo(ExitStatus.FINDINGS);

        assertThat(service.run("/jobs/small/runs", "{\"again\": true, \"files\": [\"in/a.csv\"]}")
                        .path("files")
                        .path("replaced")
                        .asLong())
                .isEqualTo(1);
        assertThat(service.client("verify").status()).isZero();
        assertThat(service.get("/datasets/samples/rows").path("total").asLong()).isEqualTo(1010);
    }

    @Test
    void aServiceStartsWhateverItsStoreHolds() throws Exception {
        Workspaces.job(folder, "moving", "moving", "after: {loaded: {move: done}}\n");
        Workspaces.write(folder, "moving/c.csv", rows(9000, 1));
        Workspaces.write(folder, "done", "a file where a folder ought to be");
        service.run("moving");
        Files.write(part(), new byte[10]);
        Files.createDirectories(folder.resolve("store/parts/samples/folder.parquet"));
        service.kill();
        service.startAgain();

        assertThat(service.get("/store").path("problems")).anySatisfy(problem -> assertThat(problem.asText())
                .contains(folder.resolve("done") + " is a file, and a folder is wanted there"));
        assertThat(service.get("/jobs").size()).isEqualTo(3);
    }

    @Test
    void escapeSequencesAndNamesThatAreNoTextAreShownAsWhatTheyAre() throws Exception {
        Workspaces.write(folder, "in/x\u001b]0;owned\u0007.csv", "id,day,value\n\u001b[2Jid,2026-01-01,x\n");
        new ProcessBuilder("bash", "-c", "touch $'in/a\\xff.csv' $'in/a\\xfe.csv'")
                .directory(folder.toFile())
                .start()
                .waitFor();
        Result run = service.client("run", "small", "--files");
        assertThat(run.out() + run.err()).doesNotContain("\u001b").contains("\\u001b]0;owned\\u0007");
        Result find = service.client("find", "small", "--skipped");
        assertThat(find.out()).contains("a\\xFF.csv", "a\\xFE.csv", "a name that is not UTF-8");
        assertThat(Api.JSON
                        .readTree(service.client("--json", "rows", "samples").out())
                        .path("total")
                        .asLong())
                .isEqualTo(1000);
    }
}
