package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.EffectReport;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "undo",
        mixinStandardHelpOptions = true,
        description = "Takes a run back: from then on everything counts as if it had not been. Also a retry, rows "
                + "that were removed, and an undo.",
        footer = {"", "Examples:  hapster undo 3 --try", "           hapster undo 3"})
public final class UndoCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN", description = "Number of the run, as hapster runs lists it.")
    private long run;

    @Option(names = "--try", description = "Only show what would happen.")
    private boolean tries;

    @Override
    public Integer call() {
        if (tries) {
            return EffectReport.show(
                    client, client.api().get("/runs/" + run + "/undo"), "run " + run + " can be undone");
        }
        JsonNode entry = client.api().post("/runs/" + run + "/undo", Api.JSON.createObjectNode());
        if (client.json()) {
            client.print(entry);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        screen.line("run " + run
                + (entry.path("job").asText().isEmpty()
                        ? ""
                        : " of " + entry.path("job").asText()) + " is undone (entry "
                + entry.path("run").asLong() + ")");
        entry.path("notes").forEach(note -> screen.line("  " + note.asText()));
        screen.line("  " + entry.path("into").asText() + " has "
                + Screen.count(entry.path("dataset").path("rows").asLong(), "row") + " in "
                + Screen.count(entry.path("dataset").path("parts").asLong(), "part"));
        return ExitStatus.DONE;
    }
}
