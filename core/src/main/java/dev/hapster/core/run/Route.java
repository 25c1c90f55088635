package dev.hapster.core.run;

import dev.hapster.core.definition.Handling.Routing;
import java.nio.file.Path;
import java.util.Optional;

/**
 * Something that is to be done with a file after a run decided about it.
 *
 * @param run      the run that decided
 * @param ordinal  number of the file within that run; of the first of its sheets or entries
 * @param file     absolute path by which the ledger knows the file
 * @param source   where it lies
 * @param target   where it goes; the source itself, where it stays
 * @param seen     as it looked when it was read: what looks otherwise now is another file, and left alone
 * @param outcome  what became of it
 * @param reasonsOf the run whose reasons are put beside it; 0 where none are
 */
public record Route(long run, int ordinal, String job, String file, Routing.Kind kind, Path source, Path target, Fingerprint seen, Outcome outcome, long reasonsOf) {

    Route to(Path other) {
        return new Route(run, ordinal, job, file, kind, source, other, seen, outcome, reasonsOf);
    }

    /**
     * How it went.
     *
     * @param movedTo where the file lies now, where it was moved
     * @param problem why it could not be done; it is tried again at the next run
     * @param note    what is worth knowing
     */
    public record Done(Route route, Optional<Path> movedTo, Optional<String> problem, Optional<String> note) {
    }
}
