package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "count",
        mixinStandardHelpOptions = true,
        description = "Counts the rows of a dataset by up to four columns, and adds up others.",
        footer = {
            "",
            "Examples:  hapster count river_samples --by lab,sampled_at:month",
            "           hapster count river_samples --by station --top 5",
            "           hapster count river_samples --by lab --measure \"mean(value), max(value)\" --sort \"-mean(value)\"",
            "           hapster count river_samples --measure \"sum(value)\" --where \"lab in (North, East)\"",
            "",
            FilterOptions.CONDITIONS
        })
public final class CountCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(
            names = "--by",
            paramLabel = "COLUMN",
            split = ",",
            description = "Columns; dates also as COLUMN:year, :quarter, :month, :week, :day or :hour "
                    + "(default: all rows together).")
    private List<String> by = List.of();

    @Option(
            names = "--measure",
            paramLabel = "MEASURE",
            split = ",",
            description = "What to find out in each group: sum(COLUMN), mean(COLUMN), min(COLUMN), max(COLUMN) or "
                    + "count(COLUMN), which counts values that are not empty.")
    private List<String> measures = List.of();

    @Option(
            names = "--sort",
            paramLabel = "WHAT",
            split = ",",
            description = "Sort by rows, a measure or a column counted by, descending with a - in front.")
    private List<String> sort = List.of();

    @Option(
            names = "--top",
            paramLabel = "N",
            defaultValue = "0",
            description = "List the N largest groups, or the first N of what --sort says, and the rest as one.")
    private int top;

    @Mixin
    private FilterOptions filter;

    @Mixin
    private SaveOptions save;

    @Override
    public Integer call() {
        ObjectNode question = SaveOptions.question(dataset, filter.conditions(), sort);
        SaveOptions.put(question, "by", by);
        SaveOptions.put(question, "measures", measures);
        question.put("top", top);
        save.save(client, question);
        String path = "/datasets/" + Api.encode(dataset) + "/counts?top=" + top + FilterOptions.list("by", by)
                + FilterOptions.list("measures", measures) + FilterOptions.list("sort", sort) + filter.query();
        return CountsTable.print(client, client.api().get(path), sort);
    }
}
