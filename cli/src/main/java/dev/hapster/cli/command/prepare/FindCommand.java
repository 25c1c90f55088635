package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "find",
        mixinStandardHelpOptions = true,
        description = "Shows which files a job would take now, and which it skips, with the rule.",
        footer = {"", "Example:  hapster find north-lab --skipped"})
public final class FindCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Option(names = "--skipped", description = "Also list the files that are skipped.")
    private boolean skipped;

    @Option(names = "--place", paramLabel = "N", description = "Only the N-th place of the job, counted from 1.")
    private Integer place;

    @Mixin
    private ValueOptions given;

    @Option(names = "--all", description = "List every file, even if there are more than " + PAGE + ".")
    private boolean all;

    /** How many files are asked for at a time. */
    private static final int PAGE = 1000;

    @Override
    public Integer call() {
        JsonNode found = page(0);
        long matching = found.path("matching").asLong();
        boolean wrong = !found.path("problems").isEmpty();
        long taken = found.path("taken").asLong();
        int status = wrong
                ? ExitStatus.FAILED
                : found.path("troubles").isEmpty() && taken > 0 ? ExitStatus.DONE : ExitStatus.FINDINGS;
        if (client.json()) {
            ArrayNode files = (ArrayNode) found.path("files");
            for (int offset = PAGE; all && offset < matching; offset += PAGE) {
                page(offset).path("files").forEach(files::add);
            }
            client.print(found);
            return status;
        }
        Screen screen = client.screen();
        found.path("problems").forEach(problem -> screen.line(screen.bad("  ! ") + Api.problem(problem)));
        if (!found.path("values").isEmpty()) {
            screen.line("with " + Report.values(found.path("values")));
        }
        if (taken == 0 && found.path("problems").isEmpty()) {
            screen.line(job + ": no files found");
        }
        files(found, true);
        for (int offset = PAGE; all && offset < matching; offset += PAGE) {
            files(page(offset), false);
        }
        if (!all && matching > PAGE) {
            screen.line("  … and " + Screen.grouped(matching - PAGE) + " more (hapster find " + job
                    + " --all lists every one)");
        }
        for (JsonNode counts : found.path("counts")) {
            if (place == null || place == counts.path("place").asInt()) {
                counts(counts, found.path("counts").size() > 1);
            }
        }
        found.path("troubles")
                .forEach(trouble ->
                        screen.line(screen.bad("  ! ") + trouble.path("what").asText() + ". "
                                + trouble.path("hint").asText()));
        found.path("nearly").forEach(one -> screen.line(screen.bad("  ! ") + one.asText()));
        long out = found.path("skipped").asLong();
        long waiting = found.path("waiting").asLong();
        if (taken == 0 && out == 0) {
            return status;
        }
        screen.line(job + " takes " + (taken == 0 ? "no file" : Screen.count(taken, "file"))
                + (waiting > 0 ? " (" + Screen.grouped(waiting) + " of them waiting)" : "") + " and skips "
                + Screen.grouped(out)
                + (out > 0 && !skipped ? " (hapster find " + job + " --skipped shows which, and why)" : ""));
        return status;
    }

    /** Only the first page looks into the folders; the others go on with the same listing. */
    private JsonNode page(int offset) {
        ObjectNode request = given.body()
                .put("which", skipped ? "all" : "taken")
                .put("fresh", offset == 0)
                .put("place", place == null ? 0 : place)
                .put("offset", offset)
                .put("limit", PAGE);
        return client.api().post("/jobs/" + Api.encode(job) + "/find", request);
    }

    private void files(JsonNode found, boolean first) {
        Table table = new Table("  ")
                .text("")
                .prose("file")
                .number("size")
                .number("bytes", 4)
                .text("modified", 2)
                .text("created", 3)
                .text("known", 1)
                .prose("says")
                .text("rule");
        for (JsonNode file : found.path("files")) {
            String known = file.path("status").asText()
                    + (file.has("run") ? " (run " + file.path("run").asLong() + ")" : "");
            table.row(
                    file.has("waiting") ? "~" : file.path("taken").asBoolean() ? "+" : "-",
                    file.path("relative").asText(),
                    Screen.size(file.path("size").asLong()),
                    file.path("size").asLong(),
                    Screen.time(file.path("modified").asText()),
                    Screen.time(file.path("created").asText()),
                    known,
                    facts(file),
                    file.has("waiting")
                            ? "waiting: " + file.path("waiting").asText()
                            : file.path("rule").asText());
        }
        if (!table.isEmpty()) {
            table.lines(client.screen().limit()).stream().skip(first ? 0 : 1).forEach(client.screen()::line);
        }
    }

    private static String facts(JsonNode file) {
        StringBuilder text = new StringBuilder();
        file.path("facts").properties().forEach(fact -> text.append(text.isEmpty() ? "" : " ")
                .append(fact.getKey())
                .append('=')
                .append(fact.getValue().asText()));
        return text.toString();
    }

    /** What the rules of a place left over, one after another; the rule that removed the last file is pointed out. */
    private void counts(JsonNode counts, boolean numbered) {
        Screen screen = client.screen();
        screen.line((numbered ? "place " + counts.path("place").asInt() + "  " : "")
                + counts.path("folder").asText() + ": "
                + Screen.count(counts.path("seen").asLong(), "file"));
        Table table = new Table("  ").text("").number("").text("").prose("");
        for (JsonNode step : counts.path("steps")) {
            table.row(
                    step.path("rule").asText(),
                    step.path("remain").asLong(),
                    "remain",
                    step.path("last").asBoolean() ? "removed the last of them" : "");
        }
        screen.table(table);
    }
}
