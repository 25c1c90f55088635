package dev.hapster.core.catalogue;

import dev.hapster.core.arrival.Look;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What must outlast a run: the log of arrivals, how they stand, the runs, what is to be done with files.
 *
 * <p>Arrivals are only ever added; how they stand is derived from the log ({@code Counting}) and kept beside it, so
 * that it need not be derived at each question. Whoever adds arrivals says in the same call how others stand from then
 * on; an implementation takes that as it is.
 *
 * <p>An implementation must:
 *
 * <ul>
 *   <li>make each method one transaction: all of it, or nothing;
 *   <li>have what a method changed on disk when it returns, not only with the operating system: files are moved and
 *       parts removed because of it;
 *   <li>be safe for use by several threads. Changes of one dataset come one after another, since a dataset is loaded by
 *       one run at a time; questions come at any time.
 * </ul>
 *
 * <p>Arguments and results are never null, unless stated otherwise. Lists are immutable. Every method throws
 * {@link CatalogueException} where the records cannot be read or kept, and then has changed nothing, or is not known to
 * have reached the disk, and then has changed all or nothing.
 */
public interface Catalogue {

    /**
     * The log of a dataset, in the order of arrival, with how each arrival stands.
     *
     * @param job of one job alone; empty for all that load into the dataset
     */
    History history(String dataset, Optional<String> job);

    /** The parts that make up a dataset now, in the order of arrival. */
    List<Part> parts(String dataset);

    /** Whether rows of different arrivals are compared in a dataset. */
    boolean comparesRows(String dataset);

    /** The header that one file had for all, as a job last knew it. */
    Optional<String> sharedHeader(String job);

    /** Remembers it, in place of what was known before. */
    void sharedHeader(String job, String header);

    /** Definitions of a dataset under which its present parts were written. */
    List<InUse> definitionsInUse(String dataset);

    /**
     * A definition under which parts were written.
     *
     * @param text its file
     * @param jobs the jobs that wrote such parts
     */
    record InUse(String text, Set<String> jobs) {}

    /** Records the results of files, all of it or nothing. */
    void commit(Commit commit);

    /**
     * What is to become true at once.
     *
     * @param files results, for the report of the run
     * @param fresh arrivals that are added to the log, by the number of the file in the run
     * @param touched arrivals of which something was seen anew: how the file looks, or why it is not loaded
     * @param look that the run looked into all folders, where that matters
     * @param changed other arrivals that stand otherwise from now on
     * @param ledger whether the log learns of it; otherwise the results are only recorded with the run
     * @param routes what is to be done with files afterwards
     */
    record Commit(
            long run,
            JobDef job,
            DatasetDef dataset,
            Instant at,
            List<FileResult> files,
            Map<Integer, LedgerEntry> fresh,
            List<LedgerEntry> touched,
            Optional<Look> look,
            List<LedgerEntry> changed,
            boolean ledger,
            List<Route> routes) {
        public Commit {
            files = List.copyOf(files);
            fresh = Map.copyOf(fresh);
            touched = List.copyOf(touched);
            changed = List.copyOf(changed);
            routes = List.copyOf(routes);
        }
    }

    /**
     * Adds an entry to the history that is not a run.
     *
     * @return its number
     */
    long record(Act act);

    /**
     * Something that was done to a dataset other than by a run.
     *
     * @param kind {@code undo}, {@code remove} or {@code dismiss}
     * @param job whose arrivals it is about; empty where several jobs are concerned
     * @param of the entry that is taken back; 0 where rows are removed
     * @param removed arrivals of which the rows are taken out, or the rejects dismissed
     * @param changed arrivals that stand otherwise from now on
     * @param notes what it did, as people say it
     * @param rows of the dataset afterwards
     * @param parts of the dataset afterwards
     */
    record Act(
            String kind,
            String job,
            DatasetDef dataset,
            long of,
            Set<Long> removed,
            List<LedgerEntry> changed,
            List<String> notes,
            long rows,
            long parts) {
        public Act {
            removed = Set.copyOf(removed);
            changed = List.copyOf(changed);
            notes = List.copyOf(notes);
        }
    }

    /**
     * Writes down that the rows of arrivals lie in other files than before.
     *
     * @param parts what each part is called now, by what it was called
     * @return false, with nothing changed, where the dataset does not have all of these parts any more
     */
    boolean movedParts(String dataset, Map<String, String> parts);

    /** Writes down how arrivals stand, where that was found to be otherwise than kept. */
    void settle(List<LedgerEntry> changed);

    /** What is still to be done with files, the oldest first; of one job, or of all where {@code job} is null. */
    List<Route> pending(String job);

    /** Writes down where a file will go, if not where it was planned. */
    void redirect(Route route);

    /** Marks what was done with files as done; the arrivals concerned learn where their file is. */
    void routed(List<Route.Done> done);
}
