package dev.hapster.core.read.parquet;

import dev.hapster.core.read.bytes.Utf8Check;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.row.RawBatch;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.UUID;
import org.apache.parquet.io.api.Binary;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DateLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.DecimalLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.IntLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimestampLogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.UUIDLogicalTypeAnnotation;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;

/**
 * The values of a Parquet column as texts in UTF-8: numbers with a decimal point, moments in ISO 8601, bytes that are
 * no text as hexadecimal digits after {@code 0x}. What the last one is, is told by {@link #kind}. Not thread-safe.
 */
final class ParquetTexts {

    private static final int JULIAN_EPOCH = 2_440_588;
    private static final long SECOND = 1_000_000_000L;
    private static final long DAY = 86_400 * SECOND;
    /** Nanoseconds by the unit that times are counted in. */
    private static final int[] FACTORS = {1_000_000, 1_000, 1};

    private static final int FRACTION_DIGITS = 9;
    /** Of {@code HH:mm:ss}. */
    private static final int TIME_LENGTH = 8;
    /** Bytes that a decimal may have. */
    private static final int MOST_DECIMAL_BYTES = 1_000;

    private final LogicalTypeAnnotation meaning;
    private final boolean isText;
    private final boolean isInt96;
    private final boolean isUnsigned;
    private byte kind;
    private long day = Long.MIN_VALUE;
    private byte[] date;

    ParquetTexts(PrimitiveType type) {
        meaning = type.getLogicalTypeAnnotation();
        isText = meaning != null || type.getPrimitiveTypeName() == PrimitiveTypeName.BINARY;
        isInt96 = type.getPrimitiveTypeName() == PrimitiveTypeName.INT96;
        isUnsigned = meaning instanceof IntLogicalTypeAnnotation whole && !whole.isSigned();
    }

    /** What the last value is, by a kind of {@link RawBatch}. */
    byte kind() {
        return kind;
    }

    void kind(byte of) {
        kind = of;
    }

    /** Bytes that a value may have. */
    int most() {
        return meaning instanceof DecimalLogicalTypeAnnotation ? MOST_DECIMAL_BYTES : DelimitedReader.MOST_RECORD_BYTES;
    }

    private byte[] ascii(byte what, String text) {
        kind = what;
        return text.getBytes(StandardCharsets.ISO_8859_1);
    }

    byte[] of(boolean value) {
        return ascii(RawBatch.TRUTH, String.valueOf(value));
    }

    byte[] of(float value) {
        return floating(value, Float.toString(value));
    }

    byte[] of(double value) {
        return floating(value, Double.toString(value));
    }

    private byte[] floating(double value, String text) {
        boolean number = !Double.isNaN(value) && !Double.isInfinite(value);
        return ascii(
                number ? RawBatch.BINARY : RawBatch.TEXT,
                !number
                        ? text
                        : value == Math.rint(value) && Math.abs(value) < 1e15
                                ? Long.toString((long) value)
                                : new BigDecimal(text).stripTrailingZeros().toPlainString());
    }

    byte[] of(int value) {
        return of(isUnsigned ? Integer.toUnsignedLong(value) : value);
    }

    byte[] of(long value) {
        if (meaning instanceof DateLogicalTypeAnnotation) {
            kind = RawBatch.MOMENT;
            return date(value);
        }
        if (meaning instanceof TimeLogicalTypeAnnotation time) {
            long nanos = Math.floorMod(value * FACTORS[time.getUnit().ordinal()], DAY);
            return time(new byte[0], nanos);
        }
        if (meaning instanceof TimestampLogicalTypeAnnotation stamp) {
            long factor = FACTORS[stamp.getUnit().ordinal()];
            long perDay = DAY / factor;
            return moment(Math.floorDiv(value, perDay), Math.floorMod(value, perDay) * factor);
        }
        if (meaning instanceof DecimalLogicalTypeAnnotation decimal) {
            return ascii(
                    RawBatch.NUMBER,
                    BigDecimal.valueOf(value, decimal.getScale()).toPlainString());
        }
        return ascii(RawBatch.NUMBER, isUnsigned ? Long.toUnsignedString(value) : Long.toString(value));
    }

    private byte[] moment(long epochDay, long nanos) {
        return time(date(epochDay), nanos);
    }

    private byte[] date(long epochDay) {
        if (day != epochDay || date == null) {
            date = LocalDate.ofEpochDay(epochDay).toString().getBytes(StandardCharsets.US_ASCII);
            day = epochDay;
        }
        return date;
    }

    /** Behind a date, if any, the hour, minute, second, and as many digits of a fraction as it needs. */
    private byte[] time(byte[] before, long nanos) {
        kind = RawBatch.MOMENT;
        int second = (int) (nanos / SECOND);
        int fraction = (int) (nanos % SECOND);
        int digits = fraction == 0 ? 0 : FRACTION_DIGITS;
        while (digits > 0 && fraction % 10 == 0) {
            fraction /= 10;
            digits--;
        }
        int start = before.length == 0 ? 0 : before.length + 1;
        byte[] text = Arrays.copyOf(before, start + TIME_LENGTH + (digits == 0 ? 0 : 1 + digits));
        if (start > 0) {
            text[start - 1] = 'T';
        }
        two(text, start, second / 3600);
        text[start + 2] = ':';
        two(text, start + 3, second / 60 % 60);
        text[start + 5] = ':';
        two(text, start + 6, second % 60);
        if (digits > 0) {
            text[start + TIME_LENGTH] = '.';
            for (int at = text.length - 1; at > start + TIME_LENGTH; at--) {
                text[at] = (byte) ('0' + fraction % 10);
                fraction /= 10;
            }
        }
        return text;
    }

    private static void two(byte[] to, int at, int number) {
        to[at] = (byte) ('0' + number / 10);
        to[at + 1] = (byte) ('0' + number % 10);
    }

    /** @param value of at most {@link #most} bytes */
    byte[] of(Binary value) {
        if (meaning instanceof DecimalLogicalTypeAnnotation decimal) {
            return ascii(
                    RawBatch.NUMBER,
                    new BigDecimal(new BigInteger(value.getBytes()), decimal.getScale()).toPlainString());
        }
        if (meaning instanceof UUIDLogicalTypeAnnotation) {
            ByteBuffer bytes = value.toByteBuffer();
            return ascii(RawBatch.TEXT, new UUID(bytes.getLong(), bytes.getLong()).toString());
        }
        if (isInt96) {
            ByteBuffer bytes = value.toByteBuffer().order(ByteOrder.LITTLE_ENDIAN);
            long nanos = bytes.getLong();
            if (nanos < 0 || nanos >= DAY) {
                throw new DateTimeException("a time of " + nanos + " nanoseconds after midnight");
            }
            return moment(bytes.getInt() - (long) JULIAN_EPOCH, nanos);
        }
        byte[] bytes = value.getBytes();
        if (isText && Utf8Check.wellFormedUntil(bytes, 0, bytes.length) == bytes.length) {
            kind = RawBatch.TEXT;
            return bytes;
        }
        return ascii(RawBatch.TEXT, "0x" + HexFormat.of().formatHex(bytes));
    }
}
