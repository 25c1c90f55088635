package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
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
final class TryCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Mixin
    private AgainOptions again;

    @Mixin
    private GivenValues given;

    @Override
    public Integer call() {
        hapster.screen.live("trying " + job + " …");
        JsonNode report = hapster.api().post("/jobs/" + Api.encode(job) + "/trial", again.into(given.body()));
        hapster.screen.clearLive();
        return RunCommand.show(hapster, report);
    }
}
