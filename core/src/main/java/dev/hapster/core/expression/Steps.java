package dev.hapster.core.expression;

import com.google.common.collect.ImmutableList;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.ast.CelExpr.CelCall;
import dev.cel.common.ast.CelExpr.CelComprehension;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;

/**
 * Turns the checked tree of an expression into steps, for the rows of one file: each name becomes what it stands for
 * there. Nothing in, nothing out: an operator or a function that is given nothing gives nothing, except {@code ==},
 * {@code !=}, {@code in}, {@code &&}, {@code ||}, the choice and {@code coalesce}.
 */
final class Steps {

    private static final Step NOTHING = frame -> null;

    private final Names names;
    private final Map<String, Integer> variables = new HashMap<>();
    private int most;

    Steps(Names names) {
        this.names = names;
    }

    /** How many variables of loops there are; known once all is made. */
    int variables() {
        return most;
    }

    Step of(CelExpr part) {
        return switch (part.getKind()) {
            case CONSTANT -> constant(part.constant());
            case IDENT -> name(part.ident().name());
            case SELECT -> select(part.select());
            case CALL -> call(part.call());
            case LIST -> list(part.list().elements());
            case MAP -> map(part.map());
            case COMPREHENSION -> loop(part.comprehension());
            default -> throw new IllegalStateException("The checker lets no " + part.getKind() + " pass");
        };
    }

    private static Step constant(CelConstant constant) {
        Object value = value(constant);
        return value == null ? NOTHING : frame -> value;
    }

    /** What a constant is worth; a number with decimals is exactly what is written. */
    static Object value(CelConstant constant) {
        return switch (constant.getKind()) {
            case STRING_VALUE -> constant.stringValue();
            case INT64_VALUE -> constant.int64Value();
            case DOUBLE_VALUE -> BigDecimal.valueOf(constant.doubleValue());
            case BOOLEAN_VALUE -> constant.booleanValue();
            case NULL_VALUE -> null;
            default -> throw new IllegalStateException("The checker lets no " + constant.getKind() + " pass");
        };
    }

    private Step name(String name) {
        Integer variable = variables.get(name);
        if (variable != null) {
            int slot = variable;
            return frame -> frame.variables[slot];
        }
        Supplier<Object> value = names.of(name);
        return frame -> value.get();
    }

    private Step select(CelExpr.CelSelect select) {
        if (!select.testOnly() && isSource(select.operand())) {
            return source(select.field());
        }
        Step of = of(select.operand());
        String field = select.field();
        if (select.testOnly()) {
            return frame -> of.of(frame) instanceof Map<?, ?> map && map.containsKey(field);
        }
        return frame -> member(of.of(frame), field);
    }

    private boolean isSource(CelExpr part) {
        return part.getKind() == CelExpr.ExprKind.Kind.IDENT
                && part.ident().name().equals(Expression.SOURCE)
                && !variables.containsKey(Expression.SOURCE);
    }

    private Step source(String column) {
        Supplier<Object> text = names.source(column);
        return text == null
                ? frame -> {
                    throw new FailedException("the file has no column '" + column + "'");
                }
                : frame -> text.get();
    }

    private static Object member(Object of, Object key) throws FailedException {
        if (of == null || key == null) {
            return null;
        }
        if (of instanceof Map<?, ?> map) {
            if (!map.containsKey(key)) {
                throw new FailedException("it asks for a name that does not exist: '" + key + "'");
            }
            return map.get(key);
        }
        if (of instanceof List<?> list && key instanceof Long at) {
            if (at < 0 || at >= list.size()) {
                throw new FailedException(
                        "it asks for member " + at + " of a list of " + list.size() + ", which are counted from 0");
            }
            return list.get(at.intValue());
        }
        throw new FailedException(Values.kind(of) + " has no members that could be asked for by " + Values.kind(key));
    }

    private Step list(ImmutableList<CelExpr> elements) {
        Step[] steps = elements.stream().map(this::of).toArray(Step[]::new);
        if (elements.stream().allMatch(element -> element.getKind() == CelExpr.ExprKind.Kind.CONSTANT)) {
            List<Object> fixed = new ArrayList<>();
            elements.forEach(element -> fixed.add(value(element.constant())));
            return frame -> fixed;
        }
        return frame -> {
            List<Object> list = new ArrayList<>(steps.length);
            for (Step step : steps) {
                list.add(step.of(frame));
            }
            return list;
        };
    }

    private Step map(CelExpr.CelMap map) {
        List<Step> keys = map.entries().stream().map(entry -> of(entry.key())).toList();
        List<Step> values =
                map.entries().stream().map(entry -> of(entry.value())).toList();
        return frame -> {
            Map<Object, Object> made = new LinkedHashMap<>();
            for (int i = 0; i < keys.size(); i++) {
                made.put(keys.get(i).of(frame), values.get(i).of(frame));
            }
            return made;
        };
    }

    /** What {@code all}, {@code exists}, {@code map} and {@code filter} stand for. */
    private Step loop(CelComprehension loop) {
        Step range = of(loop.iterRange());
        Step start = of(loop.accuInit());
        int item = variables.size();
        int result = item + 1;
        most = Math.max(most, result + 1);
        Integer itemBefore = variables.put(loop.iterVar(), item);
        Integer resultBefore = variables.put(loop.accuVar(), result);
        Step goesOn = of(loop.loopCondition());
        Step next = of(loop.loopStep());
        restore(loop.iterVar(), itemBefore);
        variables.put(loop.accuVar(), result);
        Step end = of(loop.result());
        restore(loop.accuVar(), resultBefore);
        return frame -> {
            Object over = range.of(frame);
            if (over == null) {
                return null;
            }
            Iterable<?> members =
                    over instanceof Map<?, ?> map ? map.keySet() : over instanceof List<?> list ? list : null;
            if (members == null) {
                throw new FailedException(Values.kind(over) + " has no members");
            }
            frame.variables[result] = start.of(frame);
            for (Object member : members) {
                frame.turn();
                if (Boolean.FALSE.equals(goesOn.of(frame))) {
                    break;
                }
                frame.variables[item] = member;
                frame.variables[result] = next.of(frame);
            }
            return end.of(frame);
        };
    }

    private void restore(String name, Integer before) {
        if (before == null) {
            variables.remove(name);
        } else {
            variables.put(name, before);
        }
    }

    private Step call(CelCall call) {
        List<CelExpr> arguments = new ArrayList<>();
        call.target().ifPresent(arguments::add);
        arguments.addAll(call.args());
        if (call.function().equals("_[_]")
                && isSource(arguments.get(0))
                && arguments.get(1).getKind() == CelExpr.ExprKind.Kind.CONSTANT
                && value(arguments.get(1).constant()) instanceof String column) {
            return source(column);
        }
        Step[] given = arguments.stream().map(this::of).toArray(Step[]::new);
        Step a = given.length > 0 ? given[0] : NOTHING;
        Step b = given.length > 1 ? given[1] : NOTHING;
        return switch (call.function()) {
            case "_&&_" -> frame -> both(frame, a, b, false);
            case "_||_" -> frame -> both(frame, a, b, true);
            case "_?_:_" ->
                frame -> {
                    Object truth = a.of(frame);
                    return truth == null ? null : truth(truth) ? b.of(frame) : given[2].of(frame);
                };
            case "!_" ->
                frame -> {
                    Object truth = a.of(frame);
                    return truth == null ? null : !truth(truth);
                };
            case "_==_" -> frame -> Values.same(a.of(frame), b.of(frame));
            case "_!=_" -> frame -> !Values.same(a.of(frame), b.of(frame));
            case "@in", "in", "_in_" -> frame -> isIn(a.of(frame), b.of(frame));
            case "@not_strictly_false", "__not_strictly_false__" ->
                frame -> {
                    try {
                        return !Boolean.FALSE.equals(a.of(frame));
                    } catch (FailedException untold) {
                        return true; // the loop goes on: a later member may settle it
                    }
                };
            case "dyn" -> a;
            case "_[_]" -> frame -> member(a.of(frame), b.of(frame));
            case "-_" ->
                frame -> {
                    Object one = a.of(frame);
                    return one == null ? null : Values.negate(one);
                };
            default -> strict(call.function(), given);
        };
    }

    /** Operators and functions that give nothing where they are given nothing. */
    private static Step strict(String function, Step... given) {
        return switch (function) {
            case "_+_" -> two(given, Values::add);
            case "_-_" -> two(given, (frame, one, other) -> Values.subtract(one, other));
            case "_*_" -> two(given, (frame, one, other) -> Values.multiply(one, other));
            case "_/_" -> two(given, (frame, one, other) -> Values.divide(one, other));
            case "_%_" -> two(given, (frame, one, other) -> Values.remainder(one, other));
            case "_<_" -> two(given, (frame, one, other) -> Values.compare(one, other) < 0);
            case "_<=_" -> two(given, (frame, one, other) -> Values.compare(one, other) <= 0);
            case "_>_" -> two(given, (frame, one, other) -> Values.compare(one, other) > 0);
            case "_>=_" -> two(given, (frame, one, other) -> Values.compare(one, other) >= 0);
            default ->
                function(
                        Library.find(function, given.length)
                                .orElseThrow(
                                        () -> new IllegalStateException("The checker lets no " + function + " pass")),
                        given);
        };
    }

    private static Step function(Function function, Step... given) {
        Function.Body body = function.body();
        boolean keepsNothing = function.keepsNothing();
        return frame -> {
            Object[] values = new Object[given.length];
            for (int i = 0; i < given.length; i++) {
                values[i] = given[i].of(frame);
                if (values[i] == null && !keepsNothing) {
                    return null;
                }
            }
            return body.of(frame, values);
        };
    }

    /** Something that is done with two values. */
    private interface Two {
        Object of(Frame frame, Object one, Object other) throws FailedException;
    }

    private static Step two(Step[] given, Two operator) {
        Step a = given[0];
        Step b = given[1];
        return frame -> {
            Object one = a.of(frame);
            if (one == null) {
                return null;
            }
            Object other = b.of(frame);
            return other == null ? null : operator.of(frame, one, other);
        };
    }

    /** {@code &&} where {@code settles} is false, {@code ||} where it is true: one side alone can settle it. */
    private static Object both(Frame frame, Step a, Step b, boolean settles) throws FailedException {
        FailedException failed = null;
        Object one = null;
        try {
            one = a.of(frame);
            if (one != null && truth(one) == settles) {
                return settles;
            }
        } catch (FailedException wrong) {
            failed = wrong;
        }
        Object other = b.of(frame);
        if (other != null && truth(other) == settles) {
            return settles;
        }
        if (failed != null) {
            throw failed;
        }
        return one == null || other == null ? null : (Object) !settles;
    }

    private static boolean truth(Object value) throws FailedException {
        if (value instanceof Boolean truth) {
            return truth;
        }
        throw new FailedException("it gives " + Values.kind(value) + ", neither true nor false");
    }

    private static Object isIn(Object member, Object all) throws FailedException {
        if (all instanceof List<?> list) {
            for (Object one : list) {
                if (Values.same(member, one)) {
                    return true;
                }
            }
            return false;
        }
        if (all instanceof Map<?, ?> map) {
            return map.containsKey(member);
        }
        if (all == null) {
            return null;
        }
        throw new FailedException(Values.kind(all) + " has no members");
    }
}
