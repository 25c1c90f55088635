package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.cli.http.Api;
import dev.hapster.core.run.Reference.Mode;
import dev.hapster.core.run.Story;
import dev.hapster.terminal.ClientException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The stories that the core is held to, through the service and its catalogue: in one workspace, each with a job and a
 * dataset of its own. Half-way the service is killed, and the workspace moved. So many of each way to load:
 * {@code -Dhapster.stories=20}.
 */
class StoriesTest {

    private static final int STORIES = Integer.getInteger("hapster.stories", 20);
    private static final int STEPS = 5;

    private static final Path MEMORY = Path.of("/dev/shm");

    @TempDir
    private Path disk;

    private Path workspace;
    private TestService service;

    @Test
    void theServiceEndsAsTheLogSays() throws Exception {
        Path folder = Files.isWritable(MEMORY)
                ? Files.createTempDirectory(MEMORY, "hapster-")
                : disk; // so that nobody waits for a disk
        workspace = Files.createDirectories(folder.resolve("first"));
        service = TestService.start(workspace, "-Dhapster.merged-from=2", "-Dhapster.unread-for=0");
        try {
            List<Story> stories = new ArrayList<>();
            for (Mode mode : Mode.values()) {
                for (int number = 0; number < STORIES; number++) {
                    stories.add(new Story(
                            new Served(mode.name().toLowerCase(java.util.Locale.ROOT) + "_" + number),
                            mode,
                            7L * number + 1000L * mode.ordinal()));
                }
            }
            play(stories);
            service.kill();
            Path moved = folder.resolve("second");
            Files.move(workspace, moved);
            workspace = moved;
            service = TestService.start(workspace, "-Dhapster.merged-from=2", "-Dhapster.unread-for=0");
            assertThat(service.get("/store").path("problems")).isEmpty();
            play(stories);
            assertThat(service.api()
                            .post("/store/verify", Api.JSON.createObjectNode())
                            .path("problems"))
                    .isEmpty();
        } finally {
            service.close();
            try (Stream<Path> tree = Files.walk(folder)) {
                tree.sorted(Comparator.reverseOrder())
                        .forEach(path -> path.toFile().delete());
            }
        }
    }

    private static void play(List<Story> stories) {
        stories.parallelStream().forEach(story -> {
            try {
                story.play(STEPS);
            } catch (Exception wrong) {
                throw new IllegalStateException(wrong);
            }
        });
    }

    /** A job of the service. */
    private final class Served implements Story.World {
        private final String name;

        Served(String name) {
            this.name = name;
        }

        @Override
        public Path workspace() {
            return workspace;
        }

        @Override
        public String inbox() {
            return "in/" + name;
        }

        @Override
        public String name() {
            return name;
        }

        @Override
        public long run(Set<String> again) throws Exception {
            ObjectNode body = Api.JSON.createObjectNode().put("again", !again.isEmpty());
            if (!again.isEmpty() && !again.contains("*")) {
                again.forEach(body.putArray("files")::add);
            }
            return ended(service.api().post("/jobs/" + name + "/runs", body));
        }

        @Override
        public long retry(long of) throws Exception {
            return ended(service.post("/runs/" + of + "/retry"));
        }

        private long ended(JsonNode started) throws Exception {
            JsonNode run = service.await(started.path("run").asLong());
            assertThat(run.path("state").asText()).as(run.toString()).isIn("finished", "stopped");
            assertThat(run.path("holds").asBoolean()).as(run.toString()).isTrue();
            return run.path("run").asLong();
        }

        @Override
        public boolean retriesAll() {
            return false;
        }

        @Override
        public long[] effect(long of) {
            JsonNode effect = service.get("/runs/" + of + "/undo");
            return new long[] {
                effect.path("obstacles").isEmpty() ? 1 : 0,
                effect.path("back").asLong() - effect.path("out").asLong()
            };
        }

        @Override
        public long undo(long of) {
            return service.post("/runs/" + of + "/undo").path("run").asLong();
        }

        @Override
        public long remove(String file) {
            try {
                return service.api()
                        .delete("/datasets/" + name + "/rows?file=" + file)
                        .path("entry")
                        .asLong();
            } catch (ClientException none) {
                assertThat(none).hasMessageContaining("No rows of");
                return 0;
            }
        }

        @Override
        public void merge() {
            // the service does so after each run
        }

        @Override
        public boolean sweep() {
            return false;
        }

        @Override
        public long last() {
            return 0;
        }

        @Override
        public boolean move() {
            return false;
        }

        @Override
        public boolean fail() {
            return false;
        }

        @Override
        public List<String> rows() {
            List<String> rows = new ArrayList<>();
            service.get("/datasets/" + name + "/rows?limit=1000")
                    .path("rows")
                    .forEach(row ->
                            rows.add(row.path(0).asText() + ":" + row.path(1).asText() + " "
                                    + row.path(5).asText() + "=" + row.path(6).asText()));
            rows.sort(null);
            return rows;
        }

        @Override
        public Map<String, Path> taken() {
            Map<String, Path> taken = new TreeMap<>();
            for (String file : List.of("a.csv", "b.csv", "c.csv", "d.csv")) {
                try {
                    service.get("/jobs/" + name + "/arrivals?source=" + file).forEach(one -> {
                        if (one.has("movedTo")) {
                            taken.put(
                                    file + one.path("generation").asInt() + "@"
                                            + one.path("run").asLong(),
                                    Path.of(one.path("movedTo").asText()));
                        }
                    });
                } catch (ClientException never) {
                    assertThat(never).hasMessageContaining("has never dealt with");
                }
            }
            return taken;
        }

        @Override
        public void check() {
            // at the end the whole store is verified
        }
    }
}
