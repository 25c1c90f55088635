package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;

/** Counted rows on the screen, with bars. */
final class CountsTable {

    private static final int BAR = 30;

    private final JsonNode answer;
    private final int keys;
    private final int measures;
    /** Which measure the bars show; -1 for the rows. */
    private final int shown;

    /** @param sort what the groups are sorted by; bars show the measure that comes first in it, or else the rows */
    private CountsTable(JsonNode answer, List<String> sort) {
        this.answer = answer;
        keys = answer.path("by").size();
        measures = answer.path("measures").size();
        int found = -1;
        String first = sort.isEmpty() ? "" : sort.get(0).replaceFirst("^-", "");
        for (int i = 0; i < measures; i++) {
            found = answer.path("measures").get(i).asText().equals(first) ? i : found;
        }
        shown = found;
    }

    /** Prints an answer; gives the status to end with. */
    static int print(Client client, JsonNode answer, List<String> sort) {
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        new CountsTable(answer, sort).print(client.screen());
        return FilterOptions.remarks(client.screen(), answer);
    }

    private void print(Screen screen) {
        JsonNode rest = answer.path("rest");
        if (keys > 0) {
            Table table = new Table("");
            answer.path("by").forEach(name -> table.text(name.asText()));
            table.number("rows");
            answer.path("measures").forEach(name -> table.number(name.asText()));
            table.text("", 1);
            double most = 0;
            for (JsonNode group : answer.path("groups")) {
                most = Math.max(most, height(group));
            }
            for (JsonNode group : answer.path("groups")) {
                List<Object> cells = new ArrayList<>();
                group.path("values").forEach(value -> cells.add(value.isNull() ? "(empty)" : value.asText()));
                figures(group, cells);
                double height = height(group);
                cells.add(height > 0 ? "▪".repeat((int) Math.max(1, Math.round(height * BAR / most))) : "");
                table.row(cells.toArray());
            }
            if (rest.isObject()) {
                List<Object> cells = new ArrayList<>();
                cells.add("(" + Screen.grouped(rest.path("groups").asLong()) + " more)");
                for (int i = 1; i < keys; i++) {
                    cells.add("");
                }
                figures(rest, cells);
                cells.add("");
                table.row(cells.toArray());
            }
            screen.table(table);
        }
        long groups = answer.path("groups").size() + rest.path("groups").asLong();
        StringBuilder line = new StringBuilder(Screen.count(answer.path("total").asLong(), "row"));
        if (keys > 0) {
            line.append(" in ").append(Screen.count(groups, "group"));
        }
        for (int i = 0; i < measures; i++) {
            line.append(i == 0 && keys > 0 ? "; of all " : ", ")
                    .append(answer.path("measures").get(i).asText())
                    .append(' ')
                    .append(figure(answer.path("totals").path(i)));
        }
        screen.line(line.toString());
    }

    private double height(JsonNode group) {
        return shown < 0
                ? group.path("rows").asDouble()
                : group.path("measures").path(shown).asDouble(0);
    }

    private static void figures(JsonNode group, List<Object> cells) {
        cells.add(group.path("rows").asLong());
        group.path("measures").forEach(value -> cells.add(figure(value)));
    }

    private static String figure(JsonNode value) {
        return value.isNull() ? "-" : value.asText();
    }
}
