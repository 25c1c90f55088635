package dev.hapster.cli.command.reject;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Report;
import dev.hapster.terminal.Screen;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "rejects",
        mixinStandardHelpOptions = true,
        description = "Shows what was rejected and why: by a run, of a job, or currently over all jobs.",
        footer = {
            "",
            "Examples:  hapster rejects",
            "           hapster rejects east-lab",
            "           hapster rejects 2 --explain date-unreadable",
            "           hapster rejects 2 --to mend.csv --as source"
        })
public final class RejectsCommand implements Callable<Integer> {

    @ParentCommand
    private Client client;

    @Parameters(
            arity = "0..1",
            paramLabel = "RUN|JOB",
            description = "Number of a run, or name of a job (default: all jobs, as they stand now).")
    private String what;

    @Option(
            names = "--explain",
            paramLabel = "CODE",
            description = "Say what the reason means, what to do about it, and list the rows.")
    private String code;

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "20",
            description = "With --explain: how many rows (default: ${DEFAULT-VALUE}).")
    private int limit;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            description = "Write a run's rejected rows into this file, in their source's own columns with the reasons "
                    + "behind; a corrected copy can be loaded.")
    private Path target;

    @Option(
            names = "--as",
            paramLabel = "FORMAT",
            description = "With --to: csv, parquet, or source: as the job reads it (default: by the file's ending).")
    private String format;

    @Option(names = "--overwrite", description = "With --to: replace a file that is there already.")
    private boolean overwrite;

    /** Writes rows into a file of this machine. */
    static int write(Client client, String path, Path target, String format, boolean overwrite) {
        Client.checkHere(target);
        String name = target.getFileName().toString().toLowerCase(Locale.ROOT);
        String as =
                format != null ? format : name.endsWith(".parquet") ? "parquet" : name.endsWith(".csv") ? "csv" : "";
        if (!List.of("csv", "parquet", "source").contains(as)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--as must be csv, parquet or source"
                            + (as.isEmpty()
                                    ? "; the ending of " + name + " says nothing of it."
                                    : ", not '" + as + "'."));
        }
        Path whole = target.toAbsolutePath();
        if (Files.exists(whole) && !overwrite) {
            throw new ClientException(ExitStatus.WRONG_USE, target + " is there already; --overwrite replaces it.");
        }
        client.fetched(target, client.api().fetch(path + "?as=" + as, whole));
        return ExitStatus.DONE;
    }

    @Override
    public Integer call() {
        Api api = client.api();
        boolean isRun = what != null && what.matches("\\d{1,18}");
        if (target != null) {
            if (!isRun) {
                throw new ClientException(
                        ExitStatus.WRONG_USE,
                        "--to writes the rejects of a run; say which: hapster rejects RUN --to FILE");
            }
            return write(client, "/runs/" + what + "/rejects/export", target, format, overwrite);
        }
        if (what != null && !isRun) {
            api.get("/jobs/" + Api.encode(what)); // says so where there is no such job
        }
        JsonNode reasons = api.get(
                isRun ? "/runs/" + what + "/rejects" : "/rejects" + (what == null ? "" : "?job=" + Api.encode(what)));
        if (code != null) {
            return explain(api, reasons, isRun);
        }
        if (client.json()) {
            client.print(reasons);
        } else if (reasons.isEmpty()) {
            client.screen()
                    .line("Nothing is rejected" + (isRun ? " in run " + what : what == null ? "" : " in " + what)
                            + ".");
        } else {
            new Report(client.screen()).print(reasons, !isRun);
            JsonNode first = reasons.get(0);
            client.screen()
                    .line(client.screen()
                            .faint("  hapster rejects "
                                    + (isRun ? what : first.path("job").asText()) + " --explain "
                                    + first.path("code").asText()));
        }
        return reasons.isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    private int explain(Api api, JsonNode reasons, boolean isRun) {
        JsonNode meaning = null;
        for (JsonNode known : api.get("/reasons")) {
            meaning = known.path("code").asText().equals(code) ? known : meaning;
        }
        if (meaning == null) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "There is no reason '" + code + "'. Reasons stand in the second column of: hapster rejects");
        }
        if (client.json()) {
            return explainAsJson(api, (ObjectNode) meaning, reasons, isRun);
        }
        Screen screen = client.screen();
        screen.line(screen.strong(code) + "  " + meaning.path("cause").asText());
        String cure = meaning.path("cure").asText();
        for (JsonNode reason : reasons) {
            cure = reason.path("code").asText().equals(code)
                    ? reason.path("cure").asText()
                    : cure; // suits the format
        }
        screen.line("  cure  " + cure);
        boolean any = false;
        for (JsonNode reason : reasons) {
            if (!reason.path("code").asText().equals(code)) {
                continue;
            }
            any = true;
            screen.line();
            screen.line(reason.path("job").asText()
                    + (reason.path("column").asText().isEmpty()
                            ? ""
                            : ", column " + reason.path("column").asText()) + ": "
                    + Screen.count(
                            reason.path("count").asLong(), reason.path("level").asText()));
            if (isRun && reason.path("level").asText().equals("row")) {
                rows(api, reason);
            } else {
                samples(reason);
            }
        }
        if (!any) {
            screen.line("  nothing is rejected for this reason"
                    + (what == null ? "" : isRun ? " in run " + what : " in " + what));
        }
        return any ? ExitStatus.FINDINGS : ExitStatus.DONE;
    }

    /** The meaning of a reason, with what is rejected for it: each with its rows, or samples of them. */
    private int explainAsJson(Api api, ObjectNode meaning, JsonNode reasons, boolean isRun) {
        ArrayNode found = meaning.putArray("rejected");
        for (JsonNode reason : reasons) {
            if (reason.path("code").asText().equals(code)) {
                ObjectNode one = reason.deepCopy();
                if (isRun && reason.path("level").asText().equals("row")) {
                    one.set("rows", rejected(api, reason));
                }
                found.add(one);
            }
        }
        client.print(meaning);
        return found.isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }

    private JsonNode rejected(Api api, JsonNode reason) {
        return api.get("/runs/" + what + "/rejects/rows?code=" + Api.encode(code) + "&column="
                + Api.encode(reason.path("column").asText()) + "&limit=" + limit);
    }

    private void rows(Api api, JsonNode reason) {
        JsonNode rows = rejected(api, reason);
        for (JsonNode row : rows) {
            client.screen()
                    .line("  " + row.path("file").asText() + ":"
                            + row.path("line").asLong() + "  "
                            + row.path("reason").asText());
            client.screen()
                    .line(client.screen()
                            .faint("    "
                                    + client.screen()
                                            .fitting(
                                                    row.path("original")
                                                            .asText()
                                                            .replaceAll("\\R", "⏎"),
                                                    4)));
        }
        long more = reason.path("count").asLong() - rows.size();
        if (more > 0) {
            client.screen()
                    .line("  and " + Screen.grouped(more) + " more (--limit "
                            + reason.path("count").asLong() + ")");
        }
    }

    private void samples(JsonNode reason) {
        for (JsonNode sample : reason.path("samples")) {
            client.screen()
                    .line("  " + sample.path("file").asText()
                            + (sample.has("line") ? ":" + sample.path("line").asLong() : "") + "  "
                            + sample.path("sentence").asText());
        }
        long more = reason.path("count").asLong() - reason.path("samples").size();
        if (more > 0) {
            String run = reason.path("run").asText();
            client.screen()
                    .line("  and " + Screen.grouped(more) + " more"
                            + (run.equals(what) ? "" : ": hapster rejects " + run + " --explain " + code));
        }
    }
}
