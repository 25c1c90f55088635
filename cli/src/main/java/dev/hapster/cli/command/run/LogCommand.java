package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZonedDateTime;
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
        name = "log",
        mixinStandardHelpOptions = true,
        description = {
            "Prints what a run did, line by line, also while it goes on.",
            "Files of which there is nothing new have no line; hapster runs RUN counts them."
        },
        footer = {
            "",
            "Examples:  hapster log 14",
            "           hapster log 14 --level warn",
            "           hapster log --job east-lab --follow",
            "           hapster log 14 --json"
        })
public final class LogCommand implements Callable<Integer> {

    private static final long PAUSE = 300; // milliseconds
    private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm:ss.SSS", Locale.ROOT);
    private static final DateTimeFormatter ZONE = DateTimeFormatter.ofPattern("yyyy-MM-dd, z", Locale.ROOT);
    private static final int MOST_ENTRIES = 200;
    private static final int LEVEL_WIDTH = 5;

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "RUN", description = "Number of the run.")
    private Long run;

    @Option(names = "--job", paramLabel = "JOB", description = "The latest run of this job instead.")
    private String job;

    @Option(
            names = {"-f", "--follow"},
            description = "Go on as long as the run does.")
    private boolean follow;

    @Option(
            names = "--level",
            paramLabel = "LEVEL",
            defaultValue = "info",
            description = "Only what matters as much: info, warn or error (default: ${DEFAULT-VALUE}).")
    private String level;

    private LocalDate day;

    @Override
    public Integer call() throws InterruptedException {
        if ((run == null) == (job == null)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "Say which run: its number, or --job JOB for the latest run of a job.");
        }
        long number = run == null ? latest() : run;
        JsonNode piece = piece(number, 0);
        if (!client.json()) {
            head(client.api().get("/runs/" + number));
        }
        long next = 0;
        boolean any = false;
        while (true) {
            for (JsonNode line : piece.path("lines")) {
                any = true;
                show(line);
            }
            boolean stuck = piece.path("next").asLong() == next;
            next = piece.path("next").asLong();
            if (!piece.path("more").asBoolean() || (stuck && !follow)) {
                if (!any && !client.json()) {
                    nothing(piece, number);
                }
                return ExitStatus.DONE;
            }
            client.screen().out().flush();
            if (stuck) {
                Thread.sleep(PAUSE);
            }
            piece = piece(number, next);
        }
    }

    private JsonNode piece(long number, long at) {
        return client.api().get("/runs/" + number + "/log?at=" + at + "&level=" + Api.encode(level));
    }

    private long latest() {
        for (JsonNode run : client.api().get("/runs?limit=" + MOST_ENTRIES + "&job=" + Api.encode(job))) {
            if (List.of("run", "retry").contains(run.path("kind").asText())) {
                return run.path("run").asLong(); // and no entry that somebody undid or removed something
            }
        }
        throw new ClientException(ExitStatus.WRONG_USE, job + " has not run yet.");
    }

    private void head(JsonNode one) {
        String label = one.path("label").asText("");
        client.screen()
                .line("Run " + one.path("run").asLong() + " of "
                        + one.path("job").asText() + ", " + one.path("state").asText()
                        + (label.isEmpty() ? "" : ", " + label));
        if (one.has("failure") && !one.has("startedAt")) {
            client.screen().paragraph("", one.path("failure").asText());
        }
    }

    private void nothing(JsonNode piece, long number) {
        String why = piece.path("kept").asBoolean()
                ? "No line of its log matters as much as '" + level + "'."
                : piece.path("more").asBoolean()
                        ? "It has logged nothing yet."
                        : "Nothing was logged of it. hapster runs " + number + " shows what came of it.";
        client.screen().line(why);
    }

    private void show(JsonNode line) {
        if (client.json()) {
            client.screen().out().println(line);
            return;
        }
        Screen screen = client.screen();
        ZonedDateTime at = Instant.parse(line.path("at").asText()).atZone(ZoneId.systemDefault());
        if (!at.toLocalDate().equals(day)) {
            day = at.toLocalDate();
            screen.line(screen.faint(ZONE.format(at)));
        }
        String word = line.path("level").asText();
        String mark = word.equals("info") ? "" : word;
        String head = CLOCK.format(at) + "  " + mark + " ".repeat(LEVEL_WIDTH - mark.length()) + "  ";
        String text = Screen.visible(words(line));
        if (screen.limit() == Integer.MAX_VALUE) {
            screen.line(head + text); // for programs, a line each
        } else {
            screen.paragraph(head, text);
        }
    }

    private static String words(JsonNode line) {
        List<String> words = new ArrayList<>();
        if (line.has("outcome")) {
            words.add(line.path("outcome").asText()
                    + (line.has("code") ? " " + line.path("code").asText() : ""));
        }
        if (line.has("files")) {
            words.add(Screen.count(line.path("files").asLong(), "file")
                    + (line.has("bytes")
                            ? " to look at, " + Screen.size(line.path("bytes").asLong())
                            : " found"));
        }
        JsonNode rows = line.path("rows");
        if (!rows.isMissingNode()) {
            words.add(Screen.count(rows.path("loaded").asLong(), "row") + (line.has("file") ? "" : " loaded"));
            for (String kind : List.of("aside", "repeated", "rejected")) {
                if (rows.path(kind).asLong() > 0) {
                    words.add(Screen.grouped(rows.path(kind).asLong()) + " "
                            + (kind.equals("aside") ? "set aside" : kind));
                }
            }
        }
        if (line.has("millis")) {
            words.add(String.format(Locale.ROOT, "%.2f s", line.path("millis").asLong() / 1000.0));
        }
        String text = line.path("text").asText("");
        String counted = String.join(", ", words);
        String all = counted + (counted.isEmpty() || text.isEmpty() ? "" : ": ") + text;
        return line.has("file") ? line.path("file").asText() + "  " + all : all;
    }
}
