package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "remove",
        mixinStandardHelpOptions = true,
        description = "Takes rows out of a dataset, by the file, run or job that brought them. Files that are there "
                + "and unchanged are not loaded again because of it; undo puts the rows back.",
        footer = {"", "Example:  hapster remove river_samples --file samples-2026-01.csv"})
final class RemoveCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(names = "--file", paramLabel = "FILE", description = "Rows of files of this name or path; patterns too.")
    private String file;

    @Option(names = "--run", paramLabel = "RUN", description = "Rows that this run brought.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "Rows that this job brought.")
    private String job;

    @Option(names = "--try", description = "Only say what would come of it.")
    private boolean tries;

    @Override
    public Integer call() {
        List<String> question = new ArrayList<>();
        if (file != null) {
            question.add("file=" + Api.encode(file));
        }
        if (run != null) {
            question.add("run=" + run);
        }
        if (job != null) {
            question.add("job=" + Api.encode(job));
        }
        if (question.isEmpty()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Say which rows go: --file, --run or --job; several together narrow it down.");
        }
        if (tries) {
            return EffectReport.show(
                    hapster,
                    hapster.api().get("/datasets/" + Api.encode(dataset) + "/removal?" + String.join("&", question)),
                    "these rows can be removed");
        }
        JsonNode removed =
                hapster.api().delete("/datasets/" + Api.encode(dataset) + "/rows?" + String.join("&", question));
        if (hapster.json) {
            hapster.print(removed);
        } else {
            removed.path("notes").forEach(note -> hapster.screen.line(note.asText()));
            hapster.screen.line(hapster.screen.faint(
                    "  hapster undo " + removed.path("entry").asLong() + "  puts them back"));
        }
        return ExitStatus.DONE;
    }
}
