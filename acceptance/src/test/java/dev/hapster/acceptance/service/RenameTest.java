package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.terminal.ClientException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Jobs and datasets get other names, and everything that is known of them goes on. */
class RenameTest {

    @TempDir
    private Path folder;

    @BeforeEach
    void twoJobs() throws IOException {
        Workspaces.small(folder);
        Workspaces.job(folder, "other", "elsewhere", "");
        Workspaces.write(folder, "in/a.csv", "id,day,value\na,2026-01-01,1\nb,2026-01-02,bad\n");
        Workspaces.write(folder, "elsewhere/a.csv", "id,day,value\nc,2026-01-03,3\n");
    }

    private static List<String> rows(TestService service, String dataset) {
        List<String> rows = new ArrayList<>();
        service.get("/datasets/" + dataset + "/rows?sort=id").path("rows").forEach(row -> rows.add(row.toString()));
        return rows;
    }

    private static void assertNothingNew(TestService service, String job, long unchanged) throws Exception {
        assertThat(service.run(job).path("files").path("unchanged").asLong()).isEqualTo(unchanged);
        assertThat(service.post("/store/verify").path("problems")).isEmpty();
    }

    @Test
    void twoJobsChangeNamesAndAreTheJobsThatTheyWere() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            service.run("other");
            List<String> before = rows(service, "samples");
            for (String names : List.of("small third", "other small", "third other")) {
                String[] one = names.split(" ");
                TestService.Result done = service.client("jobs", "rename", one[0], one[1]);
                assertThat(done.status()).as(done.err()).isZero();
                assertThat(done.out()).contains(one[0] + " is called " + one[1] + " now", "1 run, 1 file");
            }
            assertThat(Files.readString(folder.resolve("jobs/small.yaml"))).contains("elsewhere");
            assertThat(folder.resolve("jobs/third.yaml")).doesNotExist();
            assertThat(service.get("/rejects?job=other")).hasSize(1);
            assertNothingNew(service, "small", 1);
            assertNothingNew(service, "other", 1);
            assertThat(rows(service, "samples")).hasSameSizeAs(before);
            service.post("/runs/1/undo");
            assertThat(rows(service, "samples")).singleElement().asString().contains("elsewhere/a.csv", "\"c\"");
            service.post("/runs/5/undo");
            assertThat(service.client("jobs", "rename", "small", "other").status())
                    .isEqualTo(3);
        }
        Files.delete(folder.resolve("store/catalogue.mv.db"));
        try (TestService service = TestService.start(folder)) {
            service.api().post("/store/verify", Api.JSON.createObjectNode().put("rebuild", true));
            assertThat(Files.readString(folder.resolve("jobs/small.yaml")))
                    .as("files that have their name keep it")
                    .contains("elsewhere");
            service.run("other");
            service.run("small");
            assertThat(rows(service, "samples")).as("nothing is doubled").hasSize(2);
        }
    }

    @Test
    void aDatasetTakesItsJobsItsRowsAndItsFolderAlong() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            service.run("other");
            TestService.Result done = service.client("datasets", "rename", "samples", "readings");
            assertThat(done.out()).contains("samples is called readings now", "in its jobs", "2 runs, 2 files");
            assertThat(rows(service, "readings")).hasSize(2);
            assertThat(folder.resolve("store/parts/readings")).isNotEmptyDirectory();
            assertThat(folder.resolve("store/parts/samples")).doesNotExist();
            assertThat(Files.readString(folder.resolve("jobs/other.yaml"))).contains("into: readings");
            assertNothingNew(service, "small", 1);
            service.client("datasets", "copy", "readings", "samples");
            Workspaces.write(
                    folder, "jobs/new.yaml", "job: new\ninto: samples\nfind: [{folder: elsewhere, take: \"*.csv\"}]\n");
            service.run("new");
            assertThat(rows(service, "samples"))
                    .as("another one of the old name")
                    .hasSize(1);
            assertThat(service.client("datasets", "rename", "samples", "readings")
                            .err())
                    .contains("there is a dataset of that name already");
        }
        Files.delete(folder.resolve("store/catalogue.mv.db"));
        try (TestService service = TestService.start(folder)) {
            service.api().post("/store/verify", Api.JSON.createObjectNode().put("rebuild", true));
            assertThat(rows(service, "readings")).hasSize(2);
            assertThat(rows(service, "samples")).hasSize(1);
        }
    }

    @Test
    void aFileThatSomebodyRenamedIsAskedAboutAndTheRestFollows() throws Exception {
        try (TestService service = TestService.start(folder)) {
            service.run("small");
            Files.move(folder.resolve("jobs/small.yaml"), folder.resolve("jobs/large.yaml"));
            Path moved = folder.resolve("jobs/large.yaml");
            Files.writeString(moved, Files.readString(moved).replace("job: small", "job: large"));
            assertThat(service.client("check", "large").out().replaceAll("\\s+", " "))
                    .contains("the job small has no file any more, and its 1 row is in samples", "rename small large");
            assertThat(service.client("jobs", "rename", "small", "large").out()).contains("1 run, 1 file");
            assertNothingNew(service, "large", 1);
            assertThat(service.client("check", "large").out()).doesNotContain("no file any more");
            assertThat(service.client("jobs", "rename", "nobody", "large").err())
                    .contains("There is no job 'nobody'");
            Workspaces.job(folder, "small", "elsewhere", "");
            service.run("small");
            assertThat(service.client("jobs", "rename", "other", "small").err()).contains("of that name already");
            Files.delete(folder.resolve("jobs/small.yaml"));
            assertThat(service.client("jobs", "rename", "other", "small").err())
                    .contains("the history knows 1 file that a job of that name loaded");
        }
    }

    @ParameterizedTest
    @CsvSource({
        "RENAME_NOTED, jobs, small, large",
        "FILES_RENAMED, jobs, small, large",
        "RENAME_NOTED, datasets, samples, readings",
        "FILES_RENAMED, datasets, samples, readings"
    })
    void cutOffItIsCompletedAtTheNextStart(CrashPoint moment, String kind, String from, String to) throws Exception {
        Path pauses = Files.createDirectories(folder.resolve("pauses"));
        try (TestService service = TestService.start(folder, "-Dhapster.pauses=" + pauses)) {
            service.run("small");
            Files.createFile(pauses.resolve(moment.name()));
            Thread rename = new Thread(() -> {
                try {
                    JsonNode unused = service.api()
                            .post(
                                    "/" + kind + "/" + from + "/rename",
                                    Api.JSON.createObjectNode().put("name", to));
                } catch (ClientException cutOff) {
                    assertThat(cutOff).isNotNull();
                }
            });
            rename.start();
            while (!Files.exists(pauses.resolve(moment + ".reached"))) {
                Thread.sleep(10);
            }
            service.kill();
            rename.join();
            Files.delete(pauses.resolve(moment + ".reached"));
            service.startAgain();
            assertThat(folder.resolve(kind).resolve(from + ".yaml")).doesNotExist();
            assertNothingNew(service, kind.equals("jobs") ? to : "small", 1);
            assertThat(rows(service, kind.equals("jobs") ? "samples" : to)).hasSize(1);
        }
    }

    @Test
    void notesThatCannotBeReadKeepEverythingAsItIs() throws Exception {
        Path notes = folder.resolve("store/renamed.jsonl");
        try (TestService service = TestService.start(folder)) {
            service.client("jobs", "rename", "small", "large");
            Files.writeString(notes, Files.readString(notes) + "not one of ours\n");
            service.kill();
            service.startAgain();
            assertThat(service.client("run", "large")).satisfies(result -> {
                assertThat(result.status()).isEqualTo(3);
                assertThat(result.err())
                        .contains("renamed.jsonl:3 does not say which job or dataset was renamed")
                        .doesNotContain("Exception");
            });
            Files.writeString(notes, Files.readString(notes).replace("not one of ours\n", ""));
            assertThat(service.run("large").path("files").path("loaded").asLong())
                    .isEqualTo(1);
        }
    }
}
