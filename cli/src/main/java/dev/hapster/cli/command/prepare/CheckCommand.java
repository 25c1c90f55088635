package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Report;
import dev.hapster.cli.terminal.Screen;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "check",
        mixinStandardHelpOptions = true,
        description =
                "Says what would fail before anything runs: the definition, the folders, each file's first lines.",
        footer = {"", "Example:  hapster check east-lab"})
public final class CheckCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Mixin
    private ValueOptions given;

    @Override
    public Integer call() {
        JsonNode check = client.api().post("/jobs/" + Api.encode(job) + "/check", given.body());
        boolean clean = check.path("clean").asBoolean();
        int status =
                clean ? ExitStatus.DONE : check.path("canRun").asBoolean() ? ExitStatus.FINDINGS : ExitStatus.FAILED;
        if (client.json()) {
            client.print(check);
            return status;
        }
        Screen screen = client.screen();
        check.path("problems").forEach(problem -> screen.line(screen.bad("  ! ") + Api.problem(problem)));
        check.path("warnings").forEach(warning -> screen.line("  ? " + warning.asText()));
        long refused = 0;
        Map<String, Long> actions = new LinkedHashMap<>();
        for (JsonNode file : check.path("files")) {
            if (file.has("code")) {
                refused++;
                screen.line(screen.bad("  ! ") + file.path("name").asText() + "  "
                        + file.path("sentence").asText());
                screen.line("      " + file.path("cure").asText());
            }
            file.path("notes")
                    .forEach(note -> screen.line("    " + file.path("name").asText() + "  " + note.asText()));
            if (file.has("after")) {
                actions.merge(Report.afterwards(file.path("after")), 1L, Long::sum);
            }
        }
        long files = check.path("files").size();
        if (!check.path("canRun").asBoolean()) {
            screen.line(
                    job + " cannot run: " + Screen.count(check.path("problems").size(), "mistake"));
        } else if (files == 0) {
            screen.line(job + " can run, but no files were found");
        } else {
            screen.line(job + " can run: " + Screen.count(files, "file")
                    + (refused == 0
                            ? ", all fit by their headers"
                            : ", of which " + Screen.grouped(refused) + " would be rejected"));
        }
        actions.forEach(
                (action, count) -> screen.line("afterwards  " + Screen.count(count, "file") + " would be " + action));
        return status;
    }
}
