package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Screen;
import dev.hapster.cli.terminal.Table;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "rows",
        mixinStandardHelpOptions = true,
        description = "Shows rows of a dataset, each with the file and line it comes from.",
        footer = {
            "",
            "Examples:  hapster rows river_samples --sort -value --limit 5",
            "           hapster rows river_samples --columns station,value --limit 5",
            "           hapster rows river_samples --where \"lab = East\" --where \"value > 40\"",
            "",
            "Conditions: COLUMN = != < <= > >= VALUE, COLUMN ~ TEXT (holds it), COLUMN is empty, COLUMN is filled.",
            "Besides the declared columns there are _file, _path, _line, _run and _loaded_at."
        })
public final class RowsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(names = "--offset", paramLabel = "N", defaultValue = "0", description = "Begin after so many rows.")
    private long offset;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "20",
            description = "How many rows (default: ${DEFAULT-VALUE}, at most 1000).")
    private int limit;

    @Mixin
    private RowOptions which;

    @Override
    public Integer call() {
        JsonNode answer = client.api()
                .get("/datasets/" + Api.encode(dataset) + "/rows?offset=" + offset + "&limit=" + limit + which.query());
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        Table table = new Table("").text("source");
        JsonNode fields = answer.path("fields");
        int declared = 0;
        while (fields.path(declared).path("name").asText().startsWith("_")) {
            declared++;
        }
        for (int i = declared; i < fields.size(); i++) {
            String type = fields.get(i).path("type").asText();
            boolean number = type.startsWith("decimal") || type.equals("integer") || type.equals("double");
            if (number) {
                table.number(fields.get(i).path("name").asText(), goes(i));
            } else {
                table.text(fields.get(i).path("name").asText(), goes(i));
            }
        }
        for (JsonNode row : answer.path("rows")) {
            Object[] cells = new Object[1 + fields.size() - declared];
            cells[0] = row.path(0).asText() + ":" + row.path(1).asLong();
            for (int i = declared; i < fields.size(); i++) {
                cells[1 + i - declared] =
                        row.path(i).isNull() ? "" : row.path(i).asText().replaceAll("\\R", "⏎");
            }
            table.row(cells);
        }
        Screen screen = client.screen();
        screen.table(table);
        long total = answer.path("total").asLong();
        screen.line(Screen.count(total, "row")
                + (which.hasConditions() ? " of " + dataset + " for which this holds" : " in " + dataset)
                + (answer.path("rows").size() < total
                        ? ", " + answer.path("rows").size() + " shown"
                        : ""));
        return RowOptions.leftOut(screen, answer);
    }

    /** Columns that were asked for by name stay; of the others the last goes first. */
    private int goes(int column) {
        return which.namesColumns() ? 0 : column;
    }
}
