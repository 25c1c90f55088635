package dev.hapster.core.run;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The catalogue's contract in its plainest form. */
final class MemoryCatalogue implements Catalogue {

    private final Map<String, LedgerEntry> ledger = new HashMap<>();
    private final List<Part> parts = new ArrayList<>();
    private final Map<String, Set<String>> definitions = new HashMap<>();
    final List<Route> pending = new ArrayList<>();
    final List<Commit> commits = new ArrayList<>();

    @Override
    public synchronized Map<String, LedgerEntry> ledger(String job) {
        return Map.copyOf(ledger);
    }

    @Override
    public synchronized List<Part> parts(String dataset) {
        return List.copyOf(parts);
    }

    @Override
    public synchronized List<InUse> definitionsInUse(String dataset) {
        return definitions.entrySet().stream().map(entry -> new InUse(entry.getKey(), entry.getValue())).toList();
    }

    @Override
    public synchronized void commit(Commit commit) {
        commits.add(commit);
        pending.addAll(commit.routes());
        if (!commit.ledger()) {
            return;
        }
        String job = commit.job().name();
        definitions.computeIfAbsent(commit.dataset().text(), text -> new HashSet<>()).add(job);
        parts.removeIf(part -> part.job().equals(job) && commit.gone().contains(part.path()));
        for (FileResult result : commit.files()) {
            result.part().ifPresent(name -> {
                List<Part> old = parts.stream().filter(part -> part.job().equals(job) && part.path().equals(result.path())).toList();
                parts.removeAll(switch (result.instead()) {
                    case ALL -> old;
                    case LATEST -> old.subList(old.size() - 1, old.size());
                    case NONE -> List.of();
                });
                parts.add(new Part(name, commit.dataset().name(), job, result.path(), result.loaded(), commit.run()));
            });
            if (result.outcome() == Outcome.WAITING || result.sinceRun() > 0) {
                continue;
            }
            boolean hasPart = parts.stream().anyMatch(part -> part.path().equals(result.path()));
            boolean rejected = result.outcome() == Outcome.REJECTED;
            ledger.put(result.path(), new LedgerEntry(result.path(), result.file(), result.place(), result.fingerprint(), commit.at(), rejected ? Outcome.REJECTED : Outcome.LOADED,
                    commit.rules(), commit.run(), rejected ? 0 : result.rejected(), result.reason(), hasPart,
                    result.elsewhere() && ledger.containsKey(result.path()) ? ledger.get(result.path()).movedTo() : Optional.empty()));
        }
        commit.rewrites().forEach(rewrite -> {
            Part old = parts.stream().filter(part -> part.name().equals(rewrite.old())).findFirst().orElseThrow();
            parts.set(parts.indexOf(old), new Part(rewrite.part(), old.dataset(), old.job(), old.path(), rewrite.rows(), commit.run()));
        });
    }

    @Override
    public synchronized List<Route> pending(String job) {
        return List.copyOf(pending);
    }

    @Override
    public synchronized void redirect(Route route) {
        pending.replaceAll(one -> one.run() == route.run() && one.ordinal() == route.ordinal() ? route : one);
    }

    @Override
    public synchronized void routed(List<Route.Done> done) {
        for (Route.Done one : done) {
            if (one.problem().isPresent()) {
                continue;
            }
            pending.removeIf(route -> route.run() == one.route().run() && route.ordinal() == one.route().ordinal());
            one.movedTo().ifPresent(to -> ledger.replaceAll((path, entry) -> !entry.file().equals(one.route().file()) ? entry : new LedgerEntry(path, entry.file(), entry.place(), entry.fingerprint(),
                    entry.readAt(), entry.outcome(), entry.rules(), entry.run(), entry.rejected(), entry.reason(), entry.hasPart(), Optional.of(to.toString()))));
        }
    }
}
