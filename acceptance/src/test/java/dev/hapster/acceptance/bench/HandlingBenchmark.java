package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import java.io.BufferedWriter;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.Locale;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Many small files, many runs, many keys. Each beside something in the same process: files committed one by one beside
 * files that are merely written, forced and renamed one by one; the last runs beside the first; duplicates looked for
 * beside not looking.
 */
@Tag("benchmark")
class HandlingBenchmark {

    private static final int FILES = 10_000;
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
    void tenThousandSmallFiles() throws Exception {
        workspace("", "");
        for (int i = 0; i < FILES; i++) {
            StringBuilder text = new StringBuilder("id,value\n");
            for (int row = 0; row < ROWS; row++) {
                text.append("k")
                        .append(i)
                        .append('-')
                        .append(row)
                        .append(',')
                        .append(row)
                        .append('\n');
            }
            Files.writeString(folder.resolve("in/f-" + i + ".csv"), text.toString());
        }
        long start = System.nanoTime();
        plainly(Files.createDirectories(folder.resolve("plain")));
        double plain = seconds(start);
        try (TestService service = TestService.start(folder)) {
            JsonNode first = finished(service.run("small"));
            assertThat(first.path("files").path("loaded").asInt()).isEqualTo(FILES);
            double loading = first.path("seconds").asDouble();
            start = System.nanoTime();
            JsonNode again = finished(service.run("small"));
            double unchanged = seconds(start);
            assertThat(again.path("files").path("unchanged").asInt()).isEqualTo(FILES);
            double anew = finished(service.run("/jobs/small/runs", "{\"again\":true}"))
                    .path("seconds")
                    .asDouble();
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d files of %d rows, committed one by one: %.1f s, %.0f files a second in a service "
                            + "just started; all anew, each replacing its part: %.1f s, %.0f files a second%n",
                    FILES,
                    ROWS,
                    loading,
                    FILES / loading,
                    anew,
                    FILES / anew);
            System.out.printf(
                    Locale.ROOT,
                    "as many files written, forced to disk and renamed one by one: %.1f s; ratio %.1f%n",
                    plain,
                    loading / plain);
            System.out.printf(
                    Locale.ROOT,
                    "a run over them with nothing changed: %.2f s (the first, right after); ratio to loading "
                            + "%.3f; peak memory %d MB with -Xmx512m%n",
                    unchanged,
                    unchanged / loading,
                    Measured.peakMegabytes(service.pid()));
            assertThat(loading / plain).as("beside plain files").isLessThan(60);
            assertThat(unchanged / loading).as("nothing changed beside loading").isLessThan(0.15);
        }
    }

    private static void plainly(Path at) throws IOException {
        byte[] bytes = "x".repeat(2000).getBytes(StandardCharsets.US_ASCII);
        for (int i = 0; i < FILES; i++) {
            Path draft = at.resolve("draft");
            try (FileChannel channel = FileChannel.open(draft, StandardOpenOption.CREATE, StandardOpenOption.WRITE)) {
                channel.write(ByteBuffer.wrap(bytes));
                channel.force(true);
            }
            Files.move(draft, at.resolve("f-" + i), StandardCopyOption.ATOMIC_MOVE);
        }
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
        try (TestService service = TestService.start(folder)) {
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
        try (TestService service = TestService.start(folder)) {
            plain = finished(service.run("small")).path("seconds").asDouble();
            service.client("remove", "samples", "--job", "small", "--yes");
        }
        workspace("duplicates: {by: key, within: dataset, then: keep_first}\n", "");
        try (TestService service = TestService.start(folder)) {
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
