package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.acceptance.elsewhere.Machine;
import dev.hapster.acceptance.elsewhere.ObjectServer;
import dev.hapster.acceptance.elsewhere.SshServer;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Folders on other machines: an SFTP server, and an object store. */
class RemoteTest {

    private static final String HEADER = "id,day,value\n";

    @TempDir
    private static Path folder;

    private static Path workspace;
    private static SshServer ssh;
    private static ObjectServer objects;
    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        ssh = SshServer.start(Files.createDirectories(folder.resolve("ssh")));
        objects = ObjectServer.start(folder.resolve("objects"));
        workspace = Workspaces.small(folder.resolve("work"));
        accounts(ssh.account() + objects.account());
        service = TestService.start(workspace);
    }

    @AfterAll
    static void stop() {
        service.close();
        ssh.close();
        objects.close();
    }

    private static void accounts(String all) throws Exception {
        Workspaces.write(workspace, "accounts.yaml", "accounts:\n" + all);
    }

    private static Machine machine(String kind) {
        return kind.equals("sftp") ? ssh : objects;
    }

    /** A job, with a dataset of its name. */
    private static void job(String name, String inbox, String rest) throws Exception {
        Workspaces.write(workspace, "datasets/" + name + ".yaml", Workspaces.DATASET.replace("samples", name));
        Workspaces.write(
                workspace,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: " + name + "\nfind: [{folder: \"" + inbox
                        + "\", depth: 1, settle: 0s, take: [\"*.csv\"]}]\n" + rest);
    }

    private static long rows(String dataset) {
        return service.get("/datasets/" + dataset).path("rows").asLong();
    }

    /** What lies in a folder there, by path below it. */
    private static Map<String, String> files(Machine far, String below) throws Exception {
        Map<String, String> files = new TreeMap<>();
        far.files().forEach((path, content) -> {
            if (path.startsWith(below + "/")) {
                files.put(path.substring(below.length() + 1), content);
            }
        });
        return files;
    }

    private static void holds(JsonNode run, long loaded) {
        assertThat(run.path("state").asText()).as(run.toPrettyString()).isEqualTo("finished");
        assertThat(run.path("holds").asBoolean()).isTrue();
        assertThat(run.path("rows").path("loaded").asLong()).isEqualTo(loaded);
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void rowsAreExportedThere(String kind) throws Exception {
        Machine far = machine(kind);
        String job = "export-" + kind;
        far.put("export/in/a.csv", HEADER + "a,2026-01-01,1\nb,2026-01-02,2\n");
        job(job, far.address("export/in"), "");
        service.run(job);
        String to = far.address("export/out/deep/rows.csv");
        Result sent = service.client("export", job, "--to", to, "--columns", "id,value", "--where", "value > 1");
        assertThat(sent.out()).as(sent.err()).contains(to + "  1 row, ");
        assertThat(files(far, "export/out")).isEqualTo(Map.of("deep/rows.csv", "id,value\r\nb,2\r\n"));
        assertThat(service.client("export", job, "--to", to).err()).contains("is there already");
        assertThat(service.client("export", job, "--to", to, "--overwrite").out())
                .contains("2 rows");
        assertThat(files(far, "export/out").get("deep/rows.csv")).contains("a,");
        assertThat(service.client("export", job, "--to", "sftp://nobody/rows.csv")
                        .err())
                .contains("There is no account 'nobody'");
        assertThat(service.client("export", job, "--to", far.address("export/{id}.csv"))
                        .err())
                .contains("lies on this machine");
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void filesElsewhereAreFoundLoadedAndTakenAwayLikeThoseHere(String kind) throws Exception {
        Machine far = machine(kind);
        String job = "take-" + kind;
        far.put("take/in/a.csv", HEADER + "a,2026-01-01,1\na2,2026-01-02,2\n");
        far.put("take/in/b ü+%20#.csv", HEADER + "b,2026-01-01,x\nb2,2026-01-01,3\n");
        far.put("take/in/sub/c.csv", "what is this\n");
        far.put("take/in/sub/deeper/d.csv", HEADER + "d,2026-01-01,1\n");
        far.put("take/in/note.txt", "not for us\n");
        job(
                job,
                far.address("take/in"),
                "after: {loaded: {move: \"" + far.address("take/done") + "\"}, rejected: {move: \""
                        + far.address("take/bad/{run:yyyy}") + "\"}}\n");
        assertThat(service.client("find", job).out())
                .contains("a.csv", "b ü+%20#.csv", "sub/c.csv", "takes 3 files")
                .doesNotContain("deeper");
        assertThat(service.client("peek", job, "a.csv").out()).contains("a2,2026-01-02,2");
        assertThat(service.client("draft", far.address("take/in/a.csv")).out()).contains("value", "integer");
        assertThat(service.client("check", job).out())
                .contains("2 files would be moved to " + far.address("take/done"));
        JsonNode first = service.run(job);
        holds(first, 3);
        String bad = "bad/" + LocalDate.now(ZoneOffset.UTC).getYear() + "/c.csv";
        assertThat(files(far, "take"))
                .containsOnlyKeys(
                        "done/a.csv",
                        "done/b ü+%20#.csv",
                        bad,
                        bad + ".reasons.csv",
                        "in/sub/deeper/d.csv",
                        "in/note.txt");
        assertThat(files(far, "take").get(bad + ".reasons.csv")).contains("column-missing");
        assertThat(service.client("rejects", job).out()).contains("b ü+%20#.csv:2");

        far.put("take/in/a.csv", HEADER + "a,2026-01-01,1\n");
        holds(service.run(job), 1);
        assertThat(files(far, "take")).containsKeys("done/a.csv", "done/a-2.csv");
        assertThat(rows(job))
                .as("the name comes again when it has been taken away")
                .isEqualTo(4);
        assertThat(service.client("undo", first.path("run").asText()).status()).isZero();
        assertThat(rows(job)).isEqualTo(1);
        assertThat(service.client("retry", job).status()).isLessThan(3);
        assertThat(service.problems()).isEmpty();
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void whatIsUnchangedIsNotFetchedAndWhatIsChangedReplacesItsRows(String kind) throws Exception {
        Machine far = machine(kind);
        String job = "again-" + kind;
        far.put("again/in/a.csv", HEADER + "a,2026-01-01,1\n");
        far.put("again/in/b.csv", HEADER + "b,2026-01-01,1\n");
        job(job, far.address("again/in"), "");
        Workspaces.write(
                workspace,
                "datasets/" + job + ".yaml",
                Workspaces.DATASET.replace("samples", job) + "deliver:\n  - {name: out, to: \""
                        + far.address("again/out/{id}.csv") + "\"}\n");
        holds(service.run(job), 2);
        assertThat(service.client("deliver", job, "out").status()).isZero();
        assertThat(files(far, "again/out")).containsOnlyKeys("a.csv", "b.csv");
        Thread.sleep(2100); // times there are whole seconds
        JsonNode again = service.run(job);
        holds(again, 0);
        assertThat(again.path("files").path("unchanged").asInt()).isEqualTo(2);

        far.put("again/in/a.csv", HEADER + "a,2026-01-01,7\n");
        far.delete("again/in/b.csv");
        JsonNode changed = service.run(job);
        holds(changed, 1);
        assertThat(changed.path("files").path("replaced").asInt()).isEqualTo(1);
        assertThat(rows(job)).as("what is gone there stays here").isEqualTo(2);
        assertThat(service.client("deliver", job, "out").status()).isZero();
        assertThat(files(far, "again/out").get("a.csv")).contains(",7");
        assertThat(service.client("deliver", job, "out").out()).contains("0 files written, 2 unchanged");
        assertThat(service.client("export", job, "--to", far.address("again/out/{id}.csv"))
                        .err())
                .contains("by a delivery");
        far.put("again/out/a.csv", "somebody else's\n");
        Result spared = service.client("deliver", job, "out");
        assertThat(spared.out() + spared.err()).contains("no longer as the delivery wrote");
        assertThat(files(far, "again/out").get("a.csv")).isEqualTo("somebody else's\n");
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void aConnectionThatBreaksIsMadeAgainAndNothingIsRejectedForIt(String kind) throws Exception {
        Machine far = machine(kind);
        String job = "cut-" + kind;
        StringBuilder large = new StringBuilder(HEADER);
        for (int i = 0; i < 200_000; i++) {
            large.append("row ").append(i).append(",2026-01-01,").append(i).append('\n');
        }
        far.put("cut/in/large.csv", large.toString());
        far.put("cut/in/small.csv", HEADER + "s,2026-01-01,1\n");
        job(
                job,
                far.address("cut/in"),
                "after: {loaded: delete, rejected: {move: \"" + far.address("cut/bad") + "\"}}\n");
        far.wire().down(true);
        assertThat(failure(job)).contains("cannot be reached");
        Result find = service.client("find", job);
        assertThat(find.out() + find.err()).contains("cannot be reached");
        far.wire().down(false);

        far.wire().cut(2, 1_500_000);
        holds(service.run(job), 200_001);
        assertThat(far.wire().left()).as("it was cut twice").isZero();
        assertThat(files(far, "cut")).isEmpty();

        far.put("cut/in/large.csv", large + "one more,2026-01-01,1\n");
        far.wire().stall(1, 2_000_000);
        holds(service.run(job), 200_001);
        assertThat(far.wire().left()).isZero();

        far.put("cut/in/large.csv", large + "two more,2026-01-01,1\n");
        far.wire().cut(1000, 500_000);
        assertThat(failure(job)).contains("the next run takes large.csv and the rest");
        assertThat(files(far, "cut")).as("nothing is taken away for that").containsOnlyKeys("in/large.csv");
        assertThat(service.get("/rejects?job=" + job)).isEmpty();
        far.wire().cut(0, 0);
        holds(service.run(job), 200_001);
        assertThat(rows(job)).isEqualTo(3 * 200_001L);
        try (Stream<Path> copies = Files.list(workspace.resolve("store/elsewhere"))) {
            assertThat(copies.mapToLong(copy -> copy.toFile().length()).sum()).isLessThan(50_000_000);
        }
    }

    @Test
    void onlyTheServerThatIsKnownIsSpokenWith() throws Exception {
        ssh.put("known/a.csv", HEADER + "a,2026-01-01,1\n");
        job("known", "sftp://lab/known", "");
        try {
            accounts(ssh.accountWith("key", ", connections: 1"));
            ssh.knownAs("other");
            assertThat(failure("known")).contains("shows another key", "nothing was sent");
            Files.writeString(ssh.known(), "# none\n");
            assertThat(failure("known")).contains("is not in", "SHA256:", "ssh-keyscan");
            Files.delete(ssh.known());
            assertThat(failure("known")).contains("is not in");
            accounts(ssh.accountWith("key", ", unknown_host: add"));
            holds(service.run("known"), 1);
            assertThat(ssh.known()).content().contains("ssh-");
            ssh.knownAs("other");
            accounts(ssh.accountWith("key", ", unknown_host: add, connections: 2"));
            assertThat(failure("known")).contains("shows another key");
            ssh.knownAs("host");
            accounts(ssh.accountWith("stranger", ""));
            assertThat(failure("known")).contains("does not let", "key_file");
            accounts(ssh.accountWith("nothing", ""));
            assertThat(failure("known")).contains("does not exist");
            accounts(ssh.accountWith("key", ", port: 22"));
            assertThat(failure("known")).contains("accounts.yaml:3").contains("twice");
            accounts(objects.account());
            assertThat(failure("known")).contains("no account 'lab'", "archive");
        } finally {
            ssh.knownAs("host");
            accounts(ssh.account() + objects.account());
        }
    }

    @Test
    void linksAreFollowedToFilesOnly() throws Exception {
        ssh.put("links/a.csv", HEADER + "a,2026-01-01,1\n");
        ssh.put("elsewhere/b.csv", HEADER + "b,2026-01-01,1\n");
        ssh.link("links/linked.csv", "../elsewhere/b.csv");
        ssh.link("links/folder.csv", "../elsewhere");
        ssh.link("links/nowhere.csv", "nothing");
        ssh.link("links/round", ".");
        job("links", "sftp://lab/links", "");
        Result found = service.client("find", "links", "--skipped");
        assertThat(found.out()).contains("takes 2 files").contains("a link to a folder or to nowhere");
        holds(service.run("links"), 2);

        job("links", "sftp://lab/links", "after: {loaded: {move: \"sftp://lab/links-done\"}}\n");
        service.run("/jobs/links/runs", "{\"again\": true}");
        assertThat(files(ssh, "links-done")).containsOnlyKeys("a.csv", "linked.csv");
        assertThat(files(ssh, "elsewhere"))
                .as("a link goes, what it leads to stays")
                .containsOnlyKeys("b.csv");
    }

    @Test
    void keysThatDoNotHoldAndStoresThatAreTiredAreTold() throws Exception {
        objects.put("keys/in/a.csv", HEADER + "a,2026-01-01,1\n");
        job("keys", "s3://archive/river/keys/in", "");
        try {
            accounts(objects.accountWith("nobody"));
            assertThat(failure("keys")).contains("does not accept the keys of the account 'archive'");
        } finally {
            accounts(ssh.account() + objects.account());
        }
        objects.wire().answer("503 Slow Down");
        assertThat(failure("keys")).contains("cannot do it now", "503");
        objects.wire().answer(null);
        holds(service.run("keys"), 1);
        job("keys", "s3://archive/river/kyes", "");
        Result empty = service.client("find", "keys");
        assertThat(empty.out() + empty.err()).contains("nothing lies below s3://archive/river/kyes");
        job("keys", "s3://archive/rivver/keys", "");
        assertThat(service.client("run", "keys").err()).contains("s3://archive/rivver/keys does not exist");
        job("keys", "sftp://archive/keys", "");
        assertThat(failure("keys")).contains("leads to S3");
        job("keys", "http://archive/keys", "");
        assertThat(service.client("run", "keys").err()).contains("sftp://ACCOUNT/PATH");
    }

    private static String failure(String job) throws Exception {
        Result run = service.client("run", job);
        assertThat(run.status()).as(run.out() + run.err()).isEqualTo(3);
        return run.out() + run.err();
    }

    @Test
    void whatFailedForAFaultThatMayPassIsTriedAgainByItself() throws Exception {
        ssh.put("tired/in/a.csv", HEADER + "a,2026-01-01,1\n".repeat(20_000));
        job("tired", "sftp://lab/tired/in", "faults: {tries: 4, pause: 1s to 2s}\n");
        ssh.wire().cut(1000, 50_000);
        JsonNode first = service.run("tired");
        assertThat(first.path("state").asText()).isEqualTo("failed");
        assertThat(first.has("againAt")).isTrue();
        assertThat(service.client("runs", first.path("run").asText()).out())
                .contains("tried again by itself at", "attempt 1");
        JsonNode second = await("tired", run -> run.path("attempt").asInt() == 2 && run.has("endedAt"));
        assertThat(second.path("state").asText()).isEqualTo("failed");
        assertThat(second.path("start").path("by").asText()).isEqualTo("fault");
        assertThat(second.path("start").path("run")).isEqualTo(first.path("run"));
        ssh.wire().down(true); // now not even the folder can be searched
        JsonNode third = await("tired", run -> run.path("attempt").asInt() == 3);
        assertThat(third.path("failure").asText()).contains("could not begin").contains("sftp://lab/tired/in");
        service.kill(); // the next attempt is not forgotten
        ssh.wire().cut(0, 0);
        ssh.wire().down(false);
        service.startAgain();
        JsonNode last = await("tired", run -> run.path("state").asText().equals("finished"));
        assertThat(last.path("attempt").asInt()).isBetween(3, 4); // what was seen a moment before the kill may be lost
        holds(last, 20_000);
        assertThat(last.has("againAt")).isFalse();
        assertThat(service.client("runs", last.path("run").asText()).out()).contains("tried again, after run");
        assertThat(rows("tired")).isEqualTo(20_000);
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void aRunThatIsCancelledFetchesNoFileToItsEnd(String kind) throws Exception {
        Machine far = machine(kind);
        String name = "long-" + kind;
        far.put(name + "/a.csv", HEADER + "a,2026-01-01,1\n".repeat(2_000_000)); // half a minute
        job(name, far.address(name), "");
        far.wire().slow(true);
        try {
            long run = service.post("/jobs/" + name + "/runs").path("run").asLong();
            Path copies = workspace.resolve("store/elsewhere");
            while (!Files.isDirectory(copies) || size(copies) == 0) {
                Thread.sleep(20);
            }
            service.post("/runs/" + run + "/cancel");
            JsonNode ended = service.await(run);
            assertThat(ended.path("state").asText()).as(ended.toPrettyString()).isEqualTo("cancelled");
            assertThat(ended.path("files").path("rejected").asLong())
                    .as(ended.toPrettyString())
                    .isZero();
            assertThat(size(copies)).isLessThan(20_000_000);
        } finally {
            far.wire().slow(false);
        }
        holds(service.run(name), 2_000_000);
    }

    private static long size(Path folder) throws IOException {
        try (Stream<Path> all = Files.list(folder)) {
            return all.mapToLong(file -> file.toFile().length()).sum();
        }
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void aListOfNamesMayLieThere(String kind) throws Exception {
        Machine far = machine(kind);
        String name = "listed-" + kind;
        far.put(name + "/in/a.csv", HEADER + "a,2026-01-01,1\n");
        far.put(name + "/in/b.csv", HEADER + "b,2026-01-01,1\n");
        far.put(name + "/names.txt", "a.csv\nc.csv\n");
        Workspaces.write(workspace, "datasets/" + name + ".yaml", Workspaces.DATASET.replace("samples", name));
        String folder = far.address(name + "/in");
        Workspaces.write(
                workspace,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: " + name + "\nfind: [{folder: \"" + folder + "\", settle: 0s, list: {file: \""
                        + far.address(name + "/names.txt") + "\", missing: report}}]\n");
        holds(service.run(name), 1);
        assertThat(service.client("find", name).out())
                .contains("a.csv", "c.csv")
                .doesNotContain("b.csv");
        far.put(name + "/names.txt", "a.csv\nb.csv\n");
        holds(service.run(name), 1);
        assertThat(rows(name)).isEqualTo(2);
    }

    @ParameterizedTest
    @ValueSource(strings = {"sftp", "s3"})
    void aFileThatChangesTwiceInASecondIsReadTwice(String kind) throws Exception {
        Machine far = machine(kind);
        String job = "hasty-" + kind;
        job(job, far.address(job), "");
        for (int value = 1; value <= 4; value++) { // of the same size, and often of the same second
            far.put(job + "/a.csv", HEADER + "a,2026-01-01," + value + "\n");
            holds(service.run(job), 1);
        }
        assertThat(service.client("rows", job).out()).contains("1 row", "2026-01-01      4");
    }

    @Test
    void eachPlaceIsLookedAtInItsOwnPace() throws Exception {
        String when = "when: {arrival: true, look: 1s}\n";
        objects.put("paced/a.csv", HEADER + "a,2026-01-01,1\n");
        ssh.put("paced/a.csv", HEADER + "b,2026-01-01,1\n");
        Workspaces.write(workspace, "datasets/paced.yaml", Workspaces.DATASET.replace("samples", "paced"));
        Workspaces.write(
                workspace,
                "jobs/paced.yaml",
                "job: paced\ninto: paced\nfind:\n"
                        + "  - {folder: \"s3://archive/river/paced\", settle: 0s, take: [\"*.csv\"], look: 1h}\n"
                        + "  - {folder: \"sftp://lab/paced\", settle: 0s, take: [\"*.csv\"]}\n"
                        + "  - {folder: paced, settle: 0s, take: [\"*.csv\"], look: 1h}\n"
                        + when);
        Workspaces.write(workspace, "paced/here.csv", HEADER + "c,2026-01-01,1\n");
        await("paced", run -> run.path("rows").path("loaded").asLong() == 3);

        objects.put("paced/b.csv", HEADER + "d,2026-01-01,1\n");
        Thread.sleep(2500); // two looks of the job, and none of this place
        assertThat(rows("paced"))
                .as("the place with a pace of its own is not looked at")
                .isEqualTo(3);
        ssh.put("paced/b.csv", HEADER + "e,2026-01-01,1\n");
        await("paced", run -> run.path("rows").path("loaded").asLong() == 2);
        assertThat(rows("paced")).as("a run takes what lies anywhere").isEqualTo(5);
        Workspaces.write(workspace, "paced/there.csv", HEADER + "f,2026-01-01,1\n");
        await("paced", run -> run.path("rows").path("loaded").asLong() == 1);
        assertThat(rows("paced")).as("here the file system tells").isEqualTo(6);
        Files.delete(workspace.resolve("jobs/paced.yaml"));
    }

    /** The latest run of a job, once it is as wanted. */
    private static JsonNode await(String job, Predicate<JsonNode> wanted) throws Exception {
        for (int i = 0; i < 600; i++) {
            JsonNode latest = service.get("/runs?job=" + job + "&limit=1").path(0);
            if (wanted.test(latest)) {
                return latest;
            }
            Thread.sleep(50);
        }
        throw new AssertionError("It does not come: " + service.get("/runs?job=" + job));
    }

    @Test
    void filesGoFromHereToThereAndBack() throws Exception {
        ssh.put("back/in/a.csv", HEADER + "a,2026-01-01,1\n");
        job("back", "sftp://lab/back/in", "after: {loaded: {move: here}}\n");
        holds(service.run("back"), 1);
        assertThat(workspace.resolve("here/a.csv")).hasContent(HEADER + "a,2026-01-01,1");

        accounts(ssh.accountWith("key", ", connections: 1") + objects.account());
        ssh.put("copies/in/a.csv", HEADER + "a,2026-01-01,1\n");
        ssh.put("copies/in/b.csv", HEADER + "b,2026-01-01,1\n");
        job("copies", "sftp://lab/copies/in", "after: {loaded: {copy: \"sftp://lab/copies/kept\"}}\n");
        holds(service.run("copies"), 2);
        assertThat(files(ssh, "copies")).containsOnlyKeys("in/a.csv", "in/b.csv", "kept/a.csv", "kept/b.csv");
        accounts(ssh.account() + objects.account());

        job(
                "there",
                "in",
                "after: {loaded: {move: \"sftp://lab/back/there\"}, rejected: {copy: \"s3://archive/river/bad\"}}\n");
        Workspaces.write(workspace, "in/b.csv", HEADER + "b,2026-01-01,1\n");
        Workspaces.write(workspace, "in/c.csv", "what\n");
        holds(service.run("there"), 1);
        assertThat(workspace.resolve("in/b.csv")).doesNotExist();
        assertThat(workspace.resolve("in/c.csv")).exists();
        assertThat(files(ssh, "back/there")).isEqualTo(Map.of("b.csv", HEADER + "b,2026-01-01,1\n"));
        assertThat(files(objects, "bad")).containsOnlyKeys("c.csv", "c.csv.reasons.csv");
    }
}
