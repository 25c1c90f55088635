package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.MissingNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "deliver",
        mixinStandardHelpOptions = true,
        description = {
            "Does a delivery that the dataset's file declares, or lists them.",
            "Files that have the same rows as before stay as they are; nothing is replaced that is not the delivery's own.",
            "A table in a database gets the rows that changed; called for by name, its rows are counted, too."
        },
        footer = {
            "",
            "Examples:  hapster deliver river_samples",
            "           hapster deliver river_samples labs --try",
            "           hapster deliver river_samples labs",
            "           hapster deliver river_samples labs --history"
        })
public final class DeliverCommand implements Callable<Integer> {

    private static final int MOST_SHOWN = 50;

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "DATASET", description = "The dataset.")
    private String dataset;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "NAME",
            description = "The delivery to do (default: list all).")
    private String name;

    @Option(names = "--try", description = "Show what would be done, and write nothing.")
    private boolean justTry;

    @Option(names = "--history", description = "Show how it went so far, and its files.")
    private boolean history;

    @Override
    public Integer call() throws InterruptedException {
        String all = "/datasets/" + Api.encode(dataset) + "/deliveries";
        if (name == null) {
            if (justTry || history) {
                throw new ClientException(ExitStatus.WRONG_USE, "Name a delivery, too.");
            }
            return list(client.api().get(all));
        }
        if (justTry && history) {
            throw new ClientException(ExitStatus.WRONG_USE, "--try and --history do not go together.");
        }
        String path = all + "/" + Api.encode(name);
        if (history) {
            return history(client.api().get(path));
        }
        JsonNode delivery = named(client.api().get(all));
        if (justTry) {
            return tell(client.api().post(path + "/trial", Api.JSON.createObjectNode()), delivery, true);
        }
        long number = client.api()
                .post(path, Api.JSON.createObjectNode())
                .path("number")
                .asLong();
        JsonNode done = client.api().get(path + "/" + number);
        while (done.path("state").asText().equals("queued")) {
            Thread.sleep(200);
            done = client.api().get(path + "/" + number);
        }
        return tell(done, delivery, false);
    }

    private JsonNode named(JsonNode deliveries) {
        for (JsonNode one : deliveries) {
            if (one.path("name").asText().equals(name)) {
                return one;
            }
        }
        return MissingNode.getInstance();
    }

    private int list(JsonNode deliveries) {
        boolean failing = false;
        for (JsonNode one : deliveries) {
            failing |= state(one).equals("failed");
        }
        int status = failing ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(deliveries);
            return status;
        }
        Screen screen = client.screen();
        if (deliveries.isEmpty()) {
            screen.line("The file of " + dataset + " declares no deliveries. Write: deliver: [{name: labs, to: "
                    + "\"out/{lab}.csv\"}] (the pieces are columns)");
            return status;
        }
        Table table = new Table("")
                .text("delivery")
                .text("when")
                .prose("to")
                .number("files")
                .number("rows")
                .text("last");
        for (JsonNode one : deliveries) {
            JsonNode last = one.path("last");
            table.row(
                    one.path("name").asText(),
                    !one.path("declared").asBoolean()
                            ? "not declared any more"
                            : one.path("eachRun").asBoolean() ? "after each run" : "on call",
                    one.path("to").asText(),
                    Screen.grouped(one.path("files").asLong()),
                    state(one).equals("done") ? Screen.grouped(last.path("rows").asLong()) : "",
                    last.isMissingNode()
                            ? "never"
                            : state(one) + " "
                                    + Screen.time(last.path("endedAt")
                                            .asText(last.path("queuedAt").asText())));
        }
        screen.table(table);
        for (JsonNode one : deliveries) {
            if (state(one).equals("failed")) {
                screen.complain(one.path("name").asText() + " failed: "
                        + one.path("last").path("failure").asText()
                        + (one.hasNonNull("nextTry")
                                ? ". It is tried again at "
                                        + Screen.time(one.path("nextTry").asText())
                                : ". It is not tried again before rows change or somebody calls: hapster deliver "
                                        + dataset + " " + one.path("name").asText()));
            }
        }
        return status;
    }

    private static String state(JsonNode delivery) {
        return delivery.path("last").path("state").asText();
    }

    private int history(JsonNode detail) {
        if (client.json()) {
            client.print(detail);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        JsonNode delivery = detail.path("delivery");
        screen.line(name + " of " + dataset + " to " + delivery.path("to").asText());
        Table files = new Table("").prose("file").number("rows").number("bytes").text("SHA-256");
        detail.path("products")
                .forEach(file -> files.row(
                        file.path("path").asText(),
                        Screen.grouped(file.path("rows").asLong()),
                        Screen.grouped(file.path("bytes").asLong()),
                        file.path("checksum").asText().substring(0, 16) + "…"));
        if (!detail.path("products").isEmpty()) {
            screen.line("");
            screen.table(files);
        }
        screen.line("");
        if (detail.path("history").isEmpty()) {
            screen.line("It was never done.");
            return ExitStatus.DONE;
        }
        Table times = new Table("")
                .number("number")
                .text("when")
                .text("after")
                .text("")
                .number("written")
                .number("unchanged")
                .number("removed")
                .number("rows");
        detail.path("history")
                .forEach(one -> times.row(
                        one.path("number").asText(),
                        Screen.time(
                                one.path("endedAt").asText(one.path("queuedAt").asText())),
                        one.hasNonNull("run") ? "run " + one.path("run").asLong() : "",
                        one.path("state").asText(),
                        Screen.grouped(one.path("written").asLong()),
                        Screen.grouped(one.path("unchanged").asLong()),
                        Screen.grouped(one.path("removed").asLong()),
                        Screen.grouped(one.path("rows").asLong())));
        screen.table(times);
        detail.path("history").forEach(one -> {
            if (one.hasNonNull("failure")) {
                screen.line(
                        one.path("number").asText() + ": " + one.path("failure").asText());
            }
            one.path("notes").forEach(note -> screen.line(one.path("number").asText() + ": " + note.asText()));
        });
        return ExitStatus.DONE;
    }

    private int tell(JsonNode done, JsonNode delivery, boolean trial) {
        boolean failed = done.path("state").asText().equals("failed");
        int status = failed ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(done);
            return status;
        }
        Screen screen = client.screen();
        if (failed) {
            screen.complain(
                    name + " of " + dataset + " failed: " + done.path("failure").asText());
            return status;
        }
        Table table = new Table("")
                .prose("file")
                .text(trial ? "would be" : "")
                .number("rows")
                .number("bytes");
        int shown = 0;
        for (JsonNode file : done.path("changed")) {
            if (shown++ < MOST_SHOWN) {
                long bytes = file.path("bytes").asLong();
                table.row(
                        file.path("path").asText(),
                        file.path("change").asText().toLowerCase(Locale.ROOT),
                        Screen.grouped(file.path("rows").asLong()),
                        bytes > 0 ? Screen.grouped(bytes) : "");
            }
        }
        if (shown > 0) {
            screen.table(table);
        }
        if (shown > MOST_SHOWN) {
            screen.line("… and " + Screen.grouped(shown - MOST_SHOWN) + " more");
        }
        boolean toTable = delivery.path("format").asText().equals("table");
        screen.line((shown > 0 ? "\n" : "")
                + (toTable ? "Rows of " : "")
                + Screen.count(done.path("written").asLong(), "file") + (trial ? " would be written, " : " written, ")
                + Screen.grouped(done.path("unchanged").asLong()) + " unchanged, "
                + Screen.grouped(done.path("removed").asLong()) + " removed; "
                + Screen.grouped(done.path("rows").asLong())
                + (toTable
                        ? (trial ? " rows would be in " : " rows in ")
                                + delivery.path("to").asText()
                        : " rows in all"));
        done.path("notes").forEach(note -> screen.line(note.asText()));
        return status;
    }
}
