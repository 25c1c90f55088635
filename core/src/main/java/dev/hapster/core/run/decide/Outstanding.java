package dev.hapster.core.run.decide;

import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finding;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * What has arrived since runs last dealt with it.
 *
 * @param files complete files that are new or changed, each with its size and time
 * @param next when a file that is written at the moment may be complete; empty where there is none
 */
public record Outstanding(List<String> files, Optional<Instant> next) {

    /** @param opener opens files of which only the content tells whether they changed */
    public static Outstanding of(PreparedJob prepared, JobLedger ledger, Opener opener) throws IOException {
        Decider decider = new Decider(prepared, ledger, RunRequest.NOTHING, opener);
        List<String> files = new ArrayList<>();
        Optional<Instant> next = Optional.empty();
        for (Candidate file : prepared.finding().taken()) {
            if (file.waiting().isPresent()) {
                if (file.waiting().get().young()) {
                    Place place = prepared.job().find().get(file.place() - 1);
                    Instant still = file.modified().plus(place.arrival().settle());
                    next = next.filter(before -> before.isBefore(still)).or(() -> Optional.of(still));
                }
            } else if (decider.decide(file, decider.known(file)) instanceof Decision.Load load
                    && isNew(
                            ledger.arrivals(
                                    prepared.job().name(), prepared.sources().of(file)),
                            file,
                            load,
                            opener)) {
                files.add(look(file));
            }
        }
        return new Outstanding(files, next);
    }

    /**
     * Whether no run has dealt with the file as it is now. What was undone or would be read anew by other rules has not
     * arrived.
     */
    private static boolean isNew(List<LedgerEntry> before, Candidate file, Decision.Load load, Opener opener)
            throws IOException {
        try {
            for (LedgerEntry entry : before) {
                if (Decider.same(entry, load.seen(), file, opener).isPresent()) {
                    return false;
                }
            }
            return true;
        } catch (FileRejectedException unreadable) {
            return true; // reading it will meet the same, and say so
        }
    }

    /** All that a listing says of files: two are the same where nothing has come, gone or changed. */
    public static String listing(Finding finding) {
        return finding.taken().stream()
                .map(file -> look(file) + (file.waiting().isPresent() ? " waits" : ""))
                .collect(Collectors.joining("\n"));
    }

    private static String look(Candidate file) {
        return file.lying() + " " + file.size() + " " + file.modified();
    }
}
