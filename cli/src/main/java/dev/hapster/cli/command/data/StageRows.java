package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.IntStream;

/** Shows rows of a job's files as they are read, cleaned, or would be stored. */
final class StageRows {

    private static final long PATIENCE_MILLIS = 300;

    private final Client client;
    private final String job;

    private final List<String> wanted;

    /** @param wanted the columns to show, in this order; empty for all */
    StageRows(Client client, String job, List<String> wanted) {
        this.client = client;
        this.job = job;
        this.wanted = List.copyOf(wanted);
    }

    /** Asks until the place in the file has been found. */
    int show(ObjectNode question) {
        JsonNode answer = client.api().post("/jobs/" + Api.encode(job) + "/rows", question);
        Screen screen = client.screen();
        try {
            while (answer.path("busy").asBoolean()) {
                screen.live("looking through the file: "
                        + Screen.count(answer.path("total").asLong(), "row") + " so far");
                Thread.sleep(PATIENCE_MILLIS);
                answer = client.api().post("/jobs/" + Api.encode(job) + "/rows", question);
            }
        } catch (InterruptedException stopped) {
            Thread.currentThread().interrupt();
            throw new ClientException(ExitStatus.FAILED, "It was stopped");
        } finally {
            screen.clearLive();
        }
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        if (answer.has("rejection")) {
            JsonNode rejection = answer.path("rejection");
            screen.line(answer.path("file").asText() + " would be rejected as a whole: it "
                    + rejection.path("sentence").asText() + " ("
                    + rejection.path("code").asText() + ")");
            screen.line("  " + rejection.path("cure").asText());
            return ExitStatus.FINDINGS;
        }
        table(screen, answer);
        sum(screen, answer, question);
        return ExitStatus.DONE;
    }

    private void table(Screen screen, JsonNode answer) {
        boolean several = answer.path("file").isMissingNode();
        Table table = new Table("").text(several ? "source" : "line").text("becomes");
        JsonNode columns = answer.path("columns");
        int[] shown = shown(columns);
        for (int i = 0; i < shown.length; i++) {
            String type = columns.get(shown[i]).path("type").asText();
            String name = columns.get(shown[i]).path("name").asText();
            int goes = wanted.isEmpty() ? i + 1 : 0;
            if (type.startsWith("decimal") || type.equals("integer") || type.equals("double")) {
                table.number(name, goes);
            } else {
                table.text(name, goes);
            }
        }
        for (JsonNode row : answer.path("rows")) {
            Object[] cells = new Object[2 + shown.length];
            String place = row.path("place").asText();
            String line = place.isEmpty() ? Long.toString(row.path("line").asLong()) : place;
            cells[0] = several ? row.path("file").asText() + ":" + line : line;
            cells[1] = row.path("outcome").asText();
            for (int i = 0; i < shown.length; i++) {
                JsonNode cell = row.path("cells").path(shown[i]);
                String text = cell.isTextual() ? cell.asText().replaceAll("\\R", "⏎") : "";
                cells[2 + i] = isFaulty(row, shown[i]) ? ("! " + text).strip() : text;
            }
            table.row(cells);
        }
        screen.table(table);
        for (JsonNode row : answer.path("rows")) {
            String line = several
                    ? row.path("file").asText() + ":" + row.path("line").asLong()
                    : row.path("line").asText();
            for (JsonNode fault : row.path("faults")) {
                String column = fault.path("column").asText();
                screen.line("  ! " + line + "  " + (column.isEmpty() ? "" : column + ": ")
                        + fault.path("sentence").asText() + " ("
                        + fault.path("code").asText() + ")");
            }
            if (!row.path("rule").asText().isEmpty()) {
                screen.line("  "
                        + screen.faint("- " + line + "  set aside by "
                                + row.path("rule").asText()));
            }
        }
    }

    private int[] shown(JsonNode columns) {
        List<String> names = new ArrayList<>();
        columns.forEach(column -> names.add(column.path("name").asText()));
        if (wanted.isEmpty()) {
            return IntStream.range(0, names.size()).toArray();
        }
        return wanted.stream()
                .mapToInt(name -> {
                    if (!names.contains(name)) {
                        throw new ClientException(
                                ExitStatus.WRONG_USE,
                                "There is no column '" + name + "' at this stage; there are "
                                        + String.join(", ", names));
                    }
                    return names.indexOf(name);
                })
                .toArray();
    }

    private static boolean isFaulty(JsonNode row, int cell) {
        for (JsonNode fault : row.path("faults")) {
            if (fault.path("cell").asInt() == cell) {
                return true;
            }
        }
        return false;
    }

    private void sum(Screen screen, JsonNode answer, ObjectNode question) {
        long looked = answer.path("looked").asLong();
        boolean picks = question.has("where") || question.has("rejected") || question.has("sort");
        int shown = answer.path("rows").size();
        long total = answer.path("total").asLong();
        StringBuilder text = new StringBuilder(
                        !picks && total >= 0
                                ? Screen.grouped(shown) + " of " + Screen.count(total, "row")
                                : Screen.count(shown, "row"))
                .append(" shown, as they ")
                .append(
                        answer.path("stage").asText().equals("stored")
                                ? "would be stored"
                                : "are " + answer.path("stage").asText());
        if (picks) {
            text.append("; ")
                    .append(Screen.count(answer.path("found").asLong(), "row"))
                    .append(" of ")
                    .append(answer.path("whole").asBoolean() ? "all " : "the first ")
                    .append(Screen.grouped(looked))
                    .append(" that were looked at satisfy this");
        }
        screen.line(text.toString());
        long untold = answer.path("untold").asLong();
        if (untold > 0) {
            screen.line("  the condition could not be evaluated for " + Screen.count(untold, "row")
                    + " (a value that it needs is empty or does not fit)");
        }
        answer.path("notes").forEach(note -> screen.line("  ! " + note.asText()));
        if (picks && !answer.path("whole").asBoolean()) {
            screen.line("  --whole looks through all rows");
        }
        long next = answer.path("next").asLong();
        if (next > 0) {
            screen.line("  … and more: --from " + next
                    + (answer.path("nextFile").asInt() > 0
                            ? " --file-number " + (answer.path("nextFile").asInt() + 1)
                            : ""));
        }
    }
}
