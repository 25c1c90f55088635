package dev.hapster.cli.command;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;

/** Gives a job or dataset another name, and says what goes on under it. */
public final class RenameReport {

    private RenameReport() {}

    /** @param kind {@code job} or {@code dataset} */
    public static int rename(Client client, String kind, String from, String to) {
        JsonNode done = client.api()
                .post(
                        "/" + kind + "s/" + Api.encode(from) + "/rename",
                        Api.JSON.createObjectNode().put("name", to));
        if (client.json()) {
            client.print(done);
            return ExitStatus.DONE;
        }
        long runs = done.path("runs").asLong();
        long files = done.path("files").asLong();
        client.screen()
                .line(from + " is called " + to + " now, in " + kind + "s/" + to + ".yaml"
                        + (kind.equals("dataset") ? " and in its jobs" : "") + ". "
                        + (runs + files == 0
                                ? "It has no history yet."
                                : "Its history goes on: " + Screen.count(runs, "run") + ", "
                                        + Screen.count(files, "file") + "."));
        return ExitStatus.DONE;
    }
}
