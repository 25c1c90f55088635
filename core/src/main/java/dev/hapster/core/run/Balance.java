package dev.hapster.core.run;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import java.util.Collection;
import java.util.EnumMap;
import java.util.Map;

/**
 * The proof that nothing was lost: three sums, each of counts that were taken independently.
 *
 * @param found files found
 * @param files files by outcome
 * @param notReached files that a run which was cancelled or failed did not come to
 * @param read rows delivered by the readers
 * @param loaded rows in the new parts, by their own footers
 * @param aside rows written to those set aside
 * @param repeated rows written there since they are there already
 * @param rejected rows written to the rejects
 * @param datasetRows rows of the dataset, counted from the footers of all its parts
 * @param partsRows rows of the dataset as the catalogue sums them
 * @param parts parts of the dataset
 */
public record Balance(
        long found,
        Map<Outcome, Long> files,
        long notReached,
        long read,
        long loaded,
        long aside,
        long repeated,
        long rejected,
        long datasetRows,
        long partsRows,
        long parts) {

    static Balance of(long found, Collection<FileResult> results, long datasetRows, long partsRows, long parts) {
        Map<Outcome, Long> files = new EnumMap<>(Outcome.class);
        results.forEach(result -> files.merge(result.outcome(), 1L, Long::sum));
        return new Balance(
                found,
                files,
                found - results.size(),
                results.stream().mapToLong(FileResult::read).sum(),
                results.stream().mapToLong(FileResult::loaded).sum(),
                results.stream().mapToLong(FileResult::aside).sum(),
                results.stream().mapToLong(FileResult::repeated).sum(),
                results.stream().mapToLong(FileResult::rejected).sum(),
                datasetRows,
                partsRows,
                parts);
    }

    /** How many files had an outcome. */
    public long files(Outcome outcome) {
        return files.getOrDefault(outcome, 0L);
    }

    /** Whether every file found had one outcome, or was not reached. */
    public boolean filesHold() {
        return found == files.values().stream().mapToLong(Long::longValue).sum() + notReached;
    }

    /** Whether every row read was loaded, set aside, left out as a repetition, or rejected. */
    public boolean rowsHold() {
        return read == loaded + aside + repeated + rejected;
    }

    /** Whether the parts hold as many rows as the catalogue says. */
    public boolean datasetHolds() {
        return datasetRows == partsRows;
    }

    /** Whether all three hold; otherwise the run has failed, whatever else it did. */
    public boolean holds() {
        return filesHold() && rowsHold() && datasetHolds();
    }
}
