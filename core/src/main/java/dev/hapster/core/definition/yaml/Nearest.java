package dev.hapster.core.definition.yaml;

import java.util.Collection;
import java.util.Comparator;
import java.util.Locale;
import java.util.Optional;
import org.apache.commons.text.similarity.LevenshteinDistance;

/** Finds the word that was probably meant. */
public final class Nearest {

    private static final LevenshteinDistance DISTANCE = new LevenshteinDistance(3);

    private Nearest() {}

    /** The known word closest to {@code written}, where one is close enough to be a slip of the keyboard. */
    public static Optional<String> word(String written, Collection<String> known) {
        if (written.length() > 100) {
            return Optional.empty();
        }
        String low = written.toLowerCase(Locale.ROOT);
        int most = Math.max(1, Math.min(3, written.length() / 2));
        record Scored(String word, int distance) {}
        return known.stream()
                .map(word -> new Scored(word, DISTANCE.apply(low, word.toLowerCase(Locale.ROOT))))
                .filter(scored -> scored.distance >= 0 && scored.distance <= most)
                .min(Comparator.comparingInt(Scored::distance))
                .map(Scored::word);
    }

    /** A hint for a message: "Did you mean 'take'?", or else the words that are known. */
    public static String hint(String written, Collection<String> known) {
        return word(written, known)
                .map(word -> "Did you mean '" + word + "'?")
                .orElseGet(() -> known.isEmpty() ? "" : "Known here: " + String.join(", ", known));
    }
}
