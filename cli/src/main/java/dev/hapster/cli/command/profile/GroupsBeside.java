package dev.hapster.cli.command.profile;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.FilterOptions;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/** Groups of rows beside each other: a line for each, and in it how empty its columns are, or the figures of one. */
final class GroupsBeside {

    private static final Set<String> NUMBERS = Set.of("integer", "double");
    /** Columns that are asked for at once; so many fit into an address. */
    private static final int MOST_COLUMNS = 200;

    private final Client client;
    private final String address;
    private final String by;
    private final FilterOptions filter;

    GroupsBeside(Client client, String address, String by, FilterOptions filter) {
        this.client = client;
        this.address = address;
        this.by = by;
        this.filter = filter;
    }

    /** Prints them; gives the status to end with. */
    int print(List<String> columns) {
        JsonNode dataset = client.api().get(address);
        List<String> wanted = new ArrayList<>(columns);
        boolean number = false;
        for (JsonNode column : dataset.path("columns")) {
            String name = column.path("name").asText();
            String type = column.path("type").asText();
            if (columns.isEmpty()) {
                wanted.add(name);
            } else if (columns.equals(List.of(name))) {
                number = NUMBERS.contains(type) || type.startsWith("decimal");
            }
        }
        if (wanted.size() > MOST_COLUMNS) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Groups are set beside each other by " + MOST_COLUMNS
                            + " columns at most; name some with --columns.");
        }
        boolean one = columns.size() == 1;
        List<String> measures = new ArrayList<>();
        wanted.forEach(column -> measures.add("count(" + column + ")"));
        if (one) {
            measures.add("min(" + columns.get(0) + ")");
            if (number) {
                measures.add("mean(" + columns.get(0) + ")");
            }
            measures.add("max(" + columns.get(0) + ")");
        }
        JsonNode answer = client.api()
                .get(address + "/counts?top=0" + FilterOptions.list("by", List.of(by))
                        + FilterOptions.list("measures", measures) + filter.query());
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        Table table = new Table("").text(by).number("rows");
        for (int i = 0; i < wanted.size(); i++) {
            table.number(one ? "empty" : wanted.get(i), one ? 0 : i + 1);
        }
        for (int i = wanted.size(); i < measures.size(); i++) {
            table.number(measures.get(i).replaceFirst("\\(.*", ""));
        }
        for (JsonNode group : answer.path("groups")) {
            long rows = group.path("rows").asLong();
            List<Object> cells = new ArrayList<>();
            JsonNode value = group.path("values").path(0);
            cells.add(value.isNull() ? "(empty)" : value.asText());
            cells.add(rows);
            for (int i = 0; i < measures.size(); i++) {
                JsonNode figure = group.path("measures").path(i);
                cells.add(
                        i < wanted.size()
                                ? ProfileCommand.share(rows - figure.asLong(), rows)
                                : figure.isNull() ? "-" : figure.asText());
            }
            table.row(cells.toArray());
        }
        Screen screen = client.screen();
        screen.table(table);
        screen.line(Screen.count(answer.path("total").asLong(), "row") + " in "
                + Screen.count(answer.path("groups").size(), "group")
                + (one ? "" : "; the share of them without a value"));
        return FilterOptions.remarks(screen, answer);
    }
}
