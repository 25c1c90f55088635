package dev.hapster.core.find;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.find.Candidate.Waiting;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.pattern.Fact;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;

/** Lets the files of one place through its rules, one rule after another. Knows no file system: it judges a listing. */
final class Sifting {

    private final int number;
    private final Place place;
    private final Listing listing;
    private final Map<Entry, Candidate> verdicts = new IdentityHashMap<>();
    private final Map<Entry, Map<String, Fact>> facts = new IdentityHashMap<>();
    private final List<Sieve.Step> steps = new ArrayList<>();
    private final Map<Entry, String> unread = new IdentityHashMap<>();
    private final List<String> endings;
    private List<Entry> left;
    private String lastTake = "";

    Sifting(int number, Place place, Listing listing) {
        this.number = number;
        this.place = place;
        this.listing = listing;
        // Where a file and a link to it are both found, the file itself is taken.
        left = Stream.concat(listing.entries.stream().filter(entry -> !entry.isLinked()), listing.entries.stream().filter(Entry::isLinked)).toList();
        endings = place.arrival().unfinished().stream().flatMap(name -> name.ending().stream()).toList();
        lastTake = place.list().map(NameList::words).orElse("");
    }

    /**
     * Applies all rules.
     *
     * @param now   the present, for rules relative to it
     * @param taken files that earlier places have taken; those taken here are added
     */
    Sieve sift(Instant now, Set<Path> taken) {
        if (listing.listed >= 0) {
            steps.add(new Sieve.Step(lastTake, listing.listed - listing.entries.size(), listing.entries.size()));
        }
        keep("links and special files", entry -> entry.unusable().isEmpty(), entry -> entry.unusable().orElse(""), false);
        for (FindRule rule : place.rules()) {
            apply(rule, now);
        }
        keep("taken already", entry -> taken.add(entry.real()), entry -> "taken already, by an earlier place or link", false);
        left.forEach(entry -> verdicts.put(entry, candidate(entry, true, lastTake)));
        return new Sieve(number, place.folder(), listing.listed >= 0 ? listing.listed : listing.entries.size(), steps);
    }

    /** Every file with the rule that took or left it, by path. */
    List<Candidate> candidates() {
        return listing.entries.stream().map(verdicts::get).sorted(Comparator.comparing(Candidate::relative)).toList();
    }

    private void apply(FindRule rule, Instant now) {
        String words = rule.words();
        if (rule instanceof FindRule.Take take) {
            lastTake = words;
            keep(words, entry -> take(take.names(), entry), entry -> unread.getOrDefault(entry, "no take pattern matches"), true);
        } else if (rule instanceof FindRule.Leave leave) {
            keep(words, entry -> matching(leave.names(), entry).isEmpty(),
                    entry -> "leave " + matching(leave.names(), entry).map(NamePattern::words).orElse(""), true);
        } else if (rule instanceof FindRule.Size size) {
            keep(words, entry -> entry.size() >= size.from() && entry.size() <= size.to(), entry -> words, true);
        } else if (rule instanceof FindRule.Modified modified) {
            TimeRange.Span span = modified.range().at(now, place.zone().orElseGet(ZoneId::systemDefault));
            keep(words, entry -> span.holds(entry.modified()), entry -> words, true);
        } else if (rule instanceof FindRule.Created created) {
            TimeRange.Span span = created.range().at(now, place.zone().orElseGet(ZoneId::systemDefault));
            keep(words, entry -> entry.created().filter(span::holds).isPresent(),
                    entry -> words + (entry.created().isEmpty() ? " (the file system does not tell when it was created)" : ""), true);
        } else if (rule instanceof FindRule.Rank rank) {
            Set<Entry> first = first(rank);
            keep(words, first::contains, entry -> words, true);
        }
    }

    private Optional<NamePattern> matching(List<NamePattern> names, Entry entry) {
        return names.stream().filter(name -> names(entry).stream().anyMatch(name::matches)).findFirst();
    }

    /** Whether one of the patterns takes a file; keeps what its name says, or why a piece of it cannot be read. */
    private boolean take(List<NamePattern> names, Entry entry) {
        for (NamePattern name : names) {
            for (String relative : names(entry)) {
                Optional<NamePattern.Match> match = name.match(relative);
                if (match.isPresent() && match.get().unreadable().isEmpty()) {
                    if (!match.get().facts().isEmpty()) {
                        facts.put(entry, match.get().facts());
                    }
                    return true;
                }
                match.flatMap(NamePattern.Match::unreadable).ifPresent(why -> unread.putIfAbsent(entry, why));
            }
        }
        return false;
    }

    /** Its path; and where a program has marked it as unfinished by an ending, also the path that it will have. */
    private List<String> names(Entry entry) {
        String relative = entry.relative();
        for (String ending : endings) {
            if (relative.endsWith(ending) && relative.length() > ending.length() && relative.charAt(relative.length() - ending.length() - 1) != '/') {
                return List.of(relative, relative.substring(0, relative.length() - ending.length()));
            }
        }
        return List.of(relative);
    }

    /** Why a file that is taken is not complete. */
    private Optional<Waiting> waiting(Entry entry) {
        Optional<NamePattern> mark = place.arrival().unfinished().stream().filter(name -> name.matches(entry.relative())).findFirst();
        if (mark.isPresent()) {
            return Optional.of(new Waiting(false, "has an unfinished name (" + mark.get().words() + ")"));
        }
        String writer = listing.open.get(entry.real());
        if (writer != null) {
            return Optional.of(new Waiting(false, "is open for writing by " + writer));
        }
        Duration still = Duration.between(entry.modified(), listing.at());
        boolean young = !place.arrival().settle().isZero() && still.compareTo(place.arrival().settle()) < 0;
        return young ? Optional.of(new Waiting(true, still.isNegative() ? "was last written at a time that lies ahead"
                : "was last written " + seconds(still) + " ago and must be still for " + seconds(place.arrival().settle()))) : Optional.empty();
    }

    private static String seconds(Duration duration) {
        return java.math.BigDecimal.valueOf(duration.toMillis(), 3).setScale(1, java.math.RoundingMode.DOWN).stripTrailingZeros().toPlainString() + " s";
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
        return new Candidate(number, entry.path(), entry.relative(), entry.size(), entry.modified(), entry.created(), taken, rule,
                facts.getOrDefault(entry, Map.of()), taken ? waiting(entry) : Optional.empty());
    }
}
