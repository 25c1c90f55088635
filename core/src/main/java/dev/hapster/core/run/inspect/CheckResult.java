package dev.hapster.core.run.inspect;

import dev.hapster.core.catalogue.Afterwards;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.reason.Reason;
import java.util.List;
import java.util.Optional;

/**
 * What would go wrong, said before anything runs.
 *
 * @param problems what keeps the job from starting; empty where nothing does
 * @param warnings what is worth a look
 * @param files each file that would be taken, and whether its structure fits
 * @param format how they are read
 */
public record CheckResult(List<Problem> problems, List<String> warnings, List<FileCheck> files, Format format) {

    public CheckResult {
        problems = List.copyOf(problems);
        warnings = List.copyOf(warnings);
        files = List.copyOf(files);
    }

    /** Whether nothing was found that a run would reject or fail for, as far as files were looked at. */
    public boolean clean() {
        return problems.isEmpty()
                && warnings.isEmpty()
                && files.stream().allMatch(file -> file.reason().isEmpty() && file.rejected() == 0);
    }

    /**
     * @param reason why the file would be rejected whole, as far as its beginning tells
     * @param rows rows of it that were looked at
     * @param rejected how many of those would be rejected
     * @param whole whether those are all its rows
     * @param suspects what is wrong with them
     * @param notes what is worth knowing and no fault
     * @param afterwards what would become of the file afterwards; empty where it stays
     */
    public record FileCheck(
            String path,
            String name,
            long size,
            Optional<Reason> reason,
            long rows,
            long rejected,
            boolean whole,
            List<Suspect> suspects,
            List<String> notes,
            Optional<Afterwards> afterwards) {}

    /**
     * What is wrong with rows of a file.
     *
     * @param column of the dataset; empty where the whole row is meant
     * @param rows how many of the rows that were looked at
     * @param first why the first of them would be rejected
     * @param line where it stands
     */
    public record Suspect(String column, long rows, Reason first, long line) {}
}
