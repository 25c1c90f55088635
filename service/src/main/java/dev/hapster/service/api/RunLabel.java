package dev.hapster.service.api;

import jakarta.ws.rs.BadRequestException;
import java.util.Optional;

/** What people call a run. */
final class RunLabel {

    private static final int MOST_LETTERS = 200;

    private RunLabel() {}

    /** A label as somebody wrote it; empty where it is none. */
    static Optional<String> of(String written) {
        if (written == null || written.isBlank()) {
            return Optional.empty();
        }
        String label = written.strip();
        if (label.length() > MOST_LETTERS || label.chars().anyMatch(Character::isISOControl)) {
            throw new BadRequestException(
                    "label must be a text of at most " + MOST_LETTERS + " characters on one line");
        }
        return Optional.of(label);
    }
}
