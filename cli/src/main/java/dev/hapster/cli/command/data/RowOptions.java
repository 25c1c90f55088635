package dev.hapster.cli.command.data;

import dev.hapster.cli.http.Api;
import java.util.List;
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
            names = "--where",
            paramLabel = "CONDITION",
            description = "Only rows for which it holds; may be given several times.")
    private List<String> where = List.of();

    @Option(
            names = "--sort",
            paramLabel = "COLUMN",
            split = ",",
            description = "Sort by it; with - in front descending (default: by source and line).")
    private List<String> sort = List.of();

    /** Whether columns are named; otherwise all are meant. */
    boolean namesColumns() {
        return !columns.isEmpty();
    }

    boolean hasConditions() {
        return !where.isEmpty();
    }

    /** As part of an address, behind other parameters. */
    String query() {
        StringBuilder query = new StringBuilder();
        columns.forEach(column -> query.append("&columns=").append(Api.encode(column)));
        where.forEach(condition -> query.append("&where=").append(Api.encode(condition)));
        sort.forEach(column -> query.append("&sort=").append(Api.encode(column)));
        return query.toString();
    }
}
