package dev.hapster.core.run.decide;

import dev.hapster.core.arrival.Order;
import dev.hapster.core.catalogue.Fingerprint;
import dev.hapster.core.catalogue.JobLedger;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.open.Opener;
import dev.hapster.core.run.open.SourceContent;
import dev.hapster.core.run.open.SourceStream.SourceException;
import dev.hapster.core.work.Wanted;
import dev.hapster.core.workspace.PreparedJob;
import java.io.IOException;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BooleanSupplier;

/** Decides what is to be done with each file that was found. Thread-safe. */
public final class Decider {

    private final PreparedJob prepared;
    private final JobLedger ledger;
    private final RunRequest asked;
    private final Opener opener;

    /** @param opener opens the files */
    public Decider(PreparedJob prepared, JobLedger ledger, RunRequest asked, Opener opener) {
        this.prepared = prepared;
        this.ledger = ledger;
        this.asked = asked;
        this.opener = opener;
    }

    private String job() {
        return prepared.job().name();
    }

    /** The last word on a file. Of one that lies where the job took it, that on the file of then. */
    public Optional<LedgerEntry> known(Candidate file) {
        String source = prepared.sources().of(file);
        if (file.former().isEmpty()) {
            return ledger.known(job(), source);
        }
        return ledger.arrivals(job(), source).stream()
                .filter(entry -> entry.standing().current()
                        && entry.lies().filter(file.path()::equals).isPresent())
                .findFirst()
                .or(() -> ledger.known(job(), source));
    }

    /** @param known the last word on the file */
    public Decision decide(Candidate file, Optional<LedgerEntry> known) throws IOException {
        Fingerprint listed = new Fingerprint(file.size(), file.modified(), file.modified(), "");
        try {
            return decide(file, look(file), known);
        } catch (FileRejectedException unreadable) {
            return new Decision.Load(listed, known, Optional.empty()); // reading it will meet the same, and say so
        } catch (SourceException gone) {
            return new Decision.Reject(listed, gone.reason());
        }
    }

    private static Fingerprint look(Candidate file) throws SourceException, RemoteFault {
        try {
            return Fingerprint.lookFirst(file);
        } catch (RemoteFault wrong) {
            throw wrong;
        } catch (IOException wrong) {
            throw new SourceException(wrong);
        }
    }

    private Decision decide(Candidate file, Fingerprint seen, Optional<LedgerEntry> known)
            throws IOException, FileRejectedException {
        if (seen.size() != file.size()
                || !seen.modified().equals(file.modified().truncatedTo(ChronoUnit.MICROS))) {
            return new Decision.Wait(seen, Reasons.changedSinceListed());
        }
        Optional<Decision.Repair> repair = Optional.ofNullable(asked.repairs().get(file.lying()));
        if (known.isEmpty() || repair.isPresent() || asked.again().test(file)) {
            return new Decision.Load(seen, known, repair);
        }
        Optional<Fingerprint> same = same(known.get(), seen, file, opener);
        return same.isPresent() && stands(known.get())
                ? new Decision.Skip(same.get(), known.get())
                : new Decision.Load(seen, known, Optional.empty());
    }

    /** Whether what is known of a file with the same content is as good as what reading it would give. */
    private boolean stands(LedgerEntry known) {
        boolean byTheseRules = known.rules().equals(prepared.rules());
        if (!known.arrival().accepted()) {
            return byTheseRules;
        }
        boolean rulesMatter = known.rejected() > 0
                || prepared.job().read().get(ReadSection.HEADER_ONCE)
                || prepared.job().handling().load() == Load.REPLACE;
        boolean copy = known.standing().copyOf() != 0;
        return known.standing().stands()
                && (copy || !known.arrival().asCopy())
                && (copy || !rulesMatter || byTheseRules);
    }

    /** The file's fingerprint, where its content is what is known: told by its look, or else by its hash. */
    public static Optional<Fingerprint> same(LedgerEntry known, Fingerprint seen, Candidate file, Opener opener)
            throws IOException, FileRejectedException {
        Fingerprint old = known.fingerprint();
        if (old.looksLike(seen) && old.settledAt(known.readAt())) {
            return Optional.of(old);
        }
        if (old.size() != seen.size() || old.hash().isEmpty()) {
            return Optional.empty();
        }
        try (SourceContent content = opener.content(file)) {
            return content.hash().equals(old.hash()) ? Optional.of(seen.withHash(old.hash())) : Optional.empty();
        }
    }

    /**
     * Files that may be copies of others, by their numbers in the run: they are decided about after all others, one
     * after another. Only files of which the size is that of another one are looked into for that.
     */
    public Set<Integer> maybeCopies(Map<Integer, Candidate> files, Map<Integer, Integer> turns, long run) {
        Map<Long, List<Integer>> bySize = new HashMap<>();
        files.forEach((ordinal, file) ->
                bySize.computeIfAbsent(file.size(), size -> new ArrayList<>()).add(ordinal));
        Map<Long, Set<String>> known = new HashMap<>();
        ledger.entries().stream()
                .filter(entry ->
                        entry.arrival().accepted() && entry.arrival().job().equals(job()))
                .forEach(entry -> known.computeIfAbsent(entry.fingerprint().size(), size -> new HashSet<>())
                        .add(entry.arrival().source()));
        bySize.entrySet().removeIf(one -> {
            Set<String> all = new HashSet<>(known.getOrDefault(one.getKey(), Set.of()));
            one.getValue().forEach(ordinal -> all.add(prepared.sources().of(files.get(ordinal))));
            return one.getKey() == 0
                    || all.stream().map(Decider::outside).distinct().limit(2).count()
                            < 2; // sheets of one workbook are no copies
        });
        Map<Integer, String> hashes =
                hashes(bySize.values().stream().flatMap(List::stream).toList(), files);
        Set<Integer> maybe = new HashSet<>();
        bySize.values().forEach(ordinals -> compare(ordinals, hashes, files, turns, run, maybe));
        return maybe;
    }

    /** Hashes of files by their numbers in the run, found on all cores; without those that cannot be read. */
    @SuppressWarnings("try") // it acts by being open
    private Map<Integer, String> hashes(List<Integer> ordinals, Map<Integer, Candidate> files) {
        Map<Integer, String> hashes = new ConcurrentHashMap<>();
        BooleanSupplier over = Wanted.over();
        ordinals.parallelStream().forEach(ordinal -> {
            try (Wanted wanted = Wanted.until(over)) {
                hash(files.get(ordinal)).ifPresent(hash -> hashes.put(ordinal, hash));
            }
        });
        return hashes;
    }

    private static String outside(String source) {
        int mark = source.indexOf('!');
        return mark < 0 || source.startsWith("!/", mark) ? source : source.substring(0, mark);
    }

    private void compare(
            List<Integer> ordinals,
            Map<Integer, String> hashes,
            Map<Integer, Candidate> files,
            Map<Integer, Integer> turns,
            long run,
            Set<Integer> maybe) {
        Map<String, List<Integer>> byContent = new HashMap<>();
        ordinals.stream().filter(hashes::containsKey).forEach(ordinal -> byContent
                .computeIfAbsent(hashes.get(ordinal), content -> new ArrayList<>())
                .add(ordinal));
        byContent.forEach((content, same) -> {
            if (same.size() == 1
                    && !ledger.isElsewhere(content, job(), prepared.sources().of(files.get(same.get(0))))) {
                return;
            }
            Map<String, Order> holders = new HashMap<>(ledger.holders(content));
            same.forEach(ordinal -> holders.putIfAbsent(
                    prepared.sources().of(files.get(ordinal)), new Order(run, turns.get(ordinal), ordinal)));
            String first = holders.entrySet().stream()
                    .min(Map.Entry.comparingByValue(Comparator.naturalOrder()))
                    .orElseThrow()
                    .getKey();
            same.stream()
                    .filter(ordinal ->
                            !prepared.sources().of(files.get(ordinal)).equals(first))
                    .forEach(maybe::add);
        });
    }

    private Optional<String> hash(Candidate file) {
        try {
            Fingerprint seen = Fingerprint.lookFirst(file);
            Optional<LedgerEntry> known = known(file);
            if (known.isPresent()
                    && known.get().fingerprint().looksLike(seen)
                    && known.get().fingerprint().settledAt(known.get().readAt())
                    && !known.get().fingerprint().hash().isEmpty()) {
                return Optional.of(known.get().fingerprint().hash());
            }
            try (SourceContent content = opener.content(file)) {
                return Optional.of(content.hash());
            }
        } catch (IOException | FileRejectedException unreadable) {
            return Optional.empty(); // loading it will meet the same, and say so
        }
    }
}
