package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.demo.LargeFiles;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Rows handed over as CSV beside PostgreSQL's {@code COPY TO}, and to a table beside its {@code COPY FROM}. */
@Tag("benchmark")
class DeliverBenchmark {

    private static final int ROWS = 10_000_000;
    private static final int FILES = 10;
    private static final int ROUNDS = 3;

    @TempDir
    private Path folder;

    @Test
    void handsTenMillionRowsOver() throws Exception {
        Path workspace = folder.resolve("workspace");
        List<Path> files = LargeFiles.write(workspace.resolve("inbox"), FILES, ROWS);
        LoadBenchmark.define(workspace, "samples", "inbox");
        try (Postgres postgres = Postgres.start(folder.resolve("postgres"))) {
            declare(workspace, postgres);
            postgres.mayRead(folder, workspace, workspace.resolve("inbox"));
            postgres.sql(LoadBenchmark.TABLE.formatted(0).replace("samples0", "plain"));
            try (TestService service = Measured.start(workspace)) {
                LoadBenchmark.hapster(service, "samples", ROWS);
                for (Path file : files) {
                    Files.delete(file);
                }
                System.out.printf(
                        Locale.ROOT, "%n%,d rows, %d files; %d rounds, each in turn, seconds%n", ROWS, FILES, ROUNDS);
                double[][] times = new double[4][ROUNDS];
                Path csv = folder.resolve("export.csv");
                for (int round = 0; round < ROUNDS; round++) {
                    times[0][round] = export(service, csv);
                    times[1][round] = deliver(service, postgres);
                    times[2][round] = timed(() -> postgres.sql(
                            "TRUNCATE plain", "COPY plain FROM '" + csv + "' WITH (FORMAT csv, HEADER true)"));
                    Path other = folder.resolve("postgres/export.csv");
                    times[3][round] =
                            timed(() -> postgres.sql("COPY plain TO '" + other + "' WITH (FORMAT csv, HEADER true)"));
                    Files.delete(csv);
                    Files.delete(other);
                }
                tell("export of all rows to CSV", times[0], "COPY TO", times[3], 1);
                tell("delivery to a table", times[1], "COPY FROM", times[2], 0.9);
                System.out.printf(
                        Locale.ROOT,
                        "service's peak memory %d MB with -Xmx512m%n",
                        Measured.peakMegabytes(service.pid()));
            }
        }
    }

    private static void declare(Path workspace, Postgres postgres) throws Exception {
        Files.writeString(
                workspace.resolve("datasets/samples.yaml"),
                "deliver: [{name: table, to: {database: server, table: followed}, when: on call}]\n",
                StandardOpenOption.APPEND);
        Workspaces.write(
                workspace,
                "accounts.yaml",
                "accounts: [{name: server, postgresql: {port: " + postgres.port()
                        + ", database: postgres, user: postgres, password: {file: secret}}}]");
        Workspaces.write(workspace, "secret", Postgres.PASSWORD);
    }

    /** Something that takes its time. */
    private interface Act {
        void perform() throws Exception;
    }

    private static double timed(Act act) throws Exception {
        long start = System.nanoTime();
        act.perform();
        return (System.nanoTime() - start) / 1e9;
    }

    private static double export(TestService service, Path file) throws Exception {
        HttpRequest asked = HttpRequest.newBuilder(URI.create(service.url() + "/api/v1/datasets/samples/export?as=csv"))
                .build();
        double time = timed(() -> HttpClient.newHttpClient().send(asked, HttpResponse.BodyHandlers.ofFile(file)));
        try (Stream<String> lines = Files.lines(file)) {
            assertThat(lines.count()).isEqualTo(ROWS + 1L);
        }
        return time;
    }

    private static double deliver(TestService service, Postgres postgres) throws Exception {
        postgres.sql("DROP TABLE IF EXISTS followed");
        double time = timed(() -> {
            String called = "/datasets/samples/deliveries/table/"
                    + service.post("/datasets/samples/deliveries/table").path("number");
            JsonNode done = service.get(called);
            while (done.path("state").asText().equals("queued")) {
                Thread.sleep(50);
                done = service.get(called);
            }
            assertThat(done.path("state").asText()).as(done.toString()).isEqualTo("done");
        });
        assertThat(postgres.sql("SELECT count(*) FROM followed")).isEqualTo(Integer.toString(ROWS));
        return time;
    }

    private static void tell(String what, double[] ours, String other, double[] theirs, double goal) {
        System.out.printf(
                Locale.ROOT,
                "%-32s Hapster %.1f (first %.1f), PostgreSQL's %s %.1f: %.2f times as fast (goal %.1f)%n",
                what,
                Measured.median(ours),
                ours[0],
                other,
                Measured.median(theirs),
                Measured.median(theirs) / Measured.median(ours),
                goal);
    }
}
