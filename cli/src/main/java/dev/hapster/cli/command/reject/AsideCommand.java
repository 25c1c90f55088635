package dev.hapster.cli.command.reject;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.nio.file.Path;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "aside",
        mixinStandardHelpOptions = true,
        description = "Shows which rows a run set aside, by the rule that did so, or writes them into a file.",
        footer = {"", "Examples:  hapster aside 2", "           hapster aside 2 --to aside.csv"})
public final class AsideCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN")
    private long run;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "5",
            description = "How many rows of each rule (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            description = "Write them into this file, in their source's own columns with the rule behind.")
    private Path target;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "csv, parquet, or source: as the job reads it (default: by the file's ending).")
    private String format;

    @Option(names = "--overwrite", description = "Replace a file that is there already.")
    private boolean overwrite;

    @Override
    public Integer call() {
        Api api = client.api();
        if (target != null) {
            return RejectsCommand.write(client, "/runs/" + run + "/aside/export", target, format, overwrite);
        }
        JsonNode rules = api.get("/runs/" + run + "/aside");
        if (client.json()) {
            client.print(rules);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (rules.isEmpty()) {
            screen.line("Run " + run + " set nothing aside.");
        }
        for (JsonNode rule : rules) {
            screen.line(Screen.count(rule.path("rows").asLong(), "row") + " of "
                    + Screen.count(rule.path("files").asLong(), "file") + "  "
                    + screen.strong(rule.path("rule").asText()));
            String name = rule.path("rule").asText();
            for (JsonNode row : api.get("/runs/" + run + "/aside/rows?limit=" + limit + "&rule=" + Api.encode(name))) {
                screen.line("  " + row.path("file").asText() + ":"
                        + row.path("line").asLong() + "  "
                        + screen.faint(
                                screen.fitting(row.path("original").asText().replaceAll("\\R", "⏎"), 40)));
            }
            long more = rule.path("rows").asLong() - limit;
            if (more > 0) {
                screen.line("  and " + Screen.grouped(more) + " more; --to FILE writes all of them");
            }
        }
        return ExitStatus.DONE;
    }
}
