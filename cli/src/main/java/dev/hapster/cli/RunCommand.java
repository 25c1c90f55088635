package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
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
final class RunCommand implements Callable<Integer> {

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
        return show(hapster, new RunFollower(hapster.api(), hapster.screen).run(job, again.into(given.body())));
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
