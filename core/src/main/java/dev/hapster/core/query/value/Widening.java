package dev.hapster.core.query.value;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.pattern.DatePattern;
import dev.hapster.core.row.Vector;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.Optional;
import org.apache.parquet.schema.LogicalTypeAnnotation.DateLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.StringLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.PrimitiveType;

/**
 * How values that were stored as one type become those of a wider one, without their files being read again: integers
 * become decimals that hold every one of them, doubles (exact up to 2^53, nearest beyond, as IEEE 754 has it) or texts,
 * decimals such with more digits, dates timestamps.
 *
 * @param power decimal places to add, where the step is {@link Step#SCALE}
 */
public record Widening(Step step, int power) {

    /** What is done with each value. */
    public enum Step {
        NONE,
        /** Multiplied by a power of ten. */
        SCALE,
        /** Days become microseconds. */
        DAYS,
        /** Integers are written with decimal digits. */
        TEXT,
        DOUBLE
    }

    public static final Widening NONE = new Widening(Step.NONE, 0);
    /** Digits that a 64-bit integer can have. */
    private static final int LONG_DIGITS = 19;

    private static final int BATCH = 8192;
    private static final int WIDE = 16;

    /**
     * Whether rows stored as {@code stored} can be read as {@code now}; wider decimals of more than 18 digits to begin
     * with are read as they are only.
     */
    public static boolean possible(ColumnType stored, ColumnType now) {
        return between(stored, now).isPresent();
    }

    /** What to declare instead, where that would do. */
    public static String hint(ColumnType stored, ColumnType now) {
        int scale = now.scale();
        return stored.kind() == Kind.INTEGER
                        && now.kind() == Kind.DECIMAL
                        && LONG_DIGITS + scale <= ColumnType.MOST_DIGITS
                ? ", or declare decimal(" + (LONG_DIGITS + scale) + "," + scale + "), which holds every integer"
                : "";
    }

    private static Optional<Widening> between(ColumnType stored, ColumnType now) {
        if (stored.equals(now)) {
            return Optional.of(NONE);
        }
        if (stored.kind() == Kind.DATE && now.kind() == Kind.TIMESTAMP) {
            return Optional.of(new Widening(Step.DAYS, 0));
        }
        if (stored.kind() == Kind.INTEGER && now.kind() == Kind.TEXT) {
            return Optional.of(new Widening(Step.TEXT, 0));
        }
        if (stored.kind() == Kind.INTEGER && now.kind() == Kind.DOUBLE) {
            return Optional.of(new Widening(Step.DOUBLE, 0));
        }
        if (now.kind() != Kind.DECIMAL || stored.isWideDecimal()) {
            return Optional.empty();
        }
        int whole = now.precision() - now.scale();
        if (stored.kind() == Kind.INTEGER && whole >= LONG_DIGITS) {
            return Optional.of(new Widening(Step.SCALE, now.scale()));
        }
        boolean fits = stored.kind() == Kind.DECIMAL
                && now.scale() >= stored.scale()
                && whole >= stored.precision() - stored.scale();
        return fits ? Optional.of(new Widening(Step.SCALE, now.scale() - stored.scale())) : Optional.empty();
    }

    public static Widening of(PrimitiveType stored, Field field, Path path) throws StoredOtherwiseException {
        if (field.name().startsWith("_")) {
            return NONE;
        }
        ColumnType was = type(stored);
        return between(was, field.type())
                .orElseThrow(() -> new StoredOtherwiseException("The part " + path.getFileName() + " holds "
                        + stored.getName() + " as " + was + ", and " + field.name() + " is " + field.type()
                        + " now. Load its file anew (hapster run JOB --again --all), or set the type back"));
    }

    private static ColumnType type(PrimitiveType stored) {
        if (stored.getLogicalTypeAnnotation() instanceof DecimalLogicalTypeAnnotation decimal) {
            return new ColumnType(Kind.DECIMAL, decimal.getPrecision(), decimal.getScale());
        }
        return ColumnType.of(
                stored.getLogicalTypeAnnotation() instanceof StringLogicalTypeAnnotation
                        ? Kind.TEXT
                        : stored.getLogicalTypeAnnotation() instanceof DateLogicalTypeAnnotation
                                ? Kind.DATE
                                : stored.getLogicalTypeAnnotation() instanceof TimeLogicalTypeAnnotation
                                        ? Kind.TIME
                                        : stored.getLogicalTypeAnnotation() instanceof TimestampLogicalTypeAnnotation
                                                ? Kind.TIMESTAMP
                                                : switch (stored.getPrimitiveTypeName()) {
                                                    case DOUBLE -> Kind.DOUBLE;
                                                    case BOOLEAN -> Kind.BOOLEAN;
                                                    default -> Kind.INTEGER;
                                                });
    }

    /** A vector for the values of a column. */
    public Vector target(Field field) {
        return switch (field.type().kind()) {
            case TEXT -> new Vector.Bytes(BATCH);
            case DOUBLE -> new Vector.Doubles(BATCH);
            case DECIMAL -> field.type().isWideDecimal() ? new Vector.Bytes(BATCH) : new Vector.Longs(BATCH);
            default -> new Vector.Longs(BATCH);
        };
    }

    /**
     * Fills a vector with the widened values of another.
     *
     * @param to as {@link #target} gave it
     */
    public void widen(Vector.Longs from, Vector to, int rows) {
        BigInteger factor = BigInteger.TEN.pow(power);
        for (int row = 0; row < rows; row++) {
            to.empty[row] = from.empty[row];
            if (!from.empty[row]) {
                widen(from.values[row], to, row, factor);
            }
        }
    }

    private void widen(long value, Vector to, int row, BigInteger factor) {
        if (step == Step.TEXT) {
            byte[] digits = Long.toString(value).getBytes(StandardCharsets.US_ASCII);
            ((Vector.Bytes) to).set(row, digits, 0, digits.length);
        } else if (step == Step.DOUBLE) {
            ((Vector.Doubles) to).values[row] = value;
        } else if (to instanceof Vector.Bytes bytes) {
            bytes.set(row, sixteen(BigInteger.valueOf(value).multiply(factor)), 0, WIDE);
        } else {
            ((Vector.Longs) to).values[row] =
                    value * (step == Step.DAYS ? DatePattern.MICROS_PER_DAY : factor.longValueExact());
        }
    }

    private static byte[] sixteen(BigInteger value) {
        byte[] plain = value.toByteArray();
        byte[] all = new byte[WIDE];
        Arrays.fill(all, (byte) (value.signum() < 0 ? -1 : 0));
        System.arraycopy(plain, 0, all, WIDE - plain.length, plain.length);
        return all;
    }

    /** Gives every row what a column has of which a part knows nothing. */
    public static void fallback(Field field, Vector vector, int rows) {
        if (field.fallback().isEmpty()) {
            Arrays.fill(vector.empty, 0, rows, true);
            return;
        }
        Comparable<?> value;
        try {
            value = field.parse(field.fallback().get());
        } catch (QueryException impossible) {
            throw new IllegalStateException("The definition lets no unsuitable default pass", impossible);
        }
        if (vector instanceof Vector.Bytes bytes) {
            byte[] content = bytes(value, field.type());
            bytes.set(0, content, 0, content.length);
            for (int row = 1; row < rows; row++) {
                bytes.same(row, 0);
            }
        } else if (vector instanceof Vector.Doubles doubles) {
            Arrays.fill(doubles.values, 0, rows, (Double) value);
        } else {
            Arrays.fill(((Vector.Longs) vector).values, 0, rows, plain(value, field.type()));
        }
    }

    /** A value as it is stored in a column of bytes: a decimal in 16 bytes, its highest first, a text in UTF-8. */
    public static byte[] bytes(Comparable<?> value, ColumnType type) {
        return value instanceof BigDecimal decimal
                ? sixteen(decimal.setScale(type.scale()).unscaledValue())
                : value.toString().getBytes(StandardCharsets.UTF_8);
    }

    /**
     * A value as it is stored in a column of whole numbers: a decimal by its unscaled value, a day by days, a time by
     * microseconds.
     */
    public static long plain(Comparable<?> value, ColumnType type) {
        if (value instanceof BigDecimal decimal) {
            return decimal.setScale(type.scale()).unscaledValue().longValueExact();
        }
        if (value instanceof Boolean truth) {
            return truth ? 1 : 0;
        }
        if (value instanceof LocalDate date) {
            return date.toEpochDay();
        }
        if (value instanceof LocalTime time) {
            return time.toNanoOfDay() / 1000;
        }
        if (value instanceof LocalDateTime moment) {
            return moment.toEpochSecond(ZoneOffset.UTC) * 1_000_000 + moment.getNano() / 1000;
        }
        if (value instanceof Instant moment) {
            return moment.getEpochSecond() * 1_000_000 + moment.getNano() / 1000;
        }
        return (Long) value;
    }
}
