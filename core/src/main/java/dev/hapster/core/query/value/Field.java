package dev.hapster.core.query.value;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import dev.hapster.core.store.PartSchema;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/**
 * A column that can be asked for: a declared one, or one that says where a row comes from. Parts that were written
 * before the column had its name are asked for the names that it {@code was} called by; those that have none of them,
 * for the {@code fallback}.
 *
 * <p>Values are {@code String}, {@code Long}, {@code BigDecimal}, {@code Double}, {@code Boolean}, {@code LocalDate},
 * {@code LocalTime}, {@code LocalDateTime} (declared timestamps) or {@code Instant} (the time of loading).
 */
public record Field(String name, ColumnType type, List<String> was, Optional<String> fallback) {

    /** Digits that a number may have that values are compared with. */
    private static final int MOST_DIGITS = 1_000;

    public Field {
        was = List.copyOf(was);
    }

    /** A column that was never called otherwise. */
    public Field(String name, ColumnType type) {
        this(name, type, List.of(), Optional.empty());
    }

    /** A declared column. */
    public static Field of(ColumnDef column) {
        return new Field(column.name(), column.type(), column.was(), column.fallback());
    }

    /** Whether its values are moments of the world's time. */
    public boolean isInstant() {
        return name.equals(PartSchema.LOADED_AT);
    }

    /** The value of a row as an object; null where it is empty. */
    public Comparable<?> value(Vector vector, int row) {
        if (vector.empty[row]) {
            return null;
        }
        if (vector instanceof Vector.Doubles doubles) {
            return doubles.values[row];
        }
        if (vector instanceof Vector.Bytes bytes) {
            int from = bytes.from[row];
            return type.kind() == Kind.TEXT
                    ? new String(bytes.data, from, bytes.length[row], StandardCharsets.UTF_8)
                    : new BigDecimal(
                            new BigInteger(Arrays.copyOfRange(bytes.data, from, from + bytes.length[row])),
                            type.scale());
        }
        return ofLong(((Vector.Longs) vector).values[row]);
    }

    /** The value that is stored as a whole number. */
    public Comparable<?> ofLong(long value) {
        return switch (type.kind()) {
            case DECIMAL -> BigDecimal.valueOf(value, type.scale());
            case BOOLEAN -> value != 0;
            case DATE -> LocalDate.ofEpochDay(value);
            case TIME -> LocalTime.ofNanoOfDay(value * 1000);
            case TIMESTAMP -> isInstant() ? instant(value) : dateTime(value);
            default -> value;
        };
    }

    private static LocalDateTime dateTime(long micros) {
        return LocalDateTime.ofEpochSecond(
                Math.floorDiv(micros, 1_000_000L), (int) Math.floorMod(micros, 1_000_000L) * 1000, ZoneOffset.UTC);
    }

    private static Instant instant(long micros) {
        return Instant.ofEpochSecond(Math.floorDiv(micros, 1_000_000L), Math.floorMod(micros, 1_000_000L) * 1000);
    }

    /** Reads a value as a person writes it in a condition. */
    public Comparable<?> parse(String text) throws QueryException {
        try {
            switch (type.kind()) {
                case INTEGER -> {
                    return Long.valueOf(text);
                }
                case DECIMAL -> {
                    BigDecimal number = new BigDecimal(text);
                    if (Math.abs((long) number.scale()) > MOST_DIGITS || text.length() > MOST_DIGITS) {
                        throw isNot(text);
                    }
                    return number;
                }
                case DOUBLE -> {
                    return Double.valueOf(text);
                }
                case BOOLEAN -> {
                    if (text.equals("true") || text.equals("false")) {
                        return Boolean.valueOf(text);
                    }
                }
                case DATE, TIME, TIMESTAMP -> {
                    long micros = DatePattern.ISO.parse(text);
                    if (micros > DatePattern.NO_SUCH_DAY) {
                        return type.kind() == Kind.DATE
                                ? LocalDate.ofEpochDay(Math.floorDiv(micros, DatePattern.MICROS_PER_DAY))
                                : type.kind() == Kind.TIME
                                        ? LocalTime.ofNanoOfDay(
                                                Math.floorMod(micros, DatePattern.MICROS_PER_DAY) * 1000)
                                        : isInstant() ? instant(micros) : dateTime(micros);
                    }
                }
                default -> {
                    return text;
                }
            }
        } catch (NumberFormatException wrong) {
            // said below, in the same words
        }
        throw isNot(text);
    }

    /** The error for a text that cannot be a value of this column. */
    QueryException isNot(String text) {
        return new QueryException(Reasons.quote(text) + " is not a valid " + type + ", and " + name + " is one"
                + (type.isTemporal() ? "; write it as ISO 8601, such as 2026-01-31" : ""));
    }
}
