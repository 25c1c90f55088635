package dev.hapster.cli.command;

import com.fasterxml.jackson.databind.node.ObjectNode;
import dev.hapster.cli.http.Api;
import java.util.LinkedHashMap;
import java.util.Map;
import picocli.CommandLine.Option;

/** The values that a command is given for this call alone. */
public final class ValueOptions {

    @Option(
            names = "--set",
            paramLabel = "NAME=VALUE",
            description = "A value for this call alone, for $${NAME} in the job's file; may be given more than once.")
    private Map<String, String> set = new LinkedHashMap<>();

    /** As the body of a call. */
    public ObjectNode body() {
        ObjectNode body = Api.JSON.createObjectNode();
        set.forEach(body.putObject("set")::put);
        return body;
    }

    /** As part of an address, beginning with {@code first} where there are any. */
    public String query(char first) {
        StringBuilder query = new StringBuilder();
        set.forEach((name, value) ->
                query.append(query.isEmpty() ? first : '&').append("set=").append(Api.encode(name + "=" + value)));
        return query.toString();
    }
}
