package dev.hapster.core.run.act;

import dev.hapster.core.arrival.Arrival;
import dev.hapster.core.catalogue.Catalogue;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.History;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.duplicates.RowResolution;
import dev.hapster.core.run.duplicates.RowsThatCount;
import dev.hapster.core.store.PartStore;
import java.io.IOException;
import java.nio.file.Files;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Takes entries of a dataset's history back, and takes rows out. Both only add to the log, and both can be taken back
 * themselves. Whoever calls must see to it that no run changes the dataset meanwhile.
 */
public final class Acts {

    private static final int MOST_NAMED = 5;

    private final PartStore parts;
    private final Catalogue catalogue;

    public Acts(PartStore parts, Catalogue catalogue) {
        this.parts = parts;
        this.catalogue = catalogue;
    }

    /** What a dataset is now, and what it would be. */
    private record Change(JobLedger before, JobLedger after, Set<Long> removed, Effect effect) {}

    /** What would come of taking an entry back. */
    public Effect effect(DatasetDef dataset, long entry) throws IOException {
        return undo(dataset, entry).effect;
    }

    /** What would come of taking rows out. */
    public Effect effect(DatasetDef dataset, Predicate<LedgerEntry> which) throws IOException {
        return remove(dataset, which).effect;
    }

    /** @return number of the entry that says so */
    public long undo(DatasetDef dataset, long entry, String job) throws IOException, ActNotPossibleException {
        Change change = undo(dataset, entry);
        String note = rows(change.effect.out()) + " taken out again, " + rows(change.effect.back()) + " put back";
        return record(dataset, "Run " + entry + " cannot be undone", change, "undo", job, entry, note);
    }

    /**
     * @param what the rows, as people say it
     * @return number of the entry that says so; 0 where there are no such rows
     */
    public long remove(DatasetDef dataset, Predicate<LedgerEntry> which, String what)
            throws IOException, ActNotPossibleException {
        Change change = remove(dataset, which);
        if (change.removed.isEmpty()) {
            return 0;
        }
        Set<String> jobs = change.removed.stream()
                .map(id -> change.before.entry(id).orElseThrow().arrival().job())
                .collect(Collectors.toSet());
        String note = rows(change.effect.out()) + " in " + change.removed.size()
                + (change.removed.size() == 1 ? " part" : " parts") + " removed: " + what
                + (change.effect.back() == 0 ? "" : "; " + rows(change.effect.back()) + " of others put back");
        return record(
                dataset,
                "Rows cannot be removed",
                change,
                "remove",
                jobs.size() == 1 ? jobs.iterator().next() : "",
                0,
                note);
    }

    /**
     * Says of rejects that they need nobody's attention any more. What counts is the same before and after.
     *
     * @param which of the files of which something is rejected
     * @param why in the words of whoever says so
     * @return number of the entry that says so; 0 where there are none
     */
    public long dismiss(DatasetDef dataset, Predicate<LedgerEntry> which, String why) {
        JobLedger ledger = new JobLedger(catalogue.history(dataset.name(), Optional.empty()));
        List<LedgerEntry> meant = ledger.current().stream()
                .filter(entry -> entry.isOpen() || entry.standing().copyOf() != 0)
                .filter(which)
                .toList();
        if (meant.isEmpty()) {
            return 0;
        }
        Set<String> jobs = meant.stream().map(entry -> entry.arrival().job()).collect(Collectors.toSet());
        Set<Long> ids = meant.stream().map(entry -> entry.arrival().id()).collect(Collectors.toSet());
        return record(
                "dismiss",
                jobs.size() == 1 ? jobs.iterator().next() : "",
                dataset,
                0,
                ids,
                ledger,
                List.of("the rejects of " + named(meant) + " are dismissed: " + why));
    }

    private long record(
            DatasetDef dataset, String refusal, Change change, String kind, String job, long of, String note)
            throws ActNotPossibleException {
        if (!change.effect.obstacles().isEmpty()) {
            throw new ActNotPossibleException(refusal, change.effect.obstacles());
        }
        List<String> notes = new ArrayList<>(List.of(note));
        notes.addAll(change.effect.notes());
        return record(kind, job, dataset, of, change.removed, change.after, notes);
    }

    private long record(
            String kind,
            String job,
            DatasetDef dataset,
            long of,
            Set<Long> arrivals,
            JobLedger after,
            List<String> notes) {
        List<LedgerEntry> counting = after.entries().stream()
                .filter(entry -> entry.isLoaded()
                        && !entry.isSwept()
                        && !entry.arrival().part().isEmpty())
                .toList();
        long rows = counting.stream().mapToLong(LedgerEntry::countingRows).sum();
        return catalogue.record(
                new Catalogue.Act(kind, job, dataset, of, arrivals, after.changes(), notes, rows, counting.size()));
    }

    private Change undo(DatasetDef dataset, long entry) throws IOException {
        History history = catalogue.history(dataset.name(), Optional.empty());
        List<String> obstacles = new ArrayList<>();
        Set<Long> off = history.log().off();
        if (off.contains(entry)) {
            obstacles.add("it is undone already, by entry "
                    + history.undone().entrySet().stream()
                            .filter(undo -> undo.getValue() == entry && !off.contains(undo.getKey()))
                            .map(Map.Entry::getKey)
                            .findFirst()
                            .orElseThrow()
                    + "; undo that to have it back");
        }
        boolean did = history.undone().containsKey(entry)
                || history.removed().containsKey(entry)
                || history.dismissed().containsKey(entry)
                || history.looks().stream().anyMatch(look -> look.entry() == entry)
                || history.entries().stream().anyMatch(one -> one.arrival().entry() == entry);
        if (!did) {
            obstacles.add("it changed nothing, or what it did is no longer kept (`retain` in the dataset's file says "
                    + "for how long)");
        }
        Map<Long, Long> undone = new HashMap<>(history.undone());
        undone.put(Long.MAX_VALUE, entry);
        Change change = change(
                dataset,
                history,
                new History(history.entries(), history.looks(), undone, history.removed(), history.dismissed()),
                Set.of(),
                obstacles);
        return new Change(change.before, change.after, Set.of(), change.effect);
    }

    private Change remove(DatasetDef dataset, Predicate<LedgerEntry> which) throws IOException {
        History history = catalogue.history(dataset.name(), Optional.empty());
        Set<Long> ids = new LinkedHashSet<>();
        history.entries().stream()
                .filter(LedgerEntry::isLoaded)
                .filter(which)
                .forEach(entry -> ids.add(entry.arrival().id()));
        Map<Long, Set<Long>> removed = new HashMap<>(history.removed());
        removed.put(Long.MAX_VALUE, ids);
        Change change = change(
                dataset,
                history,
                new History(history.entries(), history.looks(), history.undone(), removed, history.dismissed()),
                ids,
                List.of());
        return new Change(change.before, change.after, ids, change.effect);
    }

    private Change change(DatasetDef dataset, History history, History then, Set<Long> removed, List<String> found)
            throws IOException {
        JobLedger before = new JobLedger(history);
        JobLedger after = new JobLedger(then);
        after.settle();
        List<String> obstacles = new ArrayList<>(found);
        List<LedgerEntry> missing = after.entries().stream()
                .filter(LedgerEntry::isLoaded)
                .filter(this::isMissing)
                .filter(entry ->
                        !before.entry(entry.arrival().id()).orElseThrow().isLoaded())
                .toList();
        if (!missing.isEmpty()) {
            obstacles.add("rows that would come back are no longer kept: those of " + named(missing)
                    + " (`retain: {replaced: …}` in the dataset's file says for how long)");
        }
        thinned(before, after).ifPresent(obstacles::add);
        if (obstacles.isEmpty() && (before.comparesRows() || after.comparesRows())) {
            after.mask(new RowResolution(dataset, parts.staging())
                    .resolve(RowsThatCount.of(after, parts, Map.of()))
                    .masks());
        }
        long out = 0;
        long back = 0;
        Set<String> files = new HashSet<>();
        List<LedgerEntry> lost = new ArrayList<>();
        List<LedgerEntry> promoted = new ArrayList<>();
        Map<String, List<LedgerEntry>> going = new HashMap<>();
        Map<String, List<LedgerEntry>> coming = new HashMap<>();
        for (LedgerEntry now : after.entries()) {
            LedgerEntry was = before.entry(now.arrival().id()).orElseThrow();
            long difference = now.countingRows() - was.countingRows();
            out += Math.max(0, -difference);
            back += Math.max(0, difference);
            if (difference != 0) {
                files.add(now.arrival().job() + "\n" + now.arrival().slot());
            }
            if (difference < 0) {
                going.computeIfAbsent(now.arrival().job() + "\n" + now.arrival().slot(), slot -> new ArrayList<>())
                        .add(was);
            } else if (difference > 0) {
                coming.computeIfAbsent(
                                now.arrival().job() + "\n" + now.arrival().slot(), slot -> new ArrayList<>())
                        .add(now);
            }
            if (difference < 0 && !now.isLoaded()) {
                lost.add(now);
            }
            if (was.standing().copyOf() != 0 && now.isLoaded()) {
                promoted.add(now);
            }
        }
        long same = obstacles.isEmpty() ? same(dataset, going, coming) : 0;
        List<String> notes = new ArrayList<>();
        if (same > 0) {
            notes.add(rows(same) + (same == 1 ? " stays as it is" : " stay as they are")
                    + ": the file has the same before and after");
        }
        if (!promoted.isEmpty()) {
            notes.add(named(promoted) + (promoted.size() == 1 ? ", a copy, counts" : ", copies, count")
                    + " instead: the same content was taken out");
        }
        notes.addAll(whereFilesAre(lost));
        return new Change(before, after, removed, new Effect(out - same, back - same, files.size(), notes, obstacles));
    }

    /** Rows of files that go with one content and come back with another. */
    private long same(DatasetDef dataset, Map<String, List<LedgerEntry>> going, Map<String, List<LedgerEntry>> coming)
            throws IOException {
        SameRows rows = new SameRows(dataset, parts);
        long same = 0;
        for (Map.Entry<String, List<LedgerEntry>> file : going.entrySet()) {
            same += rows.count(file.getValue(), coming.getOrDefault(file.getKey(), List.of()));
        }
        return same;
    }

    /**
     * Rows that gave way to others are let go of after a while. What they gave way to can be taken back only if it came
     * later than that: nobody could tell which of them would count again.
     */
    private static Optional<String> thinned(JobLedger before, JobLedger after) {
        List<LedgerEntry> thin = after.entries().stream()
                .filter(entry -> entry.isLoaded()
                        && entry.isSwept()
                        && before.entry(entry.arrival().id()).orElseThrow().isLoaded())
                .toList();
        if (thin.isEmpty()) {
            return Optional.empty();
        }
        long last = thin.stream().mapToLong(LedgerEntry::sweptAt).max().orElseThrow();
        boolean concerned = after.entries().stream()
                .anyMatch(entry -> !entry.isLoaded()
                        && before.entry(entry.arrival().id()).orElseThrow().isLoaded()
                        && entry.arrival().entry() <= last);
        return concerned
                ? Optional.of("rows that gave way to its rows may be among those that are no longer kept: those of "
                        + named(thin) + " (`retain: {replaced: …}` in the dataset's file says for how long)")
                : Optional.empty();
    }

    private boolean isMissing(LedgerEntry entry) {
        Arrival arrival = entry.arrival();
        return entry.isSwept()
                || (!arrival.part().isEmpty() && !Files.exists(parts.path(arrival.part())))
                || (arrival.deletes() && !arrival.part().isEmpty() && !Files.exists(parts.deletions(arrival.part())));
    }

    /** What was taken out can be loaded again only where its file still is. */
    private static List<String> whereFilesAre(List<LedgerEntry> lost) {
        List<String> notes = new ArrayList<>();
        List<LedgerEntry> deleted = lost.stream()
                .filter(entry -> entry.fate().kind() == Fate.Kind.DELETED)
                .toList();
        if (!deleted.isEmpty()) {
            notes.add(named(deleted) + (deleted.size() == 1 ? " was" : " were")
                    + " deleted by the job, so that the rows cannot be loaded again; they come back "
                    + "only if this is undone, while they are kept");
        }
        List<LedgerEntry> moved = lost.stream()
                .filter(entry -> entry.fate().kind() == Fate.Kind.MOVED)
                .toList();
        moved.stream()
                .limit(MOST_NAMED)
                .forEach(entry -> notes.add(entry.name() + " stays where it was moved to "
                        + entry.fate().to().orElseThrow() + "; put it back into its folder to load it again"));
        if (moved.size() > MOST_NAMED) {
            notes.add((moved.size() - MOST_NAMED) + " more files stay where they were moved to (hapster ledger JOB)");
        }
        return notes;
    }

    private static String named(List<LedgerEntry> entries) {
        List<String> names = entries.stream()
                .map(entry -> entry.arrival().source())
                .distinct()
                .toList();
        return names.size() == 1 ? names.get(0) : names.get(0) + " and " + (names.size() - 1) + " more";
    }

    private static String rows(long count) {
        return Reasons.grouped(count) + (count == 1 ? " row" : " rows");
    }
}
