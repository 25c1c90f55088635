package dev.hapster.core.catalogue;

import java.nio.file.Path;
import java.util.Optional;

/**
 * What the job itself did with the file of an arrival.
 *
 * @param to where the file was moved
 * @param run the run that did it; 0 where nothing was done
 */
public record Fate(Kind kind, Optional<Path> to, long run) {

    /** The file was left where it lay. */
    public static final Fate LEFT = new Fate(Kind.LEFT, Optional.empty(), 0);

    /** What was done. */
    public enum Kind {
        LEFT,
        MOVED,
        DELETED
    }

    /**
     * Whether the file was taken out of the folder in which it was found, so that the next one of that name is another
     * file.
     */
    public boolean isTaken() {
        return kind != Kind.LEFT;
    }
}
