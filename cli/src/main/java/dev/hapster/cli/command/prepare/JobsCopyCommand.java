package dev.hapster.cli.command.prepare;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "copy",
        mixinStandardHelpOptions = true,
        description = "Copies a job: the same file with a new name.",
        footer = {"", "Example:  hapster jobs copy north-lab south-lab --value folder=inbox/east"})
final class JobsCopyCommand implements Callable<Integer> {

    @ParentCommand
    private JobsCommand jobs;

    @Parameters(index = "0", paramLabel = "FROM", description = "The job to copy.")
    private String from;

    @Parameters(index = "1", paramLabel = "TO", description = "The name of the new one.")
    private String to;

    @Option(
            names = "--value",
            paramLabel = "NAME=VALUE",
            description = "A value to set in the new job's file, under `values`; may be given more than once.")
    private Map<String, String> values = new LinkedHashMap<>();

    @Override
    public Integer call() {
        ObjectNode body = Api.JSON.createObjectNode().put("name", to);
        values.forEach(body.putObject("values")::put);
        JsonNode made = jobs.client().api().post("/jobs/" + Api.encode(from) + "/copy", body);
        if (jobs.client().json()) {
            jobs.client().print(made);
        } else {
            jobs.client().screen().line("jobs/" + to + ".yaml is made. It takes these now:  hapster find " + to);
            if (jobs.client().api().get("/jobs/" + Api.encode(to) + "/schedule").has("pause")) {
                jobs.client()
                        .screen()
                        .line("It runs by itself once you have looked at it:  hapster schedule " + to + " --resume");
            }
        }
        return ExitStatus.DONE;
    }
}
