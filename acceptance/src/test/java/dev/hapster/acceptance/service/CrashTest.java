package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.store.PartStore;
import dev.hapster.terminal.ClientException;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * A service that is killed at each moment of a run, one after another, beside a twin that nobody disturbs and that gets
 * the same files: after the next run both are the same.
 */
class CrashTest {

    @TempDir
    private static Path folder;

    private static Path disturbed;
    private static Path twin;
    private static TestService service;
    private static TestService undisturbed;
    private static int round;

    /** Which run loaded the first of several copies, which differs between the two. */
    private static final String SINCE = "\"(has the same content as [^\",]*)(, which run \\d+ loaded)?\"";

    /** What must be the same: rows, ledger, open rejects, files with their content. */
    record State(
            List<String> rows,
            List<String> ledger,
            List<String> rejects,
            List<String> aside,
            Map<String, String> files) {
        static State of(TestService service, Path workspace) throws IOException {
            List<String> rows = new ArrayList<>();
            service.get("/datasets/samples/rows?limit=1000&sort=_file&sort=_line")
                    .path("rows")
                    .forEach(row -> rows.add(
                            row.path(0).asText() + ":" + row.path(1) + " " + row.path(5) + row.path(6) + row.path(7)));
            List<String> ledger = new ArrayList<>();
            service.get("/jobs/small/ledger")
                    .forEach(file -> ledger.add(
                            workspace.relativize(Path.of(file.path("path").asText())) + " "
                                    + file.path("outcome").asText() + " " + file.path("rejected")
                                    + file.path("code").asText() + " " + file.path("inDataset") + " "
                                    + file.path("hash").asText() + " "
                                    + (file.has("movedTo")
                                            ? workspace.relativize(
                                                    Path.of(file.path("movedTo").asText()))
                                            : "")));
            List<String> rejects = new ArrayList<>();
            service.get("/rejects")
                    .forEach(reason -> rejects.add(reason.path("code").asText() + " "
                            + reason.path("column").asText() + " " + reason.path("count") + " "
                            + reason.path("samples").findValuesAsText("file")));
            return new State(rows, ledger, rejects, lines(workspace.resolve("store")), files(workspace));
        }

        /**
         * All that the rejects and the rows set aside of all runs say, without the numbers of the runs and the places
         * of the workspaces.
         */
        private static List<String> lines(Path store) throws IOException {
            List<String> lines = new ArrayList<>();
            try (Stream<Path> rejects = Files.list(store.resolve("rejects"));
                    Stream<Path> aside = Files.list(store.resolve("aside"))) {
                for (Path file : Stream.concat(rejects, aside).toList()) {
                    assertThat(file).as("pieces are put together").isRegularFile();
                    Files.readAllLines(file).stream()
                            .skip(1)
                            .map(line -> line.replaceFirst("^\\d+,", "")
                                    .replaceAll("[^,]*/(work|twin)/", "")
                                    .replaceAll(SINCE, "$1"))
                            .forEach(lines::add);
                }
            }
            lines.sort(null);
            return lines;
        }

        private static Map<String, String> files(Path workspace) throws IOException {
            Map<String, String> files = new TreeMap<>();
            for (String below : List.of("in", "kept", "done", "bad", "store/staging")) {
                if (Files.exists(workspace.resolve(below))) {
                    try (Stream<Path> tree = Files.walk(workspace.resolve(below))) {
                        for (Path file : tree.filter(Files::isRegularFile).toList()) {
                            String name = workspace.relativize(file).toString();
                            files.put(name, Files.readString(file).replaceAll(SINCE, "$1"));
                        }
                    }
                }
            }
            PartStore store = new PartStore(workspace.resolve("store"));
            for (String file : store.all()) {
                store.contents(file)
                        .values()
                        .forEach(notes -> files.merge(
                                "part of " + notes.get("name") + ", rows " + notes.get("rows"), "1", String::concat));
            }
            return files;
        }
    }

    /** When small files become one is a matter of time, and not the same in both services. */
    private static final String NO_MERGING = "-Dhapster.merged-from=1000000";

    @BeforeAll
    static void twins() throws Exception {
        disturbed = workspace(folder.resolve("work"));
        twin = workspace(folder.resolve("twin"));
        service = TestService.start(
                disturbed,
                "-XX:TieredStopAtLevel=1",
                NO_MERGING,
                "-Dhapster.pauses=" + Files.createDirectories(folder.resolve("pauses")));
        undisturbed = TestService.start(twin, NO_MERGING);
    }

    private static Path workspace(Path workspace) throws IOException {
        Workspaces.small(workspace);
        Workspaces.write(workspace, "datasets/samples.yaml", Workspaces.DATASET + "retain: {replaced: 0s}\n");
        Workspaces.job(
                workspace,
                "small",
                "in",
                "after: {loaded: {move: done}, rejected: {copy: bad}}\nkeep: \"id != 'x'\"\n");
        Workspaces.job(workspace, "plain", "kept", "");
        return workspace;
    }

    @AfterAll
    static void stop() throws Exception {
        service.close();
        undisturbed.close();
    }

    /**
     * A file comes with other rows under the name of one that was loaded and moved away, so that they are added; a new
     * one with a row to set aside and a bad one, and one that does not fit.
     */
    private static void arrive(Path workspace) throws IOException {
        write(
                workspace,
                "a.csv",
                "id,day,value\n" + ("a" + round + ",2026-01-01," + round + "\n").repeat(1 + round % 3));
        write(workspace, "b-" + round + ".csv", "id,day,value\nb" + round + ",2026-01-01,1\nx,,5\nb,bad,2\n");
        write(workspace, "c-" + round + ".csv", "value\nwhat is this " + round + "\n");
        write(
                workspace,
                "d-" + round + ".csv",
                "id,day,value\nb" + round + ",2026-01-01,1\nx,,5\nb,bad,2\n"); // a copy of b
        write(workspace, "../kept/e.csv", "id,day,value\n" + ("e" + round + ",2026-01-01," + round + "\n").repeat(2));
    }

    private static void write(Path workspace, String name, String text) throws IOException {
        Path file = Workspaces.write(workspace, "in/" + name, text);
        Files.setLastModifiedTime(
                file, FileTime.from(Instant.parse("2026-03-01T00:00:00Z").plusSeconds(round)));
    }

    @Test
    void anUndoIsOrIsNot() throws Exception {
        Path workspace = workspace(folder.resolve("undo"));
        Path pauses = Files.createDirectories(folder.resolve("undo-pauses"));
        write(workspace, "a.csv", "id,day,value\na,2026-01-01,1\n");
        try (TestService undoing = TestService.start(workspace, "-Dhapster.pauses=" + pauses)) {
            undoing.run("small");
            Files.createFile(pauses.resolve(CrashPoint.IN_ACT.name()));
            Thread undo = new Thread(() -> {
                try {
                    undoing.post("/runs/1/undo");
                } catch (ClientException cutOff) {
                    assertThat(cutOff).isNotNull();
                }
            });
            undo.start();
            while (!Files.exists(pauses.resolve(CrashPoint.IN_ACT + ".reached"))) {
                Thread.sleep(10);
            }
            undoing.kill();
            undo.join();
            Files.delete(pauses.resolve(CrashPoint.IN_ACT + ".reached"));
            undoing.startAgain();
            assertThat(undoing.get("/datasets/samples").path("rows").asLong()).isEqualTo(1);
            assertThat(undoing.get("/runs/1").has("undoneBy")).isFalse();
            assertThat(undoing.api()
                            .post("/store/verify", Api.JSON.createObjectNode())
                            .path("problems"))
                    .isEmpty();
            undoing.post("/runs/1/undo");
            assertThat(undoing.get("/datasets/samples").path("rows").asLong()).isZero();
        }
    }

    @ParameterizedTest
    @EnumSource(
            value = CrashPoint.class,
            names = {"FILES_MERGED", "PARTS_MOVED"})
    void killedWhileSmallFilesBecomeOneTheRowsAreInOneOfThem(CrashPoint moment) throws Exception {
        Path workspace = workspace(folder.resolve("merging-" + moment));
        Path pauses = Files.createDirectories(folder.resolve("pauses-" + moment));
        Path store = workspace.resolve("store");
        write(workspace, "a.csv", "id,day,value\na,2026-01-01,1\n");
        try (TestService merging =
                TestService.start(workspace, "-Dhapster.pauses=" + pauses, "-Dhapster.merged-from=2")) {
            merging.run("small");
            write(workspace, "b.csv", "id,day,value\nb,2026-01-02,2\nc,2026-01-03,3\n");
            merging.runUpTo(moment, "small", pauses);
            List<String> before = State.of(merging, workspace).rows();
            assertThat(before).hasSize(3);
            merging.kill();
            merging.startAgain();
            assertThat(new PartStore(store).all()).hasSize(moment == CrashPoint.FILES_MERGED ? 2 : 1);
            assertThat(State.of(merging, workspace).rows()).isEqualTo(before);
            verified(merging);

            write(workspace, "a.csv", "id,day,value\nd,2026-01-02,5\n");
            merging.runUpTo(moment, "small", pauses);
            before = State.of(merging, workspace).rows();
            merging.kill();
            Files.delete(store.resolve("catalogue.mv.db"));
            merging.startAgain();
            merging.api().post("/store/verify", Api.JSON.createObjectNode().put("rebuild", true));
            assertThat(State.of(merging, workspace).rows()).isEqualTo(before);
            verified(merging);
            assertThat(merging.run("small").path("files").path("loaded").asInt())
                    .isZero();
        }
    }

    private static void verified(TestService service) throws Exception {
        assertThat(service.api()
                        .post("/store/verify", Api.JSON.createObjectNode())
                        .path("problems"))
                .isEmpty();
    }

    @ParameterizedTest
    @EnumSource(
            value = CrashPoint.class,
            names = {
                "IN_ACT",
                "RENAME_NOTED",
                "FILES_RENAMED",
                "FILES_MERGED",
                "PARTS_MOVED",
                "DELIVERY_WRITTEN",
                "DELIVERY_NAMED",
                "TABLE_WRITTEN",
                "TABLE_COMMITTED"
            },
            mode = EnumSource.Mode.EXCLUDE)
    void killedAtAnyMomentNothingIsLostAndNothingDoubled(CrashPoint moment) throws Exception {
        round++;
        arrive(twin);
        undisturbed.run("small");
        undisturbed.run("small");
        undisturbed.run("plain");

        arrive(disturbed);
        service.runUpTo(moment, moment == CrashPoint.SWEPT ? "plain" : "small", folder.resolve("pauses"));
        service.kill();
        service.startAgain();
        JsonNode run = service.run("small");
        service.run("plain");

        assertThat(run.path("state").asText()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        assertThat(State.of(service, disturbed)).usingRecursiveComparison().isEqualTo(State.of(undisturbed, twin));
        assertThat(State.of(service, disturbed).rows())
                .hasSize(2
                        + round
                        + IntStream.rangeClosed(1, round)
                                .map(one -> 1 + one % 3)
                                .sum());
    }
}
