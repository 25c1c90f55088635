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
            "           hapster runs 2 --label \"after the pump was changed\"",
            "           hapster runs 2 --compare",
            "           hapster runs 9 --compare --with 2",
            "           hapster runs 2 --definitions",
            "           hapster runs --job east-lab --trend"
        })
public final class RunsCommand implements Callable<Integer> {

    private static final int MOST_FILES = 60;

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "RUN", description = "Number of a run to show.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "Only runs of this job.")
    private String job;

    @Option(names = "--compare", description = "Of a run: beside the one before it, of the same job, file by file.")
    private boolean compare;

    @Option(
            names = "--with",
            paramLabel = "RUN",
            description = "With --compare or --definitions: beside this run instead; it may be of another job.")
    private Long with;

    @Option(
            names = "--definitions",
            description = "Of a run: by which definitions it went, and what changed in them since; with --with, up to "
                    + "that run.")
    private boolean definitions;

    @Option(
            names = "--trend",
            description = "With --job: its runs that found something new or failed, with bars for rows, rejects and "
                    + "duration.")
    private boolean trend;

    @Option(
            names = "--label",
            paramLabel = "TEXT",
            description =
                    "Of a run: call it so (\"\" takes the label away). Otherwise: only runs whose label has this in "
                            + "it.")
    private String label;

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
        if (with != null && !compare && !definitions) {
            throw new ClientException(ExitStatus.WRONG_USE, "--with goes with --compare and --definitions only.");
        }
        if (compare && definitions) {
            throw new ClientException(ExitStatus.WRONG_USE, "--compare and --definitions do not go together.");
        }
        if (compare) {
            return compare();
        }
        if (definitions) {
            return definitions();
        }
        if (trend) {
            return trend();
        }
        if (run != null && label != null) {
            client.api()
                    .post("/runs/" + run + "/label", Api.JSON.createObjectNode().put("label", label));
        }
        if (run != null) {
            RunCommand.show(client, shown.detail(), new RunFollower(client.api(), client.screen()).report(run));
            return ExitStatus.DONE;
        }
        JsonNode runs = client.api()
                .get("/runs?limit=" + limit + (job == null ? "" : "&job=" + Api.encode(job))
                        + (label == null ? "" : "&label=" + Api.encode(label)));
        if (client.json()) {
            client.print(runs);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (runs.isEmpty() && label != null) {
            screen.line("No run has '" + label + "' in its label.");
            return ExitStatus.DONE;
        }
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
                .text("")
                .prose("label");
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
                    !one.has("startedAt") ? "" : one.path("holds").asBoolean() ? "holds" : "DOES NOT HOLD",
                    one.path("label").asText(""));
        }
        screen.table(table);
        return ExitStatus.DONE;
    }

    /** The path of what is asked about one run, beside another where one is named. */
    private String ofOne(String option, String what) {
        if (run == null) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, option + " is about one run; say which: hapster runs RUN " + option);
        }
        return "/runs/" + run + "/" + what + (with == null ? "" : "?with=" + with);
    }

    private int definitions() {
        JsonNode changes = client.api().get(ofOne("--definitions", "definitions"));
        if (client.json()) {
            client.print(changes);
        } else {
            new RunDefinitions(client.screen()).show(changes);
        }
        return ExitStatus.DONE;
    }

    private int trend() {
        if (job == null || run != null) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--trend is about the runs of a job; say which: hapster runs --job JOB --trend");
        }
        JsonNode points = client.api().get("/jobs/" + Api.encode(job) + "/trend?limit=" + limit);
        if (client.json()) {
            client.print(points);
        } else {
            new TrendTable(client.screen()).show(points);
        }
        return ExitStatus.DONE;
    }

    private int compare() {
        JsonNode both = client.api().get(ofOne("--compare", "comparison"));
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
                .number("run " + now.path("run").asLong())
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
        files(both);
        now.path("notes").forEach(note -> screen.paragraph("note: ", note.asText()));
        return ExitStatus.DONE;
    }

    /** The files in which two runs differ. */
    private void files(JsonNode both) {
        Screen screen = client.screen();
        Table table =
                new Table("  ").text("").text("file").text("before").text("now").prose("");
        int listed = 0;
        for (JsonNode file : both.path("files")) {
            if (listed++ < MOST_FILES) {
                table.row(
                        file.path("kind").asText(),
                        file.path("name").asText(),
                        side(file.path("before")),
                        side(file.path("now")),
                        file.path("now").path("sentence").asText(""));
            }
        }
        screen.line("");
        if (!table.isEmpty()) {
            screen.table(table);
        }
        if (listed > MOST_FILES) {
            screen.line("  and " + Screen.grouped(listed - MOST_FILES) + " more; --json gives all");
        }
        long unnamed = both.path("unnamed").asLong();
        if (unnamed > 0) {
            screen.line("  gone     " + Screen.count(unnamed, "file") + " of run "
                    + both.path("before").path("run").asLong()
                    + ", which names those without news only as long as it is the latest");
        }
        screen.line(Screen.count(both.path("same").asLong(), "file") + " the same in both"
                + (both.path("untold").asLong() > 0
                        ? "; of " + Screen.grouped(both.path("untold").asLong()) + " of the older run, run "
                                + both.path("run").path("run").asLong()
                                + " no longer says whether they were there: it lists those without news only as long "
                                + "as it is the latest"
                        : ""));
    }

    private static String side(JsonNode side) {
        if (side.isMissingNode()) {
            return "";
        }
        String outcome = side.path("outcome").asText();
        long rejected = side.path("rejected").asLong();
        return outcome.equals("loaded") || outcome.equals("replaced")
                ? Screen.count(side.path("loaded").asLong(), "row")
                        + (rejected > 0 ? ", " + Screen.grouped(rejected) + " rejected" : "")
                : outcome;
    }

    private static String began(JsonNode start) {
        return switch (start.path("by").asText()) {
            case "time" -> "by the clock";
            case "arrival" -> "files arrived";
            case "after" -> "after " + start.path("run").asLong();
            case "fault" -> "again, after " + start.path("run").asLong();
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
