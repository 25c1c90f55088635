package dev.hapster.core.run;

import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.decide.Decision;
import dev.hapster.core.run.load.Attempt;
import dev.hapster.core.run.load.CancelledException;
import dev.hapster.core.run.load.FileLoader;
import dev.hapster.core.run.load.RunFailedException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * Says of files what they are once all of them are known to the ledger: those of which the content counts through
 * another file are copies.
 */
final class CopyJudge {

    private final JobLedger ledger;
    private final FileLoader loader;
    private final long run;
    private final boolean dry;

    CopyJudge(JobLedger ledger, FileLoader loader, long run) {
        this.ledger = ledger;
        this.loader = loader;
        this.run = run;
        dry = run == 0;
    }

    /** Adds files to the ledger, and says what each of them is; in the order in which they were found. */
    List<Attempt> judge(List<Attempt> attempts) throws RunFailedException, CancelledException {
        ledger.add(Committing.fresh(attempts));
        List<Attempt> all = new ArrayList<>(attempts.stream()
                .sorted(Comparator.comparingInt(attempt -> attempt.result().ordinal()))
                .toList());
        while (readAgain(all)) {
            continue; // what was read has changed what others are
        }
        List<Attempt> judged = new ArrayList<>();
        for (Attempt attempt : all) {
            judged.add(judge(attempt));
        }
        return judged;
    }

    /**
     * Reads again what was a copy and is none any more, since nothing was said of its rejected rows; whether there was
     * any such file.
     */
    private boolean readAgain(List<Attempt> all) throws RunFailedException, CancelledException {
        boolean any = false;
        for (int i = 0; i < all.size(); i++) {
            Attempt attempt = all.get(i);
            Optional<LedgerEntry> known =
                    isSkipped(attempt) ? now(attempt.known().get()) : Optional.empty();
            if (known.isPresent()
                    && known.get().arrival().asCopy()
                    && known.get().isLoaded()) {
                all.set(
                        i,
                        loader.load(
                                attempt.result().ordinal(),
                                attempt.file(),
                                new Decision.Load(attempt.result().fingerprint(), known, Optional.empty())));
                ledger.add(Committing.fresh(List.of(all.get(i))));
                any = true;
            }
        }
        return any;
    }

    private Optional<LedgerEntry> now(LedgerEntry known) {
        return ledger.entry(known.arrival().id());
    }

    /** Whether it was not read, since its content was accepted before. */
    private static boolean isSkipped(Attempt attempt) {
        return attempt.fresh().isEmpty()
                && attempt.result().outcome() != Outcome.WAITING
                && attempt.known().filter(known -> known.arrival().accepted()).isPresent();
    }

    private Attempt judge(Attempt attempt) throws RunFailedException {
        if (isSkipped(attempt)) {
            Attempt skipped = skipped(
                    attempt.result().ordinal(),
                    attempt.file(),
                    new Decision.Skip(
                            attempt.result().fingerprint(), attempt.known().get()));
            if (!dry
                    && skipped.result().outcome() == Outcome.REJECTED
                    && skipped.result().sinceRun() == 0) {
                reject(skipped);
            }
            return skipped;
        }
        Optional<LedgerEntry> entry = attempt.fresh().flatMap(this::now);
        if (!attempt.isAccepted() || entry.orElseThrow().standing().copyOf() == 0) {
            return attempt;
        }
        Attempt copy = loader.asCopy(attempt, reason(entry.get()));
        ledger.replace(Committing.fresh(List.of(copy)));
        return copy;
    }

    private static void reject(Attempt attempt) throws RunFailedException {
        try {
            attempt.rejects().file(attempt.result().reason().orElseThrow(), false);
        } catch (IOException wrong) {
            throw new RunFailedException(Reasons.storeFailed(attempt.file().relative(), wrong), wrong);
        }
    }

    /** The result of a file about which there is nothing new, as its arrival stands now. */
    Attempt skipped(int ordinal, Candidate file, Decision.Skip skip) {
        LedgerEntry known = now(skip.known()).orElseThrow();
        if (!known.arrival().accepted()) {
            return loader.unread(
                    ordinal, file, Outcome.REJECTED, known.reason(), known.saidBy(), skip.seen(), Optional.of(known));
        }
        if (known.standing().copyOf() == 0) {
            return loader.unread(
                    ordinal,
                    file,
                    Outcome.UNCHANGED,
                    Optional.empty(),
                    known.arrival().entry(),
                    skip.seen(),
                    Optional.of(known));
        }
        boolean saidBefore = known.reason()
                .filter(said -> said.equals(reason(known)) || said.equals(reason(known, 0)))
                .isPresent();
        return loader.unread(
                ordinal,
                file,
                Outcome.REJECTED,
                Optional.of(reason(known)),
                saidBefore ? known.saidBy() : 0,
                skip.seen(),
                Optional.of(known));
    }

    /** Why a copy does not count, naming the file that counts instead. */
    private Reason reason(LedgerEntry copy) {
        long by = ledger.entry(copy.standing().copyOf())
                .orElseThrow()
                .arrival()
                .place()
                .entry();
        return reason(copy, by == run ? 0 : by);
    }

    private Reason reason(LedgerEntry copy, long by) {
        LedgerEntry first = ledger.entry(copy.standing().copyOf()).orElseThrow();
        boolean ambiguous = first.name().equals(copy.name()) || ledger.isAmbiguous(first.name());
        return Reasons.copy(ambiguous ? first.arrival().source() : first.name(), by);
    }
}
