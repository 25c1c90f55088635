package dev.hapster.core.query.filter;

import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.QueryException;
import java.math.BigDecimal;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * One condition on the rows of a dataset, as a person writes it: {@code value >= 5}, {@code lab = North}, {@code _file
 * ~ 2026-03}, {@code value is empty}. An empty value satisfies {@code is empty} and {@code !=} only.
 *
 * @param value the value compared with; null for {@code is empty} and {@code is filled}
 */
public record Condition(Field field, Operator operator, Comparable<?> value) {

    /** How a value is compared. */
    public enum Operator {
        IS,
        IS_NOT,
        UNDER,
        AT_MOST,
        OVER,
        AT_LEAST,
        HOLDS,
        EMPTY,
        FILLED
    }

    private static final Pattern COMPARISON =
            Pattern.compile("\\s*(\\w+)\\s*(!=|<=|>=|=|<|>|~)\\s*(.*?)\\s*", Pattern.DOTALL);
    private static final Pattern EMPTINESS = Pattern.compile("\\s*(\\w+)\\s+is\\s+(empty|filled)\\s*");
    private static final String FORM =
            "Write COLUMN OPERATOR VALUE with one of = != < <= > >= ~ (holds the text), or COLUMN is empty, "
                    + "COLUMN is filled";

    /** Reads a condition as a person writes it. */
    public static Condition parse(String text, Fields fields) throws QueryException {
        Matcher emptiness = EMPTINESS.matcher(text);
        if (emptiness.matches()) {
            return new Condition(
                    fields.field(emptiness.group(1)),
                    emptiness.group(2).equals("empty") ? Operator.EMPTY : Operator.FILLED,
                    null);
        }
        Matcher comparison = COMPARISON.matcher(text);
        if (!comparison.matches()) {
            throw new QueryException("'" + text + "' is not a condition. " + FORM);
        }
        Field field = fields.field(comparison.group(1));
        String written = comparison.group(3);
        boolean quoted = written.length() >= 2
                && written.charAt(0) == written.charAt(written.length() - 1)
                && (written.charAt(0) == '"' || written.charAt(0) == '\'');
        String value = quoted ? written.substring(1, written.length() - 1) : written;
        Operator operator =
                switch (comparison.group(2)) {
                    case "=" -> Operator.IS;
                    case "!=" -> Operator.IS_NOT;
                    case "<" -> Operator.UNDER;
                    case "<=" -> Operator.AT_MOST;
                    case ">" -> Operator.OVER;
                    case ">=" -> Operator.AT_LEAST;
                    default -> Operator.HOLDS;
                };
        return new Condition(
                field, operator, operator == Operator.HOLDS ? value.toLowerCase(Locale.ROOT) : field.parse(value));
    }

    /** Whether it holds for a value, which is null where the row is empty. */
    public boolean test(Comparable<?> found) {
        if (operator == Operator.EMPTY || operator == Operator.FILLED) {
            return (found == null) == (operator == Operator.EMPTY);
        }
        if (found == null) {
            return operator == Operator.IS_NOT;
        }
        if (operator == Operator.HOLDS) {
            String text = found instanceof BigDecimal number ? number.toPlainString() : found.toString();
            return text.toLowerCase(Locale.ROOT).contains((String) value);
        }
        int order = Ordering.compare(found, value);
        return switch (operator) {
            case IS -> order == 0;
            case IS_NOT -> order != 0;
            case UNDER -> order < 0;
            case AT_MOST -> order <= 0;
            case OVER -> order > 0;
            default -> order >= 0;
        };
    }
}
