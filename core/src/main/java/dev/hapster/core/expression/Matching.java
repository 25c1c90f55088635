package dev.hapster.core.expression;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.runtime.CelEvaluationException;
import dev.hapster.core.pattern.RegexSize;
import dev.hapster.core.reason.Reasons;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What {@code matches} is in conditions: an expression whose size is known before it is made ready, and which takes
 * time in proportion to the text. Patterns may come from rows themselves, and are remembered. Thread-safe.
 */
final class Matching {

    /** Characters times steps that one question may take. */
    private static final long MOST_WORK = 200_000_000L;

    private static final int REMEMBERED = 200;
    private static final Map<String, Pattern> KNOWN = new LinkedHashMap<>(16, 0.75f, true) {
        @Override
        protected boolean removeEldestEntry(Map.Entry<String, Pattern> eldest) {
            return size() > REMEMBERED;
        }
    };

    private Matching() {}

    static Object matches(String text, String regex) throws CelEvaluationException {
        int size = RegexSize.of(regex);
        if (size > RegexSize.MOST) {
            throw failed(tooLarge(regex));
        }
        if ((long) size * text.length() > MOST_WORK) {
            throw failed("a text of " + Reasons.grouped(text.length()) + " characters is too long for this pattern");
        }
        Pattern pattern;
        synchronized (KNOWN) {
            pattern = KNOWN.get(regex);
        }
        if (pattern == null) {
            try {
                pattern = Pattern.compile(regex);
            } catch (PatternSyntaxException wrong) {
                throw failed(Reasons.quote(regex) + " is not a regular expression: " + wrong.getDescription());
            }
            synchronized (KNOWN) {
                KNOWN.put(regex, pattern);
            }
        }
        return pattern.matcher(text).find();
    }

    private static CelEvaluationException failed(String what) {
        return new CelEvaluationException(what);
    }

    private static String tooLarge(String regex) {
        return "the pattern " + Reasons.quote(regex) + " has more than " + Reasons.grouped(RegexSize.MOST)
                + " steps, with all that it repeats";
    }

    /**
     * What is wrong with a pattern that is written in a condition; empty where nothing is, or this is something else.
     */
    static Optional<String> mistake(CelExpr part) {
        if (part.getKind() != CelExpr.ExprKind.Kind.CALL
                || !part.call().function().equals("matches")) {
            return Optional.empty();
        }
        List<CelExpr> arguments = part.call().args();
        CelExpr last = arguments.get(arguments.size() - 1);
        if (last.getKind() != CelExpr.ExprKind.Kind.CONSTANT
                || last.constant().getKind() != CelConstant.Kind.STRING_VALUE) {
            return Optional.empty();
        }
        String regex = last.constant().stringValue();
        if (RegexSize.of(regex) > RegexSize.MOST) {
            return Optional.of(tooLarge(regex));
        }
        try {
            Pattern unused = Pattern.compile(regex);
            return Optional.empty();
        } catch (PatternSyntaxException wrong) {
            return Optional.of(Reasons.quote(regex) + " is not a regular expression: " + wrong.getDescription());
        }
    }
}
