package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(name = "undo", mixinStandardHelpOptions = true,
        description = "Takes a run back: its rows go, those that it replaced come back, and its files count as they did before. Also a retry, and rows that were removed.",
        footer = {"", "Example:  hapster undo 3"})
final class UndoCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "RUN", description = "Number of the run, as hapster runs lists it.")
    private long run;

    @Override
    public Integer call() {
        JsonNode entry = hapster.api().post("/runs/" + run + "/undo", Api.JSON.createObjectNode());
        if (hapster.json) {
            hapster.print(entry);
            return ExitStatus.DONE;
        }
        Screen screen = hapster.screen;
        screen.line("run " + run + (entry.path("job").asText().isEmpty() ? "" : " of " + entry.path("job").asText()) + " is undone (entry " + entry.path("run").asLong() + ")");
        entry.path("notes").forEach(note -> screen.line("  " + note.asText()));
        screen.line("  " + entry.path("into").asText() + " has " + Screen.count(entry.path("dataset").path("rows").asLong(), "row") + " in " + Screen.count(entry.path("dataset").path("parts").asLong(), "part"));
        return ExitStatus.DONE;
    }
}
