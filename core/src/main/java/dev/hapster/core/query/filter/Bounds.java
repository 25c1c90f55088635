package dev.hapster.core.query.filter;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.filter.Condition.Span;
import dev.hapster.core.query.filter.Condition.Spans;
import dev.hapster.core.query.value.Widening;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/**
 * A condition on values that are stored as whole numbers, as ranges of these, ascending and with a gap between each
 * two. Immutable.
 */
final class Bounds {

    private static final BigInteger LEAST = BigInteger.valueOf(Long.MIN_VALUE);
    private static final BigInteger MOST = BigInteger.valueOf(Long.MAX_VALUE);

    /** The least number of each range and the greatest. */
    private final long[] least;

    private final long[] most;
    /** Whether it holds for the numbers outside of all ranges instead. */
    private final boolean outside;

    private record Range(long least, long most) {}

    private Bounds(List<Range> ranges, boolean outside) {
        least = ranges.stream().mapToLong(Range::least).toArray();
        most = ranges.stream().mapToLong(Range::most).toArray();
        this.outside = outside;
    }

    /** The ranges for which a condition holds; nothing where its values are not stored as whole numbers. */
    static Optional<Bounds> of(Condition condition) {
        ColumnType type = condition.field().type();
        boolean numbers = type.kind() != Kind.TEXT && type.kind() != Kind.DOUBLE && !type.isWideDecimal();
        if (!numbers || !(condition.values() instanceof Spans spans)) {
            return Optional.empty();
        }
        List<Range> ranges = new ArrayList<>();
        for (Span span : spans.spans()) {
            range(span, type).ifPresent(ranges::add);
        }
        ranges.sort(Comparator.comparingLong(Range::least));
        List<Range> apart = new ArrayList<>();
        for (Range range : ranges) {
            Range last = apart.isEmpty() ? null : apart.get(apart.size() - 1);
            if (last != null && (last.most == Long.MAX_VALUE || range.least <= last.most + 1)) {
                apart.set(apart.size() - 1, new Range(last.least, Math.max(last.most, range.most)));
            } else {
                apart.add(range);
            }
        }
        return Optional.of(new Bounds(apart, condition.not()));
    }

    /** The whole numbers of a span; nothing where there are none. */
    private static Optional<Range> range(Span span, ColumnType type) {
        BigInteger from = LEAST;
        if (span.from() != null) {
            BigDecimal value = stored(span.from(), type);
            from = span.withFrom()
                    ? whole(value, RoundingMode.CEILING)
                    : whole(value, RoundingMode.FLOOR).add(BigInteger.ONE);
        }
        BigInteger to = MOST;
        if (span.to() != null) {
            BigDecimal value = stored(span.to(), type);
            to = span.withTo()
                    ? whole(value, RoundingMode.FLOOR)
                    : whole(value, RoundingMode.CEILING).subtract(BigInteger.ONE);
        }
        if (from.compareTo(to) > 0 || from.compareTo(MOST) > 0 || to.compareTo(LEAST) < 0) {
            return Optional.empty();
        }
        return Optional.of(new Range(from.max(LEAST).longValue(), to.min(MOST).longValue()));
    }

    private static BigDecimal stored(Comparable<?> value, ColumnType type) {
        return value instanceof BigDecimal decimal
                ? decimal.scaleByPowerOfTen(type.scale())
                : BigDecimal.valueOf(Widening.plain(value, type));
    }

    private static BigInteger whole(BigDecimal value, RoundingMode mode) {
        return value.setScale(0, mode).unscaledValue();
    }

    boolean holds(long value) {
        if (least.length == 1) {
            return (value >= least[0] && value <= most[0]) != outside;
        }
        int range = rangeOf(value);
        return (range >= 0 && value <= most[range]) != outside;
    }

    /** The last range that begins at a value or below; -1 where there is none. */
    private int rangeOf(long value) {
        int found = Arrays.binarySearch(least, value);
        return found >= 0 ? found : -found - 2;
    }

    /** Whether it holds for all numbers of a range. */
    boolean holdsWithin(long min, long max) {
        return outside ? !meets(min, max) : contains(min, max);
    }

    /** Whether it may hold for a number of a range. */
    boolean mayHold(long min, long max) {
        return outside ? !contains(min, max) : meets(min, max);
    }

    private boolean contains(long min, long max) {
        int range = rangeOf(min);
        return range >= 0 && max <= most[range];
    }

    private boolean meets(long min, long max) {
        int range = rangeOf(max);
        return range >= 0 && most[range] >= min;
    }
}
