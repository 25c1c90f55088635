package dev.hapster.cli.command.run;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ReportOptions;
import dev.hapster.cli.command.ValueOptions;
import dev.hapster.cli.http.Api;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "try",
        mixinStandardHelpOptions = true,
        description = "Does everything that a run does, and writes nothing.",
        footer = {"", "Example:  hapster try north-lab"})
public final class TryCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Mixin
    private AgainOptions again;

    @Mixin
    private ValueOptions given;

    @Mixin
    private ReportOptions shown;

    @Override
    public Integer call() {
        client.screen().live("trying " + job + " …");
        JsonNode report = client.api().post("/jobs/" + Api.encode(job) + "/trial", again.into(given.body()));
        client.screen().clearLive();
        return RunCommand.show(client, shown.detail(), report);
    }
}
