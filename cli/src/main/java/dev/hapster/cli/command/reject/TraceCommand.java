package dev.hapster.cli.command.reject;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "trace",
        mixinStandardHelpOptions = true,
        description = "Follows one rejected row through all steps with the current rules: as read, cleaned, "
                + "converted, and the rule that rejects it.",
        footer = {"", "Example:  hapster trace 1 samples-2026-02.csv:13"})
public final class TraceCommand implements Callable<Integer> {

    private static final int MOST = 1000;

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN", description = "The run that rejected it.")
    private long run;

    @Parameters(paramLabel = "FILE:LINE", description = "Where the row is, as hapster rejects shows it.")
    private String place;

    @Override
    public Integer call() {
        int colon = place.lastIndexOf(':');
        if (colon < 1 || !place.substring(colon + 1).matches("\\d{1,15}")) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "'" + place + "' names no line; write it like samples-2026-02.csv:13");
        }
        JsonNode row = row(place.substring(0, colon), Long.parseLong(place.substring(colon + 1)));
        JsonNode trace = client.api()
                .get("/rejects/" + run + "/trace?path="
                        + Api.encode(row.path("path").asText()) + "&row="
                        + row.path("row").asLong());
        if (client.json()) {
            client.print(trace);
        } else {
            print(row, trace);
        }
        return trace.path("passes").asBoolean() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    /** The rejected row that is meant; a name that fits several files is an error that lists them. */
    private JsonNode row(String file, long line) {
        Map<String, JsonNode> found = new TreeMap<>();
        JsonNode rows;
        int offset = 0;
        do {
            rows = client.api().get("/runs/" + run + "/rejects/rows?limit=" + MOST + "&offset=" + offset);
            for (JsonNode row : rows) {
                if (row.path("line").asLong() == line && isCalled(row, file)) {
                    found.putIfAbsent(row.path("path").asText(), row);
                }
            }
            offset += MOST;
        } while (rows.size() == MOST);
        List<JsonNode> exact = found.values().stream()
                .filter(row -> row.path("file").asText().equals(file))
                .toList();
        if (found.isEmpty()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "Run " + run + " rejected no row at " + file + ":" + line
                            + ". Rows that it rejected:  hapster rejects " + run);
        }
        if (found.size() > 1 && exact.size() != 1) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "'" + file + "' is the name of " + found.size() + " files: "
                            + found.values().stream()
                                    .map(row -> row.path("file").asText())
                                    .collect(Collectors.joining(", "))
                            + ". Name one of them with its folder");
        }
        return exact.size() == 1 ? exact.get(0) : found.values().iterator().next();
    }

    private static boolean isCalled(JsonNode row, String file) {
        String path = row.path("path").asText();
        return row.path("file").asText().equals(file) || path.equals(file) || path.endsWith("/" + file);
    }

    private void print(JsonNode row, JsonNode trace) {
        Screen screen = client.screen();
        screen.line(screen.strong(
                        row.path("file").asText() + ":" + row.path("line").asLong()) + "  rejected by run " + run);
        screen.line(
                screen.faint("  " + screen.fitting(row.path("original").asText().replaceAll("\\R", "⏎"), 2)));
        Table table = new Table("  ")
                .text("column")
                .text("from", 1)
                .text("as read")
                .text("cleaned")
                .text("stored")
                .text("");
        for (JsonNode cell : trace.path("cells")) {
            boolean bad = cell.hasNonNull("code");
            table.row(
                    cell.path("column").asText(),
                    cell.path("from").asText(),
                    text(cell, "read"),
                    cell.path("read").equals(cell.path("cleaned")) ? "" : text(cell, "cleaned"),
                    bad ? "–" : text(cell, "value"),
                    bad ? cell.path("code").asText() : "");
        }
        screen.table(table);
        trace.path("cells").forEach(cell -> {
            if (cell.hasNonNull("code")) {
                screen.paragraph(
                        "",
                        cell.path("code").asText() + ": "
                                + cell.path("sentence").asText()
                                + (cell.path("rule").asText().isEmpty()
                                        ? ""
                                        : ". The rule of " + cell.path("column").asText() + " is "
                                                + cell.path("rule").asText()));
            }
        });
        if (!trace.path("readAnew").asBoolean()) {
            screen.paragraph("note: ", "the file is gone or has changed since; this is what was kept of the row");
        }
        screen.line(
                trace.hasNonNull("leftBy")
                        ? "by the rules as they are now it is set aside: "
                                + trace.path("leftBy").asText()
                        : trace.path("passes").asBoolean()
                                ? screen.good("by the rules as they are now it passes")
                                        + screen.faint("   hapster retry " + run)
                                : screen.bad("by the rules as they are now it is still rejected"));
        for (JsonNode cell : trace.path("cells")) {
            if (cell.hasNonNull("code") && hasFix(cell)) {
                screen.line(screen.faint(
                        "  hapster mend " + run + " " + cell.path("code").asText() + " --column "
                                + cell.path("column").asText()));
                return;
            }
        }
    }

    private static String text(JsonNode cell, String key) {
        return cell.hasNonNull(key)
                ? cell.path(key).asText().isEmpty() ? "\"\"" : cell.path(key).asText()
                : "";
    }

    /** Whether a change to the definitions is known by which such values would fit. */
    private boolean hasFix(JsonNode cell) {
        return !client.api()
                .get("/rejects/" + run + "/mends?code=" + cell.path("code").asText() + "&column="
                        + Api.encode(cell.path("column").asText()))
                .isEmpty();
    }
}
