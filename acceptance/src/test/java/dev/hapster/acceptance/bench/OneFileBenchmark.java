package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.Postgres;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.LargeFiles;
import java.io.BufferedReader;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Loads one file of 4,000,000 rows through a service that has all cores, and through one that has one, in turn, beside
 * PostgreSQL's COPY; one file of each other kind; and a file of 1,500 columns beside one of 10 with as many values. Run
 * by {@code ./dev bench OneFile}.
 */
@Tag("benchmark")
class OneFileBenchmark {

    private static final int ROWS = 4_000_000;
    private static final int ROUNDS = 6;
    private static final int OTHER_ROUNDS = 4;
    private static final int WIDE = 1_500;
    private static final int NARROW = 10;
    private static final int VALUES = 15_000_000;
    private static final int WIDE_ROUNDS = 12;
    private static final int[] WIDTHS = {12, 8, 20, 12, 12, 8, 20, 6, 6, 6};
    private static final Map<String, String> READ = Map.of(
            "json_lines",
            "read: {as: json_lines}\n",
            "fixed",
            "read: {as: fixed, columns: " + columns() + "}\n",
            "parquet",
            "read: {as: parquet}\n",
            "xlsx",
            "read: {as: workbook}\n");

    @TempDir
    private Path folder;

    @ParameterizedTest
    @ValueSource(strings = {"json_lines", "fixed", "parquet", "xlsx"})
    void loadsOneFileOfEachKindOnAllCoresAndOnOne(String kind) throws Exception {
        Path all = folder.resolve("all");
        Path one = folder.resolve("one");
        int rows = kind.equals("xlsx") ? 300_000 : 2_000_000;
        LargeFiles.write(all.resolve("inbox"), 1, rows);
        LoadBenchmark.define(all, "rows", "inbox");
        Path file = all.resolve("other/rows." + kind);
        Files.createDirectories(file.getParent());
        Files.createDirectories(one.resolve("other"));
        try (TestService withAll = Measured.start(all);
                TestService withOne = Measured.startOnOneCore(one)) {
            LoadBenchmark.hapster(withAll, "rows", rows);
            if (kind.equals("fixed")) {
                writeFixed(all.resolve("inbox/bulk-0001.csv"), file);
            } else {
                assertThat(withAll.client("export", "rows", "--as", kind, "--to", file.toString())
                                .err())
                        .isEmpty();
            }
            Files.createLink(one.resolve("other").resolve(file.getFileName()), file);
            double[] shared = new double[OTHER_ROUNDS];
            double[] alone = new double[OTHER_ROUNDS];
            for (int round = 0; round < OTHER_ROUNDS; round++) {
                for (Path workspace : List.of(all, one)) {
                    LoadBenchmark.define(workspace, "round" + round, "other");
                    Path job = workspace.resolve("jobs/round" + round + ".yaml");
                    Files.writeString(job, Files.readString(job).replace("*.csv", "*." + kind) + READ.get(kind));
                }
                shared[round] = LoadBenchmark.hapster(withAll, "round" + round, rows);
                alone[round] = LoadBenchmark.hapster(withOne, "round" + round, rows);
            }
            System.out.printf(
                    Locale.ROOT,
                    "%n%-10s %,9d rows, %4d MB: %.2f s on %d cores (first %.2f), %.2f s on one (medians of %d); "
                            + "%.2f times as fast (goal 1.8); peak memory %d MB with -Xmx512m%n",
                    kind,
                    rows,
                    Files.size(file) / 1_000_000,
                    Measured.median(shared),
                    Runtime.getRuntime().availableProcessors(),
                    shared[0],
                    Measured.median(alone),
                    OTHER_ROUNDS,
                    Measured.median(alone) / Measured.median(shared),
                    Measured.peakMegabytes(withAll.pid()));
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"decimal(10,2)", "text"})
    void loadsAFileOfManyColumnsAndOneOfFew(String type) throws Exception {
        Path workspace = folder.resolve("workspace");
        Path wide = writeValues(workspace.resolve("wide/values.csv"), WIDE, type);
        Path narrow = writeValues(workspace.resolve("narrow/values.csv"), NARROW, type);
        for (int round = 0; round < WIDE_ROUNDS; round++) {
            defineValues(workspace, "wide", round, WIDE, type);
            defineValues(workspace, "narrow", round, NARROW, type);
        }
        double[] wideRate = new double[WIDE_ROUNDS];
        double[] narrowRate = new double[WIDE_ROUNDS];
        double[] ratios = new double[WIDE_ROUNDS];
        try (TestService service = Measured.start(workspace)) {
            for (int round = 0; round < WIDE_ROUNDS; round++) {
                wideRate[round] =
                        Files.size(wide) / 1e6 / LoadBenchmark.hapster(service, "wide" + round, VALUES / WIDE);
                narrowRate[round] =
                        Files.size(narrow) / 1e6 / LoadBenchmark.hapster(service, "narrow" + round, VALUES / NARROW);
                ratios[round] = wideRate[round] / narrowRate[round];
                System.out.printf(
                        Locale.ROOT,
                        "round %2d: %5.1f MB a second of %,d columns, %5.1f of %d; ratio %.2f%n",
                        round + 1,
                        wideRate[round],
                        WIDE,
                        narrowRate[round],
                        NARROW,
                        ratios[round]);
            }
            System.out.printf(
                    Locale.ROOT,
                    "%,d values as %s, %d MB: %.1f MB a second of %,d columns, %.1f of %d (medians of the last %d of %d); "
                            + "ratio %.2f (goal 0.5); peak memory %d MB with -Xmx512m%n",
                    VALUES,
                    type,
                    Files.size(wide) / 1_000_000,
                    LoadBenchmark.last(wideRate),
                    WIDE,
                    LoadBenchmark.last(narrowRate),
                    NARROW,
                    LoadBenchmark.WARM,
                    WIDE_ROUNDS,
                    LoadBenchmark.last(ratios),
                    Measured.peakMegabytes(service.pid()));
        }
    }

    private static Path writeValues(Path file, int columns, String type) throws IOException {
        Files.createDirectories(file.getParent());
        Random random = new Random(columns);
        try (BufferedWriter out = Files.newBufferedWriter(file)) {
            for (int i = 0; i < columns; i++) {
                out.write((i == 0 ? "" : ",") + "c" + i);
            }
            out.write("\n");
            for (int row = 0; row < VALUES / columns; row++) {
                for (int i = 0; i < columns; i++) {
                    int value = random.nextInt(10_000);
                    out.write(i == 0 ? "" : ",");
                    out.write(type.equals("text") ? "site " + value : value / 100 + "." + value / 10 % 10 + value % 10);
                }
                out.write("\n");
            }
        }
        return file;
    }

    private static void defineValues(Path workspace, String folder, int round, int columns, String type)
            throws IOException {
        String name = folder + round;
        LoadBenchmark.define(workspace, name, folder);
        StringBuilder dataset = new StringBuilder("dataset: " + name + "\ncolumns:\n");
        for (int i = 0; i < columns; i++) {
            dataset.append("  - {name: c")
                    .append(i)
                    .append(", type: \"")
                    .append(type)
                    .append("\"}\n");
        }
        Files.writeString(workspace.resolve("datasets/" + name + ".yaml"), dataset);
    }

    private static String columns() {
        List<String> columns = new ArrayList<>();
        int from = 1;
        List<String> names = List.of(LargeFiles.HEADER.split(","));
        for (int i = 0; i < names.size(); i++) {
            columns.add(names.get(i) + ": " + from + "-" + (from + WIDTHS[i] - 1));
            from += WIDTHS[i];
        }
        return "{" + String.join(", ", columns) + "}";
    }

    /** The same columns, each as wide as its longest value. */
    private static void writeFixed(Path delimited, Path file) throws IOException {
        try (BufferedReader in = Files.newBufferedReader(delimited);
                BufferedWriter out = Files.newBufferedWriter(file)) {
            in.readLine();
            for (String line = in.readLine(); line != null; line = in.readLine()) {
                String[] fields = line.split(",", -1);
                for (int i = 0; i < fields.length; i++) {
                    out.write(fields[i]);
                    out.write(" ".repeat(WIDTHS[i] - fields[i].length()));
                }
                out.write("\n");
            }
        }
    }

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
