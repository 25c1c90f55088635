package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;

/** The command that a newcomer gives first, as a process, three times in one workspace. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class DemoTest {

    @TempDir
    private static Path folder;

    private static long rows;

    private static Result demo(String... more) throws Exception {
        int port;
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        List<String> arguments = new ArrayList<>(List.of("demo", "--once", "--port", Integer.toString(port)));
        arguments.addAll(List.of(more));
        if (!arguments.contains("--workspace")) {
            arguments.addAll(List.of("--workspace", folder.resolve("demo").toString()));
        }
        return TestService.client(List.of(), arguments);
    }

    @Test
    @Order(1)
    void theFirstTimeEverythingIsLoadedAndEveryRefusalIsExplained() throws Exception {
        Result demo = demo();

        assertThat(demo.status()).as(demo.err()).isEqualTo(ExitStatus.FINDINGS);
        assertThat(demo.out())
                .contains(
                        "east-lab → river_samples",
                        "395 read  389 loaded  3 set aside   3 rejected",
                        "looks separated by \",\"; the job declares \";\"",
                        "files      6 found     =  3 loaded + 2 rejected + 1 waiting",
                        "rows   1 245 read      =  1 184 loaded + 11 set aside + 50 rejected",
                        "moved to ",
                        "rejected/visits/",
                        "date-unreadable",
                        "\"30.02.2026 08:00\" is not a valid date: February has no day 30",
                        "samples-2026-02.csv:13 and 40 more",
                        "store/rejects/run-1.csv",
                        "22 files, 7 187 rows loaded",
                        "harbour-2026.xlsx!2026-01:17",
                        "(2026-01!E17)",
                        "is an encrypted workbook")
                .doesNotContain("DOES NOT HOLD");
        assertThat(demo.out().lines()).as("nothing is wider than 100 columns").allSatisfy(line -> assertThat(
                        line.codePointCount(0, line.length()))
                .isLessThanOrEqualTo(line.contains(folder.toString()) ? 400 : 100));
        assertThat(folder.resolve("demo/store/aside/run-1.csv"))
                .content()
                .contains("keep: parameter != 'chlorid'", "Chlorid;24,411");
        assertThat(folder.resolve("demo/store/rejects/run-1.csv"))
                .content()
                .contains("date-unreadable", "30.02.2026 08:00");
    }

    @Test
    @Order(2)
    void theSecondTimeNothingIsLoadedAndTheDatasetIsTheSame() throws Exception {
        JsonNode demo = Api.JSON.readTree(demo("--keep", "--json").out());

        Set<String> codes = new HashSet<>();
        long files = 0;
        for (JsonNode one : demo.path("runs")) {
            JsonNode counts = one.path("run").path("files");
            assertThat(counts.path("loaded").asLong() + counts.path("replaced").asLong())
                    .isZero();
            assertThat(counts.path("unchanged").asLong()
                            + counts.path("rejected").asLong()
                            + counts.path("waiting").asLong())
                    .isEqualTo(counts.path("found").asLong());
            assertThat(one.path("run").path("holds").asBoolean()).isTrue();
            files += counts.path("rejected").asLong();
            one.path("reasons").forEach(reason -> codes.add(reason.path("code").asText()));
        }
        rows = demo.path("datasets").path(0).path("rows").asLong();
        assertThat(rows).isEqualTo(7187);
        assertThat(files).as("one was moved away").isEqualTo(5);
        assertThat(codes)
                .containsExactlyInAnyOrder(
                        "separator-differs", "file-empty", "not-text", "file-encrypted", "file-damaged");
    }

    @Test
    @Order(3)
    void oneByteChangedReplacesThatPartAlone() throws Exception {
        Path file = folder.resolve("demo/inbox/north/samples-2026-01.csv");
        String text = Files.readString(file);
        Files.writeString(file, text.replaceFirst("<0\\.05", "00.05"));
        Files.delete(folder.resolve("demo/inbox/north/samples-2026-02.csv"));
        JsonNode demo = Api.JSON.readTree(demo("--keep", "--json").out());

        List<String> outcomes = new ArrayList<>();
        demo.path("runs").forEach(one -> one.path("files")
                .forEach(result -> outcomes.add(result.path("name").asText() + " "
                        + result.path("outcome").asText())));
        assertThat(outcomes)
                .filteredOn(outcome -> !outcome.endsWith("unchanged") && !outcome.endsWith("rejected"))
                .containsExactly("samples-2026-06.csv.part waiting", "samples-2026-01.csv replaced");
        assertThat(demo.path("datasets").path(0).path("rows").asLong())
                .as("the rows of the file that is gone stay")
                .isEqualTo(rows + 1);
    }

    @Test
    @Order(4)
    void aFolderThatIsNoDemoIsLeftAlone() throws Exception {
        Files.createDirectories(folder.resolve("mine"));
        Files.writeString(folder.resolve("mine/thesis.txt"), "do not lose");
        Result demo = TestService.client(
                List.of(),
                List.of("demo", "--once", "--workspace", folder.resolve("mine").toString()));
        assertThat(demo.status()).isEqualTo(ExitStatus.WRONG_USE);
        assertThat(demo.err()).contains("is not a demo workspace and not empty; it is left alone");
        assertThat(folder.resolve("mine/thesis.txt")).exists();
    }

    @Test
    @Order(5)
    void machinesOfOthersRunBesideItAndAreReadFrom() throws Exception {
        Path far = folder.resolve("far");
        for (int time = 1; time <= 2; time++) {
            JsonNode demo = Api.JSON.readTree(demo("--elsewhere", "--keep", "--json", "--workspace", far.toString())
                    .out());
            Map<String, JsonNode> rows = new HashMap<>();
            demo.path("runs").forEach(one -> {
                assertThat(one.path("run").path("state").asText())
                        .as(one.path("run").toPrettyString())
                        .isEqualTo("finished");
                rows.put(one.path("run").path("job").asText(), one.path("run").path("rows"));
            });
            assertThat(rows.get("ferry").path("loaded").asInt()).isEqualTo(time == 1 ? 476 : 0);
            assertThat(rows.get("ferry").path("rejected").asInt()).isEqualTo(time == 1 ? 4 : 0);
            assertThat(rows.get("buoys").path("loaded").asInt()).isEqualTo(time == 1 ? 270 : 0);
            assertThat(demo.path("datasets").path(0).path("rows").asInt()).isEqualTo(7187 + 476 + 270);
        }
        try (Stream<Path> taken = Files.walk(far.resolve("elsewhere/ferry/done"))) {
            assertThat(taken.filter(Files::isRegularFile)).hasSize(4);
        }
        assertThat(far.resolve("elsewhere/ferry/outgoing")).isEmptyDirectory();
    }
}
