package dev.hapster.cli.command.profile;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.command.data.FilterOptions;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.util.List;

/** What the columns of a job's files hold before they are loaded, on the screen. */
final class FilesProfile {

    private final Client client;

    FilesProfile(Client client) {
        this.client = client;
    }

    /** Prints it; gives the status to end with: findings where something would be rejected. */
    int print(String job, List<String> files) {
        JsonNode answer =
                client.api().get("/jobs/" + Api.encode(job) + "/profile?" + FilterOptions.list("files", files));
        boolean clean =
                answer.path("rejected").asLong() == 0 && answer.path("notes").isEmpty();
        int status = clean ? ExitStatus.DONE : ExitStatus.FINDINGS;
        if (client.json()) {
            client.print(answer);
            return status;
        }
        Screen screen = client.screen();
        long judged = answer.path("rows").asLong() - answer.path("aside").asLong();
        Table table = new Table("")
                .text("column")
                .number("usable")
                .number("empty")
                .number("missing")
                .number("rejected")
                .number("different")
                .text("smallest", 1)
                .text("largest", 1)
                .text("most frequent", 2);
        for (JsonNode column : answer.path("columns")) {
            JsonNode profile = column.path("profile");
            long rows = profile.path("rows").asLong();
            long empty = profile.path("empty").asLong();
            long missing = column.path("missing").asLong();
            long rejected = 0;
            for (JsonNode fault : column.path("rejected")) {
                rejected += fault.path("rows").asLong();
            }
            JsonNode frequent = profile.path("frequent").path(0);
            table.row(
                    profile.path("name").asText(),
                    ProfileCommand.share(rows - empty, judged),
                    ProfileCommand.share(Math.max(0, empty - missing), judged),
                    ProfileCommand.share(missing, judged),
                    ProfileCommand.share(rejected, judged),
                    ProfileCommand.about(profile),
                    ProfileCommand.text(profile.path("smallest")),
                    ProfileCommand.text(profile.path("largest")),
                    frequent.path("rows").asLong() < 2
                            ? ""
                            : ProfileCommand.text(frequent.path("value")) + " ("
                                    + ProfileCommand.share(frequent.path("rows").asLong(), rows) + ")");
        }
        if (judged > 0) {
            screen.table(table);
        }
        screen.line(Screen.count(answer.path("rows").asLong(), "row") + " in "
                + Screen.count(answer.path("files").asLong(), "file") + ", "
                + Screen.grouped(answer.path("rejected").asLong()) + " rejected"
                + (answer.path("aside").asLong() > 0
                        ? ", " + Screen.grouped(answer.path("aside").asLong()) + " set aside by the job's rules"
                        : "")
                + "; nothing was loaded");
        remarks(screen, answer);
        return status;
    }

    private static void remarks(Screen screen, JsonNode answer) {
        boolean first = true;
        for (JsonNode note : answer.path("notes")) {
            screen.paragraph("  ", note.asText());
        }
        for (JsonNode column : answer.path("columns")) {
            String name = column.path("profile").path("name").asText();
            for (JsonNode fault : column.path("rejected")) {
                first = head(screen, first);
                screen.paragraph("  ", name + ": " + fault(fault));
            }
            for (JsonNode remark : column.path("profile").path("remarks")) {
                first = head(screen, first);
                screen.paragraph("  ", name + ": " + remark.path("what").asText());
            }
        }
        for (JsonNode fault : answer.path("whole")) {
            first = head(screen, first);
            screen.paragraph("  ", fault(fault));
        }
    }

    private static String fault(JsonNode fault) {
        return fault.path("code").asText() + " rejects "
                + Screen.count(fault.path("rows").asLong(), "row") + ", first "
                + fault.path("first").asText();
    }

    private static boolean head(Screen screen, boolean first) {
        if (first) {
            screen.line();
            screen.line(screen.strong("Worth a look"));
        }
        return false;
    }
}
