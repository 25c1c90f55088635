package dev.hapster.core.run.load;

import dev.hapster.core.definition.Handling;
import dev.hapster.core.definition.Handling.Load;

/**
 * When the results of files are made to count: each by itself, all of a run at once, or never.
 *
 * @param dry whether nothing is written that outlasts the trial
 * @param together whether all files are held back and committed at once
 * @param stages whether rows are written at all: in a trial only where they are to be compared
 */
public record CommitPolicy(boolean dry, boolean together, boolean stages) {

    /** @param comparing whether rows of the dataset are compared, whatever this job says */
    public static CommitPolicy of(Handling handling, boolean dry, boolean comparing) {
        return new CommitPolicy(
                dry,
                handling.settlesTogether() || comparing,
                !dry || handling.load() == Load.UPDATE || handling.duplicates().isPresent() || comparing);
    }
}
