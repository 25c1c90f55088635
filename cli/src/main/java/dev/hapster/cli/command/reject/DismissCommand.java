package dev.hapster.cli.command.reject;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "dismiss",
        mixinStandardHelpOptions = true,
        description = "Marks rejects as settled, such as those of a file that is gone. They are no longer "
                + "listed; rows stay as they are, and undo lists them again.",
        footer = {"", "Example:  hapster dismiss east-lab samples-2026-05.csv --because \"sent empty, nothing to come\""
        })
public final class DismissCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "JOB")
    private String job;

    @Parameters(
            index = "1",
            paramLabel = "FILE",
            description = "Name of the file (patterns too), or the file as the ledger lists it.")
    private String file;

    @Option(
            names = "--because",
            paramLabel = "TEXT",
            required = true,
            description = "The reason, which the history shows.")
    private String why;

    @Override
    public Integer call() {
        JsonNode entry = client.api()
                .post(
                        "/jobs/" + Api.encode(job) + "/dismissals",
                        Api.JSON.createObjectNode().put("file", file).put("why", why));
        if (client.json()) {
            client.print(entry);
        } else {
            entry.path("notes").forEach(note -> client.screen().line(note.asText()));
            client.screen()
                    .line(client.screen()
                            .faint("  hapster undo " + entry.path("run").asLong() + "  lists them again"));
        }
        return ExitStatus.DONE;
    }
}
