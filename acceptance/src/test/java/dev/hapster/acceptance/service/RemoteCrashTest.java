package dev.hapster.acceptance.service;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.acceptance.elsewhere.Machine;
import dev.hapster.acceptance.elsewhere.ObjectServer;
import dev.hapster.acceptance.elsewhere.SshServer;
import dev.hapster.core.crash.CrashPoint;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/**
 * A service that is killed while it takes files from one machine to another: after the next run each is where it
 * belongs, once, and so are its rows.
 */
class RemoteCrashTest {

    private static final String HEADER = "id,day,value\n";

    @TempDir
    private static Path folder;

    private static Machine ssh;
    private static Machine objects;
    private static Path pauses;
    private static TestService service;
    private static int round;

    @BeforeAll
    static void start() throws Exception {
        ssh = SshServer.start(Files.createDirectories(folder.resolve("ssh")));
        objects = ObjectServer.start(folder.resolve("objects"));
        Path workspace = Workspaces.small(folder.resolve("work"));
        pauses = Files.createDirectories(folder.resolve("pauses"));
        Workspaces.write(workspace, "accounts.yaml", "accounts:\n" + ssh.account() + objects.account());
        job(workspace, "from-ssh", ssh, objects);
        job(workspace, "from-objects", objects, ssh);
        service = TestService.start(workspace, "-XX:TieredStopAtLevel=1", "-Dhapster.pauses=" + pauses);
    }

    /** What is loaded stays on its machine, what is rejected goes to the other one. */
    private static void job(Path workspace, String name, Machine from, Machine other) throws Exception {
        Workspaces.job(
                workspace,
                name,
                from.address("in"),
                "after: {loaded: {move: \"" + from.address("done") + "\"}, rejected: {move: \""
                        + other.address("bad-" + name) + "\"}}\n");
    }

    @AfterAll
    static void stop() {
        service.close();
        ssh.close();
        objects.close();
    }

    @ParameterizedTest
    @EnumSource(
            value = CrashPoint.class,
            names = {"BEFORE_ROUTING", "COPY_WRITTEN", "TARGET_NAMED", "SOURCE_GONE", "REASONS_WRITTEN"})
    void eachFileEndsWhereItBelongsOnce(CrashPoint moment) throws Exception {
        round++;
        killed(moment, "from-ssh", ssh, objects);
        killed(moment, "from-objects", objects, ssh);
    }

    private static void killed(CrashPoint moment, String job, Machine from, Machine other) throws Exception {
        String good = HEADER + "good " + job + ",2026-01-01," + round + "\n";
        String wrong = "what is this " + job + round + "\n";
        from.put("in/a-" + round + ".csv", good);
        from.put("in/b-" + round + ".csv", wrong);
        Path reached = service.runUpTo(moment, job, pauses);
        service.kill();
        Files.delete(reached);
        service.startAgain();
        JsonNode run = service.run(job);
        assertThat(run.path("state").asText()).as(run.path("failure").asText()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();

        Map<String, String> there = new TreeMap<>(from.files());
        there.keySet().removeIf(path -> path.startsWith("bad-"));
        assertThat(there.keySet()).allMatch(path -> path.matches("done/a-\\d+\\.csv"));
        assertThat(there).hasSize(round).containsEntry("done/a-" + round + ".csv", good);
        Map<String, String> rejected = new TreeMap<>(other.files());
        rejected.keySet().removeIf(path -> !path.startsWith("bad-" + job));
        assertThat(rejected)
                .hasSize(2 * round)
                .containsEntry("bad-" + job + "/b-" + round + ".csv", wrong)
                .containsKey("bad-" + job + "/b-" + round + ".csv.reasons.csv");
        assertThat(service.get("/datasets/samples/rows?limit=1000&where=id%20=%20'good%20" + job + "'")
                        .path("rows"))
                .hasSize(round);
    }
}
