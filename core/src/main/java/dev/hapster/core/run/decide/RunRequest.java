package dev.hapster.core.run.decide;

import dev.hapster.core.find.Candidate;
import java.util.Map;
import java.util.function.Predicate;

/**
 * What a run is asked for beyond what is new or changed.
 *
 * @param again whether a file is loaded though it has not changed
 * @param repairs rows of files to which a retry is confined, by where the files lie now; a file that is not in it is
 *     loaded whole
 * @param partial whether only some of the job's files are dealt with, so that nothing follows from the absence of
 *     others
 * @param applyAfter whether what the job says now of what becomes of files is done also with files that were loaded
 *     when it said otherwise
 */
public record RunRequest(
        Predicate<Candidate> again, Map<String, Decision.Repair> repairs, boolean partial, boolean applyAfter) {

    public static final RunRequest NOTHING = new RunRequest(file -> false, Map.of(), false, false);

    /** Files that are loaded though they have not changed. */
    public static RunRequest again(Predicate<Candidate> which) {
        return new RunRequest(which, Map.of(), false, false);
    }

    /** The same with the present {@code after} for all files. */
    public RunRequest applyingAfter(boolean apply) {
        return new RunRequest(again, repairs, partial, apply);
    }
}
