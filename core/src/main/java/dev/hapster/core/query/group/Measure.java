package dev.hapster.core.query.group;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What is found out of the values of one column in each group, as {@code mean(value)} writes it. Empty values are left
 * out, as SQL leaves them out.
 */
public record Measure(Way way, Field field) {

    /** How values are put together. */
    public enum Way {
        /** How many there are. */
        COUNT,
        /** Of numbers, exactly; of doubles as near as a double comes to it. Nothing where there are no values. */
        SUM,
        /** The sum through the count: of exact numbers with four decimals more than the column has, half up. */
        MEAN,
        MIN,
        MAX;

        /** As people write it. */
        String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    private static final Pattern FORM = Pattern.compile("\\s*(\\w+)\\s*\\(\\s*(\\w+)\\s*\\)\\s*");

    /**
     * Reads {@code sum(value)}.
     *
     * @throws QueryException where it is none, or its column has no numbers to be added
     */
    public static Measure parse(String text, Fields fields) throws QueryException {
        Matcher matcher = FORM.matcher(text);
        Optional<Way> way = matcher.matches()
                ? Arrays.stream(Way.values())
                        .filter(one -> one.word().equalsIgnoreCase(matcher.group(1)))
                        .findFirst()
                : Optional.empty();
        if (way.isEmpty()) {
            throw new QueryException(
                    "'" + text + "' cannot be worked out. Write sum(COLUMN), mean(COLUMN), min(COLUMN), "
                            + "max(COLUMN) or count(COLUMN)");
        }
        Field field = fields.field(matcher.group(2));
        Kind kind = field.type().kind();
        boolean numbers = List.of(Kind.INTEGER, Kind.DECIMAL, Kind.DOUBLE).contains(kind);
        if (!numbers && (way.get() == Way.SUM || way.get() == Way.MEAN)) {
            throw new QueryException(
                    "There is no " + way.get().word() + " of " + field.name() + ": its values are of type "
                            + field.type() + ", and " + way.get().word() + " takes numbers");
        }
        return new Measure(way.get(), field);
    }

    /** Its name: {@code mean(value)}. */
    public String name() {
        return way.word() + "(" + field.name() + ")";
    }
}
