package dev.hapster.cli.command.prepare;

import dev.hapster.cli.command.RenameReport;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "rename",
        mixinStandardHelpOptions = true,
        description = "Renames a job: its file, its history, and the rows that it loaded. If you have renamed its "
                + "file already, this renames the rest.",
        footer = {"", "Example:  hapster jobs rename north-lab lab-north"})
final class JobsRenameCommand implements Callable<Integer> {

    @ParentCommand
    private JobsCommand jobs;

    @Parameters(index = "0", paramLabel = "FROM", description = "The job.")
    private String from;

    @Parameters(index = "1", paramLabel = "TO", description = "Its new name.")
    private String to;

    @Override
    public Integer call() {
        return RenameReport.rename(jobs.client(), "job", from, to);
    }
}
