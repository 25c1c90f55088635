package dev.hapster.core.catalogue;

import dev.hapster.core.definition.Handling.Routing;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;

/**
 * Something that is to be done with a file after a run decided about it.
 *
 * @param run the run that decided
 * @param ordinal number of the file within that run; of the first of its sheets or entries
 * @param file absolute path by which the ledger knows the file
 * @param identity of the file within the job
 * @param source where it lies
 * @param target where it goes; the source itself, where it stays
 * @param seen as it looked when it was read: what looks otherwise now is another file, and left alone
 * @param outcome what became of it
 * @param reasonsOf the run whose reasons are put beside it; 0 where none are
 * @param arrivals what the file brought, as the log has it: of each of its sheets or entries
 */
public record Route(
        long run,
        int ordinal,
        String job,
        String file,
        String identity,
        Routing.Kind kind,
        Path source,
        Path target,
        Fingerprint seen,
        Outcome outcome,
        long reasonsOf,
        List<Long> arrivals) {

    public Route {
        arrivals = List.copyOf(arrivals);
    }

    /** The same way with another end, where the name was taken meanwhile. */
    public Route to(Path other) {
        return new Route(run, ordinal, job, file, identity, kind, source, other, seen, outcome, reasonsOf, arrivals);
    }

    /** What becomes of the file, said before it is done or afterwards. */
    public Afterwards afterwards(boolean done) {
        return switch (kind) {
            case LEAVE ->
                reasonsOf > 0
                        ? Afterwards.left(", with its reasons beside it")
                        : done
                                ? Afterwards.nothing("the reasons beside it were taken away, since they no longer hold")
                                : Afterwards.left("; the reasons beside it are taken away, since they no longer hold");
            case MOVE, COPY -> Afterwards.taken(kind, target);
            case DELETE -> Afterwards.deleted("");
        };
    }

    /**
     * How it went.
     *
     * @param movedTo where the file lies now, where it was moved
     * @param problem why it could not be done; it is tried again at the next run
     * @param note what is worth knowing
     */
    public record Done(Route route, Optional<Path> movedTo, Optional<String> problem, Optional<String> note) {

        /** What was done, or why it was not. */
        public Afterwards afterwards() {
            Optional<String> other = problem.or(() -> note);
            if (other.isPresent()) {
                return Afterwards.nothing(other.get());
            }
            return route.afterwards(true);
        }

        /** Where the file is from now on; empty where nothing was done with it that matters. */
        public Optional<Fate> fate() {
            if (problem.isPresent() || note.isPresent()) {
                return Optional.empty();
            }
            return movedTo.map(to -> new Fate(Fate.Kind.MOVED, movedTo, route.run))
                    .or(() -> route.kind == Routing.Kind.DELETE
                            ? Optional.of(new Fate(Fate.Kind.DELETED, Optional.empty(), route.run))
                            : Optional.empty());
        }
    }
}
