package dev.hapster.core.draft.column;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DateNames;
import dev.hapster.core.row.RawBatch;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/**
 * How the dates and times of a column are written, where all its values are some.
 *
 * @param patterns in the letters of CLDR, the most common first; empty where that is ISO 8601
 * @param language of the names of months in them, as a tag of BCP 47; empty for English or where there are none
 * @param why the evidence, as the end of a sentence that begins with how many values there are
 * @param doubts what nothing decides, a sentence each
 */
record MomentSearch(Kind kind, List<String> patterns, String language, String why, List<String> doubts) {

    private static final int MOST_PATTERNS = 4;
    /** One word in so many may be none that is known. */
    private static final int FEW = 4;

    /** Words of dates that are no months: between their parts, and in front of a time. */
    private static final Set<String> OTHERS = Set.of("de", "t", "z", "am", "pm");

    /** Empty where some are neither dates nor times. */
    static Optional<MomentSearch> of(List<Look> looks) {
        Optional<MomentSearch> english = in(looks, Optional.empty());
        if (english.isPresent()) {
            return english;
        }
        Set<String> words = monthWords(looks);
        List<DateNames> languages = words.isEmpty() || nowhere(words) > 0 ? List.of() : DateNames.knowing(words);
        for (DateNames language : languages) {
            Optional<MomentSearch> found = in(looks, Optional.of(language));
            if (found.isPresent()) {
                contradiction(words, language, languages).ifPresent(found.get().doubts::add);
                return found;
            }
        }
        return Optional.empty();
    }

    /** A sentence where values would be dates, but for some words that name no month. */
    static Optional<String> almost(List<Look> looks) {
        Set<String> words = monthWords(looks);
        if (words.size() <= FEW || nowhere(words) * FEW > words.size()) {
            return Optional.empty();
        }
        return DateNames.all().stream()
                .min(Comparator.comparing(
                        (DateNames language) -> strange(words, language).size()))
                .filter(language -> strange(words, language).size() * FEW <= words.size())
                .map(language -> "would be dates with names of months of " + language.name() + " ("
                        + language.language() + "), but for \""
                        + String.join("\", \"", strange(words, language)) + '"');
    }

    /** How many words name no month in any language. */
    private static long nowhere(Set<String> words) {
        return words.stream().filter(word -> !DateNames.isMonthSomewhere(word)).count();
    }

    /** Words that name no month of a language. */
    private static List<String> strange(Set<String> words, DateNames language) {
        return words.stream().filter(word -> language.month(word).isEmpty()).toList();
    }

    /** Words that may be names of months, of values that hold a day and a year as well. */
    private static Set<String> monthWords(List<Look> looks) {
        Set<String> all = new TreeSet<>();
        for (Look look : looks) {
            if (look.kind != RawBatch.TEXT || look.groups.length < 2 || look.words.contains(null)) {
                return Set.of();
            }
            look.words.forEach(all::addAll);
        }
        all.removeAll(OTHERS);
        return all;
    }

    /** A sentence where a word names another month in another language. */
    private static Optional<String> contradiction(Set<String> words, DateNames language, List<DateNames> languages) {
        for (DateNames other : languages) {
            for (String word : words) {
                if (!language.month(word).equals(other.month(word))) {
                    return Optional.of(
                            '"' + word + "\" is another month in " + language.name() + " (" + language.language()
                                    + ") than in " + other.name() + " (" + other.language() + "); the first is taken");
                }
            }
        }
        return Optional.empty();
    }

    private static Optional<MomentSearch> in(List<Look> looks, Optional<DateNames> language) {
        Map<String, Long> counts = new LinkedHashMap<>();
        List<DateLook> found = new ArrayList<>();
        for (Look look : looks) {
            Optional<DateLook> one = language.isPresent() ? DateLook.of(look, language.get()) : DateLook.of(look);
            if (one.isEmpty()) {
                return Optional.empty();
            }
            found.add(one.get());
            counts.merge(one.get().pattern(), look.count, Long::sum);
        }
        boolean date = found.get(0).date();
        if (found.stream().anyMatch(one -> one.date() != date) || counts.size() > MOST_PATTERNS) {
            return Optional.empty();
        }
        List<String> sorted = counts.entrySet().stream()
                .sorted(Map.Entry.<String, Long>comparingByValue()
                        .reversed()
                        .thenComparing(one -> -one.getKey().length())
                        .thenComparing(Map.Entry.comparingByKey()))
                .map(Map.Entry::getKey)
                .toList();
        List<DateLook> agreed = agreeing(found, sorted);
        List<String> patterns = agreed.stream()
                .map(DateLook::pattern)
                .distinct()
                .sorted(Comparator.comparing(sorted::indexOf))
                .toList();
        boolean iso = patterns.equals(List.of(DateLook.ISO));
        String decided = agreed.stream()
                .map(DateLook::decided)
                .filter(what -> !what.isEmpty())
                .findFirst()
                .orElse("");
        String why = "written "
                + patterns.stream()
                        .map(pattern -> pattern.equals(DateLook.ISO) ? "as ISO 8601" : pattern)
                        .collect(Collectors.joining(" or "))
                + language.map(names -> " with names of " + names.name()).orElse("")
                + (iso || !decided.isEmpty() ? "" : ", such as " + looks.get(0).first)
                + (decided.isEmpty() ? "" : "; " + decided);
        boolean time = agreed.stream().anyMatch(DateLook::time);
        return Optional.of(new MomentSearch(
                !date ? Kind.TIME : time ? Kind.TIMESTAMP : Kind.DATE,
                iso ? List.of() : patterns,
                language.map(DateNames::language).orElse(""),
                why,
                new ArrayList<>(agreed.stream()
                        .map(DateLook::open)
                        .filter(what -> !what.isEmpty())
                        .distinct()
                        .toList())));
    }

    /** What one look decides between day and month holds for all of them. */
    private static List<DateLook> agreeing(List<DateLook> found, List<String> sorted) {
        boolean monthFirst = sorted.stream().anyMatch(pattern -> pattern.matches("M{1,2}[-/ .]d.*"));
        boolean dayFirst = found.stream()
                .anyMatch(one -> one.open().isEmpty() && one.pattern().matches("d{1,2}[-/ .]M.*"));
        List<DateLook> agreed = new ArrayList<>();
        for (DateLook one : found) {
            if (one.open().isEmpty() || (!monthFirst && !dayFirst)) {
                agreed.add(one);
            } else {
                String pattern = monthFirst ? swapped(one.pattern()) : one.pattern();
                agreed.add(new DateLook(pattern, one.date(), one.time(), "", ""));
            }
        }
        return agreed;
    }

    private static String swapped(String pattern) {
        return pattern.replaceFirst("^(d{1,2})([-/ .])(M{1,2})", "$3$2$1");
    }
}
