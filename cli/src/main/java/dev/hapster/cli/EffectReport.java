package dev.hapster.cli;

import com.fasterxml.jackson.databind.JsonNode;

/** Shows what an act would do to a dataset, before it is done. */
final class EffectReport {

    private EffectReport() {}

    /**
     * @param can what to say where nothing stands in the way
     * @return the exit status: done where it can be done, findings where not
     */
    static int show(Hapster hapster, JsonNode effect, String can) {
        boolean possible = effect.path("obstacles").isEmpty();
        if (hapster.json) {
            hapster.print(effect);
            return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
        }
        Screen screen = hapster.screen;
        screen.line(possible ? can + ", nothing is done yet:" : "cannot be done:");
        effect.path("obstacles").forEach(why -> screen.paragraph(screen.bad("  ! "), why.asText()));
        if (possible) {
            effect.path("notes").forEach(note -> screen.paragraph("  ", note.asText()));
            screen.line("  " + Screen.count(effect.path("files").asLong(), "file")
                    + (effect.path("files").asLong() == 1 ? " is" : " are") + " concerned");
        }
        return possible ? ExitStatus.DONE : ExitStatus.FINDINGS;
    }
}
