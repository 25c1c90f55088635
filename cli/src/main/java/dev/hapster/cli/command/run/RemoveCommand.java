package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.EffectReport;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
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
        description = "Removes rows from a dataset by the file, run or job that loaded them. Unchanged files "
                + "are not loaded again afterwards; undo puts the rows back.",
        footer = {
            "",
            "Examples:  hapster remove river_samples --file samples-2026-01.csv --try",
            "           hapster remove river_samples --file samples-2026-01.csv --yes"
        })
public final class RemoveCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(names = "--file", paramLabel = "FILE", description = "Rows of files of this name or path; patterns too.")
    private String file;

    @Option(names = "--run", paramLabel = "RUN", description = "Rows that this run loaded.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "Rows that this job loaded.")
    private String job;

    @Option(names = "--try", description = "Only show what would happen.")
    private boolean tries;

    @Option(names = "--yes", description = "Do not ask; needed where nobody can answer, as in a script.")
    private boolean yes;

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
        JsonNode effect =
                client.api().get("/datasets/" + Api.encode(dataset) + "/removal?" + String.join("&", question));
        if (tries) {
            return EffectReport.show(client, effect, "these rows can be removed");
        }
        if (!yes && effect.path("files").asLong() > 0 && !isConfirmed(effect)) {
            client.screen().line("Nothing was removed.");
            return ExitStatus.FINDINGS;
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

    private boolean isConfirmed(JsonNode effect) {
        if (!client.screen().asks() || client.json()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Nothing was removed: nobody can be asked here. --yes removes "
                            + Screen.count(effect.path("out").asLong(), "row") + " of "
                            + Screen.count(effect.path("files").asLong(), "file") + ", --try says which.");
        }
        EffectReport.show(client, effect, "these rows can be removed");
        return client.screen().confirms("Remove them?");
    }
}
