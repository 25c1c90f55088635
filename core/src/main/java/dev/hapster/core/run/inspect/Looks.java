package dev.hapster.core.run.inspect;

import dev.hapster.core.pattern.DatePattern;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/** What some values look like. Used for messages only: a run never guesses. */
final class Looks {

    private static final List<String> DATES = List.of(
            "yyyy-MM-dd",
            "yyyy-MM-dd HH:mm",
            "yyyy-MM-dd HH:mm:ss",
            "yyyy-MM-dd'T'HH:mm:ss",
            "dd.MM.yyyy",
            "dd.MM.yyyy HH:mm",
            "dd.MM.yyyy HH:mm:ss",
            "dd/MM/yyyy",
            "dd/MM/yyyy HH:mm",
            "MM/dd/yyyy",
            "MM/dd/yyyy HH:mm",
            "yyyy/MM/dd",
            "yyyy/MM/dd HH:mm",
            "yyyyMMdd",
            "yyyyMMdd'T'HHmmss",
            "dd-MM-yyyy");
    private static final Pattern WHOLE = Pattern.compile("[-+]?\\d{1,19}");
    private static final Pattern POINT = Pattern.compile("[-+]?\\d+\\.\\d+([eE][-+]?\\d+)?");
    private static final Pattern COMMA = Pattern.compile("[-+]?(\\d+|\\d{1,3}(\\.\\d{3})+),\\d+");

    /**
     * @param words for a sentence: "dates written dd.MM.yyyy"
     * @param mapping what the job would say for them; empty where nothing need be said
     */
    record Look(String words, String mapping) {}

    private Looks() {}

    /** @return empty where the values are few or look like nothing in particular */
    static Optional<Look> of(List<String> values) {
        List<String> some = values.stream()
                .map(String::strip)
                .filter(value -> !value.isEmpty())
                .toList();
        if (some.size() < 3) {
            return Optional.empty();
        }
        if (mostly(some, value -> COMMA.matcher(value).matches())) {
            return Optional.of(new Look("numbers with decimal commas", "decimal: \",\""));
        }
        for (String pattern : DATES) {
            DatePattern date = DatePattern.of(pattern);
            if (mostly(some, value -> date.parse(value) > DatePattern.NO_SUCH_DAY)) {
                return Optional.of(new Look("dates written " + pattern, "pattern: \"" + pattern + "\""));
            }
        }
        if (mostly(some, value -> WHOLE.matcher(value).matches())) {
            return Optional.of(new Look("whole numbers", ""));
        }
        if (mostly(
                some,
                value -> WHOLE.matcher(value).matches() || POINT.matcher(value).matches())) {
            return Optional.of(new Look("numbers with decimal points", "decimal: \".\""));
        }
        return Optional.of(new Look("text", ""));
    }

    private static boolean mostly(List<String> values, Predicate<String> matches) {
        return values.stream().filter(matches).count() * 10 >= values.size() * 9L;
    }
}
