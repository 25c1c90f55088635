package dev.hapster.core.catalogue;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.workspace.RulesVersion;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Optional;

/**
 * What is known of an arrival.
 *
 * @param arrival what the log says of it
 * @param name the file's name, with the place inside the file where it has one
 * @param file where the file itself lay
 * @param place which place of the job it was found in, counted from 1
 * @param fingerprint as the file looked when it was last seen with this content
 * @param readAt when that was
 * @param rules version of the rules by which it was read
 * @param datasetVersion version of the dataset's definition under which its rows were written
 * @param rejected rows of it that were rejected
 * @param reason why the whole file is not loaded: rejected, or a copy as it was last said
 * @param saidBy the run that said so
 * @param after what the job said then about what becomes of files, in short ({@link RulesVersion})
 * @param sweptAt the last entry of the history when its rows were let go of; 0 as long as they are kept
 */
public record LedgerEntry(
        Arrival arrival,
        String name,
        Path file,
        int place,
        Fingerprint fingerprint,
        Instant readAt,
        String rules,
        String datasetVersion,
        long rejected,
        Optional<Reason> reason,
        long saidBy,
        String after,
        Fate fate,
        long sweptAt,
        Standing standing) {

    /** Whether something of the file is rejected. */
    public boolean isOpen() {
        return !arrival.accepted() || (rejected > 0 && standing.copyOf() == 0);
    }

    /** Whether rows of it are in the dataset. */
    public boolean isLoaded() {
        return standing.counts();
    }

    /** Rows of it that are in the dataset. */
    public long countingRows() {
        return standing.rows(arrival.rows());
    }

    /** Where the file lies now, as far as is known. */
    public Optional<Path> lies() {
        return fate.kind() == Fate.Kind.DELETED ? Optional.empty() : fate.to().or(() -> Optional.of(file));
    }

    /** The same with what became of the arrival since. */
    public LedgerEntry with(Arrival other) {
        return new LedgerEntry(
                other,
                name,
                file,
                place,
                fingerprint,
                readAt,
                rules,
                datasetVersion,
                rejected,
                reason,
                saidBy,
                after,
                fate,
                sweptAt,
                standing);
    }

    /** The same as it stands now. */
    public LedgerEntry with(Standing now) {
        return new LedgerEntry(
                arrival,
                name,
                file,
                place,
                fingerprint,
                readAt,
                rules,
                datasetVersion,
                rejected,
                reason,
                saidBy,
                after,
                fate,
                sweptAt,
                now);
    }

    /** The same after its file was taken elsewhere. */
    public LedgerEntry with(Fate now) {
        return new LedgerEntry(
                arrival,
                name,
                file,
                place,
                fingerprint,
                readAt,
                rules,
                datasetVersion,
                rejected,
                reason,
                saidBy,
                after,
                now,
                sweptAt,
                standing);
    }

    /** The same seen again: unread, as it looks now. */
    public LedgerEntry seen(Fingerprint now, Instant at, Optional<Reason> why, long by) {
        return new LedgerEntry(
                arrival,
                name,
                file,
                place,
                now,
                at,
                rules,
                datasetVersion,
                rejected,
                why,
                by,
                after,
                fate,
                sweptAt,
                standing);
    }

    /** Whether its rows are no longer kept. */
    public boolean isSwept() {
        return sweptAt > 0;
    }

    /**
     * Whether nobody needs its rows as things stand: it has none in the dataset, nothing that says what goes, and is no
     * copy that may come to count.
     */
    public boolean isIdle() {
        boolean allMasked = standing.counts() && !arrival.deletes() && arrival.rows() > 0 && countingRows() == 0;
        return (!standing.counts() || allMasked) && standing.copyOf() == 0;
    }

    /** The same after its rows were let go of. */
    public LedgerEntry sweptAway(long at) {
        return new LedgerEntry(
                arrival,
                name,
                file,
                place,
                fingerprint,
                readAt,
                rules,
                datasetVersion,
                rejected,
                reason,
                saidBy,
                after,
                fate,
                at,
                standing);
    }
}
