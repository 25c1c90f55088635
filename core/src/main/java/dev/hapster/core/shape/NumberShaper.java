package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.shape.NumberReader.Outcome;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.util.List;
import java.util.Map;

/** Integers, decimals and doubles. No digit is cut off: what the type cannot keep is rejected. */
final class NumberShaper extends ColumnShaper {

    private static final Map<Character, String> LIMITS =
            Map.of('<', "less than", '>', "more than", '\u2264', "at most", '\u2265', "at least");

    private static final int WIDE_BYTES = 16;

    /** Digits that any long holds. */
    private static final int LONG_DIGITS = 18;

    private final NumberReader reader;
    private final NumberReader plain = new NumberReader('.', '\0');
    private final Vector vector;
    private final int precision;
    private final int scale;
    private final char decimal;
    private final boolean hasThousands;
    /** The bounds in the vector's own unit; null where there is none. */
    private final BigInteger min;

    private final BigInteger max;
    private final long minLong;
    private final long maxLong;
    private final double minDouble;
    private final double maxDouble;
    /** What a calculated number must lie between, in the vector's own unit. */
    private final BigDecimal least;

    private final BigDecimal most;
    private final byte[] wide = new byte[WIDE_BYTES];

    NumberShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        super(column, source, emptyAs);
        decimal = source.decimal();
        hasThousands = source.thousands().isPresent();
        reader = new NumberReader(decimal, source.thousands().orElse('\0'));
        boolean integer = column.type().kind() == Kind.INTEGER;
        precision = integer ? 19 : column.type().precision();
        scale = column.type().scale();
        vector = column.type().kind() == Kind.DOUBLE
                ? new Vector.Doubles(0)
                : column.type().isWideDecimal() ? new Vector.Bytes(0) : new Vector.Longs(0);
        most = BigDecimal.ONE
                .scaleByPowerOfTen(Math.min(precision, LONG_DIGITS))
                .setScale(0);
        least = most.negate();
        // A bound that lies between two values that the column can keep is moved inwards: it then lets pass the same
        // values.
        min = column.min().map(text -> unscaled(text, RoundingMode.CEILING)).orElse(null);
        max = column.max().map(text -> unscaled(text, RoundingMode.FLOOR)).orElse(null);
        minLong = min == null || min.bitLength() > 63 ? Long.MIN_VALUE : min.longValue();
        maxLong = max == null || max.bitLength() > 63 ? Long.MAX_VALUE : max.longValue();
        minDouble = column.min().map(Double::parseDouble).orElse(Double.NEGATIVE_INFINITY);
        maxDouble = column.max().map(Double::parseDouble).orElse(Double.POSITIVE_INFINITY);
    }

    private BigInteger unscaled(String bound, RoundingMode mode) {
        return new BigDecimal(bound).setScale(scale, mode).unscaledValue();
    }

    @Override
    Vector vector() {
        return vector;
    }

    /** As in every shaper of which files are full, a loop of its own: so the machine puts the conversion into it. */
    @Override
    void shape(RawBatch batch, int field, Faults faults) {
        if (!isPlain(batch)) {
            super.shape(batch, field, faults);
            return;
        }
        vector.reset(batch.rows);
        int width = batch.width;
        byte[] bytes = batch.bytes;
        int[] starts = batch.from;
        int[] ends = batch.to;
        int[] fields = batch.fields;
        for (int row = 0, at = field; row < batch.rows; row++, at += width) {
            int from = starts[at];
            int to = ends[at];
            if (fields[row] != width || from == to || bytes[from] <= ' ' || bytes[to - 1] <= ' ') {
                one(batch, row, field, vector, faults);
                continue;
            }
            Reason reason = put(row, bytes, from, to);
            if (reason != null) {
                refuse(batch, row, field, reason, vector, faults);
            }
        }
    }

    @Override
    Reason put(int row, byte[] bytes, int from, int to) {
        return put(row, reader, bytes, from, to);
    }

    @Override
    Reason put(int row, byte kind, byte[] bytes, int from, int to) {
        return put(row, kind == RawBatch.NUMBER || kind == RawBatch.BINARY ? plain : reader, bytes, from, to);
    }

    /** Most calculated numbers fit as they are; all others take the way over their text, which says what is wrong. */
    @Override
    Reason put(int row, Object value) {
        if (vector instanceof Vector.Longs longs && (value instanceof Long || value instanceof BigDecimal)) {
            BigDecimal exact = value instanceof Long whole ? BigDecimal.valueOf(whole) : (BigDecimal) value;
            if (exact.scale() <= scale && exact.scale() > -LONG_DIGITS) {
                BigDecimal scaled = exact.setScale(scale).scaleByPowerOfTen(scale);
                long unscaled = scaled.longValue();
                if (scaled.compareTo(most) < 0
                        && scaled.compareTo(least) > 0
                        && unscaled >= minLong
                        && unscaled <= maxLong) {
                    longs.values[row] = unscaled;
                    return null;
                }
            }
        } else if (vector instanceof Vector.Doubles doubles && value instanceof Number number) {
            double floating = number.doubleValue();
            if (Double.isFinite(floating) && floating != 0 && floating >= minDouble && floating <= maxDouble) {
                doubles.values[row] = floating;
                return null;
            }
        }
        return super.put(row, value);
    }

    private Reason put(int row, NumberReader reader, byte[] bytes, int from, int to) {
        Outcome outcome;
        int side = 0;
        if (vector instanceof Vector.Longs longs) {
            outcome = reader.fixed(bytes, from, to, precision, scale);
            longs.values[row] = reader.value;
            side = reader.value < minLong ? -1 : reader.value > maxLong ? 1 : 0;
        } else if (vector instanceof Vector.Doubles doubles) {
            outcome = reader.floating(bytes, from, to);
            doubles.values[row] = reader.floating;
            side = reader.floating < minDouble ? -1 : reader.floating > maxDouble ? 1 : 0;
        } else {
            outcome = reader.wide(bytes, from, to, precision, scale);
            if (outcome == Outcome.READ) {
                side = min != null && reader.wide.compareTo(min) < 0
                        ? -1
                        : max != null && reader.wide.compareTo(max) > 0 ? 1 : 0;
                ((Vector.Bytes) vector).set(row, wideBytes(reader.wide), 0, WIDE_BYTES);
            }
        }
        if (outcome == Outcome.READ && side == 0) {
            return null;
        }
        return refusal(outcome, side, text(bytes, from, to));
    }

    private byte[] wideBytes(BigInteger number) {
        byte[] least = number.toByteArray();
        java.util.Arrays.fill(wide, 0, WIDE_BYTES - least.length, (byte) (number.signum() < 0 ? -1 : 0));
        System.arraycopy(least, 0, wide, WIDE_BYTES - least.length, least.length);
        return wide;
    }

    private Reason refusal(Outcome outcome, int side, String value) {
        return switch (outcome) {
            case READ ->
                side < 0
                        ? Reasons.belowMinimum(value, column.min().orElseThrow())
                        : Reasons.aboveMaximum(value, column.max().orElseThrow());
            case TOO_LARGE -> Reasons.numberTooLarge(value, column.type().toString());
            case TOO_FINE -> Reasons.numberTooFine(value, column.type().toString(), scale);
            case UNREADABLE -> Reasons.numberUnreadable(value, hint(value));
        };
    }

    @Override
    List<Reason> others(String value, Reason first) {
        if (first.code() != ReasonCode.NUMBER_TOO_FINE) {
            return List.of();
        }
        byte[] bytes = Cleaner.utf8(value);
        if (reader.floating(bytes, 0, bytes.length) != Outcome.READ) {
            return List.of();
        }
        return reader.floating < minDouble
                ? List.of(Reasons.belowMinimum(value, column.min().orElseThrow()))
                : reader.floating > maxDouble
                        ? List.of(Reasons.aboveMaximum(value, column.max().orElseThrow()))
                        : List.of();
    }

    private String hint(String value) {
        if (!value.isEmpty() && LIMITS.containsKey(value.charAt(0))) {
            return "it is a limit (\"" + LIMITS.get(value.charAt(0)) + " "
                    + value.substring(1).strip() + "\")";
        }
        if (decimal == '.' && value.matches("[+-]?\\d+,\\d+")) {
            return "it has a decimal comma, and the job expects a decimal point";
        }
        if (decimal == ',' && value.matches("[+-]?\\d+\\.\\d+")) {
            return "it has a decimal point, and the job expects a decimal comma";
        }
        boolean grouped = value.matches("[+-]?\\d{1,3}([., '\u00a0\u202f\u2019_]\\d{3})+([.,]\\d+)?");
        return grouped && !hasThousands ? "it looks like marks between thousands" : "";
    }
}
