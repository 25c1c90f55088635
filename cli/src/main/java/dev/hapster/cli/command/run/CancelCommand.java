package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "cancel",
        mixinStandardHelpOptions = true,
        description = "Stops a run. Files that it has committed stay; nothing is kept of the others.",
        footer = {"", "Example:  hapster cancel 7"})
public final class CancelCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN", description = "Its number, as hapster runs lists it.")
    private long run;

    @Override
    public Integer call() {
        JsonNode before = client.api().get("/runs/" + run);
        if (before.hasNonNull("endedAt")) {
            client.screen()
                    .line("Run " + run + " has ended already: "
                            + before.path("state").asText());
            return ExitStatus.FINDINGS;
        }
        client.api().post("/runs/" + run + "/cancel", Api.JSON.createObjectNode());
        client.screen().line("Run " + run + " is asked to stop. What it has committed stays:  hapster runs " + run);
        return ExitStatus.DONE;
    }
}
