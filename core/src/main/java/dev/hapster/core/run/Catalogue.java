package dev.hapster.core.run;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/**
 * What must outlast a run: the ledger, the parts that count, the runs. Every method is one transaction, durable when it
 * returns. Implementations are thread-safe; they throw unchecked exceptions where the records cannot be kept.
 */
public interface Catalogue {

    /** What the job knows of each file, by absolute path. */
    Map<String, LedgerEntry> ledger(String job);

    /** The parts that make up a dataset now, oldest first. */
    List<Part> parts(String dataset);

    /** Texts of those definitions of a dataset under which its present parts were written. */
    List<String> definitionsInUse(String dataset);

    /**
     * Records the result of files: adds the new part, retires the one that the same job and path had, updates the ledger,
     * adds counts and reasons; all of it or nothing.
     *
     * @param rules version of the reading and mapping rules
     */
    void commit(long run, JobDef job, DatasetDef dataset, String rules, Instant at, List<FileResult> results);
}
