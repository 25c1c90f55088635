package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What must outlast a run: the ledger, the parts that count, the runs, what is to be done with files. Every method is one transaction, on disk
 * when it returns. Implementations are thread-safe; they throw unchecked exceptions where the records cannot be kept.
 */
public interface Catalogue {

    /** What the job knows of each file, by absolute path. */
    Map<String, LedgerEntry> ledger(String job);

    /** The parts that make up a dataset now, oldest first. */
    List<Part> parts(String dataset);

    /** Definitions of a dataset under which its present parts were written. */
    List<InUse> definitionsInUse(String dataset);

    /**
     * A definition under which parts were written.
     *
     * @param text its file
     * @param jobs the jobs that wrote such parts
     */
    record InUse(String text, Set<String> jobs) {
    }

    /**
     * Records the result of files, all of it or nothing: adds new parts and retires those whose place they take, updates the ledger, adds counts and reasons.
     */
    void commit(Commit commit);

    /**
     * What is to become true at once.
     *
     * @param rules    version of the rules, as in {@link LedgerEntry#rules}
     * @param rewrites parts that lost rows to newer ones
     * @param gone     paths of the job of which no part counts any more
     * @param ledger   whether the ledger learns of it; otherwise the results are only recorded with the run
     * @param routes   what is to be done with files afterwards
     */
    record Commit(long run, JobDef job, DatasetDef dataset, String rules, Instant at, List<FileResult> files, List<Rewrite> rewrites, Set<String> gone, boolean ledger,
            List<Route> routes) {
        public Commit {
            files = List.copyOf(files);
            rewrites = List.copyOf(rewrites);
            gone = Set.copyOf(gone);
            routes = List.copyOf(routes);
        }
    }

    /** A part that counts from now on in place of another one. */
    record Rewrite(String old, String part, long rows) {
    }

    /** What is still to be done with files, the oldest first; of one job, or of all where {@code job} is null. */
    List<Route> pending(String job);

    /** Writes down where a file will go, if not where it was planned. */
    void redirect(Route route);

    /** Ticks off what was done with files. */
    void routed(List<Route.Done> done);
}
