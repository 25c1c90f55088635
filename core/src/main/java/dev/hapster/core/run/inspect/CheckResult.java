package dev.hapster.core.run.inspect;

import dev.hapster.core.catalogue.Afterwards;
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
 */
public record CheckResult(List<Problem> problems, List<String> warnings, List<FileCheck> files) {

    public CheckResult {
        problems = List.copyOf(problems);
        warnings = List.copyOf(warnings);
        files = List.copyOf(files);
    }

    public boolean clean() {
        return problems.isEmpty()
                && warnings.isEmpty()
                && files.stream().allMatch(file -> file.reason().isEmpty());
    }

    /**
     * @param reason why the file would be rejected whole, as far as its first lines tell
     * @param notes what is worth knowing and no fault
     * @param afterwards what would become of the file afterwards; empty where it stays
     */
    public record FileCheck(
            String path,
            String name,
            long size,
            Optional<Reason> reason,
            List<String> notes,
            Optional<Afterwards> afterwards) {}
}
