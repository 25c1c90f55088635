package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Sources;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "check",
        mixinStandardHelpOptions = true,
        description = "Shows what would fail before anything runs: the definition, the folders, each file's "
                + "header and first 200 rows.",
        footer = {"", "Example:  hapster check east-lab"})
public final class CheckCommand implements Callable<Integer> {

    private static final int MOST_NAMED = 3;

    /** Rows of a file that the service looks at. */
    private static final int SAMPLE = 200;

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Mixin
    private ValueOptions given;

    @Override
    public Integer call() {
        JsonNode check = client.api().post("/jobs/" + Api.encode(job) + "/check", given.body());
        boolean clean = check.path("clean").asBoolean();
        int status =
                clean ? ExitStatus.DONE : check.path("canRun").asBoolean() ? ExitStatus.FINDINGS : ExitStatus.FAILED;
        if (client.json()) {
            client.print(check);
            return status;
        }
        Screen screen = client.screen();
        check.path("problems").forEach(problem -> screen.line(screen.bad("  ! ") + Api.problem(problem)));
        check.path("warnings").forEach(warning -> screen.line("  ? " + warning.asText()));
        Map<String, Long> actions = new LinkedHashMap<>();
        for (JsonNode file : check.path("files")) {
            if (file.has("after")) {
                actions.merge(Report.afterwards(file.path("after")), 1L, Long::sum);
            }
        }
        rejectedFiles(check.path("files"));
        suspects(check.path("files"));
        notes(check.path("files"));
        verdict(check);
        actions.forEach(
                (action, count) -> screen.line("afterwards  " + Screen.count(count, "file") + " would be " + action));
        return status;
    }

    /** Files that would be rejected whole, those of one cause together. */
    private void rejectedFiles(JsonNode files) {
        Map<String, List<JsonNode>> causes = new LinkedHashMap<>();
        files.forEach(file -> {
            if (file.has("code")) {
                causes.computeIfAbsent(
                                file.path("code").asText()
                                        + file.path("sentence").asText(),
                                cause -> new ArrayList<>())
                        .add(file);
            }
        });
        causes.values().forEach(same -> {
            Screen screen = client.screen();
            JsonNode first = same.get(0);
            screen.paragraph(
                    screen.bad("  ! "),
                    names(same) + "  " + first.path("sentence").asText());
            screen.paragraph("      ", first.path("cure").asText());
        });
    }

    /** Values that would be rejected, those of one column and reason together. */
    private void suspects(JsonNode files) {
        Map<String, List<JsonNode>> causes = new LinkedHashMap<>();
        Map<String, List<JsonNode>> where = new LinkedHashMap<>();
        files.forEach(file -> file.path("suspects").forEach(suspect -> {
            String cause =
                    suspect.path("column").asText() + " " + suspect.path("code").asText();
            causes.computeIfAbsent(cause, one -> new ArrayList<>()).add(suspect);
            where.computeIfAbsent(cause, one -> new ArrayList<>()).add(file);
        }));
        causes.forEach((cause, same) -> {
            Screen screen = client.screen();
            JsonNode first = same.get(0);
            long rows =
                    same.stream().mapToLong(one -> one.path("rows").asLong()).sum();
            screen.paragraph(
                    screen.bad("  ! "),
                    cause.strip() + "  " + Screen.count(rows, "row") + " in " + names(where.get(cause)) + ": "
                            + first.path("sentence").asText() + " ("
                            + where.get(cause).get(0).path("name").asText() + ":"
                            + first.path("line").asLong() + ")");
            screen.paragraph("      ", first.path("cure").asText());
        });
    }

    private void notes(JsonNode files) {
        Map<String, List<JsonNode>> notes = new LinkedHashMap<>();
        files.forEach(file -> file.path("notes")
                .forEach(note -> notes.computeIfAbsent(note.asText(), one -> new ArrayList<>())
                        .add(file)));
        notes.forEach((note, same) -> client.screen().paragraph("    ", names(same) + "  " + note));
    }

    private static String names(List<JsonNode> files) {
        List<String> names =
                files.stream().map(file -> file.path("name").asText()).toList();
        return names.size() <= MOST_NAMED + 1
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, MOST_NAMED)) + " and " + Screen.grouped(names.size() - MOST_NAMED)
                        + " more";
    }

    private void verdict(JsonNode check) {
        Screen screen = client.screen();
        long files = check.path("files").size();
        if (!check.path("canRun").asBoolean()) {
            screen.line(
                    job + " cannot run: " + Screen.count(check.path("problems").size(), "mistake"));
            return;
        }
        if (files == 0) {
            screen.line(job + " can run, but no files were found");
            return;
        }
        long rejectedFiles = 0;
        long rows = 0;
        long rejected = 0;
        boolean whole = true;
        for (JsonNode file : check.path("files")) {
            if (file.has("code")) {
                rejectedFiles++;
                continue;
            }
            rows += file.path("rows").asLong();
            rejected += file.path("rejected").asLong();
            whole &= file.path("whole").asBoolean() || file.path("rows").asLong() == 0;
        }
        screen.line(job + " can run: " + Sources.of(check.path("files")).words()
                + (rejectedFiles == 0 ? "" : ", of which " + Screen.grouped(rejectedFiles) + " would be rejected"));
        if (rejectedFiles == files) {
            return;
        }
        String looked = whole
                ? "looked at  every row, " + Screen.grouped(rows) + " in all"
                : "looked at  " + Screen.count(rows, "row") + ": the first " + SAMPLE + " of each file";
        screen.line(looked
                + (rejected == 0 ? "; none would be rejected" : "; " + Screen.grouped(rejected) + " would be rejected")
                + (whole ? "" : "; `hapster try " + job + "` reads all"));
    }
}
