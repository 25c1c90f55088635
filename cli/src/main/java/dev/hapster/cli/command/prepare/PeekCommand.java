package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "peek",
        mixinStandardHelpOptions = true,
        description = "Shows lines of a file as they are, with invisible characters made visible: \\t, \\u00A0, "
                + "\\xE4 for a byte that the encoding does not know, · for a space at the end.",
        footer = {
            "",
            "Examples:  hapster peek east-lab samples-2026-03.csv",
            "           hapster peek north-lab samples-2026-01.csv --last 5"
        })
public final class PeekCommand implements Callable<Integer> {

    /** Merged areas that are named. */
    private static final int MERGED = 8;

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "JOB")
    private String job;

    @Parameters(index = "1", paramLabel = "FILE", description = "As `hapster find` lists it; taken or not.")
    private String file;

    @Option(
            names = "--from",
            paramLabel = "LINE",
            defaultValue = "1",
            description = "The first line to show (default: ${DEFAULT-VALUE}).")
    private long from;

    @Option(names = "--last", paramLabel = "N", description = "Show the last N lines instead.")
    private Integer last;

    @Option(
            names = "--count",
            paramLabel = "N",
            defaultValue = "20",
            description = "How many lines (default: ${DEFAULT-VALUE}, at most 500).")
    private int count;

    @Override
    public Integer call() {
        JsonNode peek = client.api()
                .get("/jobs/" + Api.encode(job) + "/peek?file=" + Api.encode(file)
                        + (last != null ? "&from=0&count=" + last : "&from=" + from + "&count=" + count));
        if (client.json()) {
            client.print(peek);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        JsonNode content = peek.path("content");
        List<String> about =
                new ArrayList<>(List.of(Screen.size(peek.path("size").asLong())));
        about.add(
                content.path("kind").asText().isEmpty()
                        ? "shown as " + peek.path("encoding").asText()
                        : content.path("kind").asText());
        if (!content.path("packed").isNull() && !content.path("packed").asText().isEmpty()) {
            about.add("unpacked from " + content.path("packed").asText());
        }
        if (!content.path("lineEnds").asText().isEmpty()) {
            about.add("lines end with " + content.path("lineEnds").asText());
        }
        screen.line(screen.strong(file) + "  " + String.join(", ", about));
        if (content.path("lines").path(0).path("cells").isEmpty()) {
            lines(screen, content.path("lines"));
        } else {
            cells(screen, content);
        }
        if (content.path("lines").isEmpty()) {
            screen.line(peek.path("size").asLong() == 0 ? "  it is empty" : "  it has no such line");
        } else if (content.path("more").asBoolean()) {
            JsonNode end = content.path("lines").get(content.path("lines").size() - 1);
            screen.line("  … and more: hapster peek " + job + " '" + file + "' --from "
                    + (end.path("number").asLong() + 1) + ", or --last 20");
        }
        return ExitStatus.DONE;
    }

    private static void lines(Screen screen, JsonNode lines) {
        int width = 0;
        for (JsonNode line : lines) {
            width = Math.max(width, Screen.grouped(line.path("number").asLong()).length());
        }
        for (JsonNode line : lines) {
            String text = line.path("text").asText() + (line.path("cut").asBoolean() ? "…" : "");
            screen.line("  "
                    + screen.faint(String.format(
                            "%" + width + "s",
                            Screen.grouped(line.path("number").asLong()))) + "  "
                    + screen.fitting(text, width + 4));
        }
    }

    /** Rows of a sheet as a grid, under the letters of their columns. */
    private static void cells(Screen screen, JsonNode content) {
        int columns = 0;
        for (JsonNode line : content.path("lines")) {
            columns = Math.max(columns, line.path("cells").size());
        }
        Table table = new Table("  ").number("row", 0);
        for (int i = 1; i <= columns; i++) {
            table.text(letters(i), i);
        }
        for (JsonNode line : content.path("lines")) {
            Object[] row = new Object[1 + columns];
            row[0] = line.path("number").asLong();
            for (int i = 0; i < columns; i++) {
                row[1 + i] = line.path("cells").path(i).asText();
            }
            table.row(row);
        }
        screen.table(table);
        if (!content.path("merged").isEmpty()) {
            List<String> merged = new ArrayList<>();
            content.path("merged").forEach(area -> merged.add(area.asText()));
            screen.line("  merged into one cell: "
                    + String.join(", ", merged.subList(0, Math.min(MERGED, merged.size())))
                    + (merged.size() > MERGED ? " and " + (merged.size() - MERGED) + " more" : ""));
        }
    }

    private static String letters(int column) {
        StringBuilder name = new StringBuilder();
        for (int rest = column; rest > 0; rest = (rest - 1) / 26) {
            name.insert(0, (char) ('A' + (rest - 1) % 26));
        }
        return name.toString();
    }
}
