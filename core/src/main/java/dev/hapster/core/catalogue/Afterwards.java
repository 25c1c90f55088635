package dev.hapster.core.catalogue;

import dev.hapster.core.definition.Handling.Routing;
import java.nio.file.Path;
import java.util.Optional;

/**
 * What was done with a file once a run had decided about it, or would be.
 *
 * @param kind empty where nothing is done, and {@code note} says why
 * @param to where it was moved or copied
 * @param note what else there is to say; empty where that is all
 */
public record Afterwards(Optional<Routing.Kind> kind, Optional<Path> to, String note) {

    /** The file was moved or copied there. */
    public static Afterwards taken(Routing.Kind kind, Path to) {
        return new Afterwards(Optional.of(kind), Optional.of(to), "");
    }

    /** The file was deleted. */
    public static Afterwards deleted(String note) {
        return new Afterwards(Optional.of(Routing.Kind.DELETE), Optional.empty(), note);
    }

    /** The file stayed, as the job says. */
    public static Afterwards left(String note) {
        return new Afterwards(Optional.of(Routing.Kind.LEAVE), Optional.empty(), note);
    }

    /** Something should have become of the file, and did not. */
    public static Afterwards nothing(String why) {
        return new Afterwards(Optional.empty(), Optional.empty(), why);
    }

    /** All of it, in words. */
    public String words() {
        if (kind.isEmpty()) {
            return note;
        }
        return switch (kind.get()) {
            case LEAVE -> "left" + note;
            case MOVE -> "moved to " + to.orElseThrow() + note;
            case COPY -> "copied to " + to.orElseThrow() + note;
            case DELETE -> "deleted" + note;
        };
    }
}
