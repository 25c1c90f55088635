package dev.hapster.core.query.filter;

import dev.hapster.core.query.value.Field;
import java.util.List;
import java.util.stream.Stream;

/**
 * What must hold of a row: one condition, or several of which all or one must hold. Immutable; equal where it was asked
 * in the same way.
 */
public sealed interface Where permits Condition, Where.All, Where.Any {

    /** What holds for every row. */
    static Where always() {
        return new All(List.of());
    }

    /** Holds where all of several do. */
    record All(List<Where> of) implements Where {
        public All {
            of = List.copyOf(of);
        }

        @Override
        public Where negated() {
            return new Any(of.stream().map(Where::negated).toList());
        }

        @Override
        public Stream<Condition> conditions() {
            return of.stream().flatMap(Where::conditions);
        }
    }

    /** Holds where one of several does. */
    record Any(List<Where> of) implements Where {
        public Any {
            of = List.copyOf(of);
        }

        @Override
        public Where negated() {
            return new All(of.stream().map(Where::negated).toList());
        }

        @Override
        public Stream<Condition> conditions() {
            return of.stream().flatMap(Where::conditions);
        }
    }

    /** What holds for exactly those rows for which this does not. */
    Where negated();

    /** The single conditions in it, in the order in which they were written. */
    Stream<Condition> conditions();

    /** The columns that its conditions are on, one for each condition, in their order. */
    default List<Field> fields() {
        return conditions().map(Condition::field).toList();
    }

    /** Whether it holds for every row because nothing is asked. */
    default boolean isAlways() {
        return equals(always());
    }
}
