package dev.hapster.core.expression;

import static dev.hapster.core.expression.Library.INTEGER;
import static dev.hapster.core.expression.Library.MOMENT;
import static dev.hapster.core.expression.Library.NUMBER;
import static dev.hapster.core.expression.Library.TEXT;
import static dev.hapster.core.expression.Library.TRUTH;
import static dev.hapster.core.expression.Library.function;
import static dev.hapster.core.expression.Library.method;

import dev.hapster.core.reason.Reasons;
import java.math.BigDecimal;
import java.math.RoundingMode;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.regex.Pattern;

/** Functions on numbers, and those that turn one kind of value into another. */
final class NumberFunctions {

    private static final int MOST_DIGITS = 300;
    private static final Pattern PLAIN =
            Pattern.compile("[+-]?(\\d{1,300}\\.?\\d{0,300}|\\.\\d{1,300})([eE][+-]?\\d{1,2})?");

    private NumberFunctions() {}

    static List<Function> all() {
        return List.of(
                function(
                                "round",
                                "rounded to a whole number; a half away from zero",
                                (frame, a) -> Values.whole(
                                        Values.exact(Values.rounded(number(a, 0), 0, RoundingMode.HALF_UP))))
                        .form(INTEGER, NUMBER)
                        .form(INTEGER, INTEGER)
                        .example("round(2.5)", "3"),
                function(
                                "round",
                                "rounded to so many decimals; a half away from zero",
                                (frame, a) -> Values.rounded(number(a, 0), digits(a), RoundingMode.HALF_UP))
                        .form(NUMBER, NUMBER, INTEGER)
                        .form(NUMBER, INTEGER, INTEGER)
                        .checked(NumberFunctions::decimals)
                        .example("round(10.0 / 3.0, 2)", "3.33"),
                function(
                                "floor",
                                "the greatest whole number that is not greater",
                                (frame, a) ->
                                        Values.whole(Values.exact(Values.rounded(number(a, 0), 0, RoundingMode.FLOOR))))
                        .form(INTEGER, NUMBER)
                        .example("floor(-2.1)", "-3"),
                function(
                                "ceil",
                                "the least whole number that is not less",
                                (frame, a) -> Values.whole(
                                        Values.exact(Values.rounded(number(a, 0), 0, RoundingMode.CEILING))))
                        .form(INTEGER, NUMBER)
                        .example("ceil(2.1)", "3"),
                function(
                                "abs",
                                "without its sign",
                                (frame, a) -> Values.compare(number(a, 0), 0L) < 0 ? Values.negate(a[0]) : a[0])
                        .form(NUMBER, NUMBER)
                        .form(INTEGER, INTEGER)
                        .example("abs(-2.5)", "2.5"),
                function("least", "the lesser of two", (frame, a) -> Values.compare(a[0], a[1]) <= 0 ? a[0] : a[1])
                        .form(INTEGER, INTEGER, INTEGER)
                        .form(NUMBER, NUMBER, NUMBER)
                        .form(MOMENT, MOMENT, MOMENT)
                        .example("least(3, 5)", "3"),
                function("greatest", "the greater of two", (frame, a) -> Values.compare(a[0], a[1]) >= 0 ? a[0] : a[1])
                        .form(INTEGER, INTEGER, INTEGER)
                        .form(NUMBER, NUMBER, NUMBER)
                        .form(MOMENT, MOMENT, MOMENT)
                        .example("greatest(0.5, 0.25)", "0.5"),
                function(
                                "number",
                                "a text as a number; with its decimal mark and the mark between thousands, if they are "
                                        + "others than a point and none",
                                (frame, a) -> parsed(TextFunctions.text(a, 0), ".", ""))
                        .form(NUMBER, TEXT)
                        .example("number('2.50')", "2.50"),
                function("number", "", (frame, a) -> parsed(TextFunctions.text(a, 0), TextFunctions.text(a, 1), ""))
                        .form(NUMBER, TEXT, TEXT)
                        .checked(NumberFunctions::marks)
                        .example("number('2,50', ',')", "2.50"),
                function(
                                "number",
                                "",
                                (frame, a) -> parsed(
                                        TextFunctions.text(a, 0), TextFunctions.text(a, 1), TextFunctions.text(a, 2)))
                        .form(NUMBER, TEXT, TEXT, TEXT)
                        .checked(NumberFunctions::marks)
                        .example("number('1.234,50', ',', '.')", "1234.50"),
                function("int", "a number without its decimals, or a text as a whole number", (frame, a) -> whole(a[0]))
                        .form(INTEGER, INTEGER)
                        .form(INTEGER, NUMBER)
                        .form(INTEGER, TEXT)
                        .example("int(2.9)", "2")
                        .example("int('42')", "42"),
                function(
                                "double",
                                "a number as one with decimals, or a text",
                                (frame, a) -> a[0] instanceof String text
                                        ? parsed(text, ".", "")
                                        : a[0] instanceof Double ? a[0] : Values.exact(number(a, 0)))
                        .form(NUMBER, NUMBER)
                        .form(NUMBER, INTEGER)
                        .form(NUMBER, TEXT)
                        .example("double(3) / 2.0", "1.5"),
                function("string", "a value as a text; a time in ISO 8601", (frame, a) -> Values.words(a[0]))
                        .form(TEXT, TEXT)
                        .form(TEXT, INTEGER)
                        .form(TEXT, NUMBER)
                        .form(TEXT, TRUTH)
                        .form(TEXT, MOMENT)
                        .example("string(7) + ' mg/l'", "7 mg/l"),
                function("bool", "a text, `true` or `false`, as such", (frame, a) -> truth(a[0]))
                        .form(TRUTH, TEXT)
                        .form(TRUTH, TRUTH)
                        .example("bool('true')", "true"),
                method("format", "a number as a text with so many decimals", (frame, a) -> Values.exact(
                                        Values.rounded(number(a, 0), digits(a), RoundingMode.HALF_UP))
                                .setScale(Math.max(0, digits(a)), RoundingMode.UNNECESSARY)
                                .toPlainString())
                        .form(TEXT, NUMBER, INTEGER)
                        .form(TEXT, INTEGER, INTEGER)
                        .checked(NumberFunctions::decimals)
                        .example("(2.5).format(2)", "2.50"));
    }

    static Object number(Object[] arguments, int at) throws FailedException {
        if (Values.isNumber(arguments[at])) {
            return arguments[at];
        }
        throw new FailedException("a number is expected, and there is " + Values.kind(arguments[at]));
    }

    private static int digits(Object[] arguments) throws FailedException {
        int digits = TextFunctions.whole(arguments, 1);
        if (digits < 0 || digits > MOST_DIGITS) {
            throw new FailedException(digits + " decimals cannot be had; it must be 0 to " + MOST_DIGITS);
        }
        return digits;
    }

    private static Optional<String> decimals(Object... constants) {
        return constants[1] instanceof Long digits && (digits < 0 || digits > MOST_DIGITS)
                ? Optional.of(digits + " decimals cannot be had; it must be 0 to " + MOST_DIGITS)
                : Optional.empty();
    }

    private static Optional<String> marks(Object... constants) {
        if (constants[1] instanceof String decimal && !decimal.equals(".") && !decimal.equals(",")) {
            return Optional.of("'" + decimal + "' is no decimal mark; it is '.' or ','");
        }
        return constants.length > 2
                        && constants[1] instanceof String decimal
                        && constants[2] instanceof String thousands
                        && (thousands.length() != 1 || thousands.equals(decimal))
                ? Optional.of("the mark between thousands is one character, and not the decimal mark")
                : Optional.empty();
    }

    private static Object parsed(String text, String decimal, String thousands) throws FailedException {
        String plain = text.strip();
        if (!thousands.isEmpty()) {
            String mark = Pattern.quote(thousands);
            String groups = "[+-]?\\d{1,3}(" + mark + "\\d{3})*(" + Pattern.quote(decimal) + "\\d*)?|[+-]?\\d+("
                    + Pattern.quote(decimal) + "\\d*)?";
            if (!plain.matches(groups)) {
                throw notNumber(text);
            }
            plain = plain.replace(thousands, "");
        }
        if (!decimal.equals(".")) {
            if (plain.contains(".")) {
                throw notNumber(text);
            }
            plain = plain.replace(decimal, ".");
        }
        if (!PLAIN.matcher(plain).matches()) {
            throw notNumber(text);
        }
        return new BigDecimal(plain);
    }

    private static FailedException notNumber(String text) {
        return new FailedException(Reasons.quote(text) + " is not a number");
    }

    private static Object whole(Object value) throws FailedException {
        if (value instanceof Long) {
            return value;
        }
        if (value instanceof Double binary && (binary.isNaN() || binary.isInfinite())) {
            throw Values.tooLarge();
        }
        if (value instanceof Number) {
            return Values.whole(Values.exact(value));
        }
        if (value instanceof Instant moment) {
            return moment.getEpochSecond();
        }
        String text = TextFunctions.text(new Object[] {value}, 0);
        try {
            return Long.valueOf(text.strip());
        } catch (NumberFormatException wrong) {
            throw new FailedException(Reasons.quote(text) + " is not a whole number");
        }
    }

    private static Object truth(Object value) throws FailedException {
        if (value instanceof Boolean) {
            return value;
        }
        String text = TextFunctions.text(new Object[] {value}, 0);
        if (!text.equals("true") && !text.equals("false")) {
            throw new FailedException(Reasons.quote(text) + " is neither true nor false");
        }
        return Boolean.valueOf(text);
    }
}
