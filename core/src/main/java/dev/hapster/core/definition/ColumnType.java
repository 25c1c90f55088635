package dev.hapster.core.definition;

import java.util.Arrays;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;

/**
 * A declared column type.
 *
 * @param precision all digits of a decimal, 1 to 38; 0 for other kinds
 * @param scale digits behind the decimal point, 0 to precision
 */
public record ColumnType(Kind kind, int precision, int scale) {

    /** The kinds of type, named as they are written. */
    public enum Kind {
        TEXT("UTF-8", "STRING"),
        INTEGER("whole numbers of 64 bits", "INT64"),
        DECIMAL("p digits (up to 38), s of them behind the point", "DECIMAL"),
        DOUBLE("IEEE 754", "DOUBLE"),
        BOOLEAN("true, false", "BOOLEAN"),
        DATE("a day", "DATE"),
        TIME("a time of day, to the microsecond", "TIME"),
        TIMESTAMP(
                "a day and time without zone, to the microsecond; a value with an offset is turned into UTC",
                "TIMESTAMP");

        private final String holds;
        private final String inParquet;

        Kind(String holds, String inParquet) {
            this.holds = holds;
            this.inParquet = inParquet;
        }

        /** What its values are, for documents. */
        public String holds() {
            return holds;
        }

        /** Its logical type in Parquet. */
        public String inParquet() {
            return inParquet;
        }

        /** As a file says it, with what stands in brackets. */
        public String form() {
            return this == DECIMAL ? "decimal(p,s)" : word();
        }

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT);
        }
    }

    /** Most digits of a decimal. */
    public static final int MOST_DIGITS = 38;

    /** All of them, as files say them. */
    public static final String WORDS =
            Arrays.stream(Kind.values()).map(Kind::form).collect(Collectors.joining(", "));

    private static final Pattern DECIMAL = Pattern.compile("decimal\\(\\s*(\\d{1,3})\\s*(?:,\\s*(\\d{1,3})\\s*)?\\)");

    /** A type without length or digits; not for decimals. */
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

    /** Whether it can be added up. */
    public boolean isNumber() {
        return kind == Kind.INTEGER || kind == Kind.DECIMAL || kind == Kind.DOUBLE;
    }

    /** Whether it is a day, a time of the day, or both. */
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
