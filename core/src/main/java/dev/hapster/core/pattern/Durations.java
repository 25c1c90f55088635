package dev.hapster.core.pattern;

import java.time.DateTimeException;
import java.time.Duration;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Durations as people write them: {@code 500ms}, {@code 2s}, {@code 5 min}, {@code 1h}, {@code 3 d}, or ISO 8601 such
 * as {@code PT5M}.
 */
public final class Durations {

    private static final Pattern FORM = Pattern.compile("(\\d{1,9})\\s*(ms|s|min|h|d)?");

    private Durations() {}

    /** @throws IllegalArgumentException with a sentence for people, where the text is not a duration */
    public static Duration parse(String text) {
        String words = text.strip();
        Matcher form = FORM.matcher(words);
        if (form.matches() && (form.group(2) != null || Long.parseLong(form.group(1)) == 0)) {
            long count = Long.parseLong(form.group(1));
            return switch (form.group(2) == null ? "s" : form.group(2)) {
                case "ms" -> Duration.ofMillis(count);
                case "min" -> Duration.ofMinutes(count);
                case "h" -> Duration.ofHours(count);
                case "d" -> Duration.ofDays(count);
                default -> Duration.ofSeconds(count);
            };
        }
        try {
            Duration iso = Duration.parse(words.toUpperCase(Locale.ROOT));
            if (!iso.isNegative()) {
                return iso;
            }
        } catch (DateTimeException notIso) {
            // said below, in the same words
        }
        throw new IllegalArgumentException("'" + text + "' is not a duration; write it like 2s, 5 min, 1h, or PT5M");
    }

    /** In the largest unit that holds it in whole numbers, as {@link #parse} reads it. */
    public static String format(Duration duration) {
        long millis = duration.toMillis();
        if (millis % 1000 != 0) {
            return millis + "ms";
        }
        long seconds = millis / 1000;
        return seconds == 0 || seconds % 60 != 0
                ? seconds + "s"
                : seconds % 3600 != 0
                        ? seconds / 60 + "min"
                        : seconds % 86_400 != 0 ? seconds / 3600 + "h" : seconds / 86_400 + "d";
    }
}
