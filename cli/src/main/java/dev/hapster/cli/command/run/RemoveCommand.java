package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.EffectReport;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ClientException;
import dev.hapster.cli.terminal.ExitStatus;
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
public final class RemoveCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

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
                    client,
                    client.api().get("/datasets/" + Api.encode(dataset) + "/removal?" + String.join("&", question)),
                    "these rows can be removed");
        }
        JsonNode removed =
                client.api().delete("/datasets/" + Api.encode(dataset) + "/rows?" + String.join("&", question));
        if (client.json()) {
            client.print(removed);
        } else {
            removed.path("notes").forEach(note -> client.screen().line(note.asText()));
            client.screen()
                    .line(client.screen()
                            .faint("  hapster undo " + removed.path("entry").asLong() + "  puts them back"));
        }
        return ExitStatus.DONE;
    }
}
