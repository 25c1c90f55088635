package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** Starts a run, shows how it goes on, and fetches what came of it. */
public final class RunFollower {

    private final Api api;
    private final Screen screen;

    public RunFollower(Api api, Screen screen) {
        this.api = api;
        this.screen = screen;
    }

    /** The result of a run: {@code run}, {@code files} and {@code reasons}, each as the service gives it. */
    public ObjectNode run(String job, ObjectNode request) {
        JsonNode started = api.post("/jobs/" + Api.encode(job) + "/runs", request);
        return follow(started.path("run").asLong(), job);
    }

    /** The same for what a run rejected. */
    ObjectNode retry(long run, ObjectNode request) {
        JsonNode started = api.post("/runs/" + run + "/retry", request);
        return follow(started.path("run").asLong(), started.path("job").asText());
    }

    private ObjectNode follow(long number, String job) {
        long begun = System.nanoTime();
        JsonNode[] ended = new JsonNode[1];
        Thread interrupted = new Thread(() -> interrupted(number), "interrupted");
        Runtime.getRuntime().addShutdownHook(interrupted);
        if (!screen.showsLive()) {
            screen.complain(job + ": run " + number + " …");
        }
        try {
            listen(number, ended, begun);
        } finally {
            forget(interrupted);
        }
        screen.clearLive();
        if (ended[0] == null) {
            throw new ClientException(
                    ExitStatus.FAILED,
                    "The service went away during run " + number + ". Start it again and look: hapster runs " + number);
        }
        return report(number);
    }

    private void listen(long number, JsonNode[] ended, long begun) {
        boolean[] told = new boolean[1];
        api.follow("/runs/" + number + "/events", event -> {
            if (event.path("kind").asText().equals("ended")) {
                ended[0] = event.path("run");
            } else if (event.path("progress").hasNonNull("trouble") && !told[0]) {
                told[0] = true;
                screen.clearLive();
                screen.complain("Run " + number + ": "
                        + event.path("progress").path("trouble").asText());
            } else if (event.has("progress")) {
                screen.live(progress(event.path("progress"), (System.nanoTime() - begun) / 1e9));
            }
        });
    }

    private static void forget(Thread hook) {
        try {
            Runtime.getRuntime().removeShutdownHook(hook);
        } catch (IllegalStateException ending) {
            return; // it is what ends the client
        }
    }

    /**
     * The client is about to end, mostly for Ctrl-C: the run is the service's and goes on, unless whoever is there says
     * otherwise. Files that it has finished stay in any case.
     */
    private void interrupted(long number) {
        screen.clearLive();
        if (screen.asks() && screen.confirms("Run " + number + " goes on in the service. Cancel it?")) {
            try {
                api.post("/runs/" + number + "/cancel", Api.JSON.createObjectNode());
                screen.complain("Run " + number + " is being cancelled; files that it has finished stay. hapster runs "
                        + number + " shows what came of it.");
            } catch (ClientException wrong) {
                screen.complain(wrong.getMessage());
            }
            return;
        }
        screen.complain("Run " + number + " goes on in the service. hapster cancel " + number
                + " ends it; files that it has finished stay. hapster runs " + number + " shows what came of it.");
    }

    /** Everything about a run that has ended, or as far as it has come. */
    ObjectNode report(long number) {
        ObjectNode report = Api.JSON.createObjectNode();
        report.set("run", api.get("/runs/" + number));
        report.set("files", api.get("/runs/" + number + "/files"));
        report.set("reasons", api.get("/runs/" + number + "/rejects"));
        return report;
    }

    private static String progress(JsonNode progress, double seconds) {
        long bytes = progress.path("bytes").asLong();
        long total = progress.path("ofBytes").asLong();
        List<String> names = new ArrayList<>();
        progress.path("inWork").forEach(file -> names.add(file.path("name").asText()));
        double rate = seconds > 0.5 ? bytes / seconds : 0;
        String rest =
                rate > 0 && total > bytes ? String.format(Locale.ROOT, ", %.0f s left", (total - bytes) / rate) : "";
        return String.format(
                Locale.ROOT,
                "%s  %s of %s files, %s rows, %s of %s%s%s  %s",
                progress.path("job").asText(),
                Screen.grouped(progress.path("done").asLong()),
                Screen.grouped(progress.path("found").asLong()),
                Screen.grouped(progress.path("rows").asLong()),
                Screen.size(bytes),
                Screen.size(total),
                rate > 0 ? ", " + Screen.size((long) rate) + "/s" : "",
                rest,
                String.join(", ", names));
    }
}
