package dev.hapster.core.query.filter;

import com.google.re2j.Pattern;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.Texts;
import java.util.List;
import java.util.Locale;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * One condition on the values of a column. An empty value is one of {@link Empty} only, so that a condition that is
 * turned round and not about emptiness holds for it.
 *
 * @param values the values for which it holds; or for which it does not
 * @param not whether it is turned round: holds for all values but these
 */
public record Condition(Field field, Values values, boolean not) implements Where {

    /** Some of the values that a column may have. */
    public sealed interface Values permits Empty, Spans, Text {}

    /** No value. */
    public record Empty() implements Values {}

    /** The values in one of several spans. */
    public record Spans(List<Span> spans) implements Values {
        public Spans {
            spans = List.copyOf(spans);
        }

        boolean has(Comparable<?> value) {
            for (Span span : spans) {
                if (span.has(value)) {
                    return true;
                }
            }
            return false;
        }
    }

    /**
     * Values from one to another.
     *
     * @param from null where it has no beginning
     * @param withFrom whether {@code from} itself is one of them
     * @param to null where it has no end
     * @param withTo whether {@code to} itself is one of them
     */
    public record Span(Comparable<?> from, boolean withFrom, Comparable<?> to, boolean withTo) {

        boolean has(Comparable<?> value) {
            if (from != null) {
                int order = Ordering.compare(value, from);
                if (order < 0 || (order == 0 && !withFrom)) {
                    return false;
                }
            }
            if (to == null) {
                return true;
            }
            int order = Ordering.compare(value, to);
            return order < 0 || (order == 0 && withTo);
        }

        /** Whether it is a single value. */
        public boolean isOne() {
            return withFrom && withTo && from != null && from.equals(to);
        }
    }

    /** How a text is looked at. Values that are no texts are written as {@link Texts} writes them. */
    public enum Way {
        /** It stands in it somewhere, in upper or lower case. */
        HOLDS,
        /** SQL's LIKE: {@code %} stands for any characters, {@code _} for one, {@code \} makes the next one plain. */
        LIKE,
        /** A regular expression (RE2) is found in it. */
        MATCHES
    }

    /** The values whose text is like another one. */
    public record Text(Way way, String text) implements Values {

        /** Whether a text is one of these; to be made once and asked often. */
        Predicate<String> test() {
            switch (way) {
                case HOLDS -> {
                    String low = text.toLowerCase(Locale.ROOT);
                    return value -> value.toLowerCase(Locale.ROOT).contains(low);
                }
                case LIKE -> {
                    Pattern pattern = Pattern.compile(like(text), Pattern.DOTALL);
                    return pattern::matches;
                }
                default -> {
                    Pattern pattern = Pattern.compile(text);
                    return value -> pattern.matcher(value).find();
                }
            }
        }
    }

    /** A pattern of SQL's LIKE as a regular expression. */
    static String like(String pattern) {
        StringBuilder regex = new StringBuilder();
        for (int i = 0; i < pattern.length(); i++) {
            char c = pattern.charAt(i);
            if (c == '%') {
                regex.append(".*");
            } else if (c == '_') {
                regex.append('.');
            } else {
                if (c == '\\' && i + 1 < pattern.length()) {
                    c = pattern.charAt(++i);
                }
                regex.append(Pattern.quote(Character.toString(c)));
            }
        }
        return regex.toString();
    }

    @Override
    public Condition negated() {
        return new Condition(field, values, !not);
    }

    @Override
    public Stream<Condition> conditions() {
        return Stream.of(this);
    }

    /** Whether it holds for empty values. */
    boolean holdsForEmpty() {
        return values instanceof Empty != not;
    }
}
