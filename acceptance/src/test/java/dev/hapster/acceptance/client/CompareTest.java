package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Any two runs beside each other, file by file. */
class CompareTest {

    private static void file(Path workspace, String name, String rows) throws Exception {
        Workspaces.write(workspace, "in/" + name, "id,day,value\n" + rows);
    }

    private static Map<String, String> kinds(JsonNode comparison) {
        Map<String, String> kinds = new TreeMap<>();
        comparison
                .path("files")
                .forEach(file ->
                        kinds.put(file.path("name").asText(), file.path("kind").asText()));
        return kinds;
    }

    @Test
    void saysWhichFilesAreNewGoneAndChanged(@TempDir Path workspace) throws Exception {
        Workspaces.small(workspace);
        Workspaces.job(workspace, "small", "in", "");
        try (TestService service = TestService.start(workspace)) {
            file(workspace, "a.csv", "a,2026-01-01,1\n");
            file(workspace, "b.csv", "b,2026-01-01,1\n");
            file(workspace, "c.csv", "c,2026-01-01,1\n");
            Files.write(workspace.resolve("in/d.csv"), new byte[] {0, 1, 2});
            service.client("run", "small");
            assertThat(service.client("runs", "1", "--compare").out()).contains("there is none before it");
            file(workspace, "b.csv", "b,2026-01-01,1\nbb,2026-01-01,x\nbbb,2026-01-01,3\n");
            file(workspace, "e.csv", "e,2026-01-01,1\n");
            Files.delete(workspace.resolve("in/c.csv"));
            service.client("run", "small");
            JsonNode second = service.get("/runs/2/comparison");
            assertThat(kinds(second)).isEqualTo(Map.of("b.csv", "changed", "c.csv", "gone", "e.csv", "new"));
            assertThat(second.path("same").asInt())
                    .as("a.csv, and d.csv rejected as before")
                    .isEqualTo(2);
            Result shown = service.client("runs", "2", "--compare");
            assertThat(shown.out().replaceAll(" +", " "))
                    .contains("changed b.csv 1 row 2 rows, 1 rejected")
                    .contains("gone c.csv 1 row")
                    .contains("new e.csv 1 row")
                    .contains("2 files the same in both");

            file(workspace, "a.csv", "a,2026-01-01,2\n");
            file(workspace, "d.csv", "d,2026-01-01,2\n");
            service.client("run", "small");
            // run 2 lists those without news no longer; what run 3 says of files tells all the same
            assertThat(kinds(service.get("/runs/3/comparison"))).isEqualTo(Map.of("a.csv", "changed", "d.csv", "new"));
            assertThat(kinds(service.get("/runs/1/comparison?with=3")))
                    .as("the older one first, however they are named")
                    .isEqualTo(Map.of(
                            "a.csv", "changed", "b.csv", "changed", "c.csv", "gone", "d.csv", "changed", "e.csv",
                            "new"));
            JsonNode past = service.get("/runs/2/comparison?with=1");
            assertThat(past.path("untold").asInt()).as("a.csv, c.csv and d.csv").isEqualTo(3);

            file(workspace, "f.csv", "f,2026-01-01,1\n");
            assertThat(service.client("run", "small", "--label", "after the pump was changed")
                            .out())
                    .contains("label  after the pump was changed");
            service.client("runs", "1", "--label", "the very first");
            assertThat(service.client("runs", "--label", "PUMP").out())
                    .contains("after t…")
                    .doesNotContain("first");
            assertThat(service.client("runs", "--label", "nothing like it").out())
                    .contains("No run has");
            service.client("runs", "1", "--label", "");
            assertThat(service.get("/runs/1").has("label")).isFalse();
            assertThat(service.client("runs", "1", "--label", "two\nlines").err())
                    .contains("on one line");

            Files.delete(workspace.resolve("in/e.csv"));
            for (int i = 0; i < 10; i++) { // the label and the beginning are written at one time
                JsonNode run = service.run("/jobs/small/runs", "{\"label\": \"number " + i + "\"}");
                assertThat(run.path("label").asText()).isEqualTo("number " + i);
                assertThat(run.has("startedAt")).isTrue();
            }
            JsonNode later = service.get("/runs/14/comparison?with=4");
            assertThat(kinds(later)).isEmpty();
            assertThat(later.path("unnamed").asInt())
                    .as("e.csv, without news in run 4, which does not name it any more")
                    .isEqualTo(1);
            assertThat(service.client("runs", "14", "--compare", "--with", "4").out())
                    .contains("1 file of run 4");

            service.client("undo", "3");
            assertThat(service.client("runs", "3", "--compare", "--with", "15").err())
                    .contains("is no run");
            assertThat(service.client("runs", "3", "--compare", "--with", "3").err())
                    .contains("with itself");
            assertThat(service.client("runs", "3", "--compare", "--with", "99").err())
                    .contains("no run 99");
        }
    }
}
