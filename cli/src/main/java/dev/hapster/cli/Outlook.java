package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;

/** Shows what an act would do to a dataset, before it is done. */
final class Outlook {

    private Outlook() {
    }

    /**
     * @param can what to say where nothing stands in the way
     * @return the exit status: done where it can be done, findings where not
     */
    static int show(Hapster hapster, JsonNode outlook, String can) {
        boolean possible = outlook.path("obstacles").isEmpty();
        if (hapster.json) {
            hapster.print(outlook);
            return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
        }
        Screen screen = hapster.screen;
        screen.line(possible ? can + ", nothing is done yet:" : "cannot be done:");
        outlook.path("obstacles").forEach(why -> screen.paragraph(screen.bad("  ! "), why.asText()));
        if (possible) {
            outlook.path("notes").forEach(note -> screen.paragraph("  ", note.asText()));
            screen.line("  " + Screen.count(outlook.path("files").asLong(), "file") + (outlook.path("files").asLong() == 1 ? " is" : " are") + " concerned");
        }
        return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
