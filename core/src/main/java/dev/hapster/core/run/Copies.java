package dev.hapster.core.run;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.reason.FileRefusedException;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * Which of the files that a job takes have the same content as another one. Only files of equal size are compared, by their
 * hashes; a file that the ledger knows is not read for that. What is in the dataset already comes first, then the order of the run.
 */
final class Copies {

    /**
     * A file with the same content.
     *
     * @param run the run that loaded it; 0 where it is loaded by this one
     */
    record First(String path, String name, long run) {
    }

    private record Member(int ordinal, String path, String name, String hash, long loadedBy, boolean mayBeCopy) {
    }

    private final Map<Integer, First> firsts = new HashMap<>();
    private final Map<Integer, String> hashes = new HashMap<>();

    private final Path scratch;

    private Copies(Path scratch) {
        this.scratch = scratch;
    }

    /**
     * @param files     by their number within the run
     * @param mayCopies whether a file is taken even though it is a copy
     */
    static Copies among(Map<Integer, Candidate> files, Map<String, LedgerEntry> ledger, Predicate<Candidate> mayCopies, Path scratch) {
        Copies copies = new Copies(scratch);
        Map<Long, List<Integer>> bySize = new LinkedHashMap<>();
        Set<String> paths = new HashSet<>();
        files.forEach((ordinal, file) -> {
            paths.add(file.key());
            bySize.computeIfAbsent(file.size(), size -> new ArrayList<>()).add(ordinal);
        });
        Map<Long, List<LedgerEntry>> others = new HashMap<>();
        ledger.values().stream().filter(entry -> isLoaded(entry) && !paths.contains(entry.path()))
                .forEach(entry -> others.computeIfAbsent(entry.fingerprint().size(), size -> new ArrayList<>()).add(entry));
        bySize.forEach((size, ordinals) -> {
            List<LedgerEntry> known = others.getOrDefault(size, List.of());
            boolean several = ordinals.stream().map(ordinal -> files.get(ordinal).path() + files.get(ordinal).entry().orElse("")).distinct().limit(2).count() > 1; // sheets of one workbook are no copies
            if (size > 0 && (several || !known.isEmpty())) {
                copies.compare(ordinals, files, known, ledger, mayCopies);
            }
        });
        return copies;
    }

    private static boolean isLoaded(LedgerEntry entry) {
        return entry.outcome() == Outcome.LOADED && entry.hasPart() && !entry.fingerprint().hash().isEmpty();
    }

    private void compare(List<Integer> ordinals, Map<Integer, Candidate> files, List<LedgerEntry> known, Map<String, LedgerEntry> ledger, Predicate<Candidate> mayCopies) {
        Map<String, List<Member>> byHash = new HashMap<>();
        known.forEach(entry -> add(byHash, new Member(0, entry.path(), name(entry.path()), entry.fingerprint().hash(), entry.run(), false)));
        for (int ordinal : ordinals) {
            Candidate file = files.get(ordinal);
            String path = file.key();
            Optional<LedgerEntry> entry = Optional.ofNullable(ledger.get(path));
            hash(file, entry).ifPresent(hash -> {
                hashes.put(ordinal, hash);
                boolean inDataset = entry.filter(Copies::isLoaded).filter(one -> one.fingerprint().hash().equals(hash)).isPresent();
                add(byHash, new Member(ordinal, path, file.relative(), hash, inDataset ? entry.get().run() : 0, !inDataset && !mayCopies.test(file)));
            });
        }
        byHash.values().forEach(this::rank);
    }

    private static void add(Map<String, List<Member>> byHash, Member member) {
        byHash.computeIfAbsent(member.hash, hash -> new ArrayList<>()).add(member);
    }

    private void rank(List<Member> same) {
        Member first = same.stream().min(Comparator.comparing((Member member) -> member.loadedBy == 0).thenComparing(Member::loadedBy).thenComparing(Member::ordinal)).orElseThrow();
        same.stream().filter(member -> member != first && member.mayBeCopy)
                .forEach(member -> firsts.put(member.ordinal, new First(first.path, first.name, first.loadedBy)));
    }

    private Optional<String> hash(Candidate file, Optional<LedgerEntry> known) {
        try {
            Fingerprint seen = Fingerprint.look(file);
            if (known.isPresent() && known.get().fingerprint().looksLike(seen) && known.get().fingerprint().settledAt(known.get().readAt())
                    && !known.get().fingerprint().hash().isEmpty()) {
                return Optional.of(known.get().fingerprint().hash());
            }
            try (SourceContent content = new SourceContent(file, scratch)) {
                return Optional.of(content.hash());
            }
        } catch (IOException | FileRefusedException unreadable) {
            return Optional.empty(); // loading it will meet the same, and say so
        }
    }

    private static String name(String path) {
        return path.substring(path.lastIndexOf('/') + 1);
    }

    /** The file of which another is a copy, by its number within the run. */
    Optional<First> of(int ordinal) {
        return Optional.ofNullable(firsts.get(ordinal));
    }

    /** The hash of a file, where it was needed; empty text otherwise. */
    String hash(int ordinal) {
        return hashes.getOrDefault(ordinal, "");
    }
}
