package dev.hapster.core.expression;

import java.math.BigDecimal;
import java.math.MathContext;
import java.math.RoundingMode;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;

/**
 * Calculating and comparing. Decimals are exact, and so are whole numbers; only where a column of type double takes
 * part is the result binary (IEEE 754).
 */
final class Values {

    /** Digits of a quotient that does not come out even. */
    private static final MathContext DIGITS = MathContext.DECIMAL128;

    /** Digits that an exact number may have, so that none takes the time of a row for itself. */
    private static final int MOST_DIGITS = 1_000;

    private static final double WHOLE_IN_DOUBLE = 9.007_199_254_740_992E15;

    private Values() {}

    static Object add(Frame frame, Object a, Object b) throws FailedException {
        if (a instanceof Long one && b instanceof Long two) {
            long sum = one + two;
            if (((one ^ sum) & (two ^ sum)) < 0) {
                throw tooLarge();
            }
            return sum;
        }
        if (a instanceof String one && b instanceof String two) {
            frame.make((long) one.length() + two.length());
            return one.concat(two);
        }
        if (isExact(a) && isExact(b)) {
            return bounded(exact(a).add(exact(b)));
        }
        if (isNumber(a) && isNumber(b)) {
            return finite(binary(a) + binary(b));
        }
        try {
            if (a instanceof Instant one && b instanceof Duration two) {
                return one.plus(two);
            }
            if (a instanceof Duration one && b instanceof Instant two) {
                return two.plus(one);
            }
            if (a instanceof Duration one && b instanceof Duration two) {
                return one.plus(two);
            }
        } catch (DateTimeException | ArithmeticException far) {
            throw new FailedException("the time lies too far away");
        }
        if (a instanceof List<?> one && b instanceof List<?> two) {
            frame.make((long) one.size() + two.size());
            java.util.ArrayList<Object> both = new java.util.ArrayList<>(one);
            both.addAll(two);
            return both;
        }
        throw doesNotGo("+", a, b);
    }

    static Object subtract(Object a, Object b) throws FailedException {
        if (a instanceof Long one && b instanceof Long two) {
            long rest = one - two;
            if (((one ^ two) & (one ^ rest)) < 0) {
                throw tooLarge();
            }
            return rest;
        }
        if (isExact(a) && isExact(b)) {
            return bounded(exact(a).subtract(exact(b)));
        }
        if (isNumber(a) && isNumber(b)) {
            return finite(binary(a) - binary(b));
        }
        try {
            if (a instanceof Instant one && b instanceof Duration two) {
                return one.minus(two);
            }
            if (a instanceof Instant one && b instanceof Instant two) {
                return Duration.between(two, one);
            }
            if (a instanceof Duration one && b instanceof Duration two) {
                return one.minus(two);
            }
        } catch (DateTimeException | ArithmeticException far) {
            throw new FailedException("the time lies too far away");
        }
        throw doesNotGo("-", a, b);
    }

    static Object multiply(Object a, Object b) throws FailedException {
        if (a instanceof Long one && b instanceof Long two) {
            long high = Math.multiplyHigh(one, two);
            long low = one * two;
            if (high != low >> 63) {
                throw tooLarge();
            }
            return low;
        }
        if (isExact(a) && isExact(b)) {
            return bounded(exact(a).multiply(exact(b)));
        }
        if (isNumber(a) && isNumber(b)) {
            return finite(binary(a) * binary(b));
        }
        throw doesNotGo("*", a, b);
    }

    /** Of whole numbers, the whole part of the quotient, as in CEL and SQL. */
    static Object divide(Object a, Object b) throws FailedException {
        if (isNumber(a) && isNumber(b)) {
            if (sign(b) == 0) {
                throw new FailedException("it divides by zero");
            }
            if (a instanceof Long one && b instanceof Long two) {
                if (one == Long.MIN_VALUE && two == -1) {
                    throw tooLarge();
                }
                return one / two;
            }
            if (isExact(a) && isExact(b)) {
                return exact(a).divide(exact(b), DIGITS).stripTrailingZeros();
            }
            return finite(binary(a) / binary(b));
        }
        throw doesNotGo("/", a, b);
    }

    static Object remainder(Object a, Object b) throws FailedException {
        if (isExact(a) && isExact(b)) {
            if (sign(b) == 0) {
                throw new FailedException("it divides by zero");
            }
            return a instanceof Long one && b instanceof Long two
                    ? (Object) (two == -1 ? 0L : one % two)
                    : exact(a).remainder(exact(b));
        }
        throw doesNotGo("%", a, b);
    }

    static Object negate(Object a) throws FailedException {
        if (a instanceof Long one) {
            if (one == Long.MIN_VALUE) {
                throw tooLarge();
            }
            return -one;
        }
        if (a instanceof BigDecimal one) {
            return one.negate();
        }
        if (a instanceof Double one) {
            return -one;
        }
        throw new FailedException(kind(a) + " has no negative");
    }

    private static int sign(Object number) {
        return number instanceof Long one
                ? Long.signum(one)
                : number instanceof BigDecimal exact ? exact.signum() : (int) Math.signum((Double) number);
    }

    private static BigDecimal bounded(BigDecimal number) throws FailedException {
        if (number.precision() > MOST_DIGITS || Math.abs((long) number.scale()) > MOST_DIGITS) {
            throw tooLarge();
        }
        return number;
    }

    private static Double finite(double number) throws FailedException {
        if (Double.isInfinite(number) || Double.isNaN(number)) {
            throw tooLarge();
        }
        return number;
    }

    static FailedException tooLarge() {
        return new FailedException("a number becomes too large");
    }

    private static FailedException doesNotGo(String operator, Object a, Object b) {
        return new FailedException("'" + operator + "' does not go with " + kind(a) + " and " + kind(b));
    }

    static boolean isNumber(Object value) {
        return value instanceof Number;
    }

    static boolean isExact(Object value) {
        return value instanceof Long || value instanceof BigDecimal;
    }

    static BigDecimal exact(Object number) {
        return number instanceof BigDecimal exact
                ? exact
                : number instanceof Long whole ? BigDecimal.valueOf(whole) : BigDecimal.valueOf((Double) number);
    }

    static double binary(Object number) {
        return ((Number) number).doubleValue();
    }

    /** Nothing is equal to nothing; numbers are compared by what they are worth. */
    static boolean same(Object a, Object b) {
        if (a == null || b == null) {
            return a == b;
        }
        if (isNumber(a) && isNumber(b)) {
            return order(a, b) == 0;
        }
        if (a instanceof List<?> one && b instanceof List<?> two) {
            boolean same = one.size() == two.size();
            for (int i = 0; same && i < one.size(); i++) {
                same = same(one.get(i), two.get(i));
            }
            return same;
        }
        return a.equals(b);
    }

    static int compare(Object a, Object b) throws FailedException {
        if (isNumber(a) && isNumber(b)) {
            return order(a, b);
        }
        if (a instanceof String one && b instanceof String two) {
            return one.compareTo(two);
        }
        if (a instanceof Instant one && b instanceof Instant two) {
            return one.compareTo(two);
        }
        if (a instanceof Duration one && b instanceof Duration two) {
            return one.compareTo(two);
        }
        if (a instanceof Boolean one && b instanceof Boolean two) {
            return Boolean.compare(one, two);
        }
        throw new FailedException(kind(a) + " cannot be compared with " + kind(b));
    }

    private static int order(Object a, Object b) {
        if (a instanceof Long one && b instanceof Long two) {
            return Long.compare(one, two);
        }
        if (isExact(a) && isExact(b)) {
            return exact(a).compareTo(exact(b));
        }
        double one = binary(a) + 0.0; // without the sign of zero
        double two = binary(b) + 0.0;
        boolean large = Math.abs(one) >= WHOLE_IN_DOUBLE && Math.abs(two) >= WHOLE_IN_DOUBLE;
        return large && Double.isFinite(one) && Double.isFinite(two)
                ? exact(a).compareTo(exact(b))
                : Double.compare(one, two);
    }

    static Object rounded(Object number, int digits, RoundingMode mode) throws FailedException {
        if (number instanceof Long && digits >= 0) {
            return number;
        }
        if (number instanceof Double one && (one.isInfinite() || one.isNaN())) {
            throw tooLarge();
        }
        return bounded(exact(number).setScale(digits, mode));
    }

    static Long whole(BigDecimal number) throws FailedException {
        if (number.precision() - number.scale() > 19 || number.toBigInteger().bitLength() > 63) {
            throw tooLarge();
        }
        return number.longValue();
    }

    static LocalDateTime local(Instant moment) {
        return LocalDateTime.ofInstant(moment, ZoneOffset.UTC);
    }

    /** A value as a text: what {@code string(value)} gives. */
    static String words(Object value) {
        if (value == null) {
            return "null";
        }
        if (value instanceof BigDecimal exact) {
            return exact.toPlainString();
        }
        if (value instanceof Double binary) {
            return binary.isNaN() || binary.isInfinite()
                    ? binary.toString()
                    : BigDecimal.valueOf(binary).stripTrailingZeros().toPlainString();
        }
        if (value instanceof List<?> list) {
            return list.stream().map(Values::words).toList().toString();
        }
        return value.toString();
    }

    /** What a value is, for people. */
    static String kind(Object value) {
        return value == null
                ? "nothing"
                : value instanceof String
                        ? "a text"
                        : value instanceof Long
                                ? "a whole number"
                                : value instanceof Number
                                        ? "a number"
                                        : value instanceof Boolean
                                                ? "true or false"
                                                : value instanceof Instant
                                                        ? "a time"
                                                        : value instanceof Duration
                                                                ? "a length of time"
                                                                : value instanceof Map ? "a map" : "a list";
    }
}
