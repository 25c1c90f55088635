package dev.hapster.core.find;

import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.find.Candidate.Waiting;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.IntFunction;
import java.util.function.IntPredicate;
import java.util.stream.IntStream;

/**
 * Lets the files of one place through its rules, one rule after another; the files of one rule side by side. Knows no
 * file system: it judges a listing. Used once.
 */
final class RuleFilter {

    private final int number;
    private final Place place;
    private final Listing listing;
    private final Entry[] entries;
    /**
     * For each file the rule that took or skipped it, what its name says, and whether a pattern nearly takes it that
     * does not.
     */
    private final String[] rules;

    private final Candidate.Named[] named;
    private final boolean[] nearly;
    private final boolean[] taken;
    private final List<RuleCounts.Step> steps = new ArrayList<>();
    private final List<String> endings;
    private int[] remaining;
    private String lastTake;

    RuleFilter(int number, Place place, Listing listing) {
        this.number = number;
        this.place = place;
        this.listing = listing;
        entries = listing.entries.toArray(Entry[]::new);
        rules = new String[entries.length];
        nearly = new boolean[entries.length];
        taken = new boolean[entries.length];
        named = new Candidate.Named[entries.length];
        remaining = IntStream.range(0, entries.length).toArray();
        endings = place.arrival().unfinished().stream()
                .flatMap(name -> name.ending().stream())
                .toList();
        lastTake = place.list().map(NameList::words).orElse("");
    }

    /**
     * Applies all rules.
     *
     * @param now the present, for rules relative to it
     * @param files that earlier places have taken; those taken here are added
     */
    RuleCounts sift(Instant now, Set<String> files) {
        if (listing.listed >= 0) {
            steps.add(RuleCounts.Step.of("list", lastTake, listing.listed, entries.length));
        }
        keep(
                "",
                "links and special files",
                file -> entries[file].unusable().isEmpty(),
                file -> entries[file].unusable().orElse(""),
                false);
        keep(
                "",
                "reasons beside rejected files",
                file -> !entries[file].relative().endsWith(Candidate.REASONS),
                file -> "the reasons of a file that was rejected",
                false);
        for (FindRule rule : place.rules()) {
            apply(rule, now);
        }
        Set<Integer> again = new HashSet<>();
        // Where a file and a link to it are both found, the file itself is taken.
        Arrays.stream(remaining)
                .filter(file -> !entries[file].isLinked() && !files.add(entries[file].identity()))
                .forEach(again::add);
        Arrays.stream(remaining)
                .filter(file -> entries[file].isLinked() && !files.add(entries[file].identity()))
                .forEach(again::add);
        keep(
                "",
                "taken already",
                file -> !again.contains(file),
                file -> "taken already, by an earlier place or link",
                false);
        for (int file : remaining) {
            taken[file] = true;
            rules[file] = lastTake;
        }
        return new RuleCounts(number, place.folder(), listing.listed >= 0 ? listing.listed : entries.length, steps);
    }

    /** Every file with the rule that took or skipped it, by path. */
    List<Candidate> candidates() {
        return IntStream.range(0, entries.length)
                .parallel()
                .mapToObj(this::candidate)
                .toList();
    }

    private Candidate candidate(int file) {
        Entry entry = entries[file];
        return new Candidate(
                number,
                entry.path(),
                entry.relative(),
                entry.size(),
                entry.modified(),
                entry.birth(),
                taken[file],
                rules[file],
                nearly[file],
                Optional.ofNullable(named[file]),
                taken[file] ? waiting(entry) : Optional.empty(),
                entry.entry(),
                Optional.empty(),
                Optional.empty(),
                Optional.empty());
    }

    private void apply(FindRule rule, Instant now) {
        String words = rule.words();
        if (rule instanceof FindRule.Take take) {
            lastTake = words;
            keep(rule.key(), words, file -> take(take.names(), file), file -> missed(take.names(), file), true);
        } else if (rule instanceof FindRule.Skip skip) {
            keep(
                    rule.key(),
                    words,
                    file -> matching(skip.names(), file).isEmpty(),
                    file -> rule.key() + " "
                            + matching(skip.names(), file)
                                    .map(NamePattern::words)
                                    .orElse(""),
                    true);
        } else if (rule instanceof FindRule.Size size) {
            keep(
                    rule.key(),
                    words,
                    file -> entries[file].size() >= size.from() && entries[file].size() <= size.to(),
                    file -> words,
                    true);
        } else if (rule instanceof FindRule.Modified modified) {
            TimeRange.Span span = modified.range().at(now, place.zone().orElseGet(ZoneId::systemDefault));
            keep(rule.key(), words, file -> span.holds(entries[file].modified()), file -> words, true);
        } else if (rule instanceof FindRule.Created created) {
            TimeRange.Span span = created.range().at(now, place.zone().orElseGet(ZoneId::systemDefault));
            keep(
                    rule.key(),
                    words,
                    file -> entries[file].birth().get().filter(span::holds).isPresent(),
                    file -> words
                            + (entries[file].birth().get().isEmpty()
                                    ? " (the file system does not tell when it was created)"
                                    : ""),
                    true);
        } else if (rule instanceof FindRule.Rank rank) {
            Set<Integer> first = first(rank);
            keep(rule.key(), words, first::contains, file -> words, true);
        }
    }

    private Optional<NamePattern> matching(List<NamePattern> names, int file) {
        String path = entries[file].relative();
        Optional<String> whole = whole(path);
        for (NamePattern name : names) {
            if (name.matches(path) || (whole.isPresent() && name.matches(whole.get()))) {
                return Optional.of(name);
            }
        }
        return Optional.empty();
    }

    /** Whether one of the patterns takes a file; keeps which it was. */
    private boolean take(List<NamePattern> names, int file) {
        String path = entries[file].relative();
        Optional<String> whole = whole(path);
        for (NamePattern name : names) {
            if (name.archive().isPresent()
                    && entries[file].broken()
                    && name.archive().get().matches(path)) {
                return true;
            }
            if (!isOfThisKind(name, file)) {
                continue;
            }
            if (take(name, path, file) || (whole.isPresent() && take(name, whole.get(), file))) {
                return true;
            }
        }
        return false;
    }

    private boolean take(NamePattern name, String path, int file) {
        if (!name.matches(path)) {
            return false;
        }
        named[file] = name.facts().isEmpty() ? null : new Candidate.Named(name, path);
        return true;
    }

    /** Some patterns speak of what lies in archives, the others do not. */
    private boolean isOfThisKind(NamePattern name, int file) {
        return name.archive().isPresent() == entries[file].entry().isPresent();
    }

    /** Why none of the patterns takes a file; keeps whether one nearly does, unless the job skips the file anyway. */
    private String missed(List<NamePattern> names, int file) {
        String path = entries[file].relative();
        Optional<String> why = names.stream()
                .filter(name -> name.archive().isPresent() || isOfThisKind(name, file))
                .map(name -> isOfThisKind(name, file) ? name : name.archive().get())
                .flatMap(name -> name.nearly(whole(path).orElse(path)).stream())
                .findFirst();
        nearly[file] = why.isPresent()
                && place.rules().stream()
                        .noneMatch(rule -> rule instanceof FindRule.Skip skip
                                && matching(skip.names(), file).isPresent());
        return why.orElse("no take pattern matches");
    }

    /** Where a program has marked a file as unfinished by an ending, the path that it will have. */
    private Optional<String> whole(String path) {
        for (String ending : endings) {
            if (path.endsWith(ending)
                    && path.length() > ending.length()
                    && path.charAt(path.length() - ending.length() - 1) != '/') {
                return Optional.of(path.substring(0, path.length() - ending.length()));
            }
        }
        return Optional.empty();
    }

    /** Why a file that is taken is not complete. */
    private Optional<Waiting> waiting(Entry entry) {
        for (NamePattern mark : place.arrival().unfinished()) {
            if (mark.matches(entry.relative())) {
                return Optional.of(new Waiting(false, "has an unfinished name (" + mark.words() + ")"));
            }
        }
        String writer = listing.open.get(entry.real());
        if (writer != null) {
            return Optional.of(new Waiting(false, "is open for writing by " + writer));
        }
        Duration still = Duration.between(entry.modified(), listing.at());
        boolean young = !place.arrival().settle().isZero()
                && still.compareTo(place.arrival().settle()) < 0;
        return young
                ? Optional.of(new Waiting(
                        true,
                        still.isNegative()
                                ? "was last written at a time that lies ahead"
                                : "was last written " + seconds(still) + " ago and must be still for "
                                        + seconds(place.arrival().settle())))
                : Optional.empty();
    }

    private static String seconds(Duration duration) {
        return java.math.BigDecimal.valueOf(duration.toMillis(), 3)
                        .setScale(1, java.math.RoundingMode.DOWN)
                        .stripTrailingZeros()
                        .toPlainString()
                + " s";
    }

    private Set<Integer> first(FindRule.Rank rank) {
        Comparator<Entry> order =
                switch (rank.order()) {
                    case NEWEST -> Comparator.comparing(Entry::modified).reversed();
                    case OLDEST -> Comparator.comparing(Entry::modified);
                    case LARGEST -> Comparator.comparingLong(Entry::size).reversed();
                    case SMALLEST -> Comparator.comparingLong(Entry::size);
                };
        Comparator<Entry> whole = order.thenComparing(Entry::relative);
        Map<String, Integer> counts = new HashMap<>();
        Set<Integer> first = new HashSet<>();
        Arrays.stream(remaining)
                .boxed()
                .sorted((a, b) -> whole.compare(entries[a], entries[b]))
                .forEach(file -> {
                    if (counts.merge(rank.perFolder() ? entries[file].folder() : "", 1, Integer::sum) <= rank.count()) {
                        first.add(file);
                    }
                });
        return first;
    }

    /** @param keeps is asked for several files at once */
    private void keep(String key, String rule, IntPredicate keeps, IntFunction<String> reason, boolean always) {
        boolean[] kept = new boolean[entries.length];
        Arrays.stream(remaining).parallel().forEach(file -> {
            kept[file] = keeps.test(file);
            if (!kept[file]) {
                rules[file] = reason.apply(file);
            }
        });
        int[] now = Arrays.stream(remaining).filter(file -> kept[file]).toArray();
        if (always || now.length < remaining.length) {
            steps.add(RuleCounts.Step.of(key, rule, remaining.length, now.length));
        }
        remaining = now;
    }
}
