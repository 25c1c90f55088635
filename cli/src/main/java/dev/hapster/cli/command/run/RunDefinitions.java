package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;

/** Shows by which definitions a run went, and what changed in them. */
final class RunDefinitions {

    private static final int SHORT_COMMIT = 10;

    private final Screen screen;

    RunDefinitions(Screen screen) {
        this.screen = screen;
    }

    void show(JsonNode changes) {
        JsonNode before = changes.path("before");
        JsonNode now = changes.path("now");
        String then = moment(before);
        String later = moment(now);
        commit(then, before);
        commit(later, now);
        Table table = new Table("").text("file").text(then).text(later).text("").prose("");
        for (JsonNode file : changes.path("files")) {
            table.row(
                    file.path("file").asText(),
                    version(file.path("before")),
                    version(file.path("now")),
                    kind(file),
                    trouble(file.path("before"), then, file.path("now"), later));
        }
        screen.table(table);
        values(changes.path("values"), then, later);
        for (JsonNode file : changes.path("files")) {
            if (!file.path("changes").isEmpty()) {
                screen.line("");
                file.path("changes").forEach(line -> line(line.asText()));
            }
        }
    }

    private static String version(JsonNode side) {
        return side.path("version").asText(side.has("trouble") ? "?" : "");
    }

    private static String kind(JsonNode file) {
        if (file.path("before").has("trouble") || file.path("now").has("trouble")) {
            return "?";
        }
        return file.path("same").asBoolean() ? "same" : file.path("now").has("text") ? "changed" : "gone";
    }

    private static String moment(JsonNode moment) {
        return moment.has("run") ? "run " + moment.path("run").asLong() : "now";
    }

    private void commit(String when, JsonNode moment) {
        if (!moment.has("commit")) {
            return;
        }
        List<String> uncommitted = new ArrayList<>();
        moment.path("commit").path("uncommitted").forEach(file -> uncommitted.add(file.asText()));
        String id = moment.path("commit").path("id").asText();
        screen.paragraph(
                when + ": ",
                "commit " + id.substring(0, Math.min(id.length(), SHORT_COMMIT))
                        + (uncommitted.isEmpty()
                                ? ""
                                : ", from which " + String.join(" and ", uncommitted)
                                        + (uncommitted.size() == 1 ? " differs" : " differ")));
    }

    private static String trouble(JsonNode before, String then, JsonNode now, String later) {
        List<String> words = new ArrayList<>();
        words.addAll(trouble(before, then));
        words.addAll(trouble(now, later));
        return String.join("; ", words);
    }

    private static List<String> trouble(JsonNode side, String when) {
        return side.has("trouble")
                ? List.of(when + ": " + side.path("trouble").asText())
                : side.has("text") ? List.of() : List.of(when + ": there is no such file");
    }

    private void values(JsonNode values, String then, String later) {
        if (values.isEmpty()) {
            return;
        }
        Table table =
                new Table("  ").text("value").text(then).text("").text(later).text("");
        for (JsonNode value : values) {
            table.row(
                    value.path("name").asText(),
                    value.path("before").path("value").asText(""),
                    value.path("before").path("from").asText(""),
                    value.path("now").path("value").asText(""),
                    value.path("now").path("from").asText(""));
        }
        screen.line("");
        screen.table(table);
    }

    private void line(String text) {
        String shown = Screen.visible(text);
        if (text.startsWith("+")) {
            screen.line(screen.good(shown));
        } else if (text.startsWith("-")) {
            screen.line(screen.bad(shown));
        } else {
            screen.line(text.startsWith("@@") ? screen.faint(shown) : shown);
        }
    }
}
