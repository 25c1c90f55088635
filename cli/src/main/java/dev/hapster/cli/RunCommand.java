package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(name = "run", mixinStandardHelpOptions = true, description = "Loads what is new or changed; unchanged files are not loaded again.",
        footer = {"", "Example:  hapster run east-lab"})
final class RunCommand implements Callable<Integer> {

    @ParentCommand
    private Hapster hapster;

    @Parameters(paramLabel = "JOB")
    private String job;

    @Option(names = "--again", description = "Load unchanged files anew too; each replaces its own rows.")
    private boolean again;

    @Mixin
    private GivenValues given;

    @Override
    public Integer call() {
        return show(hapster, new RunFollower(hapster.api(), hapster.screen).run(job, given.body().put("again", again)));
    }

    /** Shows a run or a trial with its files and reasons. */
    static int show(Hapster hapster, JsonNode report) {
        JsonNode run = report.path("run");
        if (hapster.json) {
            hapster.print(report);
            return Report.status(run, report.path("reasons"));
        }
        return new Report(hapster.screen).print(run, report.path("files"), report.path("reasons"));
    }
}
