package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import dev.hapster.acceptance.TestService;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Finds 100,000 files in 1,000 folders: a service that has just been started, asked over HTTP, beside the operating
 * system's own {@code find | wc -l} over the same tree, and the client as a process; and tries rules on 10,000 files as
 * somebody types them. Prints times, ratios and memory.
 */
@Tag("benchmark")
class FindBenchmark {

    private static final int FOLDERS = 1_000;
    private static final int FILES = 100;
    private static final int ROUNDS = 7;
    private static final int KEYS = 30;

    @TempDir
    private Path folder;

    @Test
    void findsAHundredThousandFiles() throws Exception {
        Path workspace = folder.resolve("workspace");
        tree(workspace.resolve("many"), FOLDERS);
        tree(workspace.resolve("some"), FOLDERS / 10);
        Files.createDirectories(workspace.resolve("datasets"));
        Files.createDirectories(workspace.resolve("jobs"));
        Files.writeString(
                workspace.resolve("datasets/samples.yaml"), "dataset: samples\ncolumns:\n  - {name: id, type: text}\n");
        for (String name : new String[] {"many", "some"}) {
            Files.writeString(
                    workspace.resolve("jobs/" + name + ".yaml"),
                    "job: " + name + "\ninto: samples\nfind:\n  - folder: " + name
                            + "\n    depth: 1\n    scan_at_most: 200000\n"
                            + "    take: [\"station-*/{station}-{day:yyyyMMdd}-*.csv\"]\n"
                            + "    skip: [\"*-9?.csv\"]\n    size: {to: 1 MB}\n");
        }
        double[] answer = new double[ROUNDS];
        double[] client = new double[ROUNDS];
        double[] system = new double[ROUNDS];
        double[] keys = new double[KEYS];
        double listing;
        try (TestService service = Measured.start(workspace)) {
            for (int round = 0; round < ROUNDS; round++) {
                long start = System.nanoTime();
                assertThat(ask(service, "many", "{\"fresh\":true,\"which\":\"taken\",\"limit\":1000}")
                                .path("taken")
                                .asInt())
                        .isEqualTo(90_000);
                answer[round] = seconds(start);
                start = System.nanoTime();
                TestService.Result found = service.client("find", "many");
                client[round] = seconds(start);
                assertThat(found.out())
                        .endsWith("many takes 90 000 files and skips 10 000 (hapster find many --skipped shows "
                                + "which, and why)\n");
                start = System.nanoTime();
                Process process = new ProcessBuilder(
                                "sh", "-c", "find '" + workspace.resolve("many") + "' -type f | wc -l")
                        .start();
                assertThat(new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip())
                        .isEqualTo(Integer.toString(FOLDERS * FILES));
                system[round] = seconds(start);
            }
            long start = System.nanoTime();
            typed(service, "*");
            listing = seconds(start);
            for (int key = 0; key < KEYS; key++) {
                start = System.nanoTime();
                assertThat(typed(service, "station-*/*-2026" + "x".repeat(key % 3) + "*.csv")
                                .path("seen")
                                .asInt())
                        .isEqualTo(FOLDERS / 10 * FILES);
                keys[key] = seconds(start);
            }
            long peak = Measured.peakMegabytes(service.pid());
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d files in %,d folders, %d rounds in turn, seconds%n",
                    FOLDERS * FILES,
                    FOLDERS,
                    ROUNDS);
            print("answer of the service", answer);
            print("hapster find (a process)", client);
            print("find | wc -l", system);
            System.out.printf(
                    Locale.ROOT,
                    "ratio of the answer to find | wc -l %.1f (medians); service's peak memory %d MB with -Xmx512m%n",
                    Measured.median(answer) / Measured.median(system),
                    peak);
            System.out.printf(
                    Locale.ROOT,
                    "rules tried on %,d files while somebody types: first look %.0f ms, then median %.0f ms, "
                            + "slowest %.0f ms%n",
                    FOLDERS / 10 * FILES,
                    listing * 1000,
                    Measured.median(keys) * 1000,
                    Arrays.stream(keys).max().orElseThrow() * 1000);
        }
        assertThat(Measured.median(answer) / Measured.median(system))
                .as("ratio to find | wc -l")
                .isLessThan(20);
        assertThat(Measured.median(keys) / listing)
                .as("a key beside the first look")
                .isLessThan(0.5);
    }

    private static void tree(Path at, int folders) throws IOException {
        for (int i = 0; i < folders; i++) {
            Path one = Files.createDirectories(at.resolve(String.format(Locale.ROOT, "station-%03d", i)));
            for (int j = 0; j < FILES; j++) {
                Files.writeString(
                        one.resolve(String.format(
                                Locale.ROOT, "VS%03d-2026%02d%02d-%02d.csv", i, 1 + j % 12, 1 + j % 28, j)),
                        "id\n" + i + "-" + j + "\n");
            }
        }
    }

    private static double seconds(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    /** What the console asks for with each key. */
    private static JsonNode typed(TestService service, String pattern) throws Exception {
        return ask(
                service,
                "some",
                "{\"changes\":[{\"op\":\"set\",\"place\":1,\"key\":\"take\",\"value\":[\"" + pattern
                        + "\"]}],\"limit\":200}");
    }

    private static JsonNode ask(TestService service, String job, String body) throws Exception {
        HttpRequest request = HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/jobs/" + job + "/find"))
                .header("Content-Type", "application/json")
                .POST(HttpRequest.BodyPublishers.ofString(body))
                .build();
        return new ObjectMapper()
                .readTree(HTTP.send(request, BodyHandlers.ofString()).body());
    }

    private static final HttpClient HTTP = HttpClient.newHttpClient();

    private static void print(String name, double[] seconds) {
        System.out.printf(
                Locale.ROOT,
                "  %-26s first %6.2f   median %6.2f   best %6.2f%n",
                name,
                seconds[0],
                Measured.median(seconds),
                Arrays.stream(seconds).min().orElseThrow());
    }
}
