package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(name = "runs", mixinStandardHelpOptions = true, description = "Lists the latest runs, or shows one in full.",
        footer = {"", "Examples:  hapster runs --job east-lab", "           hapster runs 2"})
final class RunsCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(arity = "0..1", paramLabel = "RUN", description = "Number of a run to show.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "Only runs of this job.")
    private String job;

    @Option(names = "--limit", paramLabel = "N", defaultValue = "20", description = "How many (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Override
    public Integer call() {
        if (run != null) {
            RunCommand.show(hapster, new RunFollower(hapster.api(), hapster.screen).report(run));
            return ExitStatus.DONE;
        }
        JsonNode runs = hapster.api().get("/runs?limit=" + limit + (job == null ? "" : "&job=" + Api.encode(job)));
        if (hapster.json) {
            hapster.print(runs);
            return ExitStatus.DONE;
        }
        Screen screen = hapster.screen;
        if (runs.isEmpty()) {
            screen.line("Nothing has run yet. hapster jobs lists what could.");
            return ExitStatus.DONE;
        }
        Table table = new Table("").number("run").text("job").text("started", 1).text("").text("state").number("files").number("loaded").number("unchanged").number("rejected")
                .number("rows loaded").number("rows rejected").text("");
        for (JsonNode one : runs) {
            JsonNode files = one.path("files");
            table.row(one.path("run").asLong(), one.path("job").asText(), Screen.time(one.path("startedAt").asText("")), kind(one), one.path("state").asText(),
                    files.path("found").asLong(), files.path("loaded").asLong() + files.path("replaced").asLong(), files.path("unchanged").asLong(),
                    files.path("rejected").asLong(), one.path("rows").path("loaded").asLong(), one.path("rows").path("rejected").asLong(),
                    one.path("holds").asBoolean() ? "holds" : "DOES NOT HOLD");
        }
        table.lines(screen.width()).forEach(screen::line);
        return ExitStatus.DONE;
    }

    private static String kind(JsonNode run) {
        String kind = run.path("kind").asText();
        return run.has("undoneBy") ? "undone by " + run.path("undoneBy").asLong() : kind.equals("run") ? "" : kind + (run.has("ofRun") ? " of " + run.path("ofRun").asLong() : "");
    }
}
