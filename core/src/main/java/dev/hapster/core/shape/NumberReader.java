package dev.hapster.core.shape;

import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;

/**
 * Reads decimal numbers from bytes: an optional sign, digits with or without marks between groups of three, an optional
 * fraction, an optional exponent. Groups must be whole: {@code 12.34} is not a number where the point marks thousands.
 * Not thread-safe.
 */
final class NumberReader {

    /** How reading ended. */
    enum Outcome {
        READ,
        UNREADABLE,
        TOO_LARGE,
        TOO_FINE
    }

    private static final int LONGEST = 400;

    private final byte decimal;
    private final byte[] thousands;
    private final byte[] squeezed = new byte[LONGEST];

    /** The digits as one number, without regard to the decimal mark. Valid where {@link #digits} is at most 18. */
    private long mantissa;

    private int digits;
    private int fraction;
    private boolean negative;
    private boolean exponent;

    long value;
    BigInteger wide;
    double floating;

    NumberReader(char decimal, char thousands) {
        this.decimal = (byte) decimal;
        this.thousands =
                thousands == 0 ? new byte[0] : String.valueOf(thousands).getBytes(StandardCharsets.UTF_8);
    }

    /** Reads into {@link #value}: the number times 10 to the {@code scale}. Zeros beyond the scale are no loss. */
    Outcome fixed(byte[] bytes, int from, int to, int precision, int scale) {
        if (!quick(bytes, from, to) && !scan(bytes, from, to)) {
            return Outcome.UNREADABLE;
        }
        if (exponent || digits > 18) {
            Outcome outcome = wide(precision, scale);
            if (outcome == Outcome.READ) {
                if (wide.bitLength() > 63) {
                    return Outcome.TOO_LARGE;
                }
                value = wide.longValue();
            }
            return outcome;
        }
        long unscaled = mantissa;
        int have = fraction;
        while (have > scale) {
            if (unscaled % 10 != 0) {
                return Outcome.TOO_FINE;
            }
            unscaled /= 10;
            have--;
        }
        if (have < scale) {
            int shift = scale - have;
            if (shift > 18 || unscaled > Long.MAX_VALUE / POWERS[shift]) {
                return unscaled == 0 ? zero() : Outcome.TOO_LARGE;
            }
            unscaled *= POWERS[shift];
        }
        if (precision < 19 && unscaled >= POWERS[precision]) {
            return Outcome.TOO_LARGE;
        }
        value = negative ? -unscaled : unscaled;
        return Outcome.READ;
    }

    private Outcome zero() {
        value = 0;
        return Outcome.READ;
    }

    /** Reads into {@link #wide}, for any precision. */
    Outcome wide(byte[] bytes, int from, int to, int precision, int scale) {
        return scan(bytes, from, to) ? wide(precision, scale) : Outcome.UNREADABLE;
    }

    private Outcome wide(int precision, int scale) {
        BigDecimal number;
        try {
            number = new BigDecimal(new String(squeezed, 0, squeezedLength, StandardCharsets.US_ASCII))
                    .stripTrailingZeros();
        } catch (NumberFormatException | ArithmeticException wrong) {
            return Outcome.UNREADABLE;
        }
        if (number.signum() == 0) {
            wide = BigInteger.ZERO;
            return Outcome.READ;
        }
        if ((long) number.precision() - number.scale() > precision - scale) {
            return Outcome.TOO_LARGE;
        }
        if (number.scale() > scale) {
            return Outcome.TOO_FINE;
        }
        wide = number.setScale(scale).unscaledValue();
        return Outcome.READ;
    }

    /** Whether any digit in front of the exponent is not a zero. */
    private boolean isSomething() {
        for (int i = 0; i < squeezedLength && squeezed[i] != 'e' && squeezed[i] != 'E'; i++) {
            if (squeezed[i] >= '1' && squeezed[i] <= '9') {
                return true;
            }
        }
        return false;
    }

    /** Reads into {@link #floating}, the nearest double. */
    Outcome floating(byte[] bytes, int from, int to) {
        if (!(to - from <= QUICK_DOUBLE && quick(bytes, from, to)) && !scan(bytes, from, to)) {
            return Outcome.UNREADABLE;
        }
        // Up to 15 digits and 22 decimals, both numbers are exact doubles, so their quotient is rounded once (Clinger
        // 1990).
        if (!exponent && digits <= 15 && fraction <= 22) {
            double number = mantissa / DOUBLE_POWERS[fraction];
            floating = negative ? -number : number;
            return Outcome.READ;
        }
        floating = Double.parseDouble(new String(squeezed, 0, squeezedLength, StandardCharsets.US_ASCII));
        if (floating == 0 && isSomething()) {
            return Outcome.TOO_FINE; // nearer to zero than any double: it would become nothing without a word
        }
        return Double.isInfinite(floating) ? Outcome.TOO_LARGE : Outcome.READ;
    }

    /**
     * Texts up to this length have no more digits than a long holds; and up to that, no more than a double is sure of.
     */
    private static final int QUICK = 18;

    private static final int QUICK_DOUBLE = 15;

    private int squeezedLength;

    /**
     * Takes a plain number apart: a sign, a few digits, a decimal mark. False for anything else; then {@link #scan}
     * decides.
     */
    private boolean quick(byte[] bytes, int from, int to) {
        if (to - from > QUICK || from == to) {
            return false;
        }
        int at = from;
        byte first = bytes[from];
        boolean minus = first == '-';
        if (minus || first == '+') {
            at++;
        }
        long number = 0;
        int seen = 0;
        int point = -1;
        for (; at < to; at++) {
            int digit = bytes[at] - '0';
            if (digit >= 0 && digit <= 9) {
                number = number * 10 + digit;
                seen++;
            } else if (bytes[at] == decimal && point < 0) {
                point = at;
            } else {
                return false;
            }
        }
        mantissa = number;
        digits = seen;
        fraction = point < 0 ? 0 : to - point - 1;
        negative = minus;
        exponent = false;
        return seen > 0;
    }

    /** Takes the text apart; leaves it in {@link #squeezed} with a point and without marks. */
    private boolean scan(byte[] bytes, int from, int to) {
        mantissa = 0;
        digits = 0;
        fraction = 0;
        exponent = false;
        squeezedLength = 0;
        if (to - from > LONGEST - 2 || from == to) {
            return false;
        }
        int at = from;
        negative = bytes[at] == '-';
        if (negative || bytes[at] == '+') {
            if (negative) {
                squeezed[squeezedLength++] = '-';
            }
            at++;
        }
        int group = 0;
        boolean grouped = false;
        boolean any = false;
        boolean behind = false;
        while (at < to) {
            byte c = bytes[at];
            if (c >= '0' && c <= '9') {
                any = true;
                group++;
                if (digits > 0 || c != '0') {
                    digits++;
                }
                if (digits <= 18) {
                    mantissa = mantissa * 10 + c - '0';
                }
                fraction += behind ? 1 : 0;
                squeezed[squeezedLength++] = c;
                at++;
            } else if (c == decimal && !behind) {
                if (grouped && group != 3) {
                    return false;
                }
                behind = true;
                grouped = false;
                squeezed[squeezedLength++] = '.';
                at++;
            } else if (thousands.length > 0 && !behind && mark(bytes, at, to)) {
                if (grouped ? group != 3 : group < 1 || group > 3) {
                    return false;
                }
                grouped = true;
                group = 0;
                at += thousands.length;
            } else if ((c == 'e' || c == 'E') && any) {
                return power(bytes, at, to) && !(grouped && group != 3);
            } else {
                return false;
            }
        }
        return any && !(grouped && group != 3);
    }

    private boolean mark(byte[] bytes, int at, int to) {
        return at + thousands.length <= to
                && java.util.Arrays.equals(bytes, at, at + thousands.length, thousands, 0, thousands.length);
    }

    private boolean power(byte[] bytes, int from, int to) {
        exponent = true;
        int at = from;
        squeezed[squeezedLength++] = 'E';
        at++;
        if (at < to && (bytes[at] == '-' || bytes[at] == '+')) {
            squeezed[squeezedLength++] = bytes[at++];
        }
        int first = at;
        while (at < to && bytes[at] >= '0' && bytes[at] <= '9') {
            squeezed[squeezedLength++] = bytes[at++];
        }
        return at == to && at > first && at - first <= 4;
    }

    static final long[] POWERS = new long[19];
    private static final double[] DOUBLE_POWERS = new double[23];

    static {
        POWERS[0] = 1;
        for (int i = 1; i < POWERS.length; i++) {
            POWERS[i] = POWERS[i - 1] * 10;
        }
        DOUBLE_POWERS[0] = 1;
        for (int i = 1; i < DOUBLE_POWERS.length; i++) {
            DOUBLE_POWERS[i] = DOUBLE_POWERS[i - 1] * 10;
        }
    }
}
