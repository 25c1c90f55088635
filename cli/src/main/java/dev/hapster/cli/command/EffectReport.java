package dev.hapster.cli.command;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;

/** Shows what an act would do to a dataset, before it is done. */
public final class EffectReport {

    private EffectReport() {}

    /**
     * @param can what to say where nothing stands in the way
     * @return the exit status: done where it can be done, findings where not
     */
    public static int show(Client client, JsonNode effect, String can) {
        boolean possible = effect.path("obstacles").isEmpty();
        if (client.json()) {
            client.print(effect);
            return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
        }
        Screen screen = client.screen();
        screen.line(possible ? can + ", nothing is done yet:" : "cannot be done:");
        effect.path("obstacles").forEach(why -> screen.paragraph(screen.bad("  ! "), why.asText()));
        if (possible) {
            long out = effect.path("out").asLong();
            long back = effect.path("back").asLong();
            screen.line("  " + Screen.count(out, "row") + (out == 1 ? " goes out, " : " go out, ")
                    + Screen.count(back, "row") + (back == 1 ? " comes back" : " come back"));
            effect.path("notes").forEach(note -> screen.paragraph("  ", note.asText()));
            screen.line("  " + Screen.count(effect.path("files").asLong(), "file")
                    + (effect.path("files").asLong() == 1 ? " is" : " are") + " concerned");
        }
        return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
