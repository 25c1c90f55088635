package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.LargeFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Loads one file of 4,000,000 rows through a service that has all cores, and through one that has one, in turn, beside
 * PostgreSQL's COPY. Run by {@code ./dev bench OneFile}.
 */
@Tag("benchmark")
class OneFileBenchmark {

    private static final int ROWS = 4_000_000;
    private static final int ROUNDS = 6;

    @TempDir
    private Path folder;

    @Test
    void loadsOneFileOnAllCoresAndOnOne() throws Exception {
        Path all = folder.resolve("all");
        Path one = folder.resolve("one");
        Path file = LargeFiles.write(all.resolve("inbox"), 1, ROWS).get(0);
        Files.createDirectories(one.resolve("inbox"));
        Files.createLink(one.resolve("inbox").resolve(file.getFileName()), file);
        for (int round = 0; round < ROUNDS; round++) {
            LoadBenchmark.define(all, "round" + round, "inbox");
            LoadBenchmark.define(one, "round" + round, "inbox");
        }
        double[] shared = new double[ROUNDS];
        double[] alone = new double[ROUNDS];
        double[] copy = new double[ROUNDS];
        try (Postgres postgres = Postgres.start(folder.resolve("postgres"));
                TestService withAll = Measured.start(all);
                TestService withOne = Measured.startOnOneCore(one)) {
            postgres.mayRead(folder, all, all.resolve("inbox"));
            for (int round = 0; round < ROUNDS; round++) {
                shared[round] = LoadBenchmark.hapster(withAll, "round" + round, ROWS);
                alone[round] = LoadBenchmark.hapster(withOne, "round" + round, ROWS);
                postgres.sql(LoadBenchmark.TABLE.formatted(round));
                long start = System.nanoTime();
                postgres.sql("COPY samples" + round + " FROM '" + file + "' WITH (FORMAT csv, HEADER true)");
                copy[round] = (System.nanoTime() - start) / 1e9;
            }
            System.out.printf(
                    Locale.ROOT,
                    "%none file of %,d rows, %d MB: %.2f s on %d cores (first %.2f), %.2f s on one, "
                            + "PostgreSQL COPY %.2f s (medians of %d); %.2f times as fast as on one core (goal 1.8), "
                            + "%.1f times as fast as COPY; peak memory %d MB with -Xmx512m%n",
                    ROWS,
                    Files.size(file) / 1_000_000,
                    Measured.median(shared),
                    Runtime.getRuntime().availableProcessors(),
                    shared[0],
                    Measured.median(alone),
                    Measured.median(copy),
                    ROUNDS,
                    Measured.median(alone) / Measured.median(shared),
                    Measured.median(copy) / Measured.median(shared),
                    Measured.peakMegabytes(withAll.pid()));
        }
        assertThat(Measured.median(alone) / Measured.median(shared))
                .as("ratio to one core")
                .isGreaterThanOrEqualTo(1.5);
    }
}
