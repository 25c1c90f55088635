package dev.hapster.core.run.repair;

import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.inspect.Tracing;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.prepare.KnownFiles;
import dev.hapster.core.run.prepare.Preparation;
import dev.hapster.core.shape.Shaper;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;

/** Finds changes to definitions by which what was rejected would fit. Thread-safe. */
public final class FixProposals {

    /** Distinct values of a reason that a fixed rule is tried on, at most. */
    private static final int MOST_VALUES = 500;

    private final Workspace workspace;
    private final Preparation preparation;
    private final KnownFiles known;
    private final Opener opener;
    private final Catalogue catalogue;
    private final RejectStore rejects;

    public FixProposals(
            Workspace workspace,
            Preparation preparation,
            KnownFiles known,
            Opener opener,
            Catalogue catalogue,
            RejectStore rejects) {
        this.workspace = workspace;
        this.preparation = preparation;
        this.known = known;
        this.opener = opener;
        this.catalogue = catalogue;
        this.rejects = rejects;
    }

    /**
     * Changes to the definitions by which what a run rejected for a reason would fit. Counted is only what is still
     * rejected: not what was retried, replaced, undone or dismissed since.
     *
     * @param columnName the column concerned; empty for a reason of files, or of rows as a whole
     * @param sourceOf the identity of a file within the job, by the path under which the run's rejects name it
     */
    public Fixes of(String jobName, long run, ReasonCode code, String columnName, UnaryOperator<String> sourceOf)
            throws IOException, DefinitionException, UnknownNameException {
        PreparedJob prepared = preparation.prepare(jobName, Map.of());
        Set<String> open = new JobLedger(catalogue.history(prepared.dataset().name(), Optional.of(jobName)))
                .current().stream()
                        .filter(LedgerEntry::isOpen)
                        .filter(entry -> entry.arrival().job().equals(jobName)
                                && (entry.arrival().entry() == run || entry.saidBy() == run))
                        .map(entry -> entry.arrival().source())
                        .collect(Collectors.toSet());
        if (code.level() == ReasonCode.Level.FILE) {
            return ofFiles(prepared, run, code, open, sourceOf);
        }
        Optional<ColumnDef> column = prepared.dataset().column(columnName);
        Map<String, Long> values = new LinkedHashMap<>();
        Set<String> paths = new LinkedHashSet<>();
        rejects.read(
                run,
                reject -> {
                    if (reject.code().equals(code.code())
                            && reject.column().equals(columnName)
                            && open.contains(sourceOf.apply(reject.path()))
                            && (values.containsKey(reject.value()) || values.size() < MOST_VALUES)) {
                        values.merge(reject.value(), 1L, Long::sum);
                        paths.add(reject.path());
                    }
                    return false;
                },
                0,
                1);
        if (column.isEmpty()) {
            return new Fixes(
                    "row", values.values().stream().mapToLong(Long::longValue).sum(), 0, List.of());
        }
        Map<String, Long> unfit = new LinkedHashMap<>(values);
        unfit.keySet().removeIf(value -> Shaper.refuseConstant(column.get(), prepared.job(), value)
                .isEmpty());
        long left = unfit.values().stream().mapToLong(Long::longValue).sum();
        long passing = values.values().stream().mapToLong(Long::longValue).sum() - left;
        if (unfit.isEmpty()) {
            return new Fixes("row", 0, passing, List.of());
        }
        Optional<Candidate> file = paths.stream()
                .flatMap(path -> known.present(prepared, sourceOf.apply(path)).stream())
                .findFirst();
        Set<String> fitting =
                file.isPresent() ? new Tracing(prepared, opener).fitting(file.get(), column.get()) : Set.of();
        return new Fixes(
                "row",
                left,
                passing,
                new FixSearch(workspace, prepared.job(), prepared.dataset(), column.get(), unfit, fitting)
                        .propose(code));
    }

    private Fixes ofFiles(
            PreparedJob prepared, long run, ReasonCode code, Set<String> open, UnaryOperator<String> sourceOf)
            throws IOException {
        Set<String> sources = new LinkedHashSet<>();
        rejects.read(
                run,
                reject -> {
                    if (reject.code().equals(code.code()) && open.contains(sourceOf.apply(reject.path()))) {
                        sources.add(sourceOf.apply(reject.path()));
                    }
                    return false;
                },
                0,
                1);
        return new FileFixSearch(workspace, prepared, opener)
                .propose(
                        code,
                        sources.stream()
                                .flatMap(source -> known.present(prepared, source).stream())
                                .toList());
    }
}
