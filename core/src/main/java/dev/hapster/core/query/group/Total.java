package dev.hapster.core.query.group;

import dev.hapster.core.query.value.Ordering;
import java.math.BigDecimal;
import java.math.RoundingMode;

/**
 * What was found out of some values, so that more can be put to it. Immutable.
 *
 * @param count values, empty ones left out
 * @param exact their sum, where they are exact numbers; null where they are not
 * @param high their sum, where they are doubles
 * @param low what a double cannot hold of that sum
 * @param extreme the smallest or greatest of them, by what is asked; null where there are none
 */
public record Total(long count, BigDecimal exact, double high, double low, Comparable<?> extreme) {

    /** Decimals that a mean has more than its column. */
    private static final int FINER = 4;

    static Total count(long count) {
        return new Total(count, null, 0, 0, null);
    }

    static Total exact(long count, BigDecimal sum) {
        return new Total(count, sum, 0, 0, null);
    }

    static Total extreme(Comparable<?> value) {
        return new Total(0, null, 0, 0, value);
    }

    /** Both together. */
    Total with(Total other, Measure measure) {
        Comparable<?> first = extreme == null
                ? other.extreme
                : other.extreme == null || Ordering.compare(extreme, other.extreme) <= 0 ? extreme : other.extreme;
        Comparable<?> last = extreme == null
                ? other.extreme
                : other.extreme == null || Ordering.compare(extreme, other.extreme) >= 0 ? extreme : other.extreme;
        double sum = high + other.high;
        return new Total(
                count + other.count,
                exact == null ? other.exact : other.exact == null ? exact : exact.add(other.exact),
                sum,
                low + other.low + lost(high, other.high, sum),
                measure.way() == Measure.Way.MIN ? first : last);
    }

    /**
     * What a double cannot hold of the sum of two (D. E. Knuth, The Art of Computer Programming, vol. 2, 4.2.2); 0
     * where the sum is not finite.
     */
    static double lost(double a, double b, double sum) {
        double seen = sum - a;
        double lost = (a - (sum - seen)) + (b - seen);
        return Double.isFinite(lost) ? lost : 0;
    }

    /** What was asked for; null where there were no values. */
    Comparable<?> value(Measure measure) {
        return switch (measure.way()) {
            case COUNT -> count;
            case SUM -> count == 0 ? null : exact != null ? exact : (Comparable<?>) (high + low);
            case MEAN ->
                count == 0
                        ? null
                        : exact != null
                                ? exact.divide(
                                        BigDecimal.valueOf(count),
                                        measure.field().type().scale() + FINER,
                                        RoundingMode.HALF_UP)
                                : (Comparable<?>) ((high + low) / count);
            default -> extreme;
        };
    }
}
