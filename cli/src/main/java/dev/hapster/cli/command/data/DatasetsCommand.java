package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "datasets",
        mixinStandardHelpOptions = true,
        description =
                "Lists the datasets with their rows, or says what one is: its columns, and the jobs that load it.",
        footer = {
            "",
            "Examples:  hapster datasets",
            "           hapster datasets river_samples",
            "           hapster datasets rename river_samples vessa_samples"
        },
        subcommands = {DatasetsCopyCommand.class, DatasetsRenameCommand.class})
public final class DatasetsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET", arity = "0..1", description = "A dataset to show.")
    private String dataset;

    Client client() {
        return client;
    }

    @Override
    public Integer call() {
        JsonNode answer = client.api().get(dataset == null ? "/datasets" : "/datasets/" + Api.encode(dataset));
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        return dataset == null ? list(answer) : show(answer);
    }

    private int list(JsonNode all) {
        Screen screen = client.screen();
        Table table =
                new Table("").text("dataset").number("rows").number("parts").prose("about");
        boolean sound = true;
        for (JsonNode one : all) {
            table.row(
                    one.path("name").asText(),
                    one.path("rows").asLong(),
                    one.path("parts").asLong(),
                    one.path("about").asText());
        }
        screen.table(table);
        for (JsonNode one : all) {
            for (JsonNode problem : one.path("problems")) {
                screen.line(screen.bad("  ! ") + Api.problem(problem));
                sound = false;
            }
        }
        if (all.isEmpty()) {
            screen.line("The workspace has no datasets yet: write datasets/NAME.yaml");
        }
        return sound && !all.isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    private int show(JsonNode one) {
        Screen screen = client.screen();
        screen.line(screen.strong(one.path("name").asText()) + "  "
                + Screen.count(one.path("rows").asLong(), "row") + " in "
                + Screen.count(one.path("parts").asLong(), "part"));
        if (!one.path("about").asText().isEmpty()) {
            screen.paragraph("  ", one.path("about").asText());
        }
        Table columns = new Table("  ").text("column").text("type").text("").prose("about");
        for (JsonNode column : one.path("columns")) {
            columns.row(
                    column.path("name").asText(),
                    column.path("type").asText(),
                    column.path("required").asBoolean() ? "required" : "",
                    column.path("about").asText());
        }
        screen.table(columns);
        for (JsonNode job : one.path("jobs")) {
            screen.line("  from " + job.path("job").asText() + "  "
                    + Screen.count(job.path("rows").asLong(), "row") + " in "
                    + Screen.count(job.path("parts").asLong(), "part"));
        }
        return ExitStatus.DONE;
    }
}
