package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;

/** Rows of a dataset on the screen, each with the file and line it comes from. */
final class RowsTable {

    private RowsTable() {}

    /**
     * Prints an answer; gives the status to end with.
     *
     * @param named whether its columns were asked for by name; otherwise the last ones go where the screen is narrow
     * @param filtered whether it was asked for rows that satisfy conditions
     */
    static int print(Client client, JsonNode answer, boolean named, boolean filtered) {
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
            String name = fields.get(i).path("name").asText();
            int goes = named ? 0 : i;
            if (number) {
                table.number(name, goes);
            } else {
                table.text(name, goes);
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
        String dataset = answer.path("dataset").asText();
        screen.line(Screen.count(total, "row")
                + (filtered ? " of " + dataset + " that match the conditions" : " in " + dataset)
                + (answer.path("rows").size() < total
                        ? ", " + answer.path("rows").size() + " shown"
                        : ""));
        return FilterOptions.remarks(screen, answer);
    }
}
