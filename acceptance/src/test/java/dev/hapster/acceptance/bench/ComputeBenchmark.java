package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.demo.LargeFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Loads 1,000,000 rows with two computed columns and without, in turn, in one service: the ratio of both. Run by
 * {@code ./dev bench}.
 */
@Tag("benchmark")
class ComputeBenchmark {

    private static final int ROWS = 1_000_000;
    private static final int TURNS = 7;

    @TempDir
    private Path folder;

    private void workspace(String name, List<String> columns, String map) throws Exception {
        Files.createDirectories(folder.resolve("jobs"));
        Files.createDirectories(folder.resolve("datasets"));
        StringBuilder dataset = new StringBuilder("dataset: " + name + "\ncolumns:\n");
        columns.forEach(column -> dataset.append("  - ").append(column).append('\n'));
        Files.writeString(folder.resolve("datasets/" + name + ".yaml"), dataset.toString());
        Files.writeString(
                folder.resolve("jobs/" + name + ".yaml"),
                "job: " + name + "\ninto: " + name + "\nfind: [{folder: in, settle: 0s, take: \"*.csv\"}]\n" + map);
    }

    @Test
    void loadsWithComputedColumnsAndWithout() throws Exception {
        LargeFiles.write(folder.resolve("in"), 4, ROWS);
        workspace("plain", LargeFiles.COLUMNS, "");
        List<String> more = new ArrayList<>(LargeFiles.COLUMNS);
        more.add("{name: load, type: \"decimal(14,5)\"}");
        more.add("{name: label, type: text}");
        workspace(
                "computed",
                more,
                "map:\n  load: {compute: \"value * depth\"}\n  label: {compute: \"station + '/' + parameter.upper()\"}\n");
        try (TestService service = Measured.start(folder)) {
            double plain = Double.MAX_VALUE;
            double computed = Double.MAX_VALUE;
            for (int i = 0; i < TURNS; i++) {
                plain = Math.min(plain, seconds(service, "plain"));
                computed = Math.min(computed, seconds(service, "computed"));
            }
            System.out.printf(
                    Locale.ROOT,
                    "%n%,d rows: %.2f s, with two computed columns %.2f s; ratio %.2f (best of %d each, in turn)%n",
                    ROWS,
                    plain,
                    computed,
                    computed / plain,
                    TURNS);
            assertThat(computed / plain).isLessThan(1.6);
        }
    }

    private static double seconds(TestService service, String job) throws Exception {
        JsonNode run = service.run("/jobs/" + job + "/runs", "{\"again\":true}");
        assertThat(run.path("rows").path("loaded").asLong()).as(run.toString()).isEqualTo(ROWS);
        return run.path("seconds").asDouble();
    }
}
