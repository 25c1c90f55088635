package dev.hapster.service.records;

import dev.hapster.core.run.Outcome;
import java.time.Instant;

/** What the ledger said of a file at some time, so that it can be put back. */
record LedgerState(String file, int place, String movedTo, long size, Instant modified, Instant changed, String hash, Instant readAt, Outcome outcome, String rules, long run, long runFile, Long part,
        long rowsRejected, String code, String sentence) {

    static LedgerState of(LedgerRecord known) {
        return new LedgerState(known.file, known.place, known.movedTo, known.size, known.modified, known.changed, known.hash, known.readAt, known.outcome, known.rules, known.run, known.runFile, known.part,
                known.rowsRejected, known.code, known.sentence);
    }

    void putBack(LedgerRecord known) {
        known.file = file;
        known.place = place;
        known.movedTo = movedTo;
        known.size = size;
        known.modified = modified;
        known.changed = changed;
        known.hash = hash;
        known.readAt = readAt;
        known.outcome = outcome;
        known.rules = rules;
        known.run = run;
        known.runFile = runFile;
        known.part = part;
        known.rowsRejected = rowsRejected;
        known.code = code;
        known.sentence = sentence;
    }
}
