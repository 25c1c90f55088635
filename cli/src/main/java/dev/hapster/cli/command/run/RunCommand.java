package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ReportOptions;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.terminal.Report;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "run",
        mixinStandardHelpOptions = true,
        description = "Loads what is new or changed; unchanged files are not loaded again.",
        footer = {
            "",
            "Examples:  hapster run east-lab",
            "           hapster run north-lab --again samples-2026-02.csv",
            "           hapster run north-lab --again --all"
        })
public final class RunCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Mixin
    private AgainOptions again;

    @Mixin
    private ValueOptions given;

    @Option(names = "--label", paramLabel = "TEXT", description = "What the run is called, for people who look for it.")
    private String label;

    @Mixin
    private ReportOptions shown;

    @Override
    public Integer call() {
        ObjectNode body = again.into(given.body());
        if (label != null) {
            body.put("label", label);
        }
        return show(client, shown.detail(), new RunFollower(client.api(), client.screen()).run(job, body));
    }

    /** Shows a run or a trial with its files and reasons. */
    static int show(Client client, Report.Detail detail, JsonNode report) {
        JsonNode run = report.path("run");
        if (client.json()) {
            client.print(report);
            return Report.status(run, report.path("reasons"));
        }
        return new Report(client.screen(), detail).print(run, report.path("files"), report.path("reasons"));
    }
}
