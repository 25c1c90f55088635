package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.LargeFiles;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Loads 1,000,000 rows of 10 columns in 8 files three ways, in turn: through the running service, with PostgreSQL's
 * COPY, with H2's own CSV loader; each into typed columns. Prints times, ratios and memory. Then one file of 2 GB
 * through the service. Run by {@code ./dev bench}.
 */
@Tag("benchmark")
class LoadBenchmark {

    private static final int ROWS = 1_000_000;
    private static final int FILES = 8;
    private static final int ROUNDS = 12;
    /** Of the last rounds so many are looked at as warm. */
    static final int WARM = 5;

    private static final long BIG = 2_000_000_000L;

    static final String TABLE =
            """
            CREATE TABLE samples%d (sample_id varchar(12) NOT NULL, station varchar(6) NOT NULL, sampled_at timestamp NOT NULL, parameter varchar(20),
            "value" decimal(12,4), unit varchar(20), method varchar(40), depth decimal(6,1), checked boolean, lab varchar(20))""";

    @TempDir
    private Path folder;

    @Test
    void loadsAMillionRowsThreeWaysAndTwoGigabytes() throws Exception {
        Path workspace = folder.resolve("workspace");
        List<Path> files = LargeFiles.write(workspace.resolve("inbox"), FILES, ROWS);
        long bytes = 0;
        for (Path file : files) {
            bytes += Files.size(file);
        }
        for (int round = 0; round < ROUNDS; round++) {
            define(workspace, "round" + round, "inbox");
        }
        define(workspace, "big", "big");
        double[] hapster = new double[ROUNDS];
        double[] copy = new double[ROUNDS];
        double[] h2 = new double[ROUNDS];
        try (Postgres postgres = Postgres.start(folder.resolve("postgres"));
                TestService service = Measured.start(workspace)) {
            postgres.mayRead(folder, workspace, workspace.resolve("inbox"));
            for (int round = 0; round < ROUNDS; round++) {
                hapster[round] = hapster(service, "round" + round, ROWS);
                copy[round] = copy(postgres, files, round);
                h2[round] = h2(files, round);
            }
            long peak = Measured.peakMegabytes(service.pid());
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d rows, %d columns, %d files, %d MB; %d rounds, each way in turn, seconds%n",
                    ROWS,
                    10,
                    FILES,
                    bytes / 1_000_000,
                    ROUNDS);
            print("Hapster, running service", hapster);
            print("PostgreSQL COPY", copy);
            print("H2 CSV loader", h2);
            System.out.printf(
                    Locale.ROOT,
                    "ratio to COPY %.1f the first, %.1f in all, %.1f the last %d; ratio to H2 %.1f (medians); service's "
                            + "peak memory %d MB with -Xmx512m%n",
                    copy[0] / hapster[0],
                    Measured.median(copy) / Measured.median(hapster),
                    last(copy) / last(hapster),
                    WARM,
                    Measured.median(h2) / Measured.median(hapster),
                    peak);
            printLimits(files, workspace.resolve("store/parts/round0"));

            Path big = LargeFiles.repeat(
                    Files.createDirectories(workspace.resolve("big")).resolve("big.csv"), files, BIG);
            double seconds = hapster(service, "big", -1);
            System.out.printf(
                    Locale.ROOT,
                    "one file of %.1f GB: %.1f s, peak memory %d MB with -Xmx512m%n",
                    Files.size(big) / 1e9,
                    seconds,
                    Measured.peakMegabytes(service.pid()));
        }
        assertThat(Measured.median(copy) / Measured.median(hapster))
                .as("ratio to COPY")
                .isGreaterThanOrEqualTo(2);
        assertThat(Measured.median(h2) / Measured.median(hapster))
                .as("ratio to H2")
                .isGreaterThanOrEqualTo(4);
    }

    static void define(Path workspace, String name, String inbox) throws IOException {
        Files.createDirectories(workspace.resolve("datasets"));
        Files.createDirectories(workspace.resolve("jobs"));
        Files.writeString(
                workspace.resolve("datasets/" + name + ".yaml"),
                "dataset: " + name + "\ncolumns:\n"
                        + String.join(
                                "",
                                LargeFiles.COLUMNS.stream()
                                        .map(column -> "  - " + column + "\n")
                                        .toList()));
        Files.writeString(
                workspace.resolve("jobs/" + name + ".yaml"),
                "job: " + name + "\ninto: " + name + "\nfind:\n  - folder: " + inbox
                        + "\n    settle: 0s\n    take: [\"*.csv\"]\n");
    }

    static double hapster(TestService service, String job, long expected) throws Exception {
        long start = System.nanoTime();
        JsonNode run = service.run(job);
        double seconds = (System.nanoTime() - start) / 1e9;
        assertThat(run.path("state").asText()).as(run.toPrettyString()).isEqualTo("finished");
        assertThat(run.path("rows").path("rejected").asLong()).isZero();
        if (expected > 0) {
            assertThat(run.path("rows").path("loaded").asLong()).isEqualTo(expected);
        }
        return seconds;
    }

    private static double copy(Postgres postgres, List<Path> files, int round) throws Exception {
        postgres.sql(TABLE.formatted(round));
        List<String> statements = new ArrayList<>();
        files.forEach(
                file -> statements.add("COPY samples" + round + " FROM '" + file + "' WITH (FORMAT csv, HEADER true)"));
        long start = System.nanoTime();
        postgres.sql(statements.toArray(String[]::new));
        double seconds = (System.nanoTime() - start) / 1e9;
        assertThat(postgres.sql("SELECT count(*) FROM samples" + round)).isEqualTo(Integer.toString(ROWS));
        return seconds;
    }

    private double h2(List<Path> files, int round) throws SQLException {
        try (Connection connection = DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("h2-" + round));
                Statement statement = connection.createStatement()) {
            statement.execute(TABLE.formatted(round));
            long start = System.nanoTime();
            for (Path file : files) {
                statement.execute("INSERT INTO samples" + round + " SELECT * FROM CSVREAD('" + file + "')");
            }
            double seconds = (System.nanoTime() - start) / 1e9;
            try (ResultSet count = statement.executeQuery("SELECT count(*) FROM samples" + round)) {
                count.next();
                assertThat(count.getLong(1)).isEqualTo(ROWS);
            }
            return seconds;
        }
    }

    /** The median of the last rounds. */
    static double last(double[] rounds) {
        return Measured.median(Arrays.copyOfRange(rounds, rounds.length - WARM, rounds.length));
    }

    private static void print(String name, double[] seconds) {
        System.out.printf(
                Locale.ROOT,
                "  %-26s median %6.2f   first %6.2f   best %6.2f   median of the last %d %6.2f%n",
                name,
                Measured.median(seconds),
                seconds[0],
                Arrays.stream(seconds).min().orElseThrow(),
                WARM,
                last(seconds));
    }

    /** What no loader can do without: reading the bytes, telling fields apart, writing what is stored. */
    private void printLimits(List<Path> files, Path stored) throws Exception {
        double[] cat = new double[WARM];
        double[] parse = new double[WARM];
        double[] write = new double[WARM];
        byte[] bytes = bytes(stored);
        for (int round = 0; round < WARM; round++) {
            List<String> command = new ArrayList<>(List.of("cat"));
            files.forEach(file -> command.add(file.toString()));
            long start = System.nanoTime();
            assertThat(new ProcessBuilder(command)
                            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                            .start()
                            .waitFor())
                    .isZero();
            cat[round] = (System.nanoTime() - start) / 1e9;
            parse[round] = ReadBenchmark.seconds(files, 2, ROWS, ReadBenchmark::parsed);
            start = System.nanoTime();
            try (FileChannel file = FileChannel.open(
                    folder.resolve("written-" + round), StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
                ByteBuffer left = ByteBuffer.wrap(bytes);
                while (left.hasRemaining()) {
                    file.write(left);
                }
                file.force(true);
            }
            write[round] = (System.nanoTime() - start) / 1e9;
        }
        System.out.printf(
                Locale.ROOT,
                "limits, medians of %d: cat of the files %.3f s; FastCSV parsing them with 2 threads %.2f s; writing and "
                        + "forcing %d MB, as are stored, %.3f s%n",
                WARM,
                Measured.median(cat),
                Measured.median(parse),
                bytes.length / 1_000_000,
                Measured.median(write));
    }

    private static byte[] bytes(Path stored) throws IOException {
        ByteArrayOutputStream all = new ByteArrayOutputStream();
        try (Stream<Path> parts = Files.walk(stored)) {
            for (Path part : parts.filter(Files::isRegularFile).toList()) {
                Files.copy(part, all);
            }
        }
        return all.toByteArray();
    }
}
