package dev.hapster.core.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowableOfType;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.RunListener;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Somebody may write in the folders of a job who ought not to read, change or delete anything else. */
class HostileFoldersTest {

    @TempDir
    private Path folder;

    private CoreWorkspace workspace;
    private Path outside;

    @BeforeEach
    void open() throws IOException {
        outside = Files.createDirectories(folder.resolve("outside"));
        workspace = new CoreWorkspace(folder.resolve("ws"));
    }

    @AfterEach
    void close() {
        workspace.close();
    }

    private Path at(String path) {
        return workspace.folder.resolve(path);
    }

    private static List<String> names(Path folder) throws IOException {
        try (Stream<Path> all = Files.list(folder)) {
            return all.map(path -> path.getFileName().toString()).sorted().toList();
        }
    }

    /** What is left to be done with files, and why. */
    private List<String> left() {
        return workspace.runner.finishRoutes(null);
    }

    @Test
    void aFileWhereTheTargetsFolderOughtToBeIsSaidAndLeftForTheNextRun() throws Exception {
        workspace.job("after: {loaded: {move: done}}\n");
        workspace.file("a.csv", "a=1");
        workspace.write("done", "not a folder");

        workspace.run();
        workspace.open(); // as a service that starts again
        assertThat(left())
                .containsExactly(at("in/a.csv") + " could not be moved to " + at("done/a.csv") + ": " + at("done")
                        + " is a file, and a folder is wanted there. It is tried again with the next run");
        Files.delete(at("done"));
        assertThat(left()).isEmpty();
        assertThat(at("done/a.csv")).exists();
        assertThat(names(at("in"))).isEmpty();
    }

    @Test
    void linksThatArePlantedWhereFilesAreWrittenAreNeverFollowed() throws Exception {
        Path victim = Files.writeString(outside.resolve("victim"), "precious");
        workspace.job("after: {rejected: {move: bad}, loaded: {copy: good}}\n");
        workspace.file("a.csv", "a=1");
        workspace.raw("b.csv", "id\nb\n");
        for (String name : List.of(
                "bad/.b.csv.reasons.csv.tmp",
                "bad/b.csv.reasons.csv",
                "bad/.b.csv.hapster-1-2",
                "good/.a.csv.hapster-1-1",
                "good/a.csv")) {
            Files.createDirectories(at(name).getParent());
            Files.createSymbolicLink(at(name), victim);
        }
        workspace.run();

        assertThat(victim).hasContent("precious");
        assertThat(left()).isEmpty();
        assertThat(names(at("in"))).containsExactly("a.csv");
        assertThat(names(at("bad")))
                .containsExactly(
                        ".b.csv.hapster-1-2",
                        ".b.csv.reasons.csv.tmp",
                        "b-2.csv.reasons.csv",
                        "b.csv",
                        "b.csv.reasons.csv");
        assertThat(at("bad/b-2.csv.reasons.csv")).content().contains("column-missing");
        assertThat(at("good/a-2.csv")).content().contains("a,1");
    }

    @Test
    void aFolderThatBecomesALinkIsNotWrittenThrough() throws Exception {
        workspace.job("after: {loaded: {move: done}}\n");
        workspace.file("a.csv", "a=1");
        Files.createSymbolicLink(at("done"), outside);

        workspace.run();
        assertThat(left()).singleElement().asString().contains("lies outside the folders that the service may use");
        assertThat(names(outside)).isEmpty();
        assertThat(at("in/a.csv")).exists();
    }

    @Test
    void whatBecomesALinkOnceItIsFoundIsNotRead() throws Exception {
        workspace.job("");
        workspace.write("in/sub/b.csv", "id,value,op\nb,2,\n");
        workspace.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, depth: 3, settle: 0s, take: \"*.csv\"}]\n");
        workspace.file("a.csv", "a=1");
        PreparedJob prepared = workspace.runner.prepare("north", Map.of());
        for (String name : List.of("a.csv", "sub/b.csv")) { // of the same size and time, as somebody can make them
            Path twin = outside.resolve(name);
            Files.createDirectories(twin.getParent());
            Files.writeString(
                    twin,
                    Files.readString(at("in/" + name)).replace("a,1", "s,9").replace("b,2", "s,8"));
            FileTime time = Files.getLastModifiedTime(at("in/" + name));
            Files.setLastModifiedTime(twin, time);
        }
        Files.delete(at("in/a.csv"));
        Files.createSymbolicLink(at("in/a.csv"), outside.resolve("a.csv"));
        Files.delete(at("in/sub/b.csv"));
        Files.delete(at("in/sub"));
        Files.createSymbolicLink(at("in/sub"), outside.resolve("sub"));

        RunResult run =
                workspace.runner.run(prepared, workspace.number(), RunRequest.NOTHING, RunListener.NONE, () -> false);
        assertThat(run.files()).extracting(HostileFoldersTest::reason).allSatisfy(reason -> assertThat(reason)
                .contains("outside the folders that the service may use"));
        assertThat(workspace.rows()).isEmpty();
    }

    private static String reason(FileResult file) {
        return file.reason().orElseThrow().sentence();
    }

    @Test
    void aLinkIsNotMovedButWhatItLeadsToArrives() throws Exception {
        workspace.job("after: {loaded: {move: done}}\n");
        workspace.write("kept/a.txt", "id,value,op\na,1,\n");
        Files.createSymbolicLink(at("in/a.csv"), Path.of("../kept/a.txt"));
        workspace.run();

        assertThat(at("done/a.csv")).isRegularFile().content().contains("a,1");
        assertThat(Files.isSymbolicLink(at("done/a.csv"))).isFalse();
        assertThat(at("kept/a.txt")).exists();
        assertThat(names(at("in"))).isEmpty();
    }

    @Test
    void longNamesKeepTheirEndingAndGetTheirReasons() throws Exception {
        workspace.job("after: {rejected: {move: \"bad/{run}\", as: \"{job}{job}-{name}\"}, loaded: {move: good}}\n");
        String good = "g".repeat(245) + ".csv";
        String bad = "ü".repeat(122) + ".csv";
        workspace.file(good, "a=1");
        workspace.raw(bad, "id\nb\n");
        workspace.run();

        assertThat(left()).isEmpty();
        assertThat(names(at("good"))).containsExactly(good);
        assertThat(names(at("bad/" + workspace.last())))
                .hasSize(2)
                .allMatch(name -> name.matches("northnorth-ü+~[0-9a-f]{8}(\\.csv|.*\\.reasons\\.csv)"));
    }

    @Test
    void aDefinitionIsAnOrdinaryFileOfItsFolder() throws Exception {
        Path secret = Files.writeString(outside.resolve("secret.yaml"), "password: geheim\n");
        Files.createDirectories(at("jobs/..data"));
        workspace.write("jobs/..data/mounted.yaml", "job: mounted\n");
        Files.createSymbolicLink(at("jobs/mounted.yaml"), Path.of("..data/mounted.yaml"));
        Files.createSymbolicLink(at("jobs/foreign.yaml"), secret);
        Files.createSymbolicLink(at("jobs/zero.yaml"), Path.of("/dev/zero"));
        Files.createSymbolicLink(at("jobs/nowhere.yaml"), Path.of("nowhere"));
        Files.createDirectories(at("jobs/folder.yaml"));
        new ProcessBuilder("mkfifo", at("jobs/pipe.yaml").toString()).start().waitFor();
        Workspace definitions = new Workspace(workspace.folder);

        assertThat(definitions.jobText("mounted")).isEqualTo("job: mounted\n");
        Map.of(
                        "foreign", "the file is a link that leads out of its folder, to " + secret,
                        "zero", "the file is a link that leads out of its folder, to /dev/zero",
                        "nowhere", "the file is gone, or is a link that leads nowhere",
                        "folder", "it is not an ordinary file",
                        "pipe", "it is not an ordinary file")
                .forEach((name, what) -> assertThat(
                                catchThrowableOfType(DefinitionException.class, () -> definitions.job(name))
                                        .problems()
                                        .get(0)
                                        .what())
                        .isEqualTo(what));
    }

    @Test
    void definitionsAndValuesThatWouldTakeForEverAreMistakes() throws Exception {
        Workspace definitions = new Workspace(workspace.folder);
        workspace.write("jobs/deep.yaml", "job: deep\nfind: " + "[".repeat(20_000));
        workspace.write("jobs/own.yaml", "job: own\ninto: north\nfind: &x [*x]\n");
        assertThatThrownBy(() -> definitions.job("deep")).hasMessageContaining("nested more than 50 levels deep");
        assertThatThrownBy(() -> definitions.job("own")).hasMessageContaining("*x stands inside of what it refers to");

        StringBuilder values = new StringBuilder("v0: \"\"\n");
        for (int i = 1; i <= 30; i++) {
            values.append("v")
                    .append(i)
                    .append(": \"")
                    .append(("${v" + (i - 1) + "}").repeat(10))
                    .append("\"\n");
        }
        workspace.write("values.yaml", values.toString());
        workspace.write("jobs/much.yaml", "job: much\ninto: north\nfind: [{folder: \"in${v30}\", take: \"*.csv\"}]\n");
        assertThat(definitions.job("much").find().get(0).folder()).isEqualTo("in");
    }

    @Test
    void aFileThatTakesTooLongIsRejectedAndAnotherThatNobodyWaitsForIsLeft() throws Exception {
        workspace.job("read: {slow: 1ms}\n");
        workspace.raw("a.csv", "id,value,op\n" + "a,1,\n".repeat(3_000_000));
        assertThat(workspace.run().files())
                .extracting(HostileFoldersTest::reason)
                .containsExactly("takes longer than 1ms to read");

        workspace.job("");
        long begun = System.nanoTime();
        workspace.runner.run(
                workspace.runner.prepare("north", Map.of()),
                workspace.number(),
                RunRequest.NOTHING,
                RunListener.NONE,
                () -> System.nanoTime() - begun > 50_000_000);
        assertThat(workspace.rows()).isEmpty();
        workspace.run();
        assertThat(workspace.catalogue.parts("north")).singleElement().satisfies(part -> assertThat(part.rows())
                .isEqualTo(3_000_000));
    }

    @Test
    void patternsThatBecomeMillionsOfStepsAreMistakesOrFailForTheRow() throws Exception {
        Workspace definitions = new Workspace(workspace.folder);
        workspace.job("keep: 'id.matches(\"(a{1,1000}){1,1000}\")'\n");
        assertThatThrownBy(() -> definitions.job("north")).hasMessageContaining("has more than 10 000 steps");
        workspace.job("keep: 'id.matches(op)'\n");
        workspace.raw("a.csv", "id,value,op\nab,1,^a\nb,2,^a\nc,3,(x{1000}){1000}\nd,4,(\n");
        RunResult run = workspace.run();
        assertThat(workspace.values()).containsExactly("ab=1");
        assertThat(run.files().get(0).groups()).singleElement().satisfies(group -> assertThat(group.rows())
                .isEqualTo(2));
    }

    @Test
    void anElementOfVeryManyAttributesIsRejected() throws Exception {
        workspace.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"*.xml\"}]\nread: {as: xml}\n"
                        + "map: {id: \"@id\", value: \"@value\"}\n");
        StringBuilder xml = new StringBuilder("<all><row id='a' value='1'");
        for (int i = 0; i < 400_000; i++) {
            xml.append(" a").append(i).append("='x'");
        }
        workspace.raw("a.xml", xml.append("/></all>").toString());
        assertThat(workspace.run().files())
                .extracting(HostileFoldersTest::reason)
                .containsExactly("has a tag with more than 20000 attributes; nothing that anybody writes does");
    }

    @Test
    void whatCannotBeKeptAsItIsIsRejected() throws Exception {
        workspace.write(
                "datasets/north.yaml",
                "dataset: north\ncolumns:\n  - {name: id, type: text}\n  - {name: n, type: double}\n"
                        + "  - {name: day, type: date}\n");
        workspace.write(
                "jobs/north.yaml",
                "job: north\ninto: north\nfind: [{folder: in, settle: 0s, take: \"*.jsonl\"}]\n"
                        + "read: {as: json_lines}\nmap: {id: id, n: n, day: day}\n");
        workspace.raw(
                "a.jsonl",
                """
                {"id":"a\\ud800b"}
                {"id":"tiny","n":1e-400}
                {"id":"zero","n":0e-400}
                {"id":"minus","n":-0.0}
                {"id":"huge","n":1e400}
                {"id":"late","day":"10000-01-01"}
                {"id":"pair \\ud83d\\udca7"}
                """);
        RunResult run = workspace.run();
        assertThat(run.files().get(0).groups())
                .extracting(group -> group.code() + " " + group.rows())
                .containsExactlyInAnyOrder(
                        "record-unreadable 1", "number-too-fine 1", "number-too-large 1", "date-unreadable 1");
        assertThat(workspace.catalogue.parts("north")).singleElement().satisfies(part -> assertThat(part.rows())
                .isEqualTo(3));
    }

    /** Names of any bytes that a file system takes. */
    @Test
    void noFileIsLostWhateverItsName() throws Exception {
        workspace.job("after: {loaded: {move: done}, rejected: {move: bad}}\n");
        workspace.write(
                "jobs/north.yaml",
                Files.readString(at("jobs/north.yaml")).replace("take: \"*.csv\"", "take: \"**\", depth: 3"));
        long end = System.nanoTime()
                + Duration.ofSeconds(Long.getLong("hapster.fuzz.seconds", 0)).toNanos();
        Random random = new Random(Long.getLong("hapster.fuzz.seconds", 0) == 0 ? 7 : System.nanoTime());
        long created = 0;
        do {
            StringBuilder script = new StringBuilder();
            for (int i = 0; i < 60; i++) {
                String name = name(random);
                script.append("[ -e $'in/").append(name).append("' ] || printf '%s' $'");
                script.append(random.nextBoolean() ? "id,value,op\\na,1,\\n" : "id\\nb\\n");
                script.append("' > $'in/").append(name).append("'\n");
            }
            bash(script.toString());
            long there = count("in");
            RunResult run = workspace.run();
            assertThat(run.files()).isNotEmpty();
            assertThat(left()).isEmpty();
            created += there;
            long stays = count("in"); // names that are not UTF-8 are shown, and left
            created -= stays;
            assertThat(stays).isLessThan(there);
            assertThat(count("done") + count("bad") - count("bad", "*.reasons.csv"))
                    .as(script.toString())
                    .isEqualTo(created);
            bash("rm -rf in; mkdir in");
        } while (System.nanoTime() < end);
    }

    /**
     * A name as bash reads it between dollar and apostrophes: now and then with a folder, mostly short or very long.
     */
    private static String name(Random random) {
        StringBuilder name = new StringBuilder();
        int length = random.nextInt(5) == 0 ? 200 + random.nextInt(51) : 1 + random.nextInt(12);
        boolean text = random.nextInt(4) > 0;
        for (int bytes = 0; bytes < length; ) {
            String piece = text ? PIECES.get(random.nextInt(PIECES.size())) : byteOf(1 + random.nextInt(255));
            int more = text ? piece.getBytes(StandardCharsets.UTF_8).length : 1;
            if (bytes + more > length) {
                break;
            }
            name.append(piece.equals("'") || piece.equals("\\") ? "\\" + piece : piece);
            bytes += more;
        }
        return (name.isEmpty() || name.toString().matches("[.]{1,2}") ? "x" : name) + (text ? ".csv" : "");
    }

    private static final List<String> PIECES = List.of(
            "a",
            "B",
            "7",
            " ",
            "-",
            "_",
            ".",
            "..",
            "~",
            "'",
            "\"",
            "\\",
            "{",
            "}",
            "*",
            "?",
            "[",
            "$",
            "%",
            "!",
            "#",
            "\n",
            "\t",
            "\u001b",
            "\u007f",
            "\u202e",
            "\u00e4",
            "a\u0308",
            "\ud83d\udca7",
            "hapster",
            ".reasons.csv",
            "C:");

    private static String byteOf(int value) {
        return value == '/' ? "x" : String.format("\\x%02x", value);
    }

    private void bash(String script) throws Exception {
        Path file = Files.writeString(folder.resolve("script"), "set -e\n" + script, StandardCharsets.UTF_8);
        Process bash = new ProcessBuilder("bash", file.toString())
                .directory(workspace.folder.toFile())
                .redirectErrorStream(true)
                .start();
        String said = new String(bash.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(bash.waitFor()).as(said).isZero();
    }

    private long count(String folder, String... names) throws Exception {
        List<String> command = new ArrayList<>(List.of("find", at(folder).toString(), "-type", "f", "-printf", "x"));
        for (String name : names) {
            command.addAll(4, List.of("-name", name));
        }
        Process find = new ProcessBuilder(command).start();
        return find.getInputStream().readAllBytes().length;
    }
}
