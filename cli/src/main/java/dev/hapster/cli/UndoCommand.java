package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
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
final class UndoCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "RUN", description = "Number of the run, as hapster runs lists it.")
    private long run;

    @Option(names = "--try", description = "Only say what would come of it.")
    private boolean tries;

    @Override
    public Integer call() {
        if (tries) {
            return EffectReport.show(
                    hapster, hapster.api().get("/runs/" + run + "/undo"), "run " + run + " can be undone");
        }
        JsonNode entry = hapster.api().post("/runs/" + run + "/undo", Api.JSON.createObjectNode());
        if (hapster.json) {
            hapster.print(entry);
            return ExitStatus.DONE;
        }
        Screen screen = hapster.screen;
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
