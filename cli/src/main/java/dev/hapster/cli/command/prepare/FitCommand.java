package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "fit",
        mixinStandardHelpOptions = true,
        description = "Shows whether a job's files have one structure: files against columns, grouped by "
                + "structure. Reads the header and the first 200 rows of each.",
        footer = {"", "Example:  hapster fit east-lab"})
public final class FitCommand implements Callable<Integer> {

    private static final int NAMED = 6;

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Option(names = "--files", description = "Name every file of each structure.")
    private boolean files;

    @Mixin
    private ValueOptions given;

    @Override
    public Integer call() {
        JsonNode fit = client.api().get("/jobs/" + Api.encode(job) + "/fit" + given.query('?'));
        boolean unfit = false;
        for (JsonNode group : fit.path("groups")) {
            unfit |= !group.path("verdict").asText().equals("fits");
        }
        int status =
                !fit.path("canRun").asBoolean() ? ExitStatus.FAILED : unfit ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(fit);
            return status;
        }
        Screen screen = client.screen();
        fit.path("problems").forEach(problem -> screen.line(screen.bad("  ! ") + Api.problem(problem)));
        int number = 0;
        for (JsonNode group : fit.path("groups")) {
            group(++number, group);
        }
        if (!fit.path("canRun").asBoolean()) {
            screen.line(
                    job + " cannot run: " + Screen.count(fit.path("problems").size(), "mistake"));
        } else {
            long waiting = fit.path("waiting").asLong();
            screen.line(job + ": " + Screen.count(fit.path("files").asLong(), "file") + " of "
                    + Screen.count(number, "structure") + (number > 0 && !unfit ? ", all fit" : "")
                    + (waiting > 0 ? "; " + Screen.grouped(waiting) + " waiting, not looked at" : ""));
        }
        return status;
    }

    private void group(int number, JsonNode group) {
        Screen screen = client.screen();
        boolean unfit = group.path("verdict").asText().equals("does not fit");
        String verdict = unfit
                ? screen.bad(group.path("verdict").asText())
                : group.path("verdict").asText();
        screen.line(screen.strong("structure " + number) + "  "
                + Screen.count(group.path("files").asLong(), "file") + ": " + verdict + sampled(group));
        screen.paragraph("  ", names(group, unfit));
        if (group.has("sentence")) {
            screen.line("  " + screen.bad("! ") + group.path("sentence").asText());
        }
        Table table = new Table("  ")
                .text("")
                .text("column")
                .prose("header in the file")
                .number("place")
                .prose("");
        for (JsonNode cell : group.path("cells")) {
            table.row(
                    mark(cell.path("state").asText()),
                    cell.path("column").asText(),
                    cell.path("header").asText(),
                    cell.path("position").asInt() == 0
                            ? ""
                            : cell.path("position").asText(),
                    remark(cell));
        }
        for (JsonNode extra : group.path("extra")) {
            table.row(
                    extra.path("passed").asBoolean() ? "-" : "!",
                    "",
                    extra.path("name").asText(),
                    extra.path("position").asInt() == 0
                            ? ""
                            : extra.path("position").asText(),
                    extra.path("passed").asBoolean() ? "not mapped, skipped as declared" : "not mapped");
        }
        if (!table.isEmpty()) {
            screen.table(table);
        }
        group.path("changes").forEach(change -> screen.line("  > " + Screen.visible(change.asText())));
        screen.line("");
    }

    private static String sampled(JsonNode group) {
        long rows = group.path("rows").asLong();
        long rejected = group.path("rejected").asLong();
        return rows == 0
                ? ""
                : "  (" + (rejected == 0 ? "none" : Screen.grouped(rejected)) + " of the " + Screen.count(rows, "row")
                        + " looked at would be rejected)";
    }

    /** The files of a group: all of them in which something does not fit, of the others the first few. */
    private String names(JsonNode group, boolean unfit) {
        List<String> names = new ArrayList<>();
        for (JsonNode name : group.path("names")) {
            long rejected = name.path("rejected").asLong();
            if (!files && !unfit && rejected == 0 && names.size() >= NAMED) {
                break;
            }
            names.add(name.path("relative").asText()
                    + (rejected == 0
                            ? ""
                            : " (" + Screen.grouped(rejected) + " of "
                                    + Screen.count(name.path("rows").asLong(), "row") + ")"));
        }
        long more = group.path("files").asLong() - names.size();
        return String.join(", ", names) + (more > 0 ? " and " + Screen.grouped(more) + " more" : "");
    }

    private static String mark(String state) {
        return switch (state) {
            case "present", "fixed" -> "+";
            case "moved" -> "~";
            case "empty" -> "-";
            default -> "!";
        };
    }

    private static String remark(JsonNode cell) {
        String looks = cell.path("looks").asText();
        return switch (cell.path("state").asText()) {
            case "moved" ->
                "at place " + cell.path("usual").asInt() + " in most files" + (looks.isEmpty() ? "" : "; " + looks);
            case "missing" -> "missing, " + looks;
            default -> looks;
        };
    }
}
