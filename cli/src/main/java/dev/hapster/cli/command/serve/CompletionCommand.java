package dev.hapster.cli.command.serve;

import dev.hapster.cli.command.Client;
import dev.hapster.terminal.ExitStatus;
import java.util.concurrent.Callable;
import picocli.AutoComplete;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.Spec;

@Command(
        name = "completion",
        mixinStandardHelpOptions = true,
        description = "Prints a script that lets bash and zsh complete commands and options.",
        footer = {"", "Example:  source <(hapster completion)"})
public final class CompletionCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        client.screen().line(AutoComplete.bash("hapster", spec.root().commandLine()));
        return ExitStatus.DONE;
    }
}
