package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Option;
import picocli.CommandLine.ParameterException;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;
import picocli.CommandLine.Spec;

@Command(
        name = "rows",
        mixinStandardHelpOptions = true,
        description = {
            "Shows rows of a dataset, each with the file and line it comes from.",
            "With --stage, shows rows of a job's files as they are read, cleaned, or would be stored."
        },
        footer = {
            "",
            "Examples:  hapster rows river_samples --sort -value --limit 5",
            "           hapster rows river_samples --columns station,value --limit 5",
            "           hapster rows river_samples --where \"lab in (North, East) and not value between 0 and 40\"",
            "           hapster rows east-lab samples-2026-03.csv --stage read --line 40",
            "           hapster rows east-lab --stage stored --rejected",
            "           hapster rows east-lab --stage cleaned --where \"value > 40\" --sort -value",
            "",
            FilterOptions.CONDITIONS,
            "Besides the declared columns there are _file, _path, _line, _run and _loaded_at; conditions take _job, too.",
            "With --stage, a condition is an expression, as `keep` in a job has it, and ! marks values at fault."
        })
public final class RowsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "DATASET|JOB", description = "The dataset; with --stage the job.")
    private String dataset;

    @Parameters(
            index = "1",
            paramLabel = "FILE",
            arity = "0..1",
            description =
                    "With --stage: as `hapster find` lists it (default: all files of the job, one after another).")
    private String file;

    @Option(
            names = "--stage",
            paramLabel = "STAGE",
            description =
                    "read: the fields as they stand in the file; cleaned: the dataset's columns as texts; stored: "
                            + "as they would be stored.")
    private String stage;

    @Option(names = "--from", paramLabel = "ROW", description = "With --stage: the first row, counted from 1.")
    private Long from;

    @Option(names = "--line", paramLabel = "LINE", description = "With --stage: begin with the row at this line.")
    private Long line;

    @Option(
            names = "--file-number",
            paramLabel = "N",
            description = "With --stage and no FILE: begin with the Nth file.")
    private Integer fileNumber;

    @Option(names = "--rejected", description = "With --stage: only rows that are rejected.")
    private boolean rejected;

    @Option(
            names = "--whole",
            description = "With --stage: look at all rows to filter and sort (default: the first 50,000).")
    private boolean whole;

    @Option(names = "--offset", paramLabel = "N", defaultValue = "0", description = "Begin after so many rows.")
    private long offset;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "20",
            description = "How many rows (default: ${DEFAULT-VALUE}, at most 1000).")
    private int limit;

    @Mixin
    private RowOptions which;

    @Mixin
    private SaveOptions save;

    @Spec
    private CommandSpec spec;

    @Override
    public Integer call() {
        if (stage != null) {
            return new StageRows(client, dataset, which.columns()).show(question());
        }
        if (file != null || from != null || line != null || fileNumber != null || rejected || whole) {
            throw new ParameterException(
                    spec.commandLine(),
                    "A file, --from, --line, --file-number, --rejected and --whole go with --stage "
                            + "(read, cleaned or stored)");
        }
        ObjectNode kept = SaveOptions.question(dataset, which.conditions(), which.sort());
        SaveOptions.put(kept, "columns", which.columns());
        save.save(client, kept);
        JsonNode answer = client.api()
                .get("/datasets/" + Api.encode(dataset) + "/rows?offset=" + offset + "&limit=" + limit + which.query());
        return RowsTable.print(
                client, answer, which.namesColumns(), !which.conditions().isEmpty());
    }

    private ObjectNode question() {
        if (which.conditions().size() > 1 || which.sort().size() > 1) {
            throw new ParameterException(
                    spec.commandLine(), "With --stage there is one --where (join conditions with &&) and one --sort");
        }
        if (offset != 0) {
            throw new ParameterException(spec.commandLine(), "With --stage, --from says where to begin, not --offset");
        }
        ObjectNode question = Api.JSON.createObjectNode();
        question.put("stage", stage).put("limit", limit);
        if (file != null) {
            question.put("file", file);
        }
        if (from != null) {
            question.put("from", from);
        }
        if (line != null) {
            question.put("line", line);
        }
        if (fileNumber != null) {
            question.put("fileNumber", fileNumber - 1);
        }
        if (rejected) {
            question.put("rejected", true);
        }
        if (whole) {
            question.put("whole", true);
        }
        which.conditions().forEach(condition -> question.put("where", condition));
        which.sort().forEach(column -> question.put("sort", column));
        return question;
    }
}
