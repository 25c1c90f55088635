package dev.hapster.acceptance.bench;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.cli.http.Api;
import dev.hapster.demo.LargeFiles;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Locale;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Drafts from 1,000 files of 1,000 rows, and thoroughly from 10,000,000 rows, which are then loaded with what was
 * drafted: the ratio of both in one run. Run by {@code ./dev bench}.
 */
@Tag("benchmark")
class DraftBenchmark {

    private static final int SMALL = 1_000;
    private static final int LARGE = 10_000_000;

    @TempDir
    private Path folder;

    @Test
    void draftsFromManyFilesAndFromManyRows() throws Exception {
        LargeFiles.write(folder.resolve("small"), SMALL, SMALL * 1000);
        LargeFiles.write(folder.resolve("large"), 8, LARGE);
        Files.createDirectories(folder.resolve("jobs"));
        Files.createDirectories(folder.resolve("datasets"));
        try (TestService service = Measured.start(folder)) {
            draft(service, "small", false); // warm
            double small = seconds(() -> draft(service, "small", false));
            JsonNode[] draft = new JsonNode[1];
            double thorough = seconds(() -> draft[0] = draft(service, "large", true));
            JsonNode job = draft[0].path("jobs").get(0);
            service.api().put("/datasets/large", text(draft[0].path("datasets").get(0)));
            service.api().put("/jobs/large", text(job));
            double load = seconds(() -> {
                JsonNode run = service.run("large");
                assertThat(run.path("rows").path("loaded").asLong()).isEqualTo(LARGE);
            });
            System.out.printf(
                    Locale.ROOT,
                    "%nDraft from 1,000 files of 1,000 rows: %.1f s. Thoroughly from 10,000,000 rows: %.1f s; loading them "
                            + "%.1f s; ratio %.2f. Peak memory %d MB with -Xmx512m%n",
                    small,
                    thorough,
                    load,
                    thorough / load,
                    Measured.peakMegabytes(service.pid()));
            assertThat(thorough / load).isLessThan(1.5);
        }
    }

    private static ObjectNode text(JsonNode definition) {
        return Api.JSON.createObjectNode().put("text", definition.path("text").asText());
    }

    private static JsonNode draft(TestService service, String inbox, boolean thorough) {
        ObjectNode request = Api.JSON.createObjectNode();
        request.putArray("paths").add(inbox);
        request.put("thorough", thorough);
        return service.api().post("/drafts", request);
    }

    private interface Work {
        void perform() throws Exception;
    }

    private static double seconds(Work work) throws Exception {
        long start = System.nanoTime();
        work.perform();
        return (System.nanoTime() - start) / 1e9;
    }
}
