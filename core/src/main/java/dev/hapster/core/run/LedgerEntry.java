package dev.hapster.core.run;

import dev.hapster.core.reason.Reason;
import java.time.Instant;
import java.util.Optional;

/**
 * What a job knows of a file it has dealt with before.
 *
 * @param fingerprint as the file was when it was read
 * @param readAt      when that was
 * @param outcome     LOADED where its rows are in the dataset, REJECTED where they are not
 * @param rules       version of the reading and mapping rules by which it was dealt with
 * @param run         the run that dealt with it
 * @param rejected    rows of it that were rejected then
 * @param reason      why the whole file was rejected
 * @param hasPart     whether rows of it are in the dataset; also of an earlier content, where the present one was rejected
 */
public record LedgerEntry(String path, Fingerprint fingerprint, Instant readAt, Outcome outcome, String rules, long run, long rejected,
        Optional<Reason> reason, boolean hasPart) {
}
