package dev.hapster.core.run;

import dev.hapster.core.reason.Reason;
import java.util.List;
import java.util.Optional;

/**
 * What became of one file in a run.
 *
 * @param ordinal     number of the file within the run, counted from 1
 * @param place       which place of the job it was found in, counted from 1
 * @param path        absolute path
 * @param read        rows read; 0 where the file was not read or not wholly
 * @param loaded      rows now in the dataset through this run
 * @param rejected    rows rejected
 * @param reason      why the whole file was rejected or is waiting
 * @param sinceRun    for an unchanged file the run that loaded it, for one rejected again unread the run that found its
 *                    reason; 0 otherwise
 * @param groups      rejected rows by reason
 * @param part        the part that was published, where one was
 * @param fingerprint as the file looked, with its hash where it was read
 * @param notes       what is worth knowing and no fault, such as columns that feed nothing
 * @param millis      how long it took
 */
public record FileResult(int ordinal, int place, String path, String name, Outcome outcome, long read, long loaded, long rejected,
        Optional<Reason> reason, long sinceRun, List<ReasonGroup> groups, Optional<String> part, Fingerprint fingerprint,
        List<String> notes, long millis) {

    public FileResult {
        groups = List.copyOf(groups);
        notes = List.copyOf(notes);
    }
}
