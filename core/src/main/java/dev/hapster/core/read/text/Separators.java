package dev.hapster.core.read.text;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.ToIntFunction;

/** Guesses the separator of a header that does not fit. Used for messages only: a run never guesses. */
public final class Separators {

    private static final String USUAL = ",;\t|:^~";

    private Separators() {}

    /**
     * The separator under which more of the wanted names appear than under the declared ones.
     *
     * @param fit how many of the wanted names a list of names holds
     */
    public static Optional<Character> better(
            String headerLine, List<String> declared, List<String> asDeclared, ToIntFunction<List<String>> fit) {
        int best = fit.applyAsInt(asDeclared);
        Character found = null;
        for (int i = 0; i < USUAL.length(); i++) {
            char separator = USUAL.charAt(i);
            int score =
                    declared.contains(String.valueOf(separator)) ? -1 : fit.applyAsInt(split(headerLine, separator));
            if (score > best) {
                best = score;
                found = separator;
            }
        }
        return Optional.ofNullable(found);
    }

    /** The usual separator that a line has most often; empty where it has none. */
    public static Optional<Character> most(String line) {
        return USUAL.chars()
                .mapToObj(c -> (char) c)
                .filter(c -> line.indexOf(c) >= 0)
                .max(Comparator.comparing(
                        c -> line.chars().filter(one -> one == c).count()));
    }

    private static List<String> split(String line, char separator) {
        List<String> names = new ArrayList<>();
        int from = 0;
        for (int at = 0; at <= line.length(); at++) {
            if (at == line.length() || line.charAt(at) == separator) {
                String name = line.substring(from, at).strip();
                boolean quoted = name.length() >= 2 && name.startsWith("\"") && name.endsWith("\"");
                names.add(quoted ? name.substring(1, name.length() - 1) : name);
                from = at + 1;
            }
        }
        return names;
    }
}
