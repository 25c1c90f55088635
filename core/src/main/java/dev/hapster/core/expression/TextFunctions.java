package dev.hapster.core.expression;

import static dev.hapster.core.expression.Library.INTEGER;
import static dev.hapster.core.expression.Library.TEXT;
import static dev.hapster.core.expression.Library.TEXTS;
import static dev.hapster.core.expression.Library.TRUTH;
import static dev.hapster.core.expression.Library.function;
import static dev.hapster.core.expression.Library.method;

import com.google.re2j.Matcher;
import dev.cel.common.types.NullableType;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.StringJoiner;

/** Functions on texts. Positions and lengths are counted in characters (Unicode code points), from 0. */
final class TextFunctions {

    private TextFunctions() {}

    static List<Function> all() {
        return List.of(
                function("size", "how many characters a text has, or members a list", (frame, a) -> size(a[0]))
                        .form(INTEGER, TEXT)
                        .form(INTEGER, Library.ANY_LIST)
                        .form(INTEGER, Library.ANY_MAP)
                        .example("size('VS-101')", "6"),
                method("size", "", (frame, a) -> size(a[0]))
                        .form(INTEGER, TEXT)
                        .form(INTEGER, Library.ANY_LIST)
                        .form(INTEGER, Library.ANY_MAP)
                        .example("'a/b/c'.split('/').size()", "3"),
                method("contains", "whether a text stands in it", (frame, a) -> text(a, 0)
                                .contains(text(a, 1)))
                        .form(TRUTH, TEXT, TEXT)
                        .example("'VS-101'.contains('-')", "true"),
                method("startsWith", "whether it begins so", (frame, a) -> text(a, 0)
                                .startsWith(text(a, 1)))
                        .form(TRUTH, TEXT, TEXT)
                        .example("'VS-101'.startsWith('VS')", "true"),
                method("endsWith", "whether it ends so", (frame, a) -> text(a, 0)
                                .endsWith(text(a, 1)))
                        .form(TRUTH, TEXT, TEXT)
                        .example("'VS-101'.endsWith('01')", "true"),
                method(
                                "matches",
                                "whether a regular expression (RE2) is found in it; `^` and `$` stand for both ends",
                                (frame, a) ->
                                        Matching.of(text(a, 0), text(a, 1)).find())
                        .form(TRUTH, TEXT, TEXT)
                        .checked(constants -> Matching.mistake(constants[1]))
                        .example("'VS-101'.matches('^VS-[0-9]+$')", "true"),
                method(
                                "indexOf",
                                "where a text stands in it first; -1 where it does not",
                                (frame, a) -> position(text(a, 0), text(a, 0).indexOf(text(a, 1))))
                        .form(INTEGER, TEXT, TEXT)
                        .example("'VS-101'.indexOf('-')", "2"),
                method(
                                "lastIndexOf",
                                "where a text stands in it last; -1 where it does not",
                                (frame, a) -> position(text(a, 0), text(a, 0).lastIndexOf(text(a, 1))))
                        .form(INTEGER, TEXT, TEXT)
                        .example("'a/b/c'.lastIndexOf('/')", "3"),
                method(
                                "substring",
                                "what stands from a position on, or up to another (without the character there)",
                                (frame, a) -> part(text(a, 0), whole(a, 1), length(text(a, 0)), true))
                        .form(TEXT, TEXT, INTEGER)
                        .example("'VS-101'.substring(3)", "101"),
                method("substring", "", (frame, a) -> part(text(a, 0), whole(a, 1), whole(a, 2), true))
                        .form(TEXT, TEXT, INTEGER, INTEGER)
                        .example("'VS-101'.substring(0, 2)", "VS"),
                method(
                                "left",
                                "its first characters; the whole text where it is shorter",
                                (frame, a) -> part(text(a, 0), 0, whole(a, 1), false))
                        .form(TEXT, TEXT, INTEGER)
                        .example("'VS-101'.left(2)", "VS"),
                method(
                                "right",
                                "its last characters; the whole text where it is shorter",
                                (frame, a) ->
                                        part(text(a, 0), length(text(a, 0)) - whole(a, 1), length(text(a, 0)), false))
                        .form(TEXT, TEXT, INTEGER)
                        .example("'VS-101'.right(3)", "101"),
                method(
                                "upper",
                                "in upper case",
                                (frame, a) -> made(frame, text(a, 0).toUpperCase(Locale.ROOT)))
                        .form(TEXT, TEXT)
                        .example("'vs-101'.upper()", "VS-101"),
                method(
                                "lower",
                                "in lower case",
                                (frame, a) -> made(frame, text(a, 0).toLowerCase(Locale.ROOT)))
                        .form(TEXT, TEXT)
                        .example("'VS-101'.lower()", "vs-101"),
                method("trim", "without white space at both ends", (frame, a) -> text(a, 0)
                                .strip())
                        .form(TEXT, TEXT)
                        .example("'  VS '.trim()", "VS"),
                method(
                                "replace",
                                "one text put in place of another wherever it stands",
                                (frame, a) -> replaced(frame, text(a, 0), text(a, 1), text(a, 2)))
                        .form(TEXT, TEXT, TEXT, TEXT)
                        .example("'1_000_000'.replace('_', '')", "1000000"),
                method(
                                "replaceAll",
                                "what a regular expression (RE2) finds, replaced; `$1` stands for its first group",
                                (frame, a) -> replacedAll(frame, text(a, 0), text(a, 1), text(a, 2)))
                        .form(TEXT, TEXT, TEXT, TEXT)
                        .checked(constants -> Matching.mistake(constants[1]))
                        .example("'VS 101'.replaceAll('([A-Z]+) ([0-9]+)', '$1-$2')", "VS-101"),
                method(
                                "extract",
                                "the first group of what a regular expression (RE2) finds, all of it where it has no "
                                        + "group; nothing where it finds nothing",
                                (frame, a) -> extract(text(a, 0), text(a, 1)))
                        .form(NullableType.create(TEXT), TEXT, TEXT)
                        .checked(constants -> Matching.mistake(constants[1]))
                        .example("'batch 17 of 20'.extract('batch ([0-9]+)')", "17"),
                method(
                                "split",
                                "its parts between separators, as a list",
                                (frame, a) -> split(frame, text(a, 0), text(a, 1)))
                        .form(TEXTS, TEXT, TEXT)
                        .example("'north/2026/07'.split('/')[1]", "2026"),
                method(
                                "join",
                                "the members of a list as one text",
                                (frame, a) -> joined(frame, (List<?>) a[0], text(a, 1)))
                        .form(TEXT, TEXTS, TEXT)
                        .example("['VS', '101'].join('-')", "VS-101"),
                method(
                                "padLeft",
                                "filled up on the left to a number of characters",
                                (frame, a) -> padding(frame, text(a, 0), whole(a, 1), text(a, 2)) + text(a, 0))
                        .form(TEXT, TEXT, INTEGER, TEXT)
                        .checked(TextFunctions::filling)
                        .example("'7'.padLeft(3, '0')", "007"),
                method(
                                "padRight",
                                "filled up on the right",
                                (frame, a) -> text(a, 0) + padding(frame, text(a, 0), whole(a, 1), text(a, 2)))
                        .form(TEXT, TEXT, INTEGER, TEXT)
                        .checked(TextFunctions::filling)
                        .example("'7'.padRight(3, '.')", "7.."));
    }

    static String text(Object[] arguments, int at) throws FailedException {
        if (arguments[at] instanceof String text) {
            return text;
        }
        throw new FailedException("a text is expected, and there is " + Values.kind(arguments[at]));
    }

    /** A whole number of a size that a position or a length may have. */
    static int whole(Object[] arguments, int at) throws FailedException {
        if (arguments[at] instanceof Long number) {
            return (int) Math.max(Integer.MIN_VALUE / 2, Math.min(Integer.MAX_VALUE / 2, number));
        }
        throw new FailedException("a whole number is expected, and there is " + Values.kind(arguments[at]));
    }

    private static Object size(Object value) throws FailedException {
        return value instanceof String text
                ? (Object) (long) length(text)
                : value instanceof List<?> list
                        ? (Object) (long) list.size()
                        : value instanceof java.util.Map<?, ?> map
                                ? (Object) (long) map.size()
                                : text(new Object[] {value}, 0);
    }

    private static int length(String text) {
        return text.codePointCount(0, text.length());
    }

    private static Long position(String text, int at) {
        return at < 0 ? -1L : text.codePointCount(0, at);
    }

    private static String part(String text, int from, int to, boolean strict) throws FailedException {
        int length = length(text);
        if (strict && (from < 0 || from > to || to > length)) {
            throw new FailedException("it asks for characters " + from + " to " + to + " of a text of " + length);
        }
        int start = Math.max(0, Math.min(from, length));
        int end = Math.max(start, Math.min(to, length));
        return text.substring(text.offsetByCodePoints(0, start), text.offsetByCodePoints(0, end));
    }

    private static String made(Frame frame, String text) throws FailedException {
        frame.make(text.length());
        return text;
    }

    private static String replaced(Frame frame, String text, String old, String fresh) throws FailedException {
        if (old.isEmpty()) {
            throw new FailedException("the text to be replaced is empty");
        }
        long found = 0;
        for (int at = text.indexOf(old); at >= 0; at = text.indexOf(old, at + old.length())) {
            found++;
        }
        frame.make(text.length() + found * Math.max(0, fresh.length() - old.length()));
        return text.replace(old, fresh);
    }

    private static String replacedAll(Frame frame, String text, String regex, String fresh) throws FailedException {
        Matcher matcher = Matching.of(text, regex);
        StringBuilder result = new StringBuilder();
        try {
            while (matcher.find()) {
                matcher.appendReplacement(result, fresh);
                if (result.length() > Frame.MOST_CHARACTERS) {
                    break; // said below
                }
            }
        } catch (IllegalArgumentException | IndexOutOfBoundsException wrong) {
            throw new FailedException(
                    "the replacement '" + fresh + "' names a group that the regular expression does not have");
        }
        matcher.appendTail(result);
        return made(frame, result.toString());
    }

    private static Object extract(String text, String regex) throws FailedException {
        Matcher matcher = Matching.of(text, regex);
        return !matcher.find() ? null : matcher.groupCount() > 0 ? matcher.group(1) : matcher.group();
    }

    private static List<String> split(Frame frame, String text, String separator) throws FailedException {
        if (separator.isEmpty()) {
            throw new FailedException("the separator is empty");
        }
        frame.make(text.length());
        List<String> parts = new ArrayList<>();
        int start = 0;
        for (int at = text.indexOf(separator); at >= 0; at = text.indexOf(separator, start)) {
            parts.add(text.substring(start, at));
            start = at + separator.length();
        }
        parts.add(text.substring(start));
        return parts;
    }

    private static String joined(Frame frame, List<?> members, String between) throws FailedException {
        StringJoiner text = new StringJoiner(between);
        for (Object member : members) {
            String next = member == null ? "" : text(new Object[] {member}, 0);
            frame.make((long) next.length() + between.length());
            text.add(next);
        }
        return text.toString();
    }

    private static String padding(Frame frame, String text, int width, String fill) throws FailedException {
        int missing = width - length(text);
        if (missing <= 0) {
            return "";
        }
        if (length(fill) != 1) {
            throw new FailedException("'" + fill + "' is not one character");
        }
        frame.make((long) width * fill.length());
        return fill.repeat(missing);
    }

    private static Optional<String> filling(Object... constants) {
        return constants[2] instanceof String fill && length(fill) != 1
                ? Optional.of("'" + fill + "' is not one character")
                : Optional.empty();
    }
}
