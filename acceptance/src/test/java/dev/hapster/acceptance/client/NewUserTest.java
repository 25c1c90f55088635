package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.http.Api;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.assertj.core.api.SoftAssertions;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.io.TempDir;

/**
 * Somebody who knows only the help works with folders full of traps: what is printed first and the exit status say what
 * is so, and whatever is suggested works.
 */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class NewUserTest {

    @TempDir
    private static Path workspace;

    private static TestService service;

    /** Everything that was printed, by the command that printed it. */
    private static final List<String[]> PRINTED = new ArrayList<>();

    @BeforeAll
    static void start() throws Exception {
        Workspaces.write(
                workspace,
                "datasets/orders.yaml",
                "dataset: orders\ncolumns:\n  - {name: id, type: text, required: true}\n"
                        + "  - {name: amount, type: \"decimal(8,2)\"}\n  - {name: day, type: date}\n"
                        + "  - {name: code, type: integer}\n");
        job("twins", "folder: twins, depth: 1, take: \"*.csv\"", "");
        Workspaces.write(workspace, "twins/north/x.csv", "id,amount,day\nn1,1,2026-01-01\nn2,bad,2026-01-01\n");
        Workspaces.write(workspace, "twins/south/x.csv", "id,amount,day\ns1,1,2026-01-01\n");
        job("mixed", "folder: mixed, take: \"*.csv\"", "read: {extra_columns: []}\n");
        Workspaces.write(workspace, "mixed/a.csv", "id,amount,day,code\na1,1.50,2026-01-01,7\na2,2,Jan 05 2026,12-5\n");
        Workspaces.write(workspace, "mixed/b.csv", "id;amount;day\nb1;1;2026-01-01\n");
        Workspaces.write(workspace, "mixed/c.csv", "id,amount,day,\"note, #: \"\"x\"\"\"\nc1,1,2026-01-01,n\n");
        job("nothing", "folder: nothing, take: \"*.csv\"", "");
        Files.createDirectories(workspace.resolve("nothing"));
        Workspaces.write(workspace, "nothing/readme.txt", "not a table");
        job("limited", "folder: limited, take: \"*.csv\"", "rejects: {run_at: 1}\n");
        Workspaces.write(workspace, "limited/a.csv", "what,is\nthis,?\n");
        job("typo", "folder: typo, tkae: \"*.csv\"", "");
        Files.createDirectories(workspace.resolve("typo"));
        job("lines", "folder: lines, take: \"*.json\"", "read: {as: json}\n");
        Workspaces.write(workspace, "lines/a.json", "[{\"id\":\"j1\",\"amount\":1},{\"id\":\"j2\",\"amount\":\"x\"}]");
        service = TestService.start(workspace);
    }

    private static void job(String name, String place, String rest) throws Exception {
        Workspaces.write(
                workspace,
                "jobs/" + name + ".yaml",
                "job: " + name + "\ninto: orders\nfind: [{" + place + ", settle: 0s}]\n" + rest);
    }

    @AfterAll
    static void stop() {
        service.close();
    }

    /** A task: what is typed, how it ends, and with which words the answer begins. */
    private record Task(String command, int status, String begins) {}

    private static final List<Task> TASKS = List.of(
            new Task("jbos", 2, "There is no command 'jbos'"),
            new Task("check typo", 3, "  ! jobs/typo.yaml:3:23  unknown key 'tkae'"),
            new Task("run typo", 3, "The definition cannot be used, 2 mistakes:"),
            new Task("run twinz", 2, "There is no job 'twinz'. Did you mean 'twins'?"),
            new Task("run twins --set month=3", 2, "The job twins uses no value 'month'"),
            new Task("find nothing", 1, "nothing: no files found"),
            new Task("run nothing", 1, "nothing → orders"),
            new Task("check mixed", 1, "  ! b.csv  looks separated by \";\"; the job declares \",\""),
            new Task("fit mixed", 1, "structure 1  1 file: fits  (1 of the 2 rows looked at would be rejected)"),
            new Task("try limited", 3, "limited → orders"),
            new Task("run limited", 3, "limited → orders"),
            new Task("rejects 2", 1, "  1  file  column-missing  a.csv"),
            new Task("run twins", 1, "twins → orders"),
            new Task("trace 3 x.csv:3", 1, "north/x.csv:3"),
            new Task("peek twins x.csv", 2, "'x.csv' is the name of 2 files: twins/north/x.csv, twins/south/x.csv"),
            new Task(
                    "remove orders --file x.csv --yes",
                    2,
                    "'x.csv' is the name of 2 files: twins/north/x.csv, twins/south/x.csv"),
            new Task("run mixed", 1, "mixed → orders"),
            new Task("mend 4 separator-differs", 0, "1  also reads files that are separated by ';'"),
            new Task("mend 4 number-unreadable", 0, "1  keeps the codes as they are: the column becomes text"),
            new Task("mend 4 date-unreadable", 0, "1  also reads dates written as MMM d yyyy"),
            new Task("run lines", 1, "lines → orders"),
            new Task("trace 5 a.json:2", 1, "a.json:2"),
            new Task("rejects --explain nosuch", 2, "There is no reason 'nosuch'"),
            new Task("rows orders --columns id,nosuch", 2, "There is no column 'nosuch'"),
            new Task("export orders --to out.xyz", 2, "The ending of out.xyz says nothing of a format"),
            new Task("undo 99", 2, "There is no run 99"));

    @Test
    @Order(1)
    void whatIsPrintedFirstAndTheExitStatusSayWhatIsSo() {
        SoftAssertions all = new SoftAssertions();
        for (Task task : TASKS) {
            Result result = service.client(task.command.split(" "));
            String text = result.err()
                    .lines()
                    .filter(line -> !line.endsWith(" …"))
                    .findFirst()
                    .orElse("");
            String first = result.out().isEmpty()
                    ? text
                    : result.out().lines().findFirst().orElse("");
            all.assertThat(result.status() + " " + first).as(task.command).startsWith(task.status + " " + task.begins);
            PRINTED.add(new String[] {task.command, result.out() + "\n" + result.err()});
        }
        all.assertAll();
    }

    private static final Pattern COMMAND = Pattern.compile(
            "(?m)hapster ([a-z][^\\n()`]*?)(?=$|\\)|`|,|;|\\.(?:\\s|$)|  | (?:shows|lists|says|loads|ends|replaces) )");

    @Test
    @Order(2)
    void everyCommandThatIsSuggestedRunsAndIsNotTheOneJustGiven() throws Exception {
        Set<String> suggested = new LinkedHashSet<>();
        for (String[] printed : PRINTED) {
            // what is wrapped is one line again
            Matcher command = COMMAND.matcher(printed[1].replaceAll("\\n +(?=[a-z])", " "));
            while (command.find()) {
                String text = command.group(1).strip();
                if (!text.contains("JOB") && !text.contains("FOLDER") && !text.contains("--help")) {
                    assertThat(text).as("suggested by " + printed[0]).isNotEqualTo(printed[0]);
                    suggested.add(text);
                }
            }
        }
        assertThat(suggested).hasSizeGreaterThan(8);
        for (String text : suggested) {
            Result result = service.client(words(text));
            assertThat(result.status())
                    .as("hapster " + text + "\n" + result.out() + result.err())
                    .isBetween(0, 1);
        }
    }

    private static String[] words(String text) {
        return Pattern.compile("\"([^\"]*)\"|(\\S+)")
                .matcher(text)
                .results()
                .map(word -> word.group(1) != null ? word.group(1) : word.group(2))
                .toArray(String[]::new);
    }

    @Test
    @Order(3)
    void everyLineOfYamlThatIsSuggestedIsAccepted() throws Exception {
        Pattern line = Pattern.compile("`([^`]+)` in `(read|map)`");
        int tried = 0;
        for (String job : List.of("mixed", "limited")) {
            for (JsonNode group : service.get("/jobs/" + job + "/fit").path("groups")) {
                for (JsonNode change : group.path("changes")) {
                    Matcher yaml = line.matcher(change.asText());
                    if (yaml.find()) {
                        JsonNode before = service.get("/jobs/" + job);
                        String text = before.path("text").asText().replaceAll("(?m)^" + yaml.group(2) + ":.*\\n", "")
                                + yaml.group(2) + ": {" + yaml.group(1) + "}\n";
                        JsonNode saved = service.api()
                                .put(
                                        "/jobs/" + job,
                                        Api.JSON
                                                .createObjectNode()
                                                .put("text", text)
                                                .put(
                                                        "version",
                                                        before.path("version").asText()));
                        assertThat(saved.path("problems")).as(change.asText()).isEmpty();
                        tried++;
                    }
                }
            }
        }
        assertThat(tried).isGreaterThanOrEqualTo(3);
    }
}
