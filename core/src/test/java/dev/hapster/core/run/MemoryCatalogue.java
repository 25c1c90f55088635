package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** The catalogue's contract in its plainest form. */
final class MemoryCatalogue implements Catalogue {

    private final Map<String, LedgerEntry> ledger = new HashMap<>();
    private final Map<String, Part> parts = new LinkedHashMap<>();
    private final Set<String> definitions = new HashSet<>();

    @Override
    public synchronized Map<String, LedgerEntry> ledger(String job) {
        return Map.copyOf(ledger);
    }

    @Override
    public synchronized List<Part> parts(String dataset) {
        return List.copyOf(parts.values());
    }

    @Override
    public synchronized List<String> definitionsInUse(String dataset) {
        return List.copyOf(definitions);
    }

    @Override
    public synchronized void commit(long run, JobDef job, DatasetDef dataset, String rules, Instant at, List<FileResult> results) {
        definitions.add(dataset.text());
        for (FileResult result : results) {
            result.part().ifPresent(name -> parts.put(result.path(), new Part(name, dataset.name(), job.name(), result.path(), result.loaded(), run)));
            if (result.outcome() == Outcome.WAITING || result.sinceRun() > 0) {
                continue;
            }
            ledger.put(result.path(), new LedgerEntry(result.path(), result.fingerprint(), at, result.outcome() == Outcome.REJECTED ? Outcome.REJECTED : Outcome.LOADED,
                    rules, run, result.rejected(), result.reason(), parts.containsKey(result.path())));
        }
    }
}
