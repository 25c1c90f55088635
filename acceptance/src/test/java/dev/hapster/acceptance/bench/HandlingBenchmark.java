package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Locale;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Many runs, many keys. Each beside something in the same process: the last runs beside the first; duplicates looked
 * for beside not looking.
 */
@Tag("benchmark")
class HandlingBenchmark {

    private static final int ROWS = 100;
    private static final int RUNS = 1_000;
    private static final int STANDING = 50;
    private static final int KEYS = 10_000_000;

    @TempDir
    private Path folder;

    private Path workspace(String rest, String retain) throws IOException {
        Files.createDirectories(folder.resolve("datasets"));
        Files.createDirectories(folder.resolve("jobs"));
        Files.createDirectories(folder.resolve("in"));
        Files.writeString(
                folder.resolve("datasets/samples.yaml"),
                "dataset: samples\nkey: id\n" + retain
                        + "columns:\n  - {name: id, type: text, required: true}\n  - {name: value, type: integer}\n");
        Files.writeString(
                folder.resolve("jobs/small.yaml"),
                "job: small\ninto: samples\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n" + rest);
        return folder;
    }

    private static double seconds(long start) {
        return (System.nanoTime() - start) / 1e9;
    }

    private static JsonNode finished(JsonNode run) {
        assertThat(run.path("state").asText()).as(run.toString()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        return run;
    }

    @Test
    void aThousandRuns() throws Exception {
        workspace("", "retain: {replaced: 0s, history: 0s}\n");
        for (int i = 0; i < STANDING; i++) {
            write(i, 0);
        }
        Random random = new Random(7);
        double[] seconds = new double[RUNS];
        long[] catalogue = new long[RUNS];
        try (TestService service = Measured.start(folder, "-Dhapster.unread-for=0")) {
            for (int run = 0; run < RUNS; run++) {
                write(random.nextInt(STANDING), run + 1);
                long start = System.nanoTime();
                finished(service.run("small"));
                seconds[run] = seconds(start);
                catalogue[run] = Files.size(folder.resolve("store/catalogue.mv.db"));
            }
            double first = Arrays.stream(seconds, 0, 100).average().orElseThrow();
            double last = Arrays.stream(seconds, RUNS - 100, RUNS).average().orElseThrow();
            long parts = count("store/parts/samples");
            long rejects = count("store/rejects");
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d runs of %d files, of which one has changed each time: first 100 %.3f s each, last "
                            + "100 %.3f s each, ratio %.2f%n",
                    RUNS,
                    STANDING,
                    first,
                    last,
                    last / first);
            System.out.printf(
                    Locale.ROOT,
                    "catalogue after 100, 500, 1,000 runs: %.1f, %.1f, %.1f MB; parts %d, files of rejects %d, "
                            + "runs known %d%n",
                    catalogue[99] / 1e6,
                    catalogue[499] / 1e6,
                    catalogue[RUNS - 1] / 1e6,
                    parts,
                    rejects,
                    service.get("/runs?limit=1000").size());
            assertThat(last / first).as("the last runs beside the first").isLessThan(1.3);
            assertThat(parts).isLessThanOrEqualTo(STANDING + 1);
            assertThat(rejects).isLessThanOrEqualTo(STANDING + 2);
            assertThat((double) catalogue[RUNS - 1] / catalogue[RUNS / 2 - 1])
                    .as("the catalogue's growth from the half on")
                    .isLessThan(1.5);
        }
    }

    private void write(int file, int version) throws IOException {
        StringBuilder text = new StringBuilder("id,value\n");
        for (int row = 0; row < ROWS; row++) {
            text.append(file)
                    .append('-')
                    .append(version)
                    .append('-')
                    .append(row)
                    .append(',')
                    .append(row % 50 == 0 ? "bad" : row)
                    .append('\n');
        }
        Files.writeString(folder.resolve("in/f-" + file + ".csv"), text.toString());
    }

    private long count(String at) throws IOException {
        try (Stream<Path> files = Files.list(folder.resolve(at))) {
            return files.count();
        }
    }

    @Test
    void tenMillionKeys() throws Exception {
        workspace("", "");
        for (int file = 0; file < 4; file++) {
            try (BufferedWriter out = Files.newBufferedWriter(folder.resolve("in/f-" + file + ".csv"))) {
                out.write("id,value\n");
                for (int row = file; row < KEYS; row += 4) {
                    out.write("k" + (row % 1000 == 0 ? row - 1 : row) + "," + row
                            + "\n"); // every thousandth repeats another file's key
                }
            }
        }
        double plain;
        try (TestService service = Measured.start(folder)) {
            plain = finished(service.run("small")).path("seconds").asDouble();
            service.client("remove", "samples", "--job", "small", "--yes");
        }
        workspace("duplicates: {by: key, within: dataset, then: keep_first}\n", "");
        try (TestService service = Measured.start(folder)) {
            JsonNode run = finished(service.run("/jobs/small/runs", "{\"again\":true}"));
            assertThat(run.path("rows").path("repeated").asLong()).isEqualTo(KEYS / 1000 - 1);
            double compared = run.path("seconds").asDouble();
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d keys compared: %.1f s; without: %.1f s; ratio %.1f; peak memory %d MB with -Xmx512m%n",
                    KEYS,
                    compared,
                    plain,
                    compared / plain,
                    Measured.peakMegabytes(service.pid()));
            assertThat(compared / plain).isLessThan(8);
        }
    }
}
