package dev.hapster.core.run;

import dev.hapster.core.arrival.Look;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.duplicates.RowsThatCount;
import dev.hapster.core.run.load.Attempt;
import dev.hapster.core.run.load.CancelledException;
import dev.hapster.core.run.load.CommitPolicy;
import dev.hapster.core.run.load.FileLoader;
import dev.hapster.core.run.load.FileReading;
import dev.hapster.core.run.load.RunFailedException;
import dev.hapster.core.run.load.RunServices;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Settles all files of a run among each other, and with everything else in the dataset, so that they can be made to
 * count at once. To be used by one thread, that holds the dataset alone.
 */
final class WholeRun {

    private final RunServices services;
    private final PreparedJob prepared;
    private final FileLoader loader;
    private final CommitPolicy policy;
    private final long run;
    private final JobLedger all;
    private final List<String> notes = new ArrayList<>();

    /** @param attempts of which is known what they are */
    WholeRun(
            RunServices services,
            PreparedJob prepared,
            FileLoader loader,
            CommitPolicy policy,
            long run,
            List<Attempt> attempts) {
        this.services = services;
        this.prepared = prepared;
        this.loader = loader;
        this.policy = policy;
        this.run = run;
        all = new JobLedger(services.catalogue().history(prepared.dataset().name(), Optional.empty()));
        all.add(Committing.fresh(attempts));
    }

    /** The log of the dataset, with the files of this run. */
    JobLedger ledger() {
        return all;
    }

    List<String> notes() {
        return notes;
    }

    /** Whether a run of a job looks into all folders in a sense that says which rows go. */
    static boolean looks(PreparedJob prepared, RunRequest asked) {
        return prepared.job().handling().load() == Load.REPLACE && !asked.partial();
    }

    /** Says what the run saw, so that the rows of everything else go. */
    Look look(List<Attempt> attempts, Map<Integer, FileResult> unfinished) {
        Set<String> slots = new HashSet<>();
        attempts.forEach(attempt -> attempt.fresh()
                .or(attempt::known)
                .map(LedgerEntry::arrival)
                .filter(arrival -> arrival.accepted() || attempt.result().outcome() != Outcome.REJECTED)
                .ifPresent(arrival -> slots.add(arrival.slot())));
        unfinished.values().forEach(result -> all.arrivals(prepared.job().name(), result.source())
                .forEach(entry -> slots.add(entry.arrival().slot())));
        Map<Long, Long> before = rowsOfJob();
        Look look = new Look(policy.dry() ? Long.MAX_VALUE : run, prepared.job().name(), slots);
        all.look(look);
        Map<Long, Long> after = rowsOfJob();
        List<LedgerEntry> gone = all.entries().stream()
                .filter(entry -> before.getOrDefault(entry.arrival().id(), 0L)
                        > after.getOrDefault(entry.arrival().id(), 0L))
                .toList();
        if (!gone.isEmpty()) {
            long rows = gone.stream()
                    .mapToLong(entry -> before.get(entry.arrival().id())
                            - after.getOrDefault(entry.arrival().id(), 0L))
                    .sum();
            notes.add(Reasons.grouped(rows) + (rows == 1 ? " row of " : " rows of ")
                    + Reasons.some(gone.stream()
                            .map(LedgerEntry::name)
                            .distinct()
                            .sorted()
                            .toList())
                    + (policy.dry() ? " would go" : " went")
                    + ": `load: replace` keeps only what the job takes now");
        }
        return look;
    }

    /** How many rows of each of the job's arrivals are in the dataset. */
    private Map<Long, Long> rowsOfJob() {
        Map<Long, Long> rows = new HashMap<>();
        all.entries().stream()
                .filter(entry -> entry.arrival().job().equals(prepared.job().name()))
                .forEach(entry -> rows.put(entry.arrival().id(), entry.countingRows()));
        return rows;
    }

    /** Whether nothing would be left of what the job has in the dataset. */
    boolean leavesNothing() {
        String job = prepared.job().name();
        return services.catalogue().parts(prepared.dataset().name()).stream()
                        .anyMatch(part -> part.job().equals(job))
                && all.entries().stream()
                        .noneMatch(entry -> entry.arrival().job().equals(job)
                                && entry.standing().stands());
    }

    /**
     * Compares the rows of all parts that count, where any job asks for it, and says of the new files which of their
     * rows do not.
     */
    List<Attempt> compare(List<Attempt> attempts) throws IOException, RunFailedException, CancelledException {
        if (!all.comparesRows() && !prepared.job().handling().acrossFiles()) {
            return attempts;
        }
        Map<Long, Path> staged = new HashMap<>();
        attempts.stream()
                .filter(attempt -> attempt.staged().isPresent())
                .forEach(attempt -> staged.put(
                        attempt.fresh().orElseThrow().arrival().id(),
                        attempt.staged().get()));
        List<LedgerEntry> others = all.entries().stream()
                .filter(entry ->
                        entry.isLoaded() && !staged.containsKey(entry.arrival().id()))
                .toList();
        RowResolution.Resolved resolved = new RowResolution(
                        prepared.dataset(), services.parts().staging())
                .resolve(RowsThatCount.of(all, services.parts(), staged));
        all.mask(resolved.masks());
        note(
                others.stream()
                        .mapToLong(before -> Math.max(
                                0,
                                before.countingRows()
                                        - all.entry(before.arrival().id())
                                                .orElseThrow()
                                                .countingRows()))
                        .sum(),
                resolved.counted().entrySet().stream()
                        .filter(one -> staged.containsKey(one.getKey()))
                        .mapToLong(Map.Entry::getValue)
                        .sum());
        List<Attempt> compared = new ArrayList<>();
        for (Attempt attempt : attempts) {
            long id = attempt.fresh().map(entry -> entry.arrival().id()).orElse(0L);
            Map<Integer, RowResolution.Instead> instead = resolved.instead().getOrDefault(id, Map.of());
            compared.add(
                    resolved.masked(id) == 0
                            ? attempt
                            : loader.telling(
                                    attempt, resolved.masks().get(id), row -> where(attempt, instead.get(row))));
        }
        return compared;
    }

    private void note(long gaveWay, long counted) {
        String by = FileReading.comparedBy(prepared);
        if (gaveWay > 0) {
            notes.add(Reasons.grouped(gaveWay) + (gaveWay == 1 ? " row" : " rows") + " of earlier runs "
                    + (policy.dry() ? "would give" : "gave") + " way to newer ones, by " + by);
        }
        if (counted > 0) {
            notes.add(FileLoader.counted(counted, by));
        }
    }

    private static String where(Attempt attempt, RowResolution.Instead instead) {
        if (instead == null) {
            return "";
        }
        boolean same = instead.rows()
                .arrival()
                .slot()
                .equals(attempt.fresh().orElseThrow().arrival().slot());
        return instead.line() < 0
                ? "a row of " + instead.rows().name() + " that says it is deleted"
                : "line " + instead.line()
                        + (same ? "" : " of " + instead.rows().name());
    }
}
