package dev.hapster.cli.command.data;

import java.util.List;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** Which rows of a dataset, which of their columns, and in which order. */
final class RowOptions {

    @Option(
            names = "--columns",
            paramLabel = "COLUMN",
            split = ",",
            description = "Only these, in this order (default: all).")
    private List<String> columns = List.of();

    @Option(
            names = "--sort",
            paramLabel = "COLUMN",
            split = ",",
            description = "Sort by these columns, descending with a - in front (default: by source and line).")
    private List<String> sort = List.of();

    @Mixin
    private FilterOptions filter;

    /** Whether columns are named; otherwise all are meant. */
    boolean namesColumns() {
        return !columns.isEmpty();
    }

    List<String> columns() {
        return List.copyOf(columns);
    }

    List<String> conditions() {
        return filter.conditions();
    }

    List<String> sort() {
        return List.copyOf(sort);
    }

    /** As part of an address, behind other parameters. */
    String query() {
        return FilterOptions.list("columns", columns) + FilterOptions.list("sort", sort) + filter.query();
    }
}
