package dev.hapster.core.catalogue;

import dev.hapster.core.arrival.Look;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongSupplier;

/** The catalogue's contract in its plainest form. */
public final class MemoryCatalogue implements Catalogue {

    private record Looked(String dataset, Look look) {}

    private final Map<Long, LedgerEntry> entries = new LinkedHashMap<>();
    private final Map<Long, String> datasets = new HashMap<>();
    private final List<Looked> looks = new ArrayList<>();
    private final Map<Long, Act> acts = new LinkedHashMap<>();
    private final Map<String, String> headers = new HashMap<>();
    /** Texts of datasets, by version. */
    private final Map<String, String> definitions = new HashMap<>();
    /** Gives numbers to entries that are no runs. */
    private final LongSupplier numbers;
    /** Whether commits fail. */
    public volatile boolean broken;

    public final List<Route> pending = new ArrayList<>();
    final List<Commit> commits = new ArrayList<>();

    public MemoryCatalogue() {
        this(() -> {
            throw new UnsupportedOperationException("Nobody gives numbers");
        });
    }

    public MemoryCatalogue(LongSupplier numbers) {
        this.numbers = numbers;
    }

    @Override
    public synchronized History history(String dataset, Optional<String> job) {
        List<LedgerEntry> all = entries.values().stream()
                .filter(entry -> dataset.equals(datasets.get(entry.arrival().id()))
                        && job.filter(name -> !name.equals(entry.arrival().job()))
                                .isEmpty())
                .sorted(Comparator.comparingLong(entry -> entry.arrival().id()))
                .toList();
        List<Look> looked = looks.stream()
                .filter(one -> one.dataset.equals(dataset))
                .map(Looked::look)
                .filter(look -> job.filter(name -> !name.equals(look.job())).isEmpty())
                .toList();
        Map<Long, Long> undone = new HashMap<>();
        Map<Long, Set<Long>> removed = new HashMap<>();
        Map<Long, Set<Long>> dismissed = new HashMap<>();
        acts.forEach((number, act) -> {
            if (!act.dataset().name().equals(dataset)) {
                return;
            }
            switch (act.kind()) {
                case "undo" -> undone.put(number, act.of());
                case "dismiss" -> dismissed.put(number, act.removed());
                default -> removed.put(number, act.removed());
            }
        });
        return new History(all, looked, undone, removed, dismissed);
    }

    /** What is known of the files of a job: the last word on each. */
    public synchronized List<LedgerEntry> ledger(String job) {
        return entries.values().stream()
                .filter(entry ->
                        entry.arrival().job().equals(job) && entry.standing().current())
                .toList();
    }

    @Override
    public synchronized List<Part> parts(String dataset) {
        return history(dataset, Optional.empty()).entries().stream()
                .filter(entry -> entry.isLoaded()
                        && !entry.isSwept()
                        && !entry.arrival().part().isEmpty())
                .map(entry -> new Part(
                        entry.arrival().id(),
                        entry.arrival().part(),
                        dataset,
                        entry.arrival().job(),
                        entry.arrival().source(),
                        entry.file().toString(),
                        entry.countingRows(),
                        entry.arrival().entry(),
                        entry.arrival().content() + " " + entry.rules() + " " + entry.datasetVersion(),
                        entry.standing().masked()))
                .toList();
    }

    @Override
    public synchronized boolean comparesRows(String dataset) {
        return history(dataset, Optional.empty()).entries().stream()
                .anyMatch(entry -> entry.isLoaded() && entry.arrival().rule().drops());
    }

    @Override
    public synchronized Optional<String> sharedHeader(String job) {
        return Optional.ofNullable(headers.get(job));
    }

    @Override
    public synchronized void sharedHeader(String job, String header) {
        headers.put(job, header);
    }

    @Override
    public synchronized List<InUse> definitionsInUse(String dataset) {
        Map<String, Set<String>> jobs = new HashMap<>();
        parts(dataset).forEach(part -> jobs.computeIfAbsent(
                        entries.get(part.arrival()).datasetVersion(), version -> new HashSet<>())
                .add(part.job()));
        return jobs.entrySet().stream()
                .map(one -> new InUse(definitions.get(one.getKey()), one.getValue()))
                .toList();
    }

    @Override
    public synchronized void commit(Commit commit) {
        if (broken) {
            throw new IllegalStateException("broken on purpose");
        }
        if (commit.ledger()) {
            if (commit.fresh().values().stream()
                    .anyMatch(entry -> entries.containsKey(entry.arrival().id()))) {
                throw new IllegalStateException("Arrivals are only ever added");
            }
            mustKnow(commit.touched(), commit.fresh().values());
            mustKnow(commit.changed(), commit.fresh().values());
        }
        commits.add(commit);
        pending.addAll(commit.routes());
        if (!commit.ledger()) {
            return;
        }
        definitions.put(commit.dataset().version(), commit.dataset().text());
        commit.fresh().values().forEach(entry -> {
            entries.put(entry.arrival().id(), entry);
            datasets.put(entry.arrival().id(), commit.dataset().name());
        });
        commit.touched()
                .forEach(entry -> entries.compute(
                        entry.arrival().id(),
                        (id, old) -> old.seen(entry.fingerprint(), entry.readAt(), entry.reason(), entry.saidBy())));
        commit.look().ifPresent(look -> looks.add(new Looked(commit.dataset().name(), look)));
        settle(commit.changed());
    }

    private void mustKnow(Collection<LedgerEntry> some, Collection<LedgerEntry> besides) {
        if (some.stream()
                .anyMatch(entry -> !entries.containsKey(entry.arrival().id())
                        && besides.stream()
                                .noneMatch(fresh ->
                                        fresh.arrival().id() == entry.arrival().id()))) {
            throw new IllegalStateException("The arrival is not in the catalogue");
        }
    }

    @Override
    public synchronized long record(Act act) {
        mustKnow(act.changed(), List.of());
        long number = numbers.getAsLong();
        acts.put(number, act);
        settle(act.changed());
        return number;
    }

    @Override
    public synchronized void settle(List<LedgerEntry> changed) {
        mustKnow(changed, List.of());
        changed.forEach(entry -> entries.compute(entry.arrival().id(), (id, old) -> old.with(entry.standing())));
    }

    @Override
    public synchronized boolean movedParts(String dataset, Map<String, String> moved) {
        Set<String> has = new HashSet<>();
        history(dataset, Optional.empty())
                .entries()
                .forEach(entry -> has.add(entry.arrival().part()));
        if (!has.containsAll(moved.keySet())) {
            return false;
        }
        entries.replaceAll((id, entry) -> moved.containsKey(entry.arrival().part())
                ? entry.with(entry.arrival().withPart(moved.get(entry.arrival().part())))
                : entry);
        return true;
    }

    /** The workspace lies elsewhere now, with everything in it. */
    public synchronized void moved(Path from, Path to) {
        entries.replaceAll((id, entry) -> {
            Path file = to.resolve(from.relativize(entry.file()));
            Fate fate = new Fate(
                    entry.fate().kind(),
                    entry.fate().to().map(path -> to.resolve(from.relativize(path))),
                    entry.fate().run());
            return new LedgerEntry(
                    entry.arrival(),
                    entry.name(),
                    file,
                    entry.place(),
                    entry.fingerprint(),
                    entry.readAt(),
                    entry.rules(),
                    entry.datasetVersion(),
                    entry.rejected(),
                    entry.reason(),
                    entry.saidBy(),
                    entry.after(),
                    fate,
                    entry.sweptAt(),
                    entry.standing());
        });
    }

    /** Lets go of the rows of arrivals that nobody needs as things stand. */
    public synchronized List<String> sweep(long last) {
        List<String> parts = new ArrayList<>();
        for (LedgerEntry entry : List.copyOf(entries.values())) {
            if (entry.isIdle() && !entry.isSwept()) {
                entries.put(entry.arrival().id(), entry.sweptAway(last));
                Optional.of(entry.arrival().part())
                        .filter(part -> !part.isEmpty())
                        .ifPresent(parts::add);
            }
        }
        return parts;
    }

    @Override
    public synchronized List<Route> pending(String job) {
        return pending.stream()
                .filter(route -> job == null || job.equals(route.job()))
                .toList();
    }

    @Override
    public synchronized void redirect(Route route) {
        pending.replaceAll(one -> one.run() == route.run() && one.ordinal() == route.ordinal() ? route : one);
    }

    @Override
    public synchronized void routed(List<Route.Done> done) {
        for (Route.Done one : done) {
            if (one.problem().isEmpty()) {
                pending.removeIf(route -> route.run() == one.route().run()
                        && route.ordinal() == one.route().ordinal());
                one.fate().ifPresent(fate -> one.route()
                        .arrivals()
                        .forEach(id -> entries.computeIfPresent(id, (key, entry) -> entry.with(fate))));
            }
        }
    }
}
