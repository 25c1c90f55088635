package dev.hapster.core.expression;

import java.util.Map;
import java.util.function.Function;
import java.util.function.Supplier;

/** Names that stand for values given by a test. */
public record GivenNames(Function<String, Object> values) implements Names {

    @Override
    public Supplier<Object> of(String name) {
        return () -> values.apply(name);
    }

    @Override
    public Supplier<Object> source(String column) {
        Object text = values.apply("source") instanceof Map<?, ?> source ? source.get(column) : null;
        return text == null ? null : () -> text;
    }
}
