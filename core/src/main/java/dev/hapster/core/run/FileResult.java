package dev.hapster.core.run;

import dev.hapster.core.reason.Reason;
import java.util.List;
import java.util.Optional;

/**
 * What became of one file in a run.
 *
 * @param ordinal     number of the file within the run, counted from 1
 * @param place       which place of the job it was found in, counted from 1
 * @param path        absolute path, with the place inside the file where it has one
 * @param file        absolute path of the file itself, when it was first dealt with
 * @param elsewhere   whether it lay elsewhere this time, where an earlier run had taken it
 * @param read        rows read; 0 where the file was not read or not wholly
 * @param loaded      rows now in the dataset through this run
 * @param aside       rows set aside by the job's own rules
 * @param repeated    rows left out since they are there already
 * @param rejected    rows rejected
 * @param reason      why the whole file was rejected or is waiting
 * @param sinceRun    for an unchanged file the run that loaded it, for one rejected again unread the run that found its
 *                    reason; 0 otherwise
 * @param groups      rejected rows by reason
 * @param part        the part that was published, where one was
 * @param instead     which of the parts that the file brought before the new one takes the place of
 * @param fingerprint as the file looked, with its hash where it was read
 * @param header      the file's columns, where rows of it were rejected or left out
 * @param notes       what is worth knowing and no fault, such as columns that feed nothing
 * @param millis      how long it took
 */
public record FileResult(int ordinal, int place, String path, String file, boolean elsewhere, String name, Outcome outcome, long read, long loaded, long aside, long repeated, long rejected,
        Optional<Reason> reason, long sinceRun, List<ReasonGroup> groups, Optional<String> part, Instead instead, Fingerprint fingerprint, List<String> header,
        List<String> notes, long millis) {

    /** Which parts of a file a new one takes the place of. */
    public enum Instead {
        /** All of them. */
        ALL,
        /** The one that came last. */
        LATEST,
        /** None: its rows are added. */
        NONE
    }

    public FileResult {
        groups = List.copyOf(groups);
        header = List.copyOf(header);
        notes = List.copyOf(notes);
    }

    /** The same with a part that is published. */
    FileResult withPart(String name) {
        return new FileResult(ordinal, place, path, file, elsewhere, this.name, outcome, read, loaded, aside, repeated, rejected, reason, sinceRun, groups, Optional.of(name), instead, fingerprint, header,
                notes, millis);
    }
}
