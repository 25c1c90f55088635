package dev.hapster.core.run.inspect;

import dev.hapster.core.pattern.DatePattern;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.regex.Pattern;

/** What some values look like. Used for messages only: a run never guesses. */
public final class Looks {

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
    private static final Pattern SHORT = Pattern.compile("[-+]?\\d{1,15}");
    private static final Pattern ZEROED = Pattern.compile("[-+]?0\\d+");
    /** Values of a column of which nothing is concluded. */
    private static final int FEW = 20;

    private static final Pattern POINT = Pattern.compile("[-+]?\\d+\\.\\d+([eE][-+]?\\d+)?");
    private static final Pattern COMMA = Pattern.compile("[-+]?(\\d+|\\d{1,3}(\\.\\d{3})+),\\d+");

    /**
     * @param words for a sentence: "dates written dd.MM.yyyy"
     * @param mapping what the job, or of a type the dataset, would say for them; empty where nothing need be said
     */
    public record Look(String words, String mapping) {}

    private Looks() {}

    /** Whether a number would lose the zeros with which a text begins. */
    static boolean isZeroed(String text) {
        return ZEROED.matcher(text).matches();
    }

    /**
     * What texts look like that stand in a column of type text: all of them, so that the type that is named can hold
     * them. Zeros at the beginning are a code and not a number.
     *
     * @return empty where they are few, or look like nothing in particular
     */
    static Optional<Look> typed(List<String> values) {
        List<String> some = values.stream()
                .map(String::strip)
                .filter(value -> !value.isEmpty())
                .toList();
        if (some.size() < FEW || some.stream().anyMatch(Looks::isZeroed)) {
            return Optional.empty();
        }
        if (some.stream().allMatch(value -> SHORT.matcher(value).matches())) {
            return Optional.of(new Look("whole numbers", "type: integer"));
        }
        if (some.stream()
                .allMatch(value ->
                        SHORT.matcher(value).matches() || POINT.matcher(value).matches())) {
            return Optional.of(new Look("numbers with decimal points", "type: double"));
        }
        for (String pattern : List.of("yyyy-MM-dd", "yyyy-MM-dd HH:mm:ss", "yyyy-MM-dd'T'HH:mm:ss")) {
            DatePattern date = DatePattern.of(pattern);
            if (some.stream().allMatch(value -> date.parse(value) > DatePattern.NO_SUCH_DAY)) {
                return Optional.of(new Look(
                        "dates written " + pattern, "type: " + (pattern.length() > 10 ? "timestamp" : "date")));
            }
        }
        return Optional.empty();
    }

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
