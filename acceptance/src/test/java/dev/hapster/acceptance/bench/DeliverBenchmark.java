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
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * 10,000,000 rows of 10 columns are profiled, sorted, exported as CSV and delivered to a table of PostgreSQL;
 * PostgreSQL and H2, which has a file on the same disk, do the same in turn. H2 does each once, and so does PostgreSQL
 * the profile. Run by {@code ./dev bench Deliver}.
 */
@Tag("benchmark")
class DeliverBenchmark {

    private static final int ROWS = Integer.getInteger("bench.rows", 10_000_000);
    private static final int FILES = 10;
    private static final int ROUNDS = 3;

    @TempDir
    private Path folder;

    /** Those that databases know a smallest value of. */
    private static final List<String> COLUMNS =
            List.of("sample_id", "station", "sampled_at", "parameter", "\"value\"", "unit", "method", "depth", "lab");

    /**
     * For one column: a part of what a profile finds out. H2 is not asked for different values: with these many it does
     * not come to an end within a quarter of an hour.
     */
    private static final String PROFILE = "SELECT count(%1$s), min(%1$s), max(%1$s)%2$s FROM samples";

    private static final String SORTED =
            "SELECT * FROM samples ORDER BY \"value\" DESC NULLS LAST, sample_id LIMIT 100";

    /** H2 sorts rows whole, on disk: of all columns these many take it more than ten minutes. */
    private static final String SORTED_BY_KEY =
            "SELECT sample_id FROM samples ORDER BY \"value\" DESC NULLS LAST, sample_id LIMIT 100";

    private static final String SORTED_PATH =
            "/datasets/samples/rows?sort=-value&sort=sample_id&where=_line%%20%%3E%%20-%d";

    @Test
    void handsTenMillionRowsOver() throws Exception {
        Path workspace = folder.resolve("workspace");
        List<Path> files = LargeFiles.write(workspace.resolve("inbox"), FILES, ROWS);
        LoadBenchmark.define(workspace, "samples", "inbox");
        String table = LoadBenchmark.TABLE.formatted(0);
        try (Postgres postgres = Postgres.start(folder.resolve("postgres"));
                Connection h2 = DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("h2"))) {
            declare(workspace, postgres);
            postgres.mayRead(folder, workspace, workspace.resolve("inbox"));
            postgres.sql(table.replace("samples0", "plain"), table.replace("samples0", "samples"));
            execute(h2, table.replace("samples0", "samples"));
            Times profile = new Times("profile of all columns", 10, 0);
            Times sort = new Times("sorted by a column, first page", 2, 0);
            Times export = new Times("export of all rows to CSV", 0, 1);
            Times delivery = new Times("delivery to a table", 0, 0.9);
            try (TestService service = Measured.start(workspace)) {
                LoadBenchmark.hapster(service, "samples", ROWS);
                double loading = timed(() -> {
                    for (Path file : files) {
                        execute(h2, "INSERT INTO samples SELECT * FROM CSVREAD('" + file + "')");
                    }
                });
                for (Path file : files) {
                    postgres.sql("COPY samples FROM '" + file + "' WITH (FORMAT csv, HEADER true)");
                    Files.delete(file);
                }
                postgres.sql("VACUUM ANALYZE samples");
                System.out.printf(
                        Locale.ROOT, "%n%,d rows, %d files; %d rounds, each in turn, seconds%n", ROWS, FILES, ROUNDS);
                Path csv = folder.resolve("export.csv");
                Path other = folder.resolve("postgres/export.csv");
                for (int round = 0; round < ROUNDS; round++) {
                    String page = SORTED_PATH.formatted(round + 1);
                    profile.ours[round] = timed(() -> {
                        for (JsonNode column :
                                service.get("/datasets/samples/profile").path("columns")) {
                            assertThat(column.path("rows").asInt()).isEqualTo(ROWS);
                        }
                    });
                    sort.ours[round] = timed(() ->
                            assertThat(service.get(page).path("rows").size()).isEqualTo(100));
                    sort.postgres[round] = timed(() -> postgres.sql(SORTED));
                    export.ours[round] = export(service, csv);
                    delivery.ours[round] = deliver(service, postgres);
                    delivery.postgres[round] = timed(() -> postgres.sql(
                            "TRUNCATE plain", "COPY plain FROM '" + csv + "' WITH (FORMAT csv, HEADER true)"));
                    export.postgres[round] =
                            timed(() -> postgres.sql("COPY plain TO '" + other + "' WITH (FORMAT csv, HEADER true)"));
                    Files.delete(csv);
                    Files.delete(other);
                }
                Arrays.fill(profile.postgres, timed(() -> {
                    for (String column : COLUMNS) {
                        postgres.sql(PROFILE.formatted(column, ", count(DISTINCT " + column + ")"));
                    }
                }));
                List.of(profile, sort, export, delivery).forEach(Times::tell);
                System.out.printf(
                        Locale.ROOT,
                        "service's peak memory %d MB with -Xmx512m%n",
                        Measured.peakMegabytes(service.pid()));
                sort.tellH2(timed(() -> execute(h2, SORTED_BY_KEY)));
                export.tellH2(timed(() -> execute(h2, "CALL CSVWRITE('" + csv + "', 'SELECT * FROM samples')")));
                profile.tellH2(timed(() -> {
                    for (String column : COLUMNS) {
                        execute(h2, PROFILE.formatted(column, ""));
                    }
                }));
                delivery.tellH2(loading);
            }
        }
    }

    /** What one act took, in seconds. */
    private static final class Times {

        private final String what;
        private final double seconds;
        private final double factor;
        private final double[] ours = new double[ROUNDS];
        private final double[] postgres = new double[ROUNDS];

        /**
         * @param seconds that it is to take at most; 0 where only the factor is a goal
         * @param factor how many times as fast as PostgreSQL it is to be; 0 where only the seconds are
         */
        Times(String what, double seconds, double factor) {
            this.what = what;
            this.seconds = seconds;
            this.factor = factor;
        }

        void tell() {
            double median = Measured.median(ours);
            double theirs = Measured.median(postgres);
            System.out.printf(
                    Locale.ROOT,
                    "%-31s Hapster %5.1f (first %.1f), PostgreSQL %5.1f: %.2f times as fast (goal %s)%n",
                    what,
                    median,
                    ours[0],
                    theirs,
                    theirs / median,
                    factor > 0 ? factor + " times PostgreSQL" : "under " + (int) seconds + " s");
        }

        void tellH2(double took) {
            System.out.printf(
                    Locale.ROOT,
                    "%-31s H2 %5.1f: Hapster %.1f times as fast%n",
                    what,
                    took,
                    took / Measured.median(ours));
        }
    }

    private static void execute(Connection h2, String sql) throws SQLException {
        try (Statement statement = h2.createStatement()) {
            statement.execute(sql);
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
}
