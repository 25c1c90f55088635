package dev.hapster.core.run;

import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.decide.RunRequest;
import dev.hapster.core.run.load.UsualRowCounts;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.RulesVersion;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** What is worth knowing about a run as a whole, and no fault. */
final class RunNotes {

    private static final int MOST_NOTED = 5;

    private final PreparedJob prepared;
    private final JobLedger ledger;
    private final boolean dry;
    private final RunRequest asked;

    RunNotes(PreparedJob prepared, JobLedger ledger, boolean dry, RunRequest asked) {
        this.prepared = prepared;
        this.ledger = ledger;
        this.dry = dry;
        this.asked = asked;
    }

    /** @param outdated files with which nothing was done, since the job said otherwise of them when they were loaded */
    List<String> of(List<FileResult> ordered, List<Part> parts, long outdated) {
        List<String> notes = new ArrayList<>();
        String job = prepared.job().name();
        if (prepared.finding().taken().isEmpty() && !asked.partial()) {
            notes.add("No files found: the folders of " + job + " hold nothing that it takes (hapster find " + job
                    + " --skipped shows what is there, and the rule that skips it)");
        }
        if (!asked.partial()) {
            notes.addAll(prepared.finding().nearlyTaken());
        }
        prepared.finding().troubles().forEach(trouble -> notes.add(trouble.what() + ". " + trouble.hint()));
        List<LedgerEntry> unchanged = ordered.stream()
                .filter(result -> result.outcome() == Outcome.UNCHANGED)
                .flatMap(result -> ledger.known(job, result.source()).stream())
                .toList();
        long open = unchanged.stream().mapToLong(LedgerEntry::rejected).sum();
        if (open > 0) {
            notes.add(open + (open == 1 ? " row" : " rows") + " of unchanged files, rejected in earlier runs, "
                    + (open == 1 ? "is" : "are") + " still not in the dataset (hapster rejects " + job + ")");
        }
        long older = unchanged.stream()
                .filter(entry -> !entry.rules().equals(prepared.rules()))
                .count();
        if (older > 0) {
            notes.add(older + (older == 1 ? " unchanged file was" : " unchanged files were")
                    + " loaded by earlier rules of this job (hapster run " + job
                    + " --again --all loads everything anew)");
            tables(unchanged, notes);
        }
        long removed = unchanged.stream().filter(entry -> !entry.isLoaded()).count();
        if (removed > 0) {
            notes.add(removed + (removed == 1 ? " unchanged file has" : " unchanged files have")
                    + " no rows in the dataset, since they were removed (hapster run " + job
                    + " --again FILE loads one anew)");
        }
        if (outdated > 0) {
            notes.add(outdated + (outdated == 1 ? " file was" : " files were")
                    + " loaded before `after` said what it says now, and "
                    + (outdated == 1 ? "stays where it is" : "stay where they are") + " (hapster run " + job
                    + " --apply-after does it with them)");
        }
        unusual(ordered, parts, notes);
        return notes;
    }

    /** A table in which values are looked up is a rule that may change without anybody touching the job. */
    private void tables(List<LedgerEntry> unchanged, List<String> notes) {
        if (unchanged.stream().anyMatch(entry -> RulesVersion.differInTables(entry.rules(), prepared.rules()))) {
            notes.add("What stands in "
                    + prepared.job().map().values().stream()
                            .filter(Mapping.Lookup.class::isInstance)
                            .map(mapping -> ((Mapping.Lookup) mapping).table().file())
                            .distinct()
                            .collect(Collectors.joining(" and "))
                    + " has changed since files were loaded");
        }
    }

    private boolean isRepaired(FileResult result) {
        return asked.repairs().values().stream()
                .anyMatch(repair -> repair.of().arrival().source().equals(result.source()));
    }

    /** Points out files with far more or fewer rows than others of their kind. */
    private void unusual(List<FileResult> ordered, List<Part> parts, List<String> notes) {
        if (ordered.stream().noneMatch(result -> result.loaded() > 0)) {
            return;
        }
        List<Part> known = new ArrayList<>(parts);
        if (dry) {
            Set<String> tried = new HashSet<>();
            ordered.stream().filter(result -> result.loaded() > 0).forEach(result -> tried.add(result.source()));
            known.removeIf(part -> tried.contains(part.source()));
            ordered.stream()
                    .filter(result -> result.loaded() > 0)
                    .forEach(result -> known.add(new Part(
                            0,
                            "",
                            prepared.dataset().name(),
                            prepared.job().name(),
                            result.source(),
                            result.path(),
                            result.loaded(),
                            0,
                            "",
                            Optional.empty())));
        }
        UsualRowCounts families = UsualRowCounts.of(known, prepared.job().name());
        List<String> odd = new ArrayList<>();
        for (FileResult result : ordered) {
            boolean loaded = result.outcome() == Outcome.LOADED || result.outcome() == Outcome.REPLACED;
            if (loaded && !isRepaired(result)) {
                families.judge(result.source(), result.loaded())
                        .ifPresent(unusual -> odd.add(result.name() + " brought " + Reasons.grouped(result.loaded())
                                + (result.loaded() == 1 ? " row" : " rows") + ", where " + unusual.others()
                                + " files of its kind have about " + Reasons.grouped(unusual.usual())));
            }
        }
        odd.stream().limit(MOST_NOTED).forEach(notes::add);
        if (odd.size() > MOST_NOTED) {
            notes.add((odd.size() - MOST_NOTED) + " more files brought an unusual number of rows");
        }
    }
}
