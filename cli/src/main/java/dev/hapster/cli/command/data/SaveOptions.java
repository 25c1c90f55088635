package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import java.util.List;
import picocli.CommandLine.Option;

/** Whether a question is kept under a name. */
final class SaveOptions {

    @Option(names = "--save", paramLabel = "NAME", description = "Keep the question as queries/NAME.yaml.")
    private String name;

    @Option(names = "--about", paramLabel = "TEXT", description = "With --save: what it answers.")
    private String about;

    @Option(names = "--replace", description = "With --save: replace the query of that name.")
    private boolean replace;

    /** A question that may be kept. */
    static ObjectNode question(String dataset, List<String> where, List<String> sort) {
        ObjectNode question = Api.JSON.createObjectNode().put("dataset", dataset);
        put(question, "where", where);
        put(question, "sort", sort);
        return question;
    }

    static void put(ObjectNode question, String key, List<String> values) {
        values.forEach(question.withArray(key)::add);
    }

    /** Keeps a question, where that was asked for. */
    void save(Client client, ObjectNode question) {
        if (name == null) {
            if (about != null || replace) {
                throw new ClientException(ExitStatus.WRONG_USE, "--about and --replace go with --save NAME.");
            }
            return;
        }
        if (about != null) {
            question.put("about", about);
        }
        for (JsonNode known : client.api().get("/queries")) {
            if (!known.path("name").asText().equals(name)) {
                continue;
            }
            if (!replace) {
                throw new ClientException(
                        ExitStatus.WRONG_USE, "There is a query " + name + " already; --replace replaces it.");
            }
            question.put("version", known.path("version").asText());
            if (about == null) {
                question.put("about", known.path("about").asText());
            }
        }
        client.api().put("/queries/" + Api.encode(name), question);
        if (!client.json()) {
            client.screen().line("Saved as queries/" + name + ".yaml; ask it with: hapster query " + name);
            client.screen().line();
        }
    }
}
