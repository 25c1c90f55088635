package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.Locale;

/** Shows the runs of a job one after another, with bars for rows, rejects and duration. */
final class TrendTable {

    private static final int BAR = 16;

    private final Screen screen;

    TrendTable(Screen screen) {
        this.screen = screen;
    }

    void show(JsonNode trend) {
        JsonNode points = trend.path("points");
        String job = trend.path("job").asText();
        long idle = trend.path("idle").asLong();
        if (points.isEmpty()) {
            screen.line(
                    idle == 0
                            ? job + " has not run yet."
                            : "None of the " + Screen.count(idle, "run") + " of " + job + " found anything new.");
            return;
        }
        double loaded = most(points, "rowsLoaded");
        double rejected = most(points, "rowsRejected");
        double seconds = most(points, "seconds");
        Table table = new Table("")
                .number("run")
                .text("started", 1)
                .text("state")
                .number("rows loaded")
                .text("")
                .number("rejected")
                .text("")
                .number("seconds")
                .text("")
                .prose("label");
        for (JsonNode point : points) {
            table.row(
                    point.path("run").asLong(),
                    Screen.time(point.path("startedAt").asText("")),
                    point.path("state").asText(),
                    point.path("rowsLoaded").asLong(),
                    Screen.bar(point.path("rowsLoaded").asDouble(), loaded, BAR),
                    point.path("rowsRejected").asLong(),
                    Screen.bar(point.path("rowsRejected").asDouble(), rejected, BAR),
                    point.has("seconds")
                            ? String.format(
                                    Locale.ROOT, "%.2f", point.path("seconds").asDouble())
                            : "",
                    Screen.bar(point.path("seconds").asDouble(), seconds, BAR),
                    point.path("label").asText(""));
        }
        screen.table(table);
        if (idle > 0) {
            screen.line(Screen.count(idle, "run") + " since run "
                    + points.get(0).path("run").asLong() + (idle == 1 ? " is" : " are")
                    + " not listed: nothing new was found.");
        }
    }

    private static double most(JsonNode points, String what) {
        double most = 0;
        for (JsonNode point : points) {
            most = Math.max(most, point.path(what).asDouble());
        }
        return most;
    }
}
