package dev.hapster.core.run.decide;

import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.reason.Reason;
import java.util.BitSet;
import java.util.Optional;

/** What is to be done with a file that was found, before it is opened. */
public sealed interface Decision {

    /** How the file looks. */
    Fingerprint seen();

    /** It is not complete: a later run takes it. */
    record Wait(Fingerprint seen, Reason reason) implements Decision {}

    /** It cannot be looked at. */
    record Reject(Fingerprint seen, Reason reason) implements Decision {}

    /** Nothing new: what is known of it stands. */
    record Skip(Fingerprint seen, LedgerEntry known) implements Decision {}

    /**
     * It is read.
     *
     * @param known what is known of it from before
     * @param repair the rows to which the reading is confined; empty for all
     */
    record Load(Fingerprint seen, Optional<LedgerEntry> known, Optional<Repair> repair) implements Decision {}

    /**
     * Rows of a file that are tried again.
     *
     * @param of the arrival of which they were rejected
     * @param rows by their numbers in the file, counted from 1
     */
    record Repair(LedgerEntry of, BitSet rows) {}
}
