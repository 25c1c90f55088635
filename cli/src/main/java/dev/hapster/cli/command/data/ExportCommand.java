package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.util.Base64;
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
        description = {
            "Writes rows of a dataset to a file for other people: CSV, a workbook, JSON, XML or Parquet.",
            "Columns get other names with COLUMN as NAME; points in names make a structure in JSON and XML."
        },
        footer = {
            "",
            "Examples:  hapster export river_samples --to samples.xlsx",
            "           hapster export river_samples --to samples.csv --origins",
            "           hapster export river_samples --to - --as csv --columns station,value --where \"lab = East\"",
            "           hapster export river_samples --to messwerte.csv --separator \";\" --decimal , --dates dd.MM.yyyy",
            "           hapster export river_samples --to samples.xml --row sample "
                    + "--columns \"station as site.@id, value as site.value\"",
            "           hapster export river_samples --to \"out/{lab}-{sampled_at:yyyy-MM}.csv\"",
            "           hapster export river_samples --to report.xlsx --sheet Samples",
            "           hapster export --query labs-by-station --to labs.xlsx"
        })
public final class ExportCommand implements Callable<Integer> {

    private static final List<String> FORMATS = List.of("csv", "xlsx", "json", "json_lines", "xml", "parquet");

    private static final long LARGEST_BOOK = 1_400_000;

    @ParentCommand
    private Client client;

    private JsonNode saved;

    @Parameters(arity = "0..1", paramLabel = "DATASET", description = "The dataset, unless --query names one.")
    private String dataset;

    @Option(
            names = "--query",
            paramLabel = "NAME",
            description = "The rows of a saved query, with its columns, conditions and order.")
    private String query;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            required = true,
            description =
                    "The file to write; it appears once it is whole. - is the standard output; sftp://ACCOUNT/PATH or "
                            + "s3://ACCOUNT/BUCKET/PATH lies on another machine. With pieces such as "
                            + "{lab}, {sampled_at:yyyy-MM} or {file.stem}, one file for each value; put it in quotes.")
    private Path target;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "csv, xlsx, json, json_lines, xml or parquet (default: by the file's ending).")
    private String format;

    @Option(names = "--origins", description = "Also write the columns that say where each row comes from.")
    private boolean origins;

    @Option(names = "--overwrite", description = "Replace a file that is there already.")
    private boolean overwrite;

    @Option(
            names = "--sheet",
            paramLabel = "NAME",
            description = "Write into this sheet of a workbook that is there, in place of what it has; all else in the "
                    + "workbook stays as it is.")
    private String sheet;

    @Option(names = "--below", description = "With --sheet: write below the last row of the sheet.")
    private boolean below;

    @Mixin
    private RowOptions which;

    @Mixin
    private StyleOptions style;

    @Override
    public Integer call() {
        boolean elsewhere = Client.isElsewhere(target);
        if (sheet != null || target.toString().contains("{")) {
            Client.checkHere(target);
        }
        String as = format != null
                ? format
                : byEnding(target.getFileName().toString().toLowerCase(Locale.ROOT));
        if (!FORMATS.contains(as)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "--as must be one of " + String.join(", ", FORMATS) + ", not '" + as + "'.");
        }
        if (sheet != null) {
            return intoSheet(as);
        }
        if (below) {
            throw new ClientException(ExitStatus.WRONG_USE, "--below goes with --sheet.");
        }
        String address = "/datasets/" + Api.encode(named());
        String what = "as=" + as + (origins ? "&origins=true" : "") + (query == null ? "" : saved()) + which.query()
                + style.query(as);
        if (target.toString().contains("{")) {
            return new SplitFiles(client, target.toString(), overwrite).write(address, what);
        }
        if (elsewhere) {
            return send(address + "/export/elsewhere?" + what);
        }
        String path = address + "/export?" + what;
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

    /** The service sends it: the accounts are its own. */
    private int send(String path) {
        String to = target.toString().replaceFirst(":/+", "://");
        JsonNode sent = client.api()
                .post(path, Api.JSON.createObjectNode().put("to", to).put("replace", overwrite));
        if (client.json()) {
            client.print(sent);
        } else {
            client.screen()
                    .line(to + "  " + Screen.count(sent.path("rows").asLong(), "row") + ", "
                            + Screen.size(sent.path("bytes").asLong()));
        }
        return ExitStatus.DONE;
    }

    private int intoSheet(String as) {
        if (!as.equals("xlsx") || !style.query(as).isEmpty()) {
            throw new ClientException(ExitStatus.WRONG_USE, "--sheet goes with a workbook (xlsx) alone.");
        }
        byte[] book;
        try {
            if (Files.size(target) > LARGEST_BOOK) {
                throw new ClientException(
                        ExitStatus.WRONG_USE,
                        target + " is larger than the service takes (1.4 MB). Declare a delivery with `sheet: " + sheet
                                + "`, which takes larger ones.");
            }
            book = Files.readAllBytes(target);
        } catch (NoSuchFileException missing) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, target + " is not there; leave --sheet out to write a workbook of its own.");
        } catch (IOException wrong) {
            throw new ClientException(ExitStatus.FAILED, "Cannot read " + target + ": " + wrong.getMessage());
        }
        String path = "/datasets/" + Api.encode(named()) + "/export/sheet?sheet=" + Api.encode(sheet)
                + (below ? "&below=true" : "") + (origins ? "&origins=true" : "") + (query == null ? "" : saved())
                + which.query();
        client.fetched(
                target,
                client.api()
                        .fetch(
                                path,
                                Api.JSON
                                        .createObjectNode()
                                        .put("book", Base64.getEncoder().encodeToString(book)),
                                target.toAbsolutePath()));
        return ExitStatus.DONE;
    }

    private String named() {
        if ((dataset == null) == (query == null)) {
            throw new ClientException(ExitStatus.WRONG_USE, "Name a DATASET, or a saved query with --query.");
        }
        if (query == null) {
            return dataset;
        }
        saved = client.api().get("/queries/" + Api.encode(query));
        if (!saved.path("problems").isEmpty()) {
            throw new ClientException(
                    ExitStatus.FINDINGS, Api.problem(saved.path("problems").get(0)));
        }
        if (!saved.path("by").isEmpty() || !saved.path("measures").isEmpty()) {
            throw new ClientException(
                    ExitStatus.WRONG_USE, "The query " + query + " counts rows; only queries of rows are exported.");
        }
        return saved.path("dataset").asText();
    }

    /** What a saved query asks, as part of an address. */
    private String saved() {
        StringBuilder asked = new StringBuilder();
        for (String key : List.of("where", "columns", "sort")) {
            boolean given = key.equals("columns")
                    ? which.namesColumns()
                    : key.equals("sort") && !which.sort().isEmpty();
            if (!given) {
                saved.path(key).forEach(one -> asked.append(FilterOptions.list(key, List.of(one.asText()))));
            }
        }
        return asked.toString();
    }

    private static String byEnding(String name) {
        if (name.matches(".*\\.(csv|xlsx|parquet|json|xml)")) {
            return name.substring(name.lastIndexOf('.') + 1);
        }
        if (name.endsWith(".jsonl") || name.endsWith(".ndjson")) {
            return "json_lines";
        }
        throw new ClientException(
                ExitStatus.WRONG_USE,
                (name.equals("-") ? "The standard output" : "The ending of " + name)
                        + " says nothing of a format; name it with --as " + String.join(", ", FORMATS) + ".");
    }
}
