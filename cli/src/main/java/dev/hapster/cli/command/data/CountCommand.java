package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Screen;
import dev.hapster.cli.terminal.Table;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "count",
        mixinStandardHelpOptions = true,
        description = "Counts the rows of a dataset by one or more columns.",
        footer = {
            "",
            "Examples:  hapster count river_samples --by lab,sampled_at:month",
            "           hapster count river_samples --by station --sort -rows"
        })
public final class CountCommand implements Callable<Integer> {

    private static final int BAR = 30;

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(
            names = "--by",
            paramLabel = "COLUMN",
            split = ",",
            required = true,
            description = "Columns; dates also as COLUMN:year, COLUMN:month or COLUMN:day.")
    private List<String> by;

    @Option(
            names = "--sort",
            paramLabel = "COLUMN",
            split = ",",
            description = "Sort by rows or by one of the columns counted by, descending with a - in front.")
    private List<String> sort = List.of();

    @Option(
            names = "--where",
            paramLabel = "CONDITION",
            description = "Only rows that satisfy this condition; may be given several times.")
    private List<String> where = List.of();

    @Option(
            names = "--partial",
            description = "Leave out parts that are missing or damaged, and say which; otherwise nothing is counted.")
    private boolean partial;

    @Override
    public Integer call() {
        StringBuilder path = new StringBuilder(
                "/datasets/" + Api.encode(dataset) + "/counts?by=" + Api.encode(String.join(",", by)));
        where.forEach(condition -> path.append("&where=").append(Api.encode(condition)));
        sort.forEach(column -> path.append("&sort=").append(Api.encode(column)));
        path.append(partial ? "&partial=true" : "");
        JsonNode answer = client.api().get(path.toString());
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        Table table = new Table("");
        by.forEach(table::text);
        table.number("rows").text("", 1);
        long most = 1;
        for (JsonNode group : answer.path("groups")) {
            most = Math.max(most, group.path("rows").asLong());
        }
        for (JsonNode group : answer.path("groups")) {
            Object[] cells = new Object[by.size() + 2];
            for (int i = 0; i < by.size(); i++) {
                cells[i] = group.path("values").path(i).isNull()
                        ? "(empty)"
                        : group.path("values").path(i).asText();
            }
            long rows = group.path("rows").asLong();
            cells[by.size()] = rows;
            cells[by.size() + 1] = "▪".repeat((int) Math.max(1, rows * BAR / most));
            table.row(cells);
        }
        client.screen().table(table);
        client.screen()
                .line(Screen.count(answer.path("total").asLong(), "row") + " in "
                        + Screen.count(answer.path("groups").size(), "group"));
        return RowOptions.leftOut(client.screen(), answer);
    }
}
