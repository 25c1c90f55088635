package dev.hapster.acceptance.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.acceptance.TestService;
import dev.hapster.acceptance.TestService.Result;
import dev.hapster.acceptance.Workspaces;
import dev.hapster.cli.Hapster;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Each command of the client on the demo, against the running service. */
class ClientTest {

    @TempDir
    private static Path folder;

    private static TestService service;

    @BeforeAll
    static void start() throws Exception {
        service = TestService.start(Workspaces.demo(folder));
        assertThat(service.run("east-lab").path("state").asText()).isEqualTo("finished");
    }

    @AfterAll
    static void stop() throws Exception {
        service.close();
    }

    private static void says(int status, String command, String... parts) throws Exception {
        Result result = service.client(command.split(" (?=(?:[^']*'[^']*')*[^']*$)"));
        assertThat(result.out() + result.err()).as(command).contains(parts);
        assertThat(result.status()).as(command).isEqualTo(status);
    }

    @Test
    void eachCommandSaysWhatAnEngineerNeeds() throws Exception {
        says(0, "jobs", "east-lab", "50 rows, 2 files", "never");
        says(
                0,
                "jobs east-lab",
                "Looks into inbox/east and takes \"samples-{month:yyyy-MM}.csv\".",
                "station comes from \"Messstelle\": trimmed, in upper case, \"-\" removed");
        says(
                0,
                "find north-lab --skipped",
                "take \"samples-*.csv\"",
                "skip \"*copy*\"",
                "inbox/north: 7 files",
                "take \"samples-*.csv\"  5  remain",
                "skip \"*copy*\"         4  remain",
                "north-lab takes 4 files and skips 3");
        says(1, "check east-lab", "! samples-2026-05.csv  holds 0 bytes", "of which 2 would be rejected");
        says(
                1,
                "try north-lab",
                "trial, nothing written",
                "450 read  441 loaded   9 rejected",
                "river_samples (as it is) =  1 184 rows in 3 parts");
        says(1, "try east-lab", "unchanged since run 1");
        says(1, "try east-lab --again", "395 read  389 loaded  3 set aside   3 rejected", "replaced");
        says(0, "runs", "run  job", "east-lab", "finished", "holds");
        says(0, "runs 1", "done with rejects");
        says(1, "rejects", "41  rows  date-unreadable", "east-lab");
        says(1, "rejects 1 --explain date-unreadable --limit 1", "30.02.2026 08:00", "and 40 more", "cure");
        says(0, "aside 1 --limit 1", "11 rows of 3 files", "keep: parameter != 'chlorid'", "Chlorid");
        says(1, "trace 1 samples-2026-02.csv:13", "date-unreadable", "still rejected");
        says(2, "trace 1 samples-2026-02.csv:14", "rejected no row at samples-2026-02.csv:14");
        says(1, "mend 1 date-unreadable", "Nothing obvious");
        says(2, "undo 1000", "There is no run 1000");
        says(
                0,
                "rows river_samples --sort -value --where lab=East --limit 2",
                "source",
                "1 184 rows of river_samples that match the conditions, 2 shown");
        says(0, "count river_samples --by lab,sampled_at:year", "East", "2026", "1 184 rows in 1 group");
    }

    @Test
    void filesAreFoundPeekedAtAndJobsCopied() throws Exception {
        says(
                0,
                "find east-lab",
                "~  samples-2026-06.csv.part",
                "waiting: has an unfinished name (\"*.part\")",
                "east-lab takes 6 files (1 of them waiting) and skips 0",
                "with inbox = inbox (values.yaml)");
        says(1, "find east-lab --set inbox=nowhere", "with inbox = nowhere (the call)", "nowhere/east does not exist");
        says(2, "find east-lab --set x", "NAME=VALUE");
        says(
                0,
                "peek east-lab samples-2026-03.csv --count 4",
                "shown as windows-1252, lines end with CRLF",
                "4  Probe,Messstelle,Entnahme,Parameter,Messwert,Einheit",
                "--from 5");
        says(0, "peek north-lab .~lock.samples-2026-03.csv#", "mira,lab-north-2");
        says(2, "peek north-lab ../../jobs/north-lab.yaml", "There is no file");
        says(0, "jobs copy north-lab north-again --value inbox=inbox", "jobs/north-again.yaml is made");
        says(0, "jobs north-again", "with     inbox = inbox (the job)");
        says(3, "jobs copy north-lab North-Again", "there is a job of that name already");
        says(3, "run north-again --set inbox=${nobody}", "no value is known for ${nobody}");
    }

    @Test
    void mistakesAreWrongUseWithTheNearestWord() throws Exception {
        says(2, "run est-lab", "There is no job 'est-lab'. Did you mean 'east-lab'?");
        says(2, "rows river_sample", "Did you mean 'river_samples'?");
        says(2, "count river_samples --by lap", "There is no column 'lap'. Did you mean 'lab'?");
        says(2, "runs 99", "There is no run 99");
        says(2, "fly", "There is no command 'fly'");
    }

    @Test
    void withoutAServiceItSaysHowToStartOne() throws Exception {
        Result result = TestService.client(List.of(), List.of("--service", "http://127.0.0.1:9", "jobs"));
        assertThat(result.status()).isEqualTo(ExitStatus.NO_SERVICE);
        assertThat(result.err()).contains("No service answers at http://127.0.0.1:9", "hapster serve");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "jobs",
                "runs",
                "rejects",
                "find east-lab",
                "check east-lab",
                "try east-lab",
                "rows river_samples",
                "count river_samples --by lab"
            })
    void jsonIsTheServicesOwn(String command) throws Exception {
        Result result = service.client((command + " --json").split(" "));
        assertThat(Api.JSON.readTree(result.out()).isContainerNode()).isTrue();
    }

    static Stream<String> commands() {
        return Hapster.commandLine(new Screen()).getSubcommands().keySet().stream()
                .filter(name -> !name.equals("help"));
    }

    @ParameterizedTest
    @MethodSource("commands")
    void everyHelpHasAnExample(String command) throws Exception {
        Result help = service.client(command, "--help");
        assertThat(help.out()).containsPattern("Examples?:  (source <\\(|\\./)?hapster " + command);
    }

    @Test
    void wrongUseIsASentence() throws Exception {
        says(2, "rows river_samples --limit many", "'many' is not a whole number");
        says(2, "runs seven", "'seven' is not a whole number");
        says(2, "fnd", "There is no command 'fnd'. Did you mean 'find'?", "hapster --help");
        says(2, "find north-lab --skiped", "There is no option '--skiped' in hapster find. Did you mean '--skipped'?");
        says(2, "run", "Missing required parameter", "hapster run --help");
        says(2, "cancel 1000", "There is no run 1000");
        says(1, "cancel 1", "Run 1 has ended already: finished");
        Result serve = TestService.client(List.of(), List.of("serve", "--port", "99999"));
        assertThat(serve.status()).isEqualTo(2);
        assertThat(serve.err()).isEqualToIgnoringWhitespace("--port must be between 1 and 65535, not 99999");
    }

    @Test
    void datasetsHelpAndCompletionAreThere() throws Exception {
        says(0, "datasets", "river_samples", "1 184");
        says(0, "datasets river_samples", "sample_id", "required", "from east-lab  1 184 rows in 3 parts");
        says(2, "datasets river", "There is no dataset 'river'");
        says(0, "help find", "Usage: hapster find", "--skipped");
        says(0, "completion", "complete -F", "hapster");
    }
}
