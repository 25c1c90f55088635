package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.util.List;
import picocli.CommandLine.Option;

/** Which rows of a dataset. */
public final class FilterOptions {

    /** What may be written as a condition, for the help of commands. */
    public static final String CONDITIONS =
            "Conditions: COLUMN = != < <= > >= VALUE, COLUMN ~ TEXT (holds it), COLUMN in (VALUE, VALUE), "
                    + "COLUMN between VALUE and VALUE, COLUMN like 'TEX%%', COLUMN matches REGEX, COLUMN is empty, "
                    + "COLUMN is filled; joined with and, or, not and brackets.";

    @Option(
            names = "--where",
            paramLabel = "CONDITION",
            description = "Only rows for which this holds; where it is given several times, all must hold.")
    private List<String> where = List.of();

    @Option(
            names = "--partial",
            description = "Leave out parts that are missing or damaged, and say which; otherwise there is no answer.")
    private boolean partial;

    public List<String> conditions() {
        return List.copyOf(where);
    }

    /** As part of an address, behind other parameters. */
    public String query() {
        return list("where", where) + (partial ? "&partial=true" : "");
    }

    /** Values of one name, as part of an address. */
    public static String list(String name, List<String> values) {
        StringBuilder query = new StringBuilder();
        values.forEach(value -> query.append('&').append(name).append('=').append(Api.encode(value)));
        return query.toString();
    }

    /** Says why there may be no rows, and which parts are not in an answer; gives the status to end with. */
    public static int remarks(Screen screen, JsonNode answer) {
        answer.path("hints").forEach(hint -> screen.line(hint.asText()));
        answer.path("leftOut").forEach(part -> screen.complain("Left out: " + part.asText()));
        return answer.path("leftOut").isEmpty() ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
