package dev.hapster.core.run;

import dev.hapster.core.reason.Reason;
import java.time.Instant;
import java.util.Optional;

/**
 * What a job knows of a file it has dealt with before.
 *
 * @param path        absolute path, with the place inside the file where it has one
 * @param file        absolute path of the file itself
 * @param place       which place of the job it was found in, counted from 1
 * @param fingerprint as the file was when it was read
 * @param readAt      when that was
 * @param outcome     LOADED where its rows are in the dataset, REJECTED where they are not
 * @param rules       version of the rules by which it was dealt with: of those for reading, and of all
 * @param run         the run that dealt with it
 * @param rejected    rows of it that were rejected then
 * @param reason      why the whole file was rejected
 * @param hasPart     whether rows of it are in the dataset; also of an earlier content, where the present one was rejected
 * @param movedTo     where the file lies now, if a run took it there
 */
public record LedgerEntry(String path, String file, int place, Fingerprint fingerprint, Instant readAt, Outcome outcome, String rules, long run, long rejected,
        Optional<Reason> reason, boolean hasPart, Optional<String> movedTo) {

    /** Whether something of the file is rejected. */
    public boolean isOpen() {
        return outcome == Outcome.REJECTED || rejected > 0;
    }
}
