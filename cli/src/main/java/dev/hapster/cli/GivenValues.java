package dev.hapster.cli;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine.Option;

/** The values that a command is given for this call alone. */
final class GivenValues {

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "A value for this call alone, for $${NAME} in the job's file; may be given more than once.")
    private Map<String, String> set = new LinkedHashMap<>();

    /** As the body of a call. */
    ObjectNode body() {
        ObjectNode body = Api.JSON.createObjectNode();
        set.forEach(body.putObject("set")::put);
        return body;
    }

    /** As part of an address, beginning with {@code first} where there are any. */
    String query(char first) {
        StringBuilder query = new StringBuilder();
        set.forEach((name, value) ->
                query.append(query.isEmpty() ? first : '&').append("set=").append(Api.encode(name + "=" + value)));
        return query.toString();
    }

    /** {@code month 2026-03 (the call), inbox inbox (values.yaml)}; empty where no names were put in. */
    static String used(com.fasterxml.jackson.databind.JsonNode values) {
        StringBuilder text = new StringBuilder();
        values.forEach(value -> text.append(text.isEmpty() ? "" : ", ")
                .append(value.path("name").asText())
                .append(" = ")
                .append(value.path("value").asText())
                .append(" (")
                .append(value.path("from").asText())
                .append(')'));
        return text.toString();
    }
}
