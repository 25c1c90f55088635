package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.terminal.ExitStatus;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** From a workspace without definitions to loaded datasets with a draft and a run each. */
class DraftSourcesTest {

    @TempDir
    private Path folder;

    /** The job that a source's draft is called, and how many rows load; what is wrong in the files is rejected. */
    private static final Map<String, Long> SOURCES =
            Map.of("north", 1891L, "east", 1195L, "harbour", 622L, "visits", 228L, "history", 1200L);

    @Test
    void eachSourceIsDraftedAndLoaded() throws Exception {
        Path demo = Workspaces.demo(folder.resolve("demo"));
        Path workspace = Files.createDirectories(folder.resolve("ws"));
        Files.move(demo.resolve("inbox"), workspace.resolve("inbox"));
        try (TestService service = TestService.start(workspace)) {
            for (Map.Entry<String, Long> source : SOURCES.entrySet()) {
                String name = source.getKey();
                Result draft = service.client(
                        "draft", workspace.resolve("inbox/" + name).toString(), "--write");
                assertThat(draft.err()).isEmpty();
                assertThat(draft.out()).contains("Written: datasets/" + name + ".yaml", "hapster run " + name);
                Result run = service.client("run", name);
                assertThat(run.status()).as(run.out() + run.err()).isIn(ExitStatus.DONE, ExitStatus.FINDINGS);
                assertThat(service.get("/datasets/" + name).path("rows").asLong())
                        .as(run.out())
                        .isEqualTo(source.getValue());
            }
            Result loggers =
                    service.client("draft", workspace.resolve("inbox/loggers").toString(), "--write", "--comments");
            assertThat(loggers.out()).contains("key of loggers: reading");
            assertThat(Files.readString(workspace.resolve("jobs/loggers.yaml")))
                    .contains("header: once", "# decimal(9,3)");
            JsonNode run = service.run("loggers");
            assertThat(run.path("rows").path("loaded").asLong()).isEqualTo(2080);

            String north = workspace.resolve("inbox/north").toString();
            Result again = service.client("draft", north, "--job", "north", "--into", "north", "--write");
            assertThat(again.out()).contains("All is there already, word for word.");
            String before = Files.readString(workspace.resolve("jobs/north.yaml"));
            String[] other = {"draft", north, "--job", "north", "--into", "north", "--write", "--separator", ";"};
            Result asked = service.client(other);
            assertThat(asked.status()).isEqualTo(ExitStatus.WRONG_USE);
            assertThat(asked.out()).contains("-  separator: \",\"", "+  separator: \";\"");
            assertThat(asked.err())
                    .contains("Nothing was written: jobs/north.yaml is there already", "--yes replaces it");
            assertThat(workspace.resolve("jobs/north.yaml")).hasContent(before);
            String[] forced = Arrays.copyOf(other, other.length + 1);
            forced[other.length] = "--yes";
            assertThat(service.client(forced).out()).contains("Written: jobs/north.yaml");
            assertThat(workspace.resolve("jobs/north.yaml")).content().contains("separator: \";\"");
        }
    }

    @Test
    void whatIsWrittenWronglyIsSaid() throws Exception {
        Path workspace = Files.createDirectories(folder.resolve("ws"));
        Files.createDirectories(workspace.resolve("none"));
        Files.writeString(folder.resolve("outside.csv"), "a,b\n1,2\n");
        try (TestService service = TestService.start(workspace)) {
            Result none = service.client("draft", workspace.resolve("none").toString(), "--write");
            assertThat(none.status()).isEqualTo(ExitStatus.FINDINGS);
            assertThat(none.out()).contains("No file that Hapster can read").doesNotContain("Written");
            Result outside =
                    service.client("draft", folder.resolve("outside.csv").toString());
            assertThat(outside.status()).isEqualTo(ExitStatus.WRONG_USE);
            assertThat(outside.err()).contains("lies outside the folders", "--root");
            assertThat(service.client("draft", "nowhere").err()).contains("There is no file and no folder");
            assertThat(service.client("draft", workspace.resolve("none").toString(), "--into", "nothing")
                            .err())
                    .contains("There is no dataset 'nothing'");
        }
    }
}
