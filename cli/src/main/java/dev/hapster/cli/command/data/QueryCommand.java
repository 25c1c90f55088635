package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.ParentCommand;

@Command(
        name = "query",
        mixinStandardHelpOptions = true,
        description = "Asks a saved query, or lists them. hapster rows and hapster count save one with --save NAME.",
        footer = {
            "",
            "Examples:  hapster query",
            "           hapster query labs-by-month",
            "           hapster query labs-by-month --where \"lab != East\"",
            "           hapster query labs-by-month --delete"
        })
public final class QueryCommand implements Callable<Integer> {

    private static final int MOST_SHOWN = 200;

    @ParentCommand
    private Client client;

    @Parameters(arity = "0..1", paramLabel = "NAME", description = "The query to ask (default: list all).")
    private String name;

    @Option(names = "--where", paramLabel = "CONDITION", description = "One more condition that must hold.")
    private List<String> where = List.of();

    @Option(
            names = "--limit",
            paramLabel = "N",
            defaultValue = "20",
            description = "Of rows: how many (default: ${DEFAULT-VALUE}, at most 1000).")
    private int limit;

    @Option(names = "--partial", description = "Leave out parts that are missing or damaged, and say which.")
    private boolean partial;

    @Option(names = "--delete", description = "Delete the query.")
    private boolean delete;

    @Override
    public Integer call() {
        if (name == null) {
            if (delete) {
                throw new ClientException(ExitStatus.WRONG_USE, "--delete needs the NAME of a query.");
            }
            return list(client.api().get("/queries"));
        }
        String path = "/queries/" + Api.encode(name);
        if (delete) {
            client.api().delete(path);
            client.screen().line("queries/" + name + ".yaml is deleted.");
            return ExitStatus.DONE;
        }
        JsonNode query = client.api().get(path);
        if (!query.path("problems").isEmpty()) {
            query.path("problems").forEach(problem -> client.screen().complain(Api.problem(problem)));
            return ExitStatus.FINDINGS;
        }
        List<String> conditions = texts(query.path("where"));
        conditions.addAll(where);
        List<String> sort = texts(query.path("sort"));
        String options = FilterOptions.list("where", conditions)
                + FilterOptions.list("sort", sort)
                + (partial ? "&partial=true" : "");
        String dataset = "/datasets/" + Api.encode(query.path("dataset").asText());
        if (counts(query)) {
            return CountsTable.print(
                    client,
                    client.api()
                            .get(dataset + "/counts?top=" + query.path("top").asInt()
                                    + FilterOptions.list("by", texts(query.path("by")))
                                    + FilterOptions.list("measures", texts(query.path("measures"))) + options),
                    sort);
        }
        List<String> columns = texts(query.path("columns"));
        JsonNode answer =
                client.api().get(dataset + "/rows?limit=" + limit + FilterOptions.list("columns", columns) + options);
        return RowsTable.print(client, answer, !columns.isEmpty(), !conditions.isEmpty());
    }

    private static boolean counts(JsonNode query) {
        return !query.path("by").isEmpty() || !query.path("measures").isEmpty();
    }

    private static List<String> texts(JsonNode list) {
        List<String> texts = new ArrayList<>();
        list.forEach(one -> texts.add(one.asText()));
        return texts;
    }

    private int list(JsonNode queries) {
        boolean wrong = false;
        for (JsonNode one : queries) {
            wrong |= !one.path("problems").isEmpty();
        }
        int status = wrong ? ExitStatus.FINDINGS : ExitStatus.DONE;
        if (client.json()) {
            client.print(queries);
            return status;
        }
        Screen screen = client.screen();
        if (queries.isEmpty()) {
            screen.line("The workspace has no queries yet. Save one: hapster count DATASET --by COLUMN --save NAME");
            return status;
        }
        Table table = new Table("").text("query").text("dataset").prose("asks").prose("");
        for (JsonNode one : queries) {
            table.row(
                    one.path("name").asText(),
                    one.path("dataset").asText(),
                    one.path("problems").isEmpty() ? Screen.shorten(asks(one), MOST_SHOWN) : "cannot be asked",
                    one.path("about").asText());
        }
        screen.table(table);
        for (JsonNode one : queries) {
            one.path("problems").forEach(problem -> screen.complain(Api.problem(problem)));
        }
        return status;
    }

    /** What a query asks, in a few words. */
    private static String asks(JsonNode query) {
        List<String> words = new ArrayList<>();
        if (counts(query)) {
            List<String> what = new ArrayList<>(List.of("rows"));
            what.addAll(texts(query.path("measures")));
            words.add(String.join(", ", what));
            if (!query.path("by").isEmpty()) {
                words.add("by " + String.join(", ", texts(query.path("by"))));
            }
        } else {
            words.add(
                    query.path("columns").isEmpty() ? "all columns" : String.join(", ", texts(query.path("columns"))));
        }
        if (!query.path("where").isEmpty()) {
            words.add("where " + String.join(" and ", texts(query.path("where"))));
        }
        return String.join(" ", words);
    }
}
