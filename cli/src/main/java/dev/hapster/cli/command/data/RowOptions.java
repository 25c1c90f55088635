package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ExitStatus;
import dev.hapster.cli.terminal.Screen;
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
            description = "Only rows that satisfy this condition; may be given several times.")
    private List<String> where = List.of();

    @Option(
            names = "--sort",
            paramLabel = "COLUMN",
            split = ",",
            description = "Sort by this column, descending with a - in front (default: by source and line).")
    private List<String> sort = List.of();

    @Option(
            names = "--partial",
            description = "Leave out parts that are missing or damaged, and say which; otherwise nothing is shown.")
    private boolean partial;

    /** Whether columns are named; otherwise all are meant. */
    boolean namesColumns() {
        return !columns.isEmpty();
    }

    List<String> columns() {
        return List.copyOf(columns);
    }

    List<String> conditions() {
        return List.copyOf(where);
    }

    List<String> sort() {
        return List.copyOf(sort);
    }

    boolean hasConditions() {
        return !where.isEmpty();
    }

    /** Says which parts are not in an answer; gives the status to end with. */
    static int leftOut(Screen screen, JsonNode answer) {
        answer.path("leftOut").forEach(part -> screen.complain("Left out: " + part.asText()));
        return answer.path("leftOut").isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    /** As part of an address, behind other parameters. */
    String query() {
        StringBuilder query = new StringBuilder();
        columns.forEach(column -> query.append("&columns=").append(Api.encode(column)));
        where.forEach(condition -> query.append("&where=").append(Api.encode(condition)));
        sort.forEach(column -> query.append("&sort=").append(Api.encode(column)));
        return query.append(partial ? "&partial=true" : "").toString();
    }
}
