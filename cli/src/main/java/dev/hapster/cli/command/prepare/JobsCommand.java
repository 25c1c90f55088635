package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "jobs",
        mixinStandardHelpOptions = true,
        description = "Lists the jobs with their last result, or explains one job.",
        footer = {
            "",
            "Examples:  hapster jobs",
            "           hapster jobs east-lab",
            "           hapster jobs copy north-lab south-lab --value folder=inbox/east",
            "           hapster jobs rename north-lab lab-north"
        },
        subcommands = {JobsCopyCommand.class, JobsRenameCommand.class})
public final class JobsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "JOB", description = "A job to explain.")
    private String job;

    @Mixin
    private ValueOptions given;

    Client client() {
        return client;
    }

    @Override
    public Integer call() {
        JsonNode answer = client.api().get(job == null ? "/jobs" : "/jobs/" + Api.encode(job) + given.query('?'));
        boolean wrong = false;
        for (JsonNode one : job == null ? answer : Api.JSON.createArrayNode().add(answer)) {
            wrong |= !one.path("problems").isEmpty();
        }
        if (client.json()) {
            client.print(answer);
        } else if (job == null) {
            list(answer);
        } else {
            explain(answer);
        }
        return wrong ? ExitStatus.FINDINGS : ExitStatus.DONE;
    }

    private void list(JsonNode jobs) {
        Screen screen = client.screen();
        if (jobs.isEmpty()) {
            screen.line("The workspace has no jobs yet. Write datasets/NAME.yaml and jobs/NAME.yaml; the README has "
                    + "a first job to copy.");
            return;
        }
        Table table = new Table("")
                .text("job")
                .text("into", 2)
                .text("last run")
                .text("state")
                .number("files")
                .number("loaded")
                .number("rejected", 1)
                .text("currently rejected")
                .prose("");
        for (JsonNode one : jobs) {
            JsonNode last = one.path("lastRun");
            boolean ran = last.isObject();
            String open = one.path("openFiles").asLong() + one.path("openRows").asLong() == 0
                    ? ""
                    : Screen.count(one.path("openRows").asLong(), "row")
                            + (one.path("openFiles").asLong() == 0
                                    ? ""
                                    : ", " + Screen.count(one.path("openFiles").asLong(), "file"));
            String problem = one.path("problems").isEmpty()
                    ? ""
                    : one.path("problems").size() + " mistakes in its definition: hapster check "
                            + one.path("name").asText();
            table.row(
                    one.path("name").asText(),
                    one.path("into").asText(),
                    ran
                            ? "run " + last.path("run").asLong() + ", "
                                    + Screen.time(last.path("startedAt").asText())
                            : "never",
                    one.has("running") ? "running" : last.path("state").asText(),
                    ran ? last.path("files").path("found").asLong() : "",
                    ran ? last.path("rows").path("loaded").asLong() : "",
                    ran ? last.path("rows").path("rejected").asLong() : "",
                    open,
                    problem);
        }
        screen.table(table);
    }

    private void explain(JsonNode answer) {
        Screen screen = client.screen();
        screen.line(screen.strong(answer.path("name").asText())
                + (answer.path("about").asText().isEmpty()
                        ? ""
                        : "  " + answer.path("about").asText()));
        answer.path("problems").forEach(problem -> screen.line("  " + Api.problem(problem)));
        for (String section : new String[] {"find", "read", "map", "keep", "load", "rejects", "after"}) {
            JsonNode sentences = answer.path("explanation").path(section);
            for (int i = 0; i < sentences.size(); i++) {
                screen.paragraph(
                        (i == 0 ? "  " + section + " ".repeat(9 - section.length()) : " ".repeat(11)),
                        sentences.get(i).asText());
            }
        }
        if (!answer.path("values").isEmpty()) {
            screen.line("  with     " + Report.values(answer.path("values")));
        }
        if (answer.has("explanation")) {
            screen.line("  into     " + answer.path("into").asText() + ".");
        }
    }
}
