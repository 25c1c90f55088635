package dev.hapster.core.definition;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A declared column type.
 *
 * @param precision all digits of a decimal, 1 to 38; 0 for other kinds
 * @param scale digits behind the decimal point, 0 to precision
 */
public record ColumnType(Kind kind, int precision, int scale) {

    /** The kinds of type, named as they are written. */
    public enum Kind {
        TEXT,
        INTEGER,
        DECIMAL,
        DOUBLE,
        BOOLEAN,
        DATE,
        TIME,
        TIMESTAMP;

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** Most digits of a decimal. */
    public static final int MOST_DIGITS = 38;

    public static final String WORDS = "text, integer, decimal(p,s), double, boolean, date, time, timestamp";
    private static final Pattern DECIMAL = Pattern.compile("decimal\\(\\s*(\\d{1,3})\\s*(?:,\\s*(\\d{1,3})\\s*)?\\)");

    public static ColumnType of(Kind kind) {
        return new ColumnType(kind, 0, 0);
    }

    /** Reads a type as it is written, for example {@code decimal(12,4)}; empty where it is none. */
    public static Optional<ColumnType> parse(String text) {
        Matcher decimal = DECIMAL.matcher(text);
        if (decimal.matches()) {
            int precision = Integer.parseInt(decimal.group(1));
            int scale = decimal.group(2) == null ? 0 : Integer.parseInt(decimal.group(2));
            return precision >= 1 && precision <= MOST_DIGITS && scale <= precision
                    ? Optional.of(new ColumnType(Kind.DECIMAL, precision, scale))
                    : Optional.empty();
        }
        for (Kind kind : Kind.values()) {
            if (kind != Kind.DECIMAL && kind.word().equals(text)) {
                return Optional.of(of(kind));
            }
        }
        return Optional.empty();
    }

    public boolean isNumber() {
        return kind == Kind.INTEGER || kind == Kind.DECIMAL || kind == Kind.DOUBLE;
    }

    public boolean isTemporal() {
        return kind == Kind.DATE || kind == Kind.TIME || kind == Kind.TIMESTAMP;
    }

    /** Whether a decimal needs more than the 18 digits that a long holds. */
    public boolean isWideDecimal() {
        return kind == Kind.DECIMAL && precision > 18;
    }

    @Override
    public String toString() {
        return kind == Kind.DECIMAL ? "decimal(" + precision + "," + scale + ")" : kind.word();
    }
}
