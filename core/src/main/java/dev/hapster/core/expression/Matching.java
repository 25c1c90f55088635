package dev.hapster.core.expression;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.hapster.core.pattern.RegexSize;
import dev.hapster.core.reason.Reasons;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Regular expressions whose size is known before they are made ready, and which take time in proportion to the text.
 * They may come from rows themselves, and are remembered. Thread-safe.
 */
final class Matching {

    /** Characters times steps that one question may take. */
    private static final long MOST_WORK = 200_000_000L;

    private static final int REMEMBERED = 200;
    private static final Map<String, Known> KNOWN = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Known> eldest) {
            return size() > REMEMBERED;
        }
    };

    /** @param size how many steps it has, with all that it repeats */
    private record Known(Pattern pattern, int size) {}

    private Matching() {}

    /** @throws FailedException where the expression is none, or this would take too long */
    static Matcher of(String text, String regex) throws FailedException {
        Known known;
        synchronized (KNOWN) {
            known = KNOWN.get(regex);
        }
        if (known == null) {
            Optional<String> mistake = mistake(regex);
            if (mistake.isPresent()) {
                throw new FailedException(mistake.get());
            }
            known = new Known(Pattern.compile(regex), RegexSize.of(regex));
            synchronized (KNOWN) {
                KNOWN.put(regex, known);
            }
        }
        if ((long) known.size() * text.length() > MOST_WORK) {
            throw new FailedException(
                    "a text of " + Reasons.grouped(text.length()) + " characters is too long for this pattern");
        }
        return known.pattern().matcher(text);
    }

    /** What is wrong with an expression; empty where nothing is, or it is not known yet. */
    static Optional<String> mistake(Object constant) {
        if (!(constant instanceof String regex)) {
            return Optional.empty();
        }
        if (RegexSize.of(regex) > RegexSize.MOST) {
            return Optional.of("the pattern " + Reasons.quote(regex) + " has more than "
                    + Reasons.grouped(RegexSize.MOST) + " steps, with all that it repeats");
        }
        try {
            Pattern unused = Pattern.compile(regex);
            return Optional.empty();
        } catch (PatternSyntaxException wrong) {
            return Optional.of(Reasons.quote(regex) + " is not a regular expression: " + wrong.getDescription());
        }
    }
}
