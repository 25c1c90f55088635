package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.io.ByteArrayOutputStream;
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
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import java.util.zip.GZIPOutputStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What callers and files do to a service of 512 MB costs nobody a row, a file, or the service. */
class AttackTest {

    private static final int SLOW = Integer.getInteger("hapster.slow.callers", 300);
    /** Within two seconds, as {@code ./dev attack} asks; elsewhere the machine may have other work. */
    private static final Duration SOON = Duration.ofSeconds(Integer.getInteger("hapster.soon", 30));

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
        service = TestService.start(folder, "-Xmx512m", "-Dquarkus.http.idle-timeout=2S");
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

    /** Whether a head of which a byte comes now and then is given up within 20 seconds. */
    private boolean dripping() throws Exception {
        open("GET /api/v1/jobs HTTP/1.1\r\nX: ");
        Socket drops = sockets.get(sockets.size() - 1);
        for (int i = 0; i < 100; i++) {
            Thread.sleep(200);
            try {
                drops.getOutputStream().write('x');
            } catch (IOException closed) {
                return true;
            }
        }
        return false;
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
        assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(SOON);
        assertThat(soon("/health/live").statusCode()).isEqualTo(200);
        assertThat(soon("/api/v1/jobs").statusCode()).isEqualTo(200);
        Socket half = sockets.get(2);
        half.setSoTimeout(20_000);
        assertThat(half.getInputStream().read())
                .as("half a head is not waited for")
                .isNegative();
        assertThat(dripping()).as("nor one that comes drop by drop").isTrue();
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

        assertThat(service.problems()).anySatisfy(problem -> assertThat(problem.asText())
                .contains(folder.resolve("done") + " is a file, and a folder is wanted there"));
        assertThat(service.get("/jobs").size()).isEqualTo(3);
    }

    @Test
    void anUndoWaitsForRunsOfOtherJobsAndIsRejectedForItsOwn() throws Exception {
        Workspaces.write(folder, "other/long.csv", rows(10_000, 2_000_000));
        long own = service.post("/jobs/other/runs").path("run").asLong();
        int rejected = send("POST", "/api/v1/runs/" + own + "/undo", "{}", "application/json")
                .statusCode();
        int undone =
                send("POST", "/api/v1/runs/1/undo", "{}", "application/json").statusCode();
        assertThat(service.get("/runs/" + own).has("endedAt")).as("it goes on").isFalse();

        assertThat(rejected).isEqualTo(409);
        assertThat(undone).isEqualTo(200);
        service.await(own);
        assertThat(service.get("/datasets/samples").path("rows").asLong()).isEqualTo(2_000_010);
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

    /** Bodies for every call that takes one, as its own document lists them. */
    @Test
    void spoiltBodiesOfEveryCallGetAnAnswerThatIsNoFault() throws Exception {
        Random random = new Random(Long.getLong("hapster.seed", 7));
        List<String> good = List.of(
                "{\"text\": \"job: small\\ninto: samples\\n\", \"version\": \"x\"}",
                "{\"limit\": 10, \"offset\": 0, \"changes\": [{\"op\": \"set\", \"place\": 1, \"key\": \"take\", "
                        + "\"value\": [\"*.csv\"]}], \"set\": {\"a\": \"b\"}}",
                "{\"again\": true, \"files\": [\"a.csv\"], \"set\": {}, \"applyAfter\": true}",
                "{\"name\": \"copy\", \"values\": {\"a\": \"b\"}, \"file\": \"a.csv\", \"why\": \"x\", \"rebuild\": true}");
        List<String> tokens = List.of(
                "null",
                "{",
                "}",
                "[",
                "]",
                "\"",
                ":",
                ",",
                "1e999",
                "-1",
                "9".repeat(400),
                "\\u0000",
                "\\ud800",
                "true",
                "\"" + "x".repeat(5_000) + "\"",
                "{\"a\":".repeat(200),
                "../../etc/passwd",
                "{}",
                "\u00e4");
        JsonNode document =
                Api.JSON.readTree(soon("/api/v1/openapi?format=json").body());
        int asked = 0;
        for (var path : document.path("paths").properties()) {
            for (String method : List.of("post", "put")) {
                if (!path.getValue().has(method) || path.getKey().contains("rebuild")) {
                    continue;
                }
                String address = path.getKey()
                        .replace("{job}", "small")
                        .replace("{dataset}", "samples")
                        .replace("{run}", "1")
                        .replaceAll("\\{\\w+}", "1");
                for (int i = 0; i < Integer.getInteger("hapster.bodies", 25); i++) {
                    StringBuilder body = new StringBuilder(good.get(random.nextInt(good.size())));
                    for (int n = random.nextInt(4); n > 0; n--) {
                        int at = random.nextInt(body.length() + 1);
                        if (random.nextBoolean()) {
                            body.insert(at, tokens.get(random.nextInt(tokens.size())));
                        } else {
                            body.delete(at, Math.min(body.length(), at + random.nextInt(9)));
                        }
                    }
                    HttpResponse<String> answer =
                            send(method.toUpperCase(Locale.ROOT), address, body.toString(), "application/json");
                    assertThat(answer.statusCode())
                            .as(method + " " + address + " " + body + "\n" + answer.body())
                            .isLessThan(500);
                    asked++;
                }
            }
        }
        assertThat(asked).isGreaterThan(100);
    }

    /** Each file of the demo, spoilt in a dozen ways: every one is accounted for, and the service stays. */
    @Test
    void everyKindOfSpoiltFileIsLoadedOrRejectedWithAReason() throws Exception {
        service.close();
        Path demo = Workspaces.demo(Files.createDirectories(folder.resolve("demo")));
        List<Path> files;
        try (Stream<Path> all = Files.walk(demo.resolve("inbox"))) {
            files = all.filter(Files::isRegularFile).sorted().toList();
        }
        Map<Path, byte[]> good = new HashMap<>();
        for (Path file : files) {
            good.put(file, Files.readAllBytes(file));
        }
        service = TestService.start(demo, "-Xmx512m");
        int kinds = 0;
        for (Spoiling way : Spoiling.values()) {
            for (Path file : files) {
                Files.createDirectories(file.getParent());
                Files.write(file, way.of(good.get(file)));
                kinds++;
            }
            for (JsonNode job : service.get("/jobs")) {
                JsonNode run = service.run(job.path("name").asText());
                assertThat(run.path("state").asText()).as(way + " " + run).isIn("finished", "stopped");
                assertThat(run.path("files").path("holds").asBoolean())
                        .as(way + " " + run)
                        .isTrue();
            }
        }
        assertThat(kinds).isGreaterThan(250);
        for (Path file : files) {
            Files.createDirectories(file.getParent());
            Files.write(file, good.get(file));
        }
        for (JsonNode job : service.get("/jobs")) {
            service.run(job.path("name").asText());
        }
        assertThat(service.get("/datasets/river_samples/rows").path("total").asLong())
                .as("what was spoilt for a while comes back whole")
                .isGreaterThanOrEqualTo(7187);
        assertThat(service.client("verify").status()).isZero();
    }

    private enum Spoiling {
        EMPTY,
        HALF,
        NO_END,
        NO_BEGINNING,
        ONE_BIT,
        A_HOLE,
        TWICE,
        BEHIND,
        UTF_16,
        PACKED,
        PACKED_HALF,
        ONE_LINE,
        ZIP_NAMED,
        ZEROS;

        byte[] of(byte[] good) throws IOException {
            ByteArrayOutputStream out = new ByteArrayOutputStream();
            int half = good.length / 2;
            switch (this) {
                case EMPTY -> {
                    return new byte[0];
                }
                case HALF -> out.write(good, 0, half);
                case NO_END -> out.write(good, 0, Math.max(0, good.length - 7));
                case NO_BEGINNING -> out.write(good, Math.min(9, good.length), Math.max(0, good.length - 9));
                case ONE_BIT, A_HOLE -> {
                    byte[] spoilt = good.clone();
                    for (int i = half; i < Math.min(spoilt.length, half + (this == ONE_BIT ? 1 : 40)); i++) {
                        spoilt[i] = this == ONE_BIT ? (byte) (spoilt[i] ^ 16) : 0;
                    }
                    return spoilt;
                }
                case TWICE -> {
                    out.writeBytes(good);
                    out.writeBytes(good);
                }
                case BEHIND -> {
                    out.writeBytes(good);
                    out.writeBytes("\n<x>{[\"\u001b[2J".getBytes(StandardCharsets.UTF_8));
                }
                case UTF_16 ->
                    out.writeBytes(new String(good, StandardCharsets.UTF_8).getBytes(StandardCharsets.UTF_16));
                case PACKED, PACKED_HALF -> {
                    try (GZIPOutputStream packed = new GZIPOutputStream(out)) {
                        packed.write(good);
                    }
                    byte[] all = out.toByteArray();
                    return this == PACKED ? all : Arrays.copyOf(all, all.length / 2);
                }
                case ONE_LINE -> out.writeBytes("x,".repeat(1_500_000).getBytes(StandardCharsets.US_ASCII));
                case ZIP_NAMED -> out.writeBytes("PK\3\4 not an archive".getBytes(StandardCharsets.ISO_8859_1));
                case ZEROS -> out.writeBytes(new byte[1 << 20]);
            }
            return out.toByteArray();
        }
    }
}
