package dev.hapster.core.query.filter;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.filter.Condition.Operator;
import dev.hapster.core.query.value.Widening;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.math.RoundingMode;
import java.util.Optional;

/**
 * A condition on values that are stored as whole numbers, as a range of these.
 *
 * @param least the least number for which it holds
 * @param most the greatest; less than {@code least} where there is none
 * @param outside whether it holds for the numbers outside the range instead
 */
record Bounds(long least, long most, boolean outside) {

    private static final Bounds NONE = new Bounds(0, -1, false);
    private static final BigInteger LEAST = BigInteger.valueOf(Long.MIN_VALUE);
    private static final BigInteger MOST = BigInteger.valueOf(Long.MAX_VALUE);

    /** The range for which a condition holds; nothing where its values are not stored as whole numbers. */
    static Optional<Bounds> of(Condition condition) {
        ColumnType type = condition.field().type();
        boolean numbers = type.kind() != Kind.TEXT && type.kind() != Kind.DOUBLE && !type.isWideDecimal();
        if (!numbers || condition.value() == null || condition.operator() == Operator.HOLDS) {
            return Optional.empty();
        }
        BigDecimal value = condition.value() instanceof BigDecimal decimal
                ? decimal.scaleByPowerOfTen(type.scale())
                : BigDecimal.valueOf(Widening.plain(condition.value(), type));
        BigInteger floor = value.setScale(0, RoundingMode.FLOOR).unscaledValue();
        BigInteger ceiling = value.setScale(0, RoundingMode.CEILING).unscaledValue();
        return Optional.of(
                switch (condition.operator()) {
                    case IS -> between(ceiling, floor, false);
                    case IS_NOT -> between(ceiling, floor, true);
                    case UNDER -> between(LEAST, ceiling.subtract(BigInteger.ONE), false);
                    case AT_MOST -> between(LEAST, floor, false);
                    case OVER -> between(floor.add(BigInteger.ONE), MOST, false);
                    default -> between(ceiling, MOST, false);
                });
    }

    private static Bounds between(BigInteger least, BigInteger most, boolean outside) {
        if (least.compareTo(most) > 0 || least.compareTo(MOST) > 0 || most.compareTo(LEAST) < 0) {
            return new Bounds(NONE.least, NONE.most, outside);
        }
        return new Bounds(least.max(LEAST).longValue(), most.min(MOST).longValue(), outside);
    }

    boolean holds(long value) {
        return (value >= least && value <= most) != outside;
    }

    /** Whether it holds for all numbers of a range. */
    boolean holdsWithin(long min, long max) {
        return outside ? most < min || least > max || least > most : min >= least && max <= most;
    }

    /** Whether it may hold for a number of a range. */
    boolean mayHold(long min, long max) {
        return outside ? !(min >= least && max <= most) : most >= min && least <= max && least <= most;
    }
}
