package dev.hapster.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.core.moment.Moment;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** A service that is cut off at any moment of a run, or that cannot write: afterwards everything is as if nothing had happened. */
class CrashTest {

    @TempDir
    private static Path folder;
        private static State undisturbed;

    /** What must be the same: rows, ledger, open rejects, files with their content. */
    record State(List<String> rows, List<String> ledger, List<String> rejects, Map<String, String> files) {
        static State of(TestService service, Path workspace) throws IOException {
            List<String> rows = new ArrayList<>();
            service.get("/datasets/samples/rows?limit=1000&sort=_file&sort=_line").path("rows").forEach(row -> rows.add(row.path(0).asText() + ":" + row.path(1) + " " + row.path(5) + row.path(6) + row.path(7)));
            List<String> ledger = new ArrayList<>();
            service.get("/jobs/small/ledger").forEach(file -> ledger.add(workspace.relativize(Path.of(file.path("path").asText())) + " " + file.path("outcome").asText() + " " + file.path("rejected")
                    + file.path("code").asText() + " " + file.path("inDataset") + " " + file.path("hash").asText() + " "
                    + (file.has("movedTo") ? workspace.relativize(Path.of(file.path("movedTo").asText())) : "")));
            List<String> rejects = new ArrayList<>();
            service.get("/rejects").forEach(reason -> rejects.add(reason.path("code").asText() + " " + reason.path("column").asText() + " " + reason.path("count") + " " + reason.path("samples").findValuesAsText("file")));
            Map<String, String> files = new TreeMap<>();
            for (String below : List.of("in", "done", "bad", "store/parts", "store/staging")) {
                if (Files.exists(workspace.resolve(below))) {
                    try (Stream<Path> tree = Files.walk(workspace.resolve(below))) {
                        for (Path file : tree.filter(Files::isRegularFile).toList()) {
                            String name = workspace.relativize(file).toString();
                            files.put(name.startsWith("store") ? name.replaceAll("/\\d+-\\d+-", "/") : name, name.startsWith("store") ? "" : Files.readString(file));
                        }
                    }
                }
            }
            return new State(rows, ledger, rejects, files);
        }
    }

    private static Path arrive(Path workspace, String name, String text) throws IOException {
        Path file = Workspaces.write(workspace, "in/" + name, text);
        Files.setLastModifiedTime(file, FileTime.from(Instant.parse("2026-03-01T00:00:00Z")));
        return file;
    }

    /** A workspace in which one run has ended; since then files have changed and arrived. */
    @BeforeAll
    static void aWorkspace() throws Exception {
        Path begun = Workspaces.small(folder.resolve("work"));
        Workspaces.write(begun, "datasets/samples.yaml", Workspaces.DATASET + "retain: {replaced: 0s}\n");
        Workspaces.job(begun, "small", "in", "after: {loaded: {move: done}, rejected: {copy: bad}}\nkeep: \"id != 'x'\"\n");
        arrive(begun, "a.csv", "id,day,value\na1,2026-01-01,1\na2,2026-01-02,2\n");
        try (TestService service = TestService.start(begun)) {
            assertThat(service.run("small").path("state").asText()).isEqualTo("finished");
        }
        arrive(begun, "a.csv", "id,day,value\na1,2026-01-01,10\n");
        arrive(begun, "b.csv", "id,day,value\nb1,2026-01-01,1\nx,,5\nb2,bad,2\n");
        arrive(begun, "c.csv", "value\nwhat is this\n");
        copy(begun, folder.resolve("kept"));
        try (TestService service = TestService.start(begun)) {
            service.run("small");
            service.run("small");
            undisturbed = State.of(service, begun);
        }
        assertThat(undisturbed.rows()).hasSize(2);
        assertThat(undisturbed.files().keySet()).containsExactly("bad/c.csv", "bad/c.csv.reasons.csv", "done/a-2.csv", "done/a.csv", "done/b.csv", "in/c.csv",
                "store/parts/samples/a.csv.parquet", "store/parts/samples/b.csv.parquet");
    }

    /** The workspace as it was; always at the same place, since the ledger knows files by their paths. */
    private static Path restored() throws IOException {
        Path work = folder.resolve("work");
        if (Files.exists(work)) {
            try (Stream<Path> tree = Files.walk(work)) {
                tree.sorted(Comparator.reverseOrder()).forEach(path -> path.toFile().delete());
            }
        }
        copy(folder.resolve("kept"), work);
        return work;
    }

    private static void copy(Path from, Path target) throws IOException {
        try (Stream<Path> tree = Files.walk(from)) {
            for (Path path : tree.toList()) {
                Path to = target.resolve(from.relativize(path).toString());
                if (Files.isDirectory(path)) {
                    Files.createDirectories(to);
                } else {
                    Files.copy(path, to);
                    Files.setLastModifiedTime(to, Files.getLastModifiedTime(path));
                }
            }
        }
    }

    @ParameterizedTest
    @EnumSource(Moment.class)
    void killedAtAnyMomentNothingIsLostAndNothingDoubled(Moment moment) throws Exception {
        Path workspace = restored();
        Path paused = workspace.resolve("paused");
        try (TestService service = TestService.start(workspace, "-Dhapster.pause-at=" + moment, "-Dhapster.paused=" + paused)) {
            service.post("/jobs/small/runs");
            for (int i = 0; !Files.exists(paused); i++) {
                assertThat(i).as("the run comes to " + moment).isLessThan(1000);
                Thread.sleep(10);
            }
            service.kill();
        }
        try (TestService service = TestService.start(workspace)) {
            JsonNode run = service.run("small");
            assertThat(run.path("state").asText()).isEqualTo("finished");
            assertThat(run.path("holds").asBoolean()).isTrue();
            State state = State.of(service, workspace);
            assertThat(state.rows()).isEqualTo(undisturbed.rows());
            assertThat(state.ledger()).isEqualTo(undisturbed.ledger());
            assertThat(state.rejects()).isEqualTo(undisturbed.rejects());
            assertThat(state.files()).isEqualTo(undisturbed.files());
        }
    }
}
