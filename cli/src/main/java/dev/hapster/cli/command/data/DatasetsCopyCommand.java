package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "copy",
        mixinStandardHelpOptions = true,
        description = "Copies the definition of a dataset: the same file with a new name. The copy has no rows.",
        footer = {"", "Example:  hapster datasets copy river_samples lake_samples"})
final class DatasetsCopyCommand implements Callable<Integer> {

    @ParentCommand
    private DatasetsCommand datasets;

    @Parameters(index = "0", paramLabel = "FROM", description = "The dataset to copy.")
    private String from;

    @Parameters(index = "1", paramLabel = "TO", description = "The name of the new one.")
    private String to;

    @Override
    public Integer call() {
        JsonNode made = datasets.client()
                .api()
                .post(
                        "/datasets/" + Api.encode(from) + "/copy",
                        Api.JSON.createObjectNode().put("name", to));
        if (datasets.client().json()) {
            datasets.client().print(made);
        } else {
            datasets.client()
                    .screen()
                    .line("datasets/" + to + ".yaml is made, with "
                            + made.path("columns").size() + " columns and no rows. Jobs load into it with  into: "
                            + to);
        }
        return ExitStatus.DONE;
    }
}
