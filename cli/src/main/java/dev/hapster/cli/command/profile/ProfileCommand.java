package dev.hapster.cli.command.profile;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.FilterOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "profile",
        mixinStandardHelpOptions = true,
        description = {
            "Shows what the columns of a dataset hold: empty, different and frequent values, the smallest and the "
                    + "largest, and what should be looked at.",
            "With one column, shows it in full. Of a job's files it says the same before they are loaded, and how much "
                    + "would be rejected."
        },
        footer = {
            "",
            "Examples:  hapster profile river_samples",
            "           hapster profile river_samples --columns value",
            "           hapster profile river_samples --columns sample_id --exact",
            "           hapster profile river_samples --where \"lab = East\"",
            "           hapster profile river_samples --by lab",
            "           hapster profile river_samples --by _job",
            "           hapster profile river_samples --latest --where \"_job = north-lab\"",
            "           hapster profile river_samples --by _file --columns value",
            "           hapster profile east-lab samples-2026-03.csv",
            "           hapster profile east-lab --job",
            "",
            FilterOptions.CONDITIONS
        })
public final class ProfileCommand implements Callable<Integer> {

    private static final int BAR = 30;
    private static final int SHOWN = 24;

    @ParentCommand
    private Client client;

    @Parameters(index = "0", paramLabel = "DATASET|JOB", description = "The dataset; with --job or a FILE the job.")
    private String dataset;

    @Parameters(
            index = "1..*",
            paramLabel = "FILE",
            description = "Files of a job, by name or pattern, before they are loaded.")
    private List<String> files = List.of();

    @Option(names = "--job", description = "Look at all files of a job, before they are loaded.")
    private boolean job;

    @Option(names = "--columns", paramLabel = "COLUMN", split = ",", description = "Only these (default: all).")
    private List<String> columns = List.of();

    @Option(
            names = "--by",
            paramLabel = "COLUMN",
            description = "Set groups of rows beside each other: which share of them has no value in each column; with "
                    + "one column, its figures. _job, _file and _run set jobs, files and runs beside each other.")
    private String by;

    @Option(
            names = "--latest",
            description =
                    "Set what the latest run brought beside what the one before it brought, and show what differs. "
                            + "With --where \"_job = north-lab\", the runs of one job.")
    private boolean latest;

    @Option(
            names = "--exact",
            description =
                    "Estimate nothing: sort the values of columns with very many different ones. Takes much longer.")
    private boolean exact;

    @Mixin
    private FilterOptions filter;

    @Override
    public Integer call() {
        if (job || !files.isEmpty()) {
            if (by != null
                    || latest
                    || exact
                    || !columns.isEmpty()
                    || !filter.conditions().isEmpty()) {
                throw new ClientException(
                        ExitStatus.WRONG_USE,
                        "--by, --latest, --exact, --columns and --where go with a dataset, not with a job's files.");
            }
            return new FilesProfile(client).print(dataset, files);
        }
        String address = "/datasets/" + Api.encode(dataset);
        if ((by != null && (exact || latest)) || (exact && latest)) {
            throw new ClientException(ExitStatus.WRONG_USE, "Only one of --by, --latest and --exact can be given.");
        }
        if (latest) {
            return new RunsBeside(client, address, filter).print(columns);
        }
        if (by != null) {
            return new GroupsBeside(client, address, by, filter).print(columns);
        }
        JsonNode answer = client.api()
                .get(address + "/profile?" + (exact ? "exact=true&" : "") + FilterOptions.list("columns", columns)
                        + filter.query());
        if (client.json()) {
            client.print(answer);
            return ExitStatus.DONE;
        }
        if (answer.path("rows").asLong() == 0) {
            client.screen().line(dataset + " has no rows" + (filter.conditions().isEmpty() ? "" : " that match") + ".");
        } else if (columns.size() == 1 && answer.path("columns").size() == 1) {
            one(answer.path("columns").get(0));
        } else {
            all(answer);
        }
        return FilterOptions.remarks(client.screen(), answer);
    }

    private void all(JsonNode answer) {
        Screen screen = client.screen();
        Table table = new Table("")
                .text("column")
                .text("type", 4)
                .number("empty")
                .number("different")
                .text("smallest", 1)
                .text("median", 3)
                .text("largest", 1)
                .text("most frequent", 2);
        for (JsonNode column : answer.path("columns")) {
            JsonNode frequent = column.path("frequent").path(0);
            table.row(
                    column.path("name").asText(),
                    column.path("type").asText(),
                    share(column.path("empty").asLong(), column.path("rows").asLong()),
                    about(column),
                    text(column.path("smallest")),
                    text(quantile(column, 0.5)),
                    text(column.path("largest")),
                    frequent.path("rows").asLong() < 2
                            ? ""
                            : text(frequent.path("value")) + " ("
                                    + share(
                                            frequent.path("rows").asLong(),
                                            column.path("rows").asLong()) + ")");
        }
        screen.table(table);
        screen.line(Screen.count(answer.path("rows").asLong(), "row")
                + (filter.conditions().isEmpty() ? " in " + dataset : " of " + dataset + " that match the conditions"));
        boolean first = true;
        for (JsonNode column : answer.path("columns")) {
            for (JsonNode remark : column.path("remarks")) {
                if (first) {
                    screen.line();
                    screen.line(screen.strong("Worth a look"));
                    first = false;
                }
                remark(column.path("name").asText() + ": ", remark);
            }
        }
    }

    private void remark(String head, JsonNode remark) {
        Screen screen = client.screen();
        screen.paragraph("  ", head + remark.path("what").asText());
        if (remark.hasNonNull("where")) {
            screen.line(screen.faint("    hapster rows " + dataset + " --where "
                    + shell(remark.path("where").asText())));
        }
    }

    /** As a shell takes it whole. */
    private static String shell(String text) {
        return text.matches("[^\"$`\\\\!]*") ? "\"" + text + "\"" : "'" + text.replace("'", "'\\''") + "'";
    }

    private void one(JsonNode column) {
        Screen screen = client.screen();
        long rows = column.path("rows").asLong();
        screen.line(screen.strong(column.path("name").asText()) + "  "
                + column.path("type").asText());
        long empty = column.path("empty").asLong();
        screen.line("  " + Screen.count(rows, "row") + ", "
                + (empty == 0 ? "none" : Screen.grouped(empty)) + " empty"
                + (empty == 0 ? "" : " (" + share(empty, rows) + ")")
                + ", " + about(column)
                + (column.path("distinct").asLong() == 1 ? " different value" : " different values"));
        if (!column.path("smallest").isNull()) {
            screen.line("  from " + text(column.path("smallest")) + " to " + text(column.path("largest")));
        }
        if (column.hasNonNull("mean")) {
            screen.line("  mean " + column.path("mean").asText() + ", standard deviation "
                    + column.path("deviation").asText());
        }
        if (!column.path("quantiles").isEmpty()) {
            List<String> shown = new ArrayList<>();
            column.path("quantiles")
                    .forEach(one -> shown.add(percent(one.path("share").asDouble()) + " "
                            + one.path("value").asText()));
            double error = column.path("quantiles").get(0).path("error").asDouble();
            screen.paragraph(
                    "  ",
                    "quantiles: " + String.join(", ", shown)
                            + (error > 0 ? String.format(Locale.ROOT, " (ranks within %.2f %%)", 100 * error) : ""));
        }
        JsonNode text = column.path("text");
        if (text.isObject()) {
            screen.line("  lengths from " + text.path("shortest").asText() + " (" + text(text.path("shortestValue"))
                    + ") to " + text.path("longest").asText() + " (" + text(text.path("longestValue")) + ")");
        }
        JsonNode gaps = column.path("gaps");
        if (gaps.isObject()) {
            screen.line("  " + Screen.count(gaps.path("days").asLong(), "day") + " with rows"
                    + (gaps.path("usual").asLong() > 0
                            ? ", usually " + Screen.count(gaps.path("usual").asLong(), "day") + " apart"
                            : ""));
        }
        screen.line();
        frequent(column, rows);
        if (!column.path("histogram").isEmpty()) {
            screen.line();
            histogram(column);
        }
        for (JsonNode remark : column.path("remarks")) {
            screen.line();
            remark("", remark);
        }
    }

    private void frequent(JsonNode column, long rows) {
        Table table = new Table("  ")
                .text("most frequent")
                .number("rows")
                .number("share")
                .text("", 1);
        long most = 1;
        for (JsonNode one : column.path("frequent")) {
            most = Math.max(most, one.path("rows").asLong());
        }
        int listed = 0;
        for (JsonNode one : column.path("frequent")) {
            if (listed++ == 10) {
                break;
            }
            long count = one.path("rows").asLong();
            table.row(
                    text(one.path("value")),
                    (one.path("error").asLong() > 0 ? "about " : "") + Screen.grouped(count),
                    share(count, rows),
                    Screen.bar((double) count, (double) most, BAR));
        }
        client.screen().table(table);
    }

    private void histogram(JsonNode column) {
        Table table = new Table("  ").text("from").text("to").number("rows").text("", 1);
        long most = 1;
        for (JsonNode bin : column.path("histogram")) {
            most = Math.max(most, bin.path("rows").asLong());
        }
        for (JsonNode bin : column.path("histogram")) {
            long count = bin.path("rows").asLong();
            table.row(
                    text(bin.path("from")),
                    text(bin.path("to")),
                    Screen.grouped(count),
                    Screen.bar((double) count, (double) most, BAR));
        }
        client.screen().table(table);
    }

    private static JsonNode quantile(JsonNode column, double share) {
        for (JsonNode one : column.path("quantiles")) {
            if (one.path("share").asDouble() == share) {
                return one.path("value");
            }
        }
        return column.path("quantiles").path(-1);
    }

    static String about(JsonNode column) {
        return (column.path("distinctError").asDouble() > 0 ? "about " : "")
                + Screen.grouped(column.path("distinct").asLong());
    }

    static String text(JsonNode value) {
        return value.isMissingNode() || value.isNull() ? "" : Screen.shorten(Screen.visible(value.asText()), SHOWN);
    }

    private static String percent(double share) {
        return Math.round(100 * share) + " %";
    }

    /** A share in percent; only what is none is 0, and only what is all is 100. */
    static String share(long some, long all) {
        if (some == 0 || all == 0) {
            return "-";
        }
        double percent = 100.0 * some / all;
        return some == all
                ? "100 %"
                : percent < 0.1
                        ? "< 0.1 %"
                        : percent > 99.9 ? "> 99.9 %" : String.format(Locale.ROOT, "%.1f %%", percent);
    }
}
