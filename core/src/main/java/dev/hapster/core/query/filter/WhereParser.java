package dev.hapster.core.query.filter;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import dev.hapster.core.pattern.RegexSize;
import dev.hapster.core.query.filter.Condition.Empty;
import dev.hapster.core.query.filter.Condition.Span;
import dev.hapster.core.query.filter.Condition.Spans;
import dev.hapster.core.query.filter.Condition.Text;
import dev.hapster.core.query.filter.Condition.Values;
import dev.hapster.core.query.filter.Condition.Way;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.Period;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/**
 * Reads conditions as a person writes them, after the search conditions of SQL: {@code value >= 5}, {@code lab in
 * (North, East) and not remark ~ drought}, {@code sampled_at between 2026-03-01 and 2026-03-31}. Values need quotes
 * only where they have something in them that means something here. Described in docs/queries.md.
 */
public final class WhereParser {

    private static final String FORM =
            "Write COLUMN OPERATOR VALUE with one of = != < <= > >= ~ (holds the text), COLUMN in (VALUE, VALUE), "
                    + "COLUMN between VALUE and VALUE, COLUMN like PATTERN, COLUMN matches REGEX, COLUMN is empty, "
                    + "COLUMN is filled; join conditions with and, or, not and brackets";
    private static final int MOST_CHARACTERS = 100_000;
    private static final int MOST_CONDITIONS = 200;
    private static final String TOO_MANY = "There are more than " + MOST_CONDITIONS
            + " conditions; a list takes more values: COLUMN in (VALUE, VALUE)";
    private static final int MOST_VALUES = 10_000;
    private static final int DEEPEST = 50;

    private final String text;
    private final Fields fields;
    private int at;
    private int depth;
    private int conditions;
    private int values;

    private WhereParser(String text, Fields fields) {
        this.text = text;
        this.fields = fields;
    }

    /**
     * Reads conditions, all of which must hold.
     *
     * @throws QueryException where one cannot be understood, with what is wrong and where
     */
    public static Where parse(List<String> texts, Fields fields) throws QueryException {
        List<Where> all = new ArrayList<>();
        for (String text : texts) {
            all.add(parse(text, fields));
            if (all.stream().mapToLong(where -> where.conditions().count()).sum() > MOST_CONDITIONS) {
                throw new QueryException(TOO_MANY);
            }
        }
        return all.isEmpty() ? Where.always() : all.size() == 1 ? all.get(0) : new Where.All(all);
    }

    /**
     * Reads one text.
     *
     * @throws QueryException where it cannot be understood, with what is wrong and where
     */
    public static Where parse(String text, Fields fields) throws QueryException {
        if (text.length() > MOST_CHARACTERS) {
            throw new QueryException("A condition may have " + Reasons.grouped(MOST_CHARACTERS)
                    + " characters, and this one has " + Reasons.grouped(text.length()));
        }
        WhereParser parser = new WhereParser(text, fields);
        Where where = parser.either();
        if (!parser.atEnd()) {
            throw parser.wrong("there is a ) that closes nothing", "");
        }
        return where;
    }

    private Where either() throws QueryException {
        List<Where> of = new ArrayList<>(List.of(both()));
        while (takeWord("or")) {
            of.add(both());
        }
        return of.size() == 1 ? of.get(0) : new Where.Any(of);
    }

    private Where both() throws QueryException {
        List<Where> of = new ArrayList<>(List.of(single()));
        while (takeWord("and")) {
            of.add(single());
        }
        return of.size() == 1 ? of.get(0) : new Where.All(of);
    }

    private Where single() throws QueryException {
        if (++depth > DEEPEST) {
            throw wrong("brackets and not stand more than " + DEEPEST + " deep", "");
        }
        try {
            if (take("(")) {
                Where inside = either();
                if (!take(")")) {
                    throw wrong(atEnd() ? "a ) is missing" : "and, or or ) is missing", "");
                }
                return inside;
            }
            int before = at;
            if (takeWord("not") && !startsWithOperator()) {
                return single().negated();
            }
            at = before;
            return condition();
        } finally {
            depth--;
        }
    }

    private boolean startsWithOperator() {
        skip();
        return at < text.length() && "=!<>~".indexOf(text.charAt(at)) >= 0;
    }

    private Condition condition() throws QueryException {
        if (++conditions > MOST_CONDITIONS) {
            throw new QueryException(TOO_MANY);
        }
        skip();
        int begin = at;
        String name = word();
        if (name.isEmpty()) {
            throw wrong(atEnd() ? "a condition is missing" : "a column is missing", FORM);
        }
        Field field = column(name, begin);
        skip();
        int operator = at;
        boolean not = takeWord("not");
        if (takeWord("in")) {
            return new Condition(field, list(field), not);
        }
        if (takeWord("between")) {
            return new Condition(field, new Spans(List.of(between(field))), not);
        }
        if (takeWord("like")) {
            return new Condition(field, new Text(Way.LIKE, value(false)), not);
        }
        if (takeWord("matches")) {
            return new Condition(field, regex(), not);
        }
        at = operator;
        if (takeWord("is")) {
            return emptiness(field);
        }
        for (String sign : List.of("==", "<>", "!~")) {
            if (text.startsWith(sign, at)) {
                throw wrong(
                        sign + " is no operator",
                        sign.equals("==")
                                ? "Write ="
                                : sign.equals("<>") ? "Write !=" : "Write not " + name + " ~ TEXT");
            }
        }
        for (String sign : List.of("!=", "<=", ">=", "=", "<", ">", "~")) {
            if (take(sign)) {
                return sign.equals("~")
                        ? new Condition(field, new Text(Way.HOLDS, value(false)), false)
                        : comparison(field, sign);
            }
        }
        throw wrong("an operator is missing behind " + name, FORM);
    }

    private Field column(String name, int begin) throws QueryException {
        try {
            return fields.field(name);
        } catch (QueryException unknown) {
            boolean behindValue = text.substring(0, begin)
                    .stripTrailing()
                    .toLowerCase(Locale.ROOT)
                    .matches("(?s).*\\b(and|or)");
            throw behindValue
                    ? new QueryException(unknown.getMessage()
                            + ". Where 'and' or 'or' is part of a value, put the value in quotes: 'one and two'")
                    : unknown;
        }
    }

    private Condition emptiness(Field field) throws QueryException {
        boolean not = takeWord("not");
        if (takeWord("empty") || takeWord("null")) {
            return new Condition(field, new Empty(), not);
        }
        if (takeWord("filled")) {
            return new Condition(field, new Empty(), !not);
        }
        throw wrong(
                "empty or filled is missing behind is", "To compare with a value, write " + field.name() + " = VALUE");
    }

    private static Condition comparison(Field field, Period value, String sign) {
        Span span =
                switch (sign) {
                    case "<" -> new Span(null, false, value.from(), false);
                    case "<=" -> new Span(null, false, value.to(), value.isOne());
                    case ">" -> new Span(value.to(), !value.isOne(), null, false);
                    case ">=" -> new Span(value.from(), true, null, false);
                    default -> new Span(value.from(), true, value.to(), value.isOne());
                };
        return new Condition(field, new Spans(List.of(span)), sign.equals("!="));
    }

    private Condition comparison(Field field, String sign) throws QueryException {
        return comparison(field, Period.parse(field, value(false)), sign);
    }

    private Values list(Field field) throws QueryException {
        if (!take("(")) {
            throw wrong("a ( is missing behind in", "Write " + field.name() + " in (VALUE, VALUE)");
        }
        List<Span> spans = new ArrayList<>();
        do {
            if (++values > MOST_VALUES) {
                throw new QueryException("Lists in a condition may have " + Reasons.grouped(MOST_VALUES) + " values");
            }
            Period value = Period.parse(field, value(true));
            spans.add(new Span(value.from(), true, value.to(), value.isOne()));
        } while (take(","));
        if (!take(")")) {
            throw wrong("a ) is missing behind the list", "");
        }
        return new Spans(spans);
    }

    private Span between(Field field) throws QueryException {
        Period from = Period.parse(field, value(false));
        if (!takeWord("and")) {
            throw wrong("and is missing behind between", "Write " + field.name() + " between VALUE and VALUE");
        }
        Period to = Period.parse(field, value(false));
        return new Span(from.from(), true, to.to(), to.isOne());
    }

    private Values regex() throws QueryException {
        String regex = value(false);
        if (RegexSize.of(regex) > RegexSize.MOST) {
            throw new QueryException("The pattern " + Reasons.quote(regex) + " has more than "
                    + Reasons.grouped(RegexSize.MOST) + " steps, with all that it repeats");
        }
        try {
            Pattern unused = Pattern.compile(regex);
            return new Text(Way.MATCHES, regex);
        } catch (PatternSyntaxException wrong) {
            throw new QueryException(Reasons.quote(regex) + " is not a regular expression: " + wrong.getDescription());
        }
    }

    private void skip() {
        while (at < text.length() && Character.isWhitespace(text.charAt(at))) {
            at++;
        }
    }

    private boolean atEnd() {
        skip();
        return at >= text.length();
    }

    private boolean take(String sign) {
        skip();
        if (!text.startsWith(sign, at)) {
            return false;
        }
        at += sign.length();
        return true;
    }

    /** The letters, digits and underscores that follow. */
    private String word() {
        skip();
        int begin = at;
        while (at < text.length() && isOfWord(text.charAt(at))) {
            at++;
        }
        return text.substring(begin, at);
    }

    private static boolean isOfWord(char c) {
        return Character.isLetterOrDigit(c) || c == '_';
    }

    private boolean takeWord(String wanted) {
        skip();
        int before = at;
        if (word().equalsIgnoreCase(wanted)) {
            return true;
        }
        at = before;
        return false;
    }

    /** @param inList whether a comma ends it */
    private String value(boolean inList) throws QueryException {
        skip();
        if (at < text.length() && (text.charAt(at) == '\'' || text.charAt(at) == '"')) {
            return quoted(text.charAt(at));
        }
        int begin = at;
        int end = at;
        int open = 0;
        while (at < text.length()) {
            char c = text.charAt(at);
            if ((c == ')' && open == 0) || (c == ',' && inList)) {
                break;
            }
            if (Character.isWhitespace(c)) {
                at++;
                continue;
            }
            if (isOfWord(c) && (at == begin || !isOfWord(text.charAt(at - 1)))) {
                int word = at;
                String found = word();
                boolean alone = word == begin || Character.isWhitespace(text.charAt(word - 1));
                if (alone && (found.equalsIgnoreCase("and") || found.equalsIgnoreCase("or"))) {
                    at = word;
                    break;
                }
                end = at;
                continue;
            }
            if ("=<>".indexOf(c) >= 0 || text.startsWith("&&", at) || text.startsWith("||", at)) {
                throw wrong(
                        "there is a " + (c == '&' ? "&&" : c == '|' ? "||" : Character.toString(c)) + " in the value "
                                + Reasons.quote(text.substring(begin, end)),
                        "Join conditions with and or or; put a value that has = < > && or || in it in quotes");
            }
            open += c == '(' ? 1 : c == ')' ? -1 : 0;
            at++;
            end = at;
        }
        if (end == begin) {
            throw wrong("a value is missing", "An empty value is asked for with COLUMN is empty");
        }
        return text.substring(begin, end);
    }

    private String quoted(char quote) throws QueryException {
        int begin = at++;
        StringBuilder value = new StringBuilder();
        while (at < text.length()) {
            char c = text.charAt(at++);
            if (c != quote) {
                value.append(c);
            } else if (at < text.length() && text.charAt(at) == quote) {
                value.append(c);
                at++;
            } else {
                return value.toString();
            }
        }
        at = begin;
        throw wrong("the quote is not closed", "A quote inside of quotes is written twice");
    }

    private QueryException wrong(String what, String advice) {
        return new QueryException("In the condition " + Reasons.quote(text) + ", at character "
                + (Math.min(at, text.length()) + 1) + ": " + what + (advice.isEmpty() ? "" : ". " + advice));
    }
}
