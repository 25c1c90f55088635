package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A catalogue that is lost, or older than the store; parts that are gone; what is kept otherwise than the log says. */
class StoreTest {

    @TempDir
    private Path folder;

    @BeforeEach
    void workspace() throws Exception {
        Workspaces.small(folder);
        Workspaces.job(folder, "small", "in", "");
        write("a.csv", "a,2026-01-01,1\nb,2026-01-02,2\n");
        write("b.csv", "c,2026-01-03,x\nd,2026-01-04,4\n");
    }

    private void write(String name, String rows) throws Exception {
        Workspaces.write(folder, "in/" + name, "id,day,value\n" + rows);
    }

    private static List<String> rows(TestService service) {
        List<String> rows = new ArrayList<>();
        service.get("/datasets/samples/rows?limit=1000&sort=_file&sort=_line")
                .path("rows")
                .forEach(row -> rows.add(row.path(0).asText() + ":" + row.path(1) + " "
                        + row.path(5).asText()));
        return rows;
    }

    @Test
    void aLostCatalogueIsSaidLoudlyAndPutTogetherAgainFromTheParts() throws Exception {
        List<String> before;
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            write("a.csv", "a,2026-01-01,1\ne,2026-01-05,5\n");
            service.run("small");
            before = rows(service);
        }
        Files.delete(folder.resolve("store/catalogue.mv.db"));
        try (TestService service = TestService.start(folder)) {
            assertThat(rows(service)).isEmpty();
            assertThat(service.problems().toString())
                    .contains("The catalogue was lost, or is older than the store", "hapster verify --rebuild");
            assertThat(service.client("verify")).satisfies(result -> {
                assertThat(result.status()).isEqualTo(1);
                assertThat(result.out()).containsPattern("[23] files in the store are unknown to the catalogue");
            });
            JsonNode run = service.run("small");
            assertThat(run.path("notes").toString()).as("each run says it").contains("The catalogue was lost");
            assertThat(run.path("run").asLong()).as("no number is given twice").isGreaterThan(2);
            assertThat(service.client("verify", "--rebuild")).satisfies(result -> {
                assertThat(result.status()).as(result.out()).isZero();
                assertThat(result.out()).contains("3 parts taken into the catalogue", "they fit together");
            });
            assertThat(rows(service)).as("nothing is doubled").isEqualTo(before);
            assertThat(service.get("/store").path("problems")).isEmpty();
            assertThat(service.run("small").path("files").path("unchanged").asLong())
                    .isEqualTo(2);
        }
    }

    @Test
    void aCatalogueThatIsOlderThanTheStoreLearnsWhatItMissed() throws Exception {
        Path old = folder.resolve("old.mv.db");
        try (TestService service = TestService.start(folder)) {
            service.run("small");
        }
        Files.copy(folder.resolve("store/catalogue.mv.db"), old);
        List<String> before;
        try (TestService service = TestService.start(folder)) {
            write("c.csv", "f,2026-01-06,6\n");
            service.run("small");
            before = rows(service);
        }
        Files.copy(old, folder.resolve("store/catalogue.mv.db"), StandardCopyOption.REPLACE_EXISTING);
        try (TestService service = TestService.start(folder)) {
            assertThat(service.problems().toString())
                    .contains("1 file in the store is unknown to the catalogue", "older than the store");
            service.api().post("/store/verify", Api.JSON.createObjectNode().put("rebuild", true));
            assertThat(rows(service)).isEqualTo(before);
            assertThat(service.run("small").path("files").path("unchanged").asLong())
                    .isEqualTo(3);
        }
    }

    @Test
    void rejectsOfAFileThatIsGoneCanBeDismissedAndListedAgain() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            Files.delete(folder.resolve("in/b.csv"));
            assertThat(service.get("/rejects")).hasSize(1);
            assertThat(service.client("dismiss", "small", "b.csv", "--because", "it will not come again"))
                    .satisfies(result -> {
                        assertThat(result.status()).as(result.err()).isZero();
                        assertThat(result.out())
                                .contains(
                                        "the rejects of in/b.csv are dismissed: it will not come again",
                                        "hapster undo 2");
                    });
            assertThat(service.get("/rejects")).isEmpty();
            assertThat(service.get("/jobs").get(0).path("openRows").asLong()).isZero();
            assertThat(service.client("dismiss", "small", "nothing.csv", "--because", "x")
                            .status())
                    .isEqualTo(2);
            service.post("/runs/2/undo");
            assertThat(service.get("/rejects")).hasSize(1);
            assertThat(service.get("/jobs").get(0).path("openRows").asLong()).isEqualTo(1);
            assertThat(rows(service)).as("rows are as they were").hasSize(3);
        }
    }

    @Test
    void aDamagedCatalogueKeepsTheServiceFromStartingAndItIsSaidWhatToDo() throws Exception {
        Path catalogue = folder.resolve("store/catalogue.mv.db");
        Files.createDirectories(catalogue.getParent());
        Files.write(catalogue, new byte[40_000]);
        IllegalStateException told = catchThrowableOfType(IllegalStateException.class, () -> TestService.start(folder));
        assertThat(told)
                .hasMessageContaining("The catalogue is damaged")
                .hasMessageContaining("hapster verify --rebuild");
        assertThat(catalogue).as("nobody touches it").hasSize(40_000);
    }

    @Test
    void aCatalogueFromBeforeFilesBecameOneLearnsWhereTheRowsAre() throws Exception {
        Path old = folder.resolve("old.mv.db");
        try (TestService service = TestService.start(folder)) {
            JsonNode first = service.run("small");
            assertThat(first.path("files").path("loaded").asInt())
                    .as(first.toString())
                    .isEqualTo(2);
        }
        Files.copy(folder.resolve("store/catalogue.mv.db"), old);
        List<String> before;
        try (TestService service = TestService.start(folder, "-Dhapster.merged-from=2", "-Dhapster.unread-for=0")) {
            write("c.csv", "f,2026-01-06,6\n");
            service.run("small");
            Path parts = folder.resolve("store/parts/samples");
            for (int i = 0; i < 500 && count(parts) > 1; i++) {
                Thread.sleep(20);
            }
            assertThat(count(parts)).isEqualTo(1);
            before = rows(service);
        }
        Files.copy(old, folder.resolve("store/catalogue.mv.db"), StandardCopyOption.REPLACE_EXISTING);
        try (TestService service = TestService.start(folder)) {
            assertThat(service.problems().toString())
                    .as(service.get("/jobs/small/ledger") + " " + files() + "\n"
                            + Files.readString(folder.resolve("service-test.log")))
                    .contains("1 file in the store is unknown to the catalogue", "missing from the store");
            assertThat(service.client("verify", "--rebuild")).satisfies(result -> {
                assertThat(result.status()).as(result.out()).isZero();
                assertThat(result.out()).contains("3 parts taken into the catalogue", "they fit together");
            });
            assertThat(rows(service)).isEqualTo(before);
            assertThat(service.run("small").path("files").path("unchanged").asLong())
                    .isEqualTo(3);
        }
    }

    private List<String> files() throws IOException {
        return Workspaces.files(folder).stream()
                .map(file -> folder.relativize(file).toString())
                .toList();
    }

    private static long count(Path at) throws IOException {
        try (Stream<Path> files = Files.list(at)) {
            return files.count();
        }
    }

    @Test
    void aPartThatIsGoneIsNamedAndItsFileLoadsItAgain() throws Exception {
        try (TestService service = TestService.start(folder)) {
            Path other = Files.move(folder.resolve("in/b.csv"), folder.resolve("b.csv"));
            service.run("small"); // a file by itself shares none with others
            Files.move(other, folder.resolve("in/b.csv"));
            service.run("small");
        }
        Path part;
        try (Stream<Path> parts = Files.list(folder.resolve("store/parts/samples"))) {
            part = parts.filter(file -> file.getFileName().toString().startsWith("1-1-a.csv."))
                    .findFirst()
                    .orElseThrow();
        }
        Files.delete(part);
        try (TestService service = TestService.start(folder)) {
            assertThat(service.problems().toString())
                    .contains(
                            "1 part is missing from the store",
                            "such as samples/" + part.getFileName(),
                            "hapster run small --again");
            ClientException told =
                    catchThrowableOfType(ClientException.class, () -> service.get("/datasets/samples/rows?limit=1000"));
            assertThat(told).isNotNull();
            JsonNode run = service.run("/jobs/small/runs", "{\"again\": true, \"files\": [\"a.csv\"]}");
            assertThat(run.path("state").asText()).as(run.toString()).isEqualTo("finished");
            assertThat(rows(service)).hasSize(3);
            assertThat(service.api()
                            .post("/store/verify", Api.JSON.createObjectNode())
                            .path("problems"))
                    .isEmpty();
        }
    }
}
