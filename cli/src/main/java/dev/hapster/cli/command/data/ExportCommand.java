package dev.hapster.cli.command.data;

import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.terminal.ClientException;
import dev.hapster.cli.terminal.ExitStatus;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "export",
        mixinStandardHelpOptions = true,
        description = "Writes rows of a dataset to a file for other people: CSV, a workbook, JSON lines or Parquet.",
        footer = {
            "",
            "Examples:  hapster export river_samples --to samples.xlsx",
            "           hapster export river_samples --to samples.csv --origins",
            "           hapster export river_samples --to - --as csv --columns station,value --where \"lab = East\""
        })
public final class ExportCommand implements Callable<Integer> {

    private static final List<String> FORMATS = List.of("csv", "xlsx", "json_lines", "parquet");

    @ParentCommand
    private Client client;

    @Parameters(paramLabel = "DATASET")
    private String dataset;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            required = true,
            description = "The file to write; it appears once it is whole. - is the standard output.")
    private Path target;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "csv, xlsx, json_lines or parquet (default: by the file's ending).")
    private String format;

    @Option(names = "--origins", description = "Also write the columns that say where each row comes from.")
    private boolean origins;

    @Option(names = "--overwrite", description = "Replace a file that is there already.")
    private boolean overwrite;

    @Mixin
    private RowOptions which;

    @Override
    public Integer call() {
        String as = format != null
                ? format
                : byEnding(target.getFileName().toString().toLowerCase(Locale.ROOT));
        if (!FORMATS.contains(as)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "--as must be csv, xlsx, json_lines or parquet, not '" + as + "'.");
        }
        String path = "/datasets/" + Api.encode(dataset) + "/export?as=" + as + (origins ? "&origins=true" : "")
                + which.query();
        if (target.toString().equals("-")) {
            client.api().copy(path, client.screen().out());
            return ExitStatus.DONE;
        }
        Path whole = target.toAbsolutePath();
        if (Files.exists(whole) && !overwrite) {
            throw new ClientException(ExitStatus.WRONG_USE, target + " is there already; --overwrite replaces it.");
        }
        client.fetched(target, client.api().fetch(path, whole));
        return ExitStatus.DONE;
    }

    private static String byEnding(String name) {
        if (name.endsWith(".csv") || name.endsWith(".xlsx") || name.endsWith(".parquet")) {
            return name.substring(name.lastIndexOf('.') + 1);
        }
        if (name.endsWith(".jsonl") || name.endsWith(".ndjson")) {
            return "json_lines";
        }
        throw new ClientException(
                ExitStatus.WRONG_USE,
                (name.equals("-") ? "The standard output" : "The ending of " + name)
                        + " says nothing of a format; name it with --as csv, xlsx, json_lines or parquet.");
    }
}
