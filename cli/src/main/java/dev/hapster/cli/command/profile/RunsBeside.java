package dev.hapster.cli.command.profile;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.FilterOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What the latest run brought, beside what the run before it brought: the figures that differ. */
final class RunsBeside {

    /** Columns that are asked for at once; so many fit into an address. */
    private static final int MOST_COLUMNS = 60;

    private final Client client;
    private final String address;
    private final FilterOptions filter;

    RunsBeside(Client client, String address, FilterOptions filter) {
        this.client = client;
        this.address = address;
        this.filter = filter;
    }

    /** Prints them; gives the status to end with. */
    int print(List<String> columns) {
        JsonNode dataset = client.api().get(address);
        Map<String, Boolean> wanted = new LinkedHashMap<>();
        List<String> all = new ArrayList<>();
        for (JsonNode column : dataset.path("columns")) {
            String type = column.path("type").asText();
            String name = column.path("name").asText();
            all.add(name);
            if (columns.isEmpty() || columns.contains(name)) {
                wanted.put(name, type.equals("integer") || type.equals("double") || type.startsWith("decimal"));
            }
        }
        columns.stream().filter(name -> !wanted.containsKey(name)).findFirst().ifPresent(name -> {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    dataset.path("name").asText() + " has no column '" + name + "'; it has " + String.join(", ", all)
                            + ".");
        });
        if (wanted.size() > MOST_COLUMNS) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Runs are set beside each other by " + MOST_COLUMNS
                            + " columns at most; name some with --columns.");
        }
        List<String> runs = new ArrayList<>();
        JsonNode found = client.api().get(address + "/counts?by=_run&sort=-_run" + filter.query());
        for (JsonNode group : found.path("groups")) {
            if (runs.size() < 2) {
                runs.add(0, group.path("values").path(0).asText());
            }
        }
        Screen screen = client.screen();
        if (runs.size() < 2) {
            screen.line(
                    runs.isEmpty()
                            ? "No row is there that a run brought."
                            : "All these rows are from run " + runs.get(0) + "; there is none to compare it with.");
            return FilterOptions.remarks(screen, found);
        }
        List<String> measures = new ArrayList<>();
        wanted.forEach((column, number) -> {
            for (String measure : List.of("count", "min", "max")) {
                measures.add(measure + "(" + column + ")");
            }
            if (number) {
                measures.add("mean(" + column + ")");
            }
        });
        JsonNode answer = client.api()
                .get(address + "/counts?by=_run&sort=_run"
                        + FilterOptions.list("where", List.of("_run in (" + String.join(",", runs) + ")"))
                        + FilterOptions.list("measures", measures) + filter.query());
        JsonNode before = answer.path("groups").path(0);
        JsonNode now = answer.path("groups").path(1);
        if (client.json()) {
            ObjectNode both = Api.JSON.createObjectNode();
            both.set("measures", Api.JSON.valueToTree(measures));
            both.set("before", before);
            both.set("now", now);
            client.print(both);
            return ExitStatus.DONE;
        }
        print(screen, runs, measures, before, now);
        return FilterOptions.remarks(screen, answer);
    }

    private void print(Screen screen, List<String> runs, List<String> measures, JsonNode before, JsonNode now) {
        long older = before.path("rows").asLong();
        long newer = now.path("rows").asLong();
        Table table =
                new Table("").text("column").text("").number(head(runs.get(0))).number(head(runs.get(1)));
        table.row("", "rows", Screen.grouped(older), Screen.grouped(newer));
        String last = "";
        int same = 0;
        for (int i = 0; i < measures.size(); i++) {
            String measure = measures.get(i).substring(0, measures.get(i).indexOf('('));
            String column = measures.get(i)
                    .substring(measure.length() + 1, measures.get(i).length() - 1);
            boolean count = measure.equals("count");
            String was = figure(before.path("measures").path(i), count, older);
            String is = figure(now.path("measures").path(i), count, newer);
            if (was.equals(is)) {
                same++;
                continue;
            }
            table.row(column.equals(last) ? "" : column, word(measure), was, is);
            last = column;
        }
        screen.table(table);
        screen.line(same == 0 ? "" : Screen.count(same, "figure") + " are the same in both.");
    }

    private String head(String run) {
        String job = client.api().get("/runs/" + run).path("job").asText();
        return "run " + run + (job.isEmpty() ? "" : ", " + job);
    }

    private static String word(String measure) {
        return switch (measure) {
            case "count" -> "empty";
            case "min" -> "smallest";
            case "max" -> "largest";
            default -> "mean";
        };
    }

    private static String figure(JsonNode value, boolean count, long rows) {
        if (count) {
            return ProfileCommand.share(rows - value.asLong(), rows);
        }
        return value.isNull() ? "-" : value.asText();
    }
}
