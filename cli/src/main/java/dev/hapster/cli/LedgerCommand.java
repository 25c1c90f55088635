package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(name = "ledger", mixinStandardHelpOptions = true, description = "Lists every file that a job has ever dealt with: what became of it, by which run, and where it lies now.",
        footer = {"", "Example:  hapster ledger field-visits"})
final class LedgerCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Option(names = "--limit", paramLabel = "N", defaultValue = "1000", description = "How many (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Override
    public Integer call() {
        hapster.api().get("/jobs/" + Api.encode(job)); // says so where there is no such job
        JsonNode files = hapster.api().get("/jobs/" + Api.encode(job) + "/ledger");
        if (hapster.json) {
            hapster.print(files);
            return ExitStatus.DONE;
        }
        Screen screen = hapster.screen;
        if (files.isEmpty()) {
            screen.line(job + " has dealt with no file yet.");
            return ExitStatus.DONE;
        }
        Table table = new Table("").text("file").text("").number("run").number("rows rejected", 1).prose("");
        int shown = 0;
        for (JsonNode file : files) {
            if (shown++ == limit) {
                break;
            }
            String remark = file.has("sentence") ? file.path("sentence").asText() : file.path("inDataset").asBoolean() ? "" : "its rows were taken out of the dataset";
            table.row(Report.here(file.path("movedTo").asText(file.path("path").asText())), file.path("outcome").asText(), file.path("run").asLong(),
                    file.path("rejected").asLong() == 0 ? "" : Screen.grouped(file.path("rejected").asLong()), remark);
        }
        table.lines(screen.width()).forEach(screen::line);
        if (files.size() > limit) {
            screen.line("and " + Screen.grouped(files.size() - limit) + " more (--limit " + files.size() + ")");
        }
        return ExitStatus.DONE;
    }
}
