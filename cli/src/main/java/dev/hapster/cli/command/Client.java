package dev.hapster.cli.command;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.http.Api;
import dev.hapster.cli.http.Rows;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import java.nio.file.Path;

/** What all commands share: the service that they ask, and how they answer. */
public interface Client {

    /** The service that was named, asked anew by each command. */
    Api api();

    Screen screen();

    /** Whether the service's JSON is printed in place of tables. */
    boolean json();

    /** Files that are fetched are written on this machine. */
    static void checkHere(Path target) {
        if (isElsewhere(target)) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "What is written with --to lies on this machine. To an SFTP server or an object store rows go by "
                            + "hapster export, or by a delivery: deliver: in the dataset's file, with the address as "
                            + "its 'to'.");
        }
    }

    /** Whether a path was meant as an address on another machine; a path has lost a slash of it. */
    static boolean isElsewhere(Path target) {
        return target.toString().matches("(sftp|s3):/.*");
    }

    /** Says what was fetched into a file. */
    default void fetched(Path target, Rows.Fetched what) {
        screen().line(target + "  "
                + (what.rows().isPresent() ? Screen.count(what.rows().getAsLong(), "row") + ", " : "")
                + Screen.size(what.bytes()));
    }

    /** Prints JSON as it came, for programs. */
    default void print(JsonNode node) {
        try {
            screen().line(Api.JSON.writeValueAsString(node));
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("What was read as JSON can be written as JSON", impossible);
        }
    }
}
