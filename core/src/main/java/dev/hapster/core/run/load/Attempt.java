package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.store.reject.RejectStore.FileRejects;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A file that was dealt with, and of which nobody else knows yet.
 *
 * @param fresh what the log is to say of it; empty where it has nothing new to say
 * @param known what is known of it from before
 * @param staged its rows, where it was accepted
 * @param rejects what was rejected and set aside of it; not yet durable
 */
public record Attempt(
        FileResult result,
        Candidate file,
        Optional<LedgerEntry> fresh,
        Optional<LedgerEntry> known,
        Optional<Path> staged,
        FileRejects rejects) {

    Attempt with(FileResult other) {
        return new Attempt(other, file, fresh, known, staged, rejects);
    }

    Attempt with(LedgerEntry other) {
        return new Attempt(result, file, Optional.of(other), known, staged, rejects);
    }

    /** The same file, with the name of its part. */
    Attempt of(String part) {
        LedgerEntry entry = fresh.orElseThrow();
        return with(entry.with(entry.arrival().withPart(part)));
    }

    /** Whether the file counts as loaded once this is committed. */
    public boolean isAccepted() {
        return fresh.isPresent() && fresh.get().arrival().accepted();
    }
}
