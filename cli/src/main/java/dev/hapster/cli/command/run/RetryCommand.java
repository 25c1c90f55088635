package dev.hapster.cli.command.run;

import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.ReportOptions;
import dev.hapster.cli.command.ValueOptions;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "retry",
        mixinStandardHelpOptions = true,
        description =
                "Loads what a run rejected and what is still rejected again: rejected files, and the rejected rows "
                        + "of loaded files. Use it once the rule or the file is fixed.",
        footer = {"", "Example:  hapster retry 2"})
public final class RetryCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "RUN", description = "Number of the run whose rejects are tried again.")
    private long run;

    @Mixin
    private ValueOptions given;

    @Mixin
    private ReportOptions shown;

    @Override
    public Integer call() {
        return RunCommand.show(
                client, shown.detail(), new RunFollower(client.api(), client.screen()).retry(run, given.body()));
    }
}
