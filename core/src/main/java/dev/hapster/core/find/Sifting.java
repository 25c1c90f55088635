package dev.hapster.core.find;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.nio.file.Path;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/** Lets the files of one place through its rules, one rule after another. Knows no file system: it judges a listing. */
final class Sifting {

    /**
     * A file as it was listed.
     *
     * @param real     the file itself, where this is a link
     * @param unusable why it can never be taken, such as a link to nowhere; empty where it can
     */
    record Entry(Path path, Path real, String relative, long size, Instant modified, Optional<String> unusable) {

        private String folder() {
            return relative.substring(0, Math.max(0, relative.lastIndexOf('/')));
        }
    }

    private final int number;
    private final Place place;
    private final List<Entry> entries;
    private final Map<Entry, Candidate> verdicts = new HashMap<>();
    private final List<Sieve.Step> steps = new ArrayList<>();
    private List<Entry> left;
    private String lastTake = "";

    Sifting(int number, Place place, List<Entry> entries) {
        this.number = number;
        this.place = place;
        this.entries = entries;
        left = entries;
    }

    /**
     * Applies all rules.
     *
     * @param now   the present, for rules relative to it
     * @param taken files that earlier places have taken; those taken here are added
     */
    Sieve sift(Instant now, Set<Path> taken) {
        keep("links and special files", entry -> entry.unusable().isEmpty(), entry -> entry.unusable().orElse(""), false);
        for (FindRule rule : place.rules()) {
            apply(rule, now);
        }
        keep("taken already", entry -> taken.add(entry.real()), entry -> "taken already, by an earlier place or link", false);
        left.forEach(entry -> verdicts.put(entry, candidate(entry, true, lastTake)));
        return new Sieve(number, place.folder(), entries.size(), steps);
    }

    /** Every file with the rule that took or left it, by path. */
    List<Candidate> candidates() {
        return entries.stream().map(verdicts::get).sorted(Comparator.comparing(Candidate::relative)).toList();
    }

    private void apply(FindRule rule, Instant now) {
        String words = rule.words();
        if (rule instanceof FindRule.Take take) {
            lastTake = words;
            keep(words, entry -> matching(take.names(), entry).isPresent(), entry -> "no take pattern matches", true);
        } else if (rule instanceof FindRule.Leave leave) {
            keep(words, entry -> matching(leave.names(), entry).isEmpty(),
                    entry -> "leave " + matching(leave.names(), entry).map(NamePattern::words).orElse(""), true);
        } else if (rule instanceof FindRule.Size size) {
            keep(words, entry -> entry.size() >= size.from() && entry.size() <= size.to(), entry -> words, true);
        } else if (rule instanceof FindRule.Modified modified) {
            TimeRange.Span span = modified.range().at(now, place.zone().orElseGet(ZoneId::systemDefault));
            keep(words, entry -> span.holds(entry.modified()), entry -> words, true);
        } else if (rule instanceof FindRule.Rank rank) {
            Set<Entry> first = first(rank);
            keep(words, first::contains, entry -> words, true);
        }
    }

    private static Optional<NamePattern> matching(List<NamePattern> names, Entry entry) {
        return names.stream().filter(name -> name.matches(entry.relative())).findFirst();
    }

    private Set<Entry> first(FindRule.Rank rank) {
        Comparator<Entry> order = switch (rank.order()) {
            case NEWEST -> Comparator.comparing(Entry::modified).reversed();
            case OLDEST -> Comparator.comparing(Entry::modified);
            case LARGEST -> Comparator.comparingLong(Entry::size).reversed();
            case SMALLEST -> Comparator.comparingLong(Entry::size);
        };
        List<Entry> sorted = new ArrayList<>(left);
        sorted.sort(order.thenComparing(Entry::relative));
        Map<String, Integer> counts = new HashMap<>();
        Set<Entry> first = new HashSet<>();
        for (Entry entry : sorted) {
            if (counts.merge(rank.perFolder() ? entry.folder() : "", 1, Integer::sum) <= rank.count()) {
                first.add(entry);
            }
        }
        return first;
    }

    private void keep(String rule, Predicate<Entry> keeps, java.util.function.Function<Entry, String> reason, boolean always) {
        List<Entry> kept = new ArrayList<>();
        for (Entry entry : left) {
            if (keeps.test(entry)) {
                kept.add(entry);
            } else {
                verdicts.put(entry, candidate(entry, false, reason.apply(entry)));
            }
        }
        long removed = left.size() - (long) kept.size();
        if (always || removed > 0) {
            steps.add(new Sieve.Step(rule, removed, kept.size()));
        }
        left = kept;
    }

    private Candidate candidate(Entry entry, boolean taken, String rule) {
        return new Candidate(number, entry.path(), entry.relative(), entry.size(), entry.modified(), taken, rule);
    }
}
