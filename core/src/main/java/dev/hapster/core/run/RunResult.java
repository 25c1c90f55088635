package dev.hapster.core.run;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.run.load.RunState;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/**
 * How a run or a trial ended.
 *
 * @param failure why it failed, where it did
 * @param passing whether what it failed for may be gone after a while
 * @param files results, in the order in which the files were found; files that were not reached are absent
 * @param notes what is worth knowing about the run as a whole
 */
public record RunResult(
        RunState state,
        Optional<String> failure,
        boolean passing,
        List<FileResult> files,
        Balance balance,
        List<String> notes) {

    public RunResult {
        files = List.copyOf(files);
        notes = List.copyOf(notes);
    }

    /** What the balance counts: {@code file}, {@code sheet}, {@code entry}, or {@code source} where it is several. */
    public String noun() {
        Set<String> nouns = files.stream().map(RunResult::noun).collect(Collectors.toSet());
        return nouns.size() > 1 ? "source" : nouns.stream().findFirst().orElse("file");
    }

    private static String noun(FileResult file) {
        String inside = file.path()
                .substring(Math.min(file.path().length(), file.file().toString().length()));
        return inside.isEmpty() ? "file" : inside.lastIndexOf('!') == inside.lastIndexOf("!/") ? "entry" : "sheet";
    }

    /** The same with notes in front, and one behind where there is one. */
    public RunResult withNotes(List<String> before, Optional<String> behind) {
        List<String> all = new ArrayList<>(before);
        all.addAll(notes);
        behind.ifPresent(all::add);
        return new RunResult(state, failure, passing, files, balance, all);
    }
}
