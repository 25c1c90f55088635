package dev.hapster.core.run.load;

import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Load;

/**
 * When the results of files are made to count: each by itself, all of a run at once, or never.
 *
 * @param dry whether nothing is written that outlasts the trial
 * @param together whether all files are held back and committed at once
 * @param stages whether rows are written at all: in a trial only where they are to be compared
 * @param holds whether small parts may do without a file until they count, since nobody compares their rows before
 */
public record CommitPolicy(boolean dry, boolean together, boolean stages, boolean holds) {

    /** @param comparing whether rows of the dataset are compared, whatever this job says */
    public static CommitPolicy of(Handling handling, boolean dry, boolean comparing) {
        boolean compares =
                handling.load() == Load.UPDATE || handling.duplicates().isPresent() || comparing;
        boolean together = handling.settlesTogether() || comparing;
        return new CommitPolicy(dry, together, !dry || compares, !dry && !compares && !together);
    }
}
