package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "verify",
        mixinStandardHelpOptions = true,
        description = "Looks through the store: whether each part is there with its rows, and whether what counts is "
                + "what the log of arrivals says.",
        footer = {"", "Examples:  hapster verify", "           hapster verify --rebuild"})
public final class VerifyCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Option(
            names = "--rebuild",
            description =
                    "Take in parts that the catalogue does not know, from what they tell, and find anew what counts.")
    private boolean rebuild;

    @Override
    public Integer call() {
        JsonNode found =
                client.api().post("/store/verify", Api.JSON.createObjectNode().put("rebuild", rebuild));
        boolean sound = found.path("problems").isEmpty();
        if (client.json()) {
            client.print(found);
            return sound ? ExitStatus.DONE : ExitStatus.FINDINGS;
        }
        Screen screen = client.screen();
        found.path("problems").forEach(problem -> screen.paragraph(screen.bad("  ! "), problem.asText()));
        if (rebuild) {
            screen.line(Screen.count(found.path("takenIn").asLong(), "part") + " taken into the catalogue, "
                    + Screen.count(found.path("corrected").asLong(), "arrival") + " corrected");
        }
        screen.line(Screen.count(found.path("arrivals").asLong(), "arrival") + " in the catalogue, "
                + Screen.count(found.path("parts").asLong(), "file") + " in the store: "
                + (sound
                        ? "they fit together"
                        : Screen.count(found.path("problems").size(), "problem")));
        return sound ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
