package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "schedule",
        mixinStandardHelpOptions = true,
        description = {
            "Shows when jobs run by themselves, or pauses one.",
            "A job's file says it: when: {cron: \"0 6 * * 1-5\"}, {every: 15 min}, {arrival: true} or {after: JOB}."
        },
        footer = {
            "",
            "Examples:  hapster schedule",
            "           hapster schedule north-lab",
            "           hapster schedule north-lab --pause --until 2027-01-07 --because \"the laboratory is closed\"",
            "           hapster schedule north-lab --resume"
        })
public final class ScheduleCommand implements Callable<Integer> {

    private static final DateTimeFormatter WITH_DAY =
            DateTimeFormatter.ofPattern("EEE yyyy-MM-dd HH:mm:ss", Locale.ENGLISH);

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "JOB", description = "The job (default: list all).")
    private String job;

    @Option(names = "--count", paramLabel = "N", description = "How many of its next times (default: 10).")
    private Integer count;

    @Option(names = "--pause", description = "From now on, the job does not run by itself.")
    private boolean pause;

    @Option(
            names = "--until",
            paramLabel = "TIME",
            description = "When the pause ends by itself: 2027-01-07 or 2027-01-07T06:00.")
    private String until;

    @Option(names = "--because", paramLabel = "TEXT", description = "Why it is paused, for others.")
    private String because;

    @Option(
            names = "--resume",
            description = "End the pause. One run makes up for missed times, unless the file says otherwise.")
    private boolean resume;

    @Override
    public Integer call() {
        if (job == null && (pause || resume || count != null)) {
            throw new ClientException(ExitStatus.WRONG_USE, "Name a job, too.");
        }
        if (pause && resume) {
            throw new ClientException(ExitStatus.WRONG_USE, "--pause and --resume do not go together.");
        }
        if (!pause && (until != null || because != null)) {
            throw new ClientException(ExitStatus.WRONG_USE, "--until and --because go with --pause only.");
        }
        if (job == null) {
            return list(client.api().get("/schedule"));
        }
        String path = "/jobs/" + Api.encode(job) + "/schedule";
        JsonNode schedule = pause
                ? client.api().post(path + "/pause", pause())
                : resume
                        ? client.api().post(path + "/resume", Api.JSON.createObjectNode())
                        : client.api().get(path + "?times=" + (count == null ? 10 : count));
        return show(schedule);
    }

    private ObjectNode pause() {
        ObjectNode body = Api.JSON.createObjectNode();
        if (until != null) {
            body.put("until", moment(until));
        }
        if (because != null) {
            body.put("because", because);
        }
        return body;
    }

    private static String moment(String text) {
        try {
            LocalDateTime local = text.contains("T")
                    ? LocalDateTime.parse(text)
                    : LocalDate.parse(text).atStartOfDay();
            return local.atZone(ZoneId.systemDefault()).toInstant().toString();
        } catch (DateTimeException wrong) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "--until must be a day or a time, such as 2027-01-07 or 2027-01-07T06:00.");
        }
    }

    private int list(JsonNode jobs) {
        boolean troubled = false;
        for (JsonNode one : jobs) {
            troubled |= !one.path("troubles").isEmpty();
        }
        int status = troubled ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(jobs);
            return status;
        }
        Screen screen = client.screen();
        Table table = new Table("").text("job").text("next").prose("runs");
        List<String> others = new ArrayList<>();
        for (JsonNode one : jobs) {
            if (one.path("declared").asBoolean()
                    || one.has("pause")
                    || !one.path("troubles").isEmpty()) {
                table.row(one.path("job").asText(), next(one), starts(one));
            } else {
                others.add(one.path("job").asText());
            }
        }
        if (others.size() < jobs.size()) {
            screen.table(table);
        }
        if (!others.isEmpty()) {
            screen.line((others.size() < jobs.size() ? "\nOnly when somebody asks: " : "No job runs by itself: ")
                    + String.join(", ", others)
                    + (others.size() < jobs.size() ? "" : ". Write into a job's file: when: {cron: \"0 6 * * 1-5\"}"));
        }
        if (jobs.isEmpty()) {
            screen.line("There are no jobs yet. hapster draft makes one from a folder.");
        }
        for (JsonNode one : jobs) {
            troubles(one);
        }
        return status;
    }

    private static String next(JsonNode schedule) {
        if (schedule.has("pause")) {
            return schedule.path("pause").has("until")
                    ? "paused until "
                            + Screen.time(schedule.path("pause").path("until").asText())
                    : "paused";
        }
        if (!schedule.path("next").isEmpty()) {
            return Screen.time(schedule.path("next").path(0).asText());
        }
        return schedule.path("arrival").asBoolean()
                ? "when files arrive"
                : schedule.path("after").isEmpty() ? "never" : "after another job";
    }

    private static String starts(JsonNode schedule) {
        List<String> ways = new ArrayList<>();
        schedule.path("starts").forEach(way -> ways.add(way.asText()));
        return String.join("; ", ways);
    }

    private void troubles(JsonNode schedule) {
        schedule.path("troubles")
                .forEach(what -> client.screen().complain(schedule.path("job").asText() + ": " + what.asText()));
    }

    private int show(JsonNode schedule) {
        int status = schedule.path("troubles").isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
        if (client.json()) {
            client.print(schedule);
            return status;
        }
        Screen screen = client.screen();
        schedule.path("words").forEach(word -> screen.paragraph("", word.asText()));
        if (schedule.has("pause")) {
            JsonNode paused = schedule.path("pause");
            screen.line("");
            screen.paragraph(
                    "",
                    "Paused since " + Screen.time(paused.path("since").asText())
                            + (paused.has("until")
                                    ? ", until "
                                            + Screen.time(paused.path("until").asText())
                                    : "")
                            + (paused.path("because").asText("").isEmpty()
                                    ? ""
                                    : ": " + paused.path("because").asText())
                            + ". hapster schedule " + job + " --resume ends it.");
        }
        if (!schedule.path("next").isEmpty()) {
            ZoneId zone = ZoneId.of(schedule.path("zone").asText("UTC"));
            screen.line("");
            screen.line("Next times in " + zone + ":");
            schedule.path("next")
                    .forEach(time -> screen.line("  "
                            + WITH_DAY.format(
                                    OffsetDateTime.parse(time.asText()).atZoneSameInstant(zone))));
        } else if (schedule.path("declared").asBoolean() && !schedule.has("pause") && isTimed(schedule)) {
            screen.line("");
            screen.line("No time comes any more.");
        }
        troubles(schedule);
        return status;
    }

    private static boolean isTimed(JsonNode schedule) {
        return !schedule.path("arrival").asBoolean() && schedule.path("after").isEmpty();
    }
}
