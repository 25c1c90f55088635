package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "ledger",
        mixinStandardHelpOptions = true,
        description = "Lists every file that a job has processed: the outcome, the run, and where the file is "
                + "now. With FILE, lists everything that arrived as this file.",
        footer = {"", "Examples:  hapster ledger field-visits", "           hapster ledger east-lab samples-2026-01.csv"
        })
public final class LedgerCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "JOB")
    private String job;

    @Parameters(
            index = "1",
            paramLabel = "FILE",
            arity = "0..1",
            description = "A file, as the ledger lists it, or its name alone: everything that arrived as this file.")
    private String file;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "1000",
            description = "How many (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Override
    public Integer call() {
        client.api().get("/jobs/" + Api.encode(job)); // says so where there is no such job
        JsonNode files = client.api()
                .get("/jobs/" + Api.encode(job) + (file == null ? "/ledger" : "/arrivals?source=" + Api.encode(file)));
        if (client.json()) {
            client.print(files);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        if (files.isEmpty()) {
            screen.line(job + " has dealt with no file yet.");
            return ExitStatus.DONE;
        }
        Table table = new Table("")
                .text("file")
                .text("")
                .number("run")
                .number("rows")
                .number("rejected", 1)
                .text("")
                .prose("");
        int shown = 0;
        for (JsonNode one : files) {
            if (shown++ == limit) {
                break;
            }
            table.row(
                    one.path("source").asText()
                            + (one.path("generation").asInt() > 1
                                    ? " #" + one.path("generation").asInt()
                                    : ""),
                    one.path("outcome").asText(),
                    one.path("run").asLong(),
                    one.path("inDataset").asBoolean()
                            ? Screen.grouped(one.path("rows").asLong())
                            : "–",
                    one.path("rejected").asLong() == 0
                            ? ""
                            : Screen.grouped(one.path("rejected").asLong()),
                    lies(one),
                    remark(one));
        }
        screen.table(table);
        if (files.size() > limit) {
            screen.line("and " + Screen.grouped(files.size() - limit) + " more (--limit " + files.size() + ")");
        }
        return ExitStatus.DONE;
    }

    private static String lies(JsonNode one) {
        return one.has("deletedBy")
                ? "deleted by run " + one.path("deletedBy").asLong()
                : one.has("movedTo")
                        ? "lies at " + Report.here(one.path("movedTo").asText())
                        : "";
    }

    private static String remark(JsonNode one) {
        if (one.has("sentence")) {
            return one.path("sentence").asText();
        }
        String repairs = one.has("repairs")
                ? "repaired rows of run " + one.path("repairs").asLong()
                : "";
        String gone = one.path("inDataset").asBoolean()
                        || !one.path("outcome").asText().equals("loaded")
                ? ""
                : "not in the dataset" + (one.path("kept").asBoolean() ? "" : ", and no longer kept");
        return repairs + (repairs.isEmpty() || gone.isEmpty() ? "" : "; ") + gone;
    }
}
