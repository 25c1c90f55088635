package dev.hapster.cli.command.data;

import dev.hapster.cli.command.RenameReport;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "rename",
        mixinStandardHelpOptions = true,
        description = "Renames a dataset: its file, the jobs that load into it, its history, and the folder "
                + "of its rows. If you have renamed its file already, this renames the rest.",
        footer = {"", "Example:  hapster datasets rename river_samples vessa_samples"})
final class DatasetsRenameCommand implements Callable<Integer> {

    @ParentCommand
    private DatasetsCommand datasets;

    @Parameters(index = "0", paramLabel = "FROM", description = "The dataset.")
    private String from;

    @Parameters(index = "1", paramLabel = "TO", description = "Its new name.")
    private String to;

    @Override
    public Integer call() {
        return RenameReport.rename(datasets.client(), "dataset", from, to);
    }
}
