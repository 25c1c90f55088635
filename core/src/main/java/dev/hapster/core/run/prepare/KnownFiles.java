package dev.hapster.core.run.prepare;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finder;
import dev.hapster.core.workspace.PreparedJob;
import java.util.Optional;

/** Where the files lie now that runs have dealt with. Thread-safe. */
public final class KnownFiles {

    private final Finder finder;
    private final Catalogue catalogue;

    public KnownFiles(Finder finder, Catalogue catalogue) {
        this.finder = finder;
        this.catalogue = catalogue;
    }

    /** The file of an arrival: in its folder as long as it is the same file, or where the job took it. */
    public Optional<Candidate> present(PreparedJob prepared, LedgerEntry entry) {
        if (!entry.fate().isTaken()) {
            return prepared.finding().taken().stream()
                    .filter(file ->
                            prepared.sources().of(file).equals(entry.arrival().source()))
                    .findFirst();
        }
        return elsewhere(prepared, entry);
    }

    /** A file by its identity within the job: where a run found it, or where it was taken since. */
    public Optional<Candidate> present(PreparedJob prepared, String source) {
        Optional<Candidate> found = prepared.finding().taken().stream()
                .filter(file -> prepared.sources().of(file).equals(source))
                .findFirst();
        return found.isPresent()
                ? found
                : new JobLedger(catalogue.history(
                                prepared.dataset().name(),
                                Optional.of(prepared.job().name())))
                        .known(prepared.job().name(), source)
                        .flatMap(entry -> elsewhere(prepared, entry));
    }

    private Optional<Candidate> elsewhere(PreparedJob prepared, LedgerEntry entry) {
        if (entry.place() < 1
                || entry.place() > prepared.job().find().size()
                || entry.lies().isEmpty()) {
            return Optional.empty();
        }
        String inside =
                entry.name().substring(entry.file().getFileName().toString().length());
        return finder.moved(
                prepared.job().find().get(entry.place() - 1),
                entry.place(),
                entry.file(),
                entry.lies().get(),
                inside,
                entry.fingerprint().size());
    }
}
