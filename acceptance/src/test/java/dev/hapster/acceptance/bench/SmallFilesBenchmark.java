package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Many small files, each of which counts by itself: beside PostgreSQL with a COPY and a commit for each; runs over them
 * with nothing changed; and counts over their parts beside counts over the same rows in one part.
 */
@Tag("benchmark")
class SmallFilesBenchmark {

    private static final int FILES = 10_000;
    private static final int ROWS = 100;
    private static final int ROUNDS = 10;
    private static final int QUESTIONS = 9;
    /** With nothing changed: by the last ones everything is compiled, and small files are put together. */
    private static final int RUNS = 40;

    @TempDir
    private Path folder;

    private void job(String name, String take) throws IOException {
        Files.createDirectories(folder.resolve("datasets"));
        Files.createDirectories(folder.resolve("jobs"));
        Files.writeString(
                folder.resolve("datasets/" + name + ".yaml"),
                "dataset: " + name + "\ncolumns:\n  - {name: site, type: text}\n  - {name: substance, type: text}\n"
                        + "  - {name: day, type: date}\n  - {name: value, type: \"decimal(10,3)\"}\n"
                        + "  - {name: remark, type: text}\n");
        Files.writeString(
                folder.resolve("jobs/" + name + ".yaml"),
                "job: " + name + "\ninto: " + name + "\nfind: [{folder: in, settle: 0s, take: \"" + take + "\"}]\n");
    }

    private void write() throws IOException {
        Path in = Files.createDirectories(folder.resolve("in"));
        try (OutputStream all = Files.newOutputStream(in.resolve("whole.txt"))) {
            String head = "site,substance,day,value,remark\n";
            all.write(head.getBytes(StandardCharsets.US_ASCII));
            for (int file = 0; file < FILES; file++) {
                StringBuilder text = new StringBuilder();
                for (int row = 0; row < ROWS; row++) {
                    long mixed = ((file * 100L + row) * 0x9E3779B97F4A7C15L) >>> 20;
                    text.append(String.format(
                            Locale.ROOT,
                            "V%02d,substance %d,2026-%02d-%02d,%d.%03d,row %d of %d%n",
                            mixed % 40,
                            mixed % 7,
                            1 + mixed % 12,
                            1 + mixed % 28,
                            mixed % 90,
                            mixed % 1000,
                            row,
                            file));
                }
                Files.writeString(in.resolve("f-" + file + ".csv"), head + text);
                all.write(text.toString().getBytes(StandardCharsets.US_ASCII));
            }
        }
    }

    private static double seconds(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    private static JsonNode finished(JsonNode run, int files) {
        assertThat(run.path("state").asText()).as(run.toString()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        assertThat(run.path("files").path("found").asInt()).isEqualTo(files);
        return run;
    }

    @Test
    void tenThousandSmallFiles() throws Exception {
        write();
        for (int round = 0; round < ROUNDS; round++) {
            job("small" + round, "*.csv");
        }
        job("whole", "whole.txt");
        double[] hapster = new double[ROUNDS];
        double[] postgres = new double[ROUNDS];
        try (TestService service = Measured.start(folder);
                Postgres beside = Postgres.start(folder.resolve("pg"))) {
            beside.mayRead(folder, folder.resolve("in"));
            for (int round = 0; round < ROUNDS; round++) {
                hapster[round] = finished(service.run("small" + round), FILES)
                        .path("seconds")
                        .asDouble();
                beside.sql("create table t" + round
                        + " (site text, substance text, day date, value numeric(10,3), remark text)");
                Path script = script("t" + round);
                long start = System.nanoTime();
                beside.script(script);
                postgres[round] = seconds(start);
            }
            double[] unchanged = new double[RUNS];
            for (int i = 0; i < RUNS; i++) {
                long start = System.nanoTime();
                assertThat(finished(service.run("small0"), FILES)
                                .path("files")
                                .path("unchanged")
                                .asInt())
                        .isEqualTo(FILES);
                unchanged[i] = seconds(start);
            }
            finished(service.run("whole"), 1);
            double[] parts = new double[QUESTIONS];
            double[] one = new double[QUESTIONS];
            for (int i = 0; i < QUESTIONS; i++) {
                parts[i] = counts(service, "small0");
                one[i] = counts(service, "whole");
            }
            print(hapster, postgres);
            System.out.printf(
                    Locale.ROOT,
                    "a run over them with nothing changed: %.2f s the first, %.2f s the median of the first %d, while "
                            + "small files are put together, %.2f s of the last %d of %d%n",
                    unchanged[0],
                    Measured.median(Arrays.copyOf(unchanged, QUESTIONS)),
                    QUESTIONS,
                    Measured.median(Arrays.copyOfRange(unchanged, RUNS - QUESTIONS, RUNS)),
                    QUESTIONS,
                    RUNS);
            double ratio = Measured.median(parts) / Measured.median(one);
            System.out.printf(
                    Locale.ROOT,
                    "counts by one column over their parts: %.3f s; over the same rows in one part: %.3f s; ratio "
                            + "%.2f; peak memory %d MB with -Xmx512m%n",
                    Measured.median(parts),
                    Measured.median(one),
                    ratio,
                    Measured.peakMegabytes(service.pid()));
            double best = Arrays.stream(hapster).skip(1).min().orElseThrow();
            assertThat(Arrays.stream(postgres).min().orElseThrow() / best)
                    .as("beside COPY and commit")
                    .isGreaterThan(0.5);
            assertThat(ratio).as("many parts beside one").isLessThan(1.5);
        }
    }

    private static void print(double[] hapster, double[] postgres) {
        System.out.printf(
                Locale.ROOT,
                "%n%,d files of %d rows, each counted by itself; PostgreSQL, a COPY and a commit each%n",
                FILES,
                ROWS);
        for (int round = 0; round < ROUNDS; round++) {
            System.out.printf(
                    Locale.ROOT,
                    "round %2d  Hapster %5.1f s, %5.0f files a second; PostgreSQL %5.1f s, %5.0f files a second; ratio "
                            + "%.2f%n",
                    round + 1,
                    hapster[round],
                    FILES / hapster[round],
                    postgres[round],
                    FILES / postgres[round],
                    postgres[round] / hapster[round]);
        }
    }

    private Path script(String table) throws IOException {
        Path script = folder.resolve(table + ".sql");
        try (PrintStream out = new PrintStream(Files.newOutputStream(script), false, "UTF-8")) {
            for (int file = 0; file < FILES; file++) {
                out.println("copy " + table + " from '" + folder.resolve("in/f-" + file + ".csv")
                        + "' (format csv, header);");
            }
        }
        return script;
    }

    private static double counts(TestService service, String dataset) throws Exception {
        long start = System.nanoTime();
        JsonNode counts = service.get("/datasets/" + dataset + "/counts?by=substance");
        double seconds = seconds(start);
        assertThat(counts.path("total").asLong()).as(counts.toString()).isEqualTo((long) FILES * ROWS);
        return seconds;
    }
}
