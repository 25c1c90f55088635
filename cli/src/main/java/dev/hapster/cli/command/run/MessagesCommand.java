package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.time.Duration;
import java.time.Instant;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "messages",
        mixinStandardHelpOptions = true,
        description = {
            "Shows the messages that were sent about runs and arrivals, and those that cannot be.",
            "A job's file, or notify.yaml, says who is told: notify: [{by: office, to: mira@vessa.example}]."
        },
        footer = {
            "",
            "Examples:  hapster messages",
            "           hapster messages 12",
            "           hapster messages --try office --to mira@vessa.example"
        })
public final class MessagesCommand implements Callable<Integer> {

    private static final Duration PATIENCE = Duration.ofSeconds(60);

    @ParentCommand
    private Client client;

    @Parameters(
            arity = "0..1",
            paramLabel = "MESSAGE",
            description = "A message, to see its text (default: list them).")
    private Long number;

    @Option(names = "--job", paramLabel = "JOB", description = "Only about this job.")
    private String job;

    @Option(names = "--limit", paramLabel = "N", description = "How many at most (default: 50).")
    private Integer limit;

    @Option(
            names = "--try",
            paramLabel = "ACCOUNT",
            description = "Send a trial message by an account, and wait for it.")
    private String account;

    @Option(names = "--to", paramLabel = "ADDRESS", description = "To whom, for mail.")
    private String to;

    @Option(names = "--again", description = "Send messages once more that were given up.")
    private boolean again;

    @Override
    public Integer call() {
        if (to != null && account == null) {
            throw new ClientException(ExitStatus.WRONG_USE, "--to goes with --try only.");
        }
        if (account != null) {
            return tried();
        }
        if (again) {
            JsonNode sent = client.api().post("/messages/again", Api.JSON.createObjectNode());
            if (client.json()) {
                client.print(sent);
            } else {
                client.screen()
                        .line(
                                sent.path("messages").asInt() == 0
                                        ? "No message was given up."
                                        : Screen.count(sent.path("messages").asInt(), "message")
                                                + " sent once more: see " + "hapster messages");
            }
            return ExitStatus.DONE;
        }
        if (number != null) {
            return one(client.api().get("/messages/" + number));
        }
        return list(client.api()
                .get("/messages?limit=" + (limit == null ? 50 : limit)
                        + (job == null ? "" : "&job=" + Api.encode(job))));
    }

    private int tried() {
        ObjectNode body = Api.JSON.createObjectNode();
        body.put("account", account);
        if (to != null) {
            body.put("to", to);
        }
        JsonNode message = client.api().post("/messages/trial", body);
        Instant end = Instant.now().plus(PATIENCE);
        while (message.path("state").asText().equals("waiting") && Instant.now().isBefore(end)) {
            try {
                Thread.sleep(200);
            } catch (InterruptedException stopped) {
                Thread.currentThread().interrupt();
                throw new ClientException(ExitStatus.FAILED, "Interrupted. The message is sent all the same.");
            }
            message = client.api().get("/messages/" + message.path("number").asLong());
        }
        return one(message);
    }

    private int one(JsonNode message) {
        String state = message.path("state").asText();
        int status = state.equals("sent") ? ExitStatus.DONE : ExitStatus.FINDINGS;
        if (client.json()) {
            client.print(message);
            return status;
        }
        Screen screen = client.screen();
        screen.line(screen.strong(message.path("subject").asText()));
        screen.line("by " + message.path("account").asText() + to(message) + ", " + how(message));
        if (message.hasNonNull("failure")) {
            screen.paragraph("", screen.bad(message.path("failure").asText()));
        }
        if (message.has("text") && account == null) {
            screen.line("");
            screen.line(message.path("text").asText().stripTrailing());
        }
        return status;
    }

    private static String to(JsonNode message) {
        return message.hasNonNull("to") ? " to " + message.path("to").asText() : "";
    }

    private static String how(JsonNode message) {
        return switch (message.path("state").asText()) {
            case "sent" -> "sent " + Screen.time(message.path("endedAt").asText());
            case "given_up" ->
                "given up after " + Screen.count(message.path("tries").asInt(), "try");
            default ->
                (message.path("tries").asInt() > 0
                                ? "tried " + Screen.count(message.path("tries").asInt(), "time") + ", again "
                                : "waits until ")
                        + Screen.time(message.path("nextAt").asText());
        };
    }

    private int list(JsonNode messages) {
        boolean failing = false;
        for (JsonNode message : messages) {
            failing |= message.hasNonNull("failure");
        }
        int status = failing ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(messages);
            return status;
        }
        Screen screen = client.screen();
        if (messages.isEmpty()) {
            screen.line(
                    "No message was made yet. In a job's file, notify: [{by: ACCOUNT, to: ADDRESS}] has somebody told.");
            return status;
        }
        Table table = new Table("")
                .number("")
                .text("made")
                .text("by")
                .text("to", 1)
                .text("state")
                .prose("subject");
        for (JsonNode message : messages) {
            table.row(
                    message.path("number").asLong(),
                    Screen.time(message.path("madeAt").asText()),
                    message.path("account").asText(),
                    message.path("to").asText(""),
                    message.path("state").asText().replace('_', ' '),
                    message.path("subject").asText());
        }
        screen.table(table);
        for (JsonNode message : messages) {
            if (message.hasNonNull("failure")) {
                screen.complain("The message " + message.path("number").asLong() + " could not be sent: "
                        + message.path("failure").asText());
                break;
            }
        }
        return status;
    }
}
