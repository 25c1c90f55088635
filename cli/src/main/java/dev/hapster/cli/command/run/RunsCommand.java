package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ReportOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "runs",
        mixinStandardHelpOptions = true,
        description = "Lists the latest runs, or shows one in full.",
        footer = {
            "",
            "Examples:  hapster runs --job east-lab",
            "           hapster runs 2",
            "           hapster runs 2 --compare"
        })
public final class RunsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "RUN", description = "Number of a run to show.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "Only runs of this job.")
    private String job;

    @Option(names = "--compare", description = "Of a run: beside the one before it, of the same job.")
    private boolean compare;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "20",
            description = "How many (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Mixin
    private ReportOptions shown;

    @Override
    public Integer call() {
        if (compare) {
            return compare();
        }
        if (run != null) {
            RunCommand.show(client, shown.detail(), new RunFollower(client.api(), client.screen()).report(run));
            return ExitStatus.DONE;
        }
        JsonNode runs = client.api().get("/runs?limit=" + limit + (job == null ? "" : "&job=" + Api.encode(job)));
        if (client.json()) {
            client.print(runs);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (runs.isEmpty()) {
            screen.line("Nothing has run yet. hapster jobs lists what could.");
            return ExitStatus.DONE;
        }
        Table table = new Table("")
                .number("run")
                .text("job")
                .text("started", 1)
                .text("")
                .text("state")
                .number("files")
                .number("loaded")
                .number("unchanged")
                .number("rejected")
                .number("rows loaded")
                .number("rows rejected")
                .text("");
        for (JsonNode one : runs) {
            JsonNode files = one.path("files");
            table.row(
                    one.path("run").asLong(),
                    one.path("job").asText(),
                    Screen.time(one.path("startedAt").asText("")),
                    kind(one),
                    one.path("state").asText(),
                    files.path("found").asLong(),
                    files.path("loaded").asLong() + files.path("replaced").asLong(),
                    files.path("unchanged").asLong(),
                    files.path("rejected").asLong(),
                    one.path("rows").path("loaded").asLong(),
                    one.path("rows").path("rejected").asLong(),
                    !one.has("startedAt") ? "" : one.path("holds").asBoolean() ? "holds" : "DOES NOT HOLD");
        }
        screen.table(table);
        return ExitStatus.DONE;
    }

    private int compare() {
        if (run == null) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "--compare is about one run; say which: hapster runs RUN --compare");
        }
        JsonNode both = client.api().get("/runs/" + run + "/comparison");
        if (client.json()) {
            client.print(both);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        JsonNode now = both.path("run");
        if (!both.has("before")) {
            screen.line("Run " + run + " is the first of " + now.path("job").asText() + "; there is none before it.");
            return ExitStatus.DONE;
        }
        JsonNode before = both.path("before");
        Table table = new Table("")
                .text("")
                .number("run " + before.path("run").asLong())
                .number("run " + run)
                .number("difference");
        table.row(
                "",
                Screen.time(before.path("startedAt").asText("")),
                Screen.time(now.path("startedAt").asText("")),
                "");
        for (String count : List.of(
                "files found",
                "files loaded",
                "files replaced",
                "files unchanged",
                "files rejected",
                "files waiting",
                "rows read",
                "rows loaded",
                "rows aside",
                "rows repeated",
                "rows rejected",
                "dataset rows")) {
            String[] words = count.split(" ");
            long older = before.path(words[0]).path(words[1]).asLong();
            long newer = now.path(words[0]).path(words[1]).asLong();
            if (older != 0 || newer != 0) {
                table.row(
                        count.replace("aside", "set aside"),
                        older,
                        newer,
                        newer == older ? "" : (newer > older ? "+" : "-") + Screen.grouped(Math.abs(newer - older)));
            }
        }
        screen.table(table);
        now.path("notes").forEach(note -> screen.paragraph("note: ", note.asText()));
        return ExitStatus.DONE;
    }

    private static String began(JsonNode start) {
        return switch (start.path("by").asText()) {
            case "time" -> "by the clock";
            case "arrival" -> "files arrived";
            case "after" -> "after " + start.path("run").asLong();
            default -> "";
        };
    }

    private static String kind(JsonNode run) {
        String kind = run.path("kind").asText();
        return run.has("undoneBy")
                ? "undone by " + run.path("undoneBy").asLong()
                : kind.equals("run")
                        ? began(run.path("start"))
                        : kind + (run.has("ofRun") ? " of " + run.path("ofRun").asLong() : "");
    }
}
