package dev.hapster.core.expression;

import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.types.CelType;
import dev.cel.common.types.ListType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.SimpleType;
import dev.cel.common.types.TypeParamType;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** All functions of the language: declared once, for the checker, the evaluation and the document. */
final class Library {

    static final CelType TEXT = SimpleType.STRING;
    static final CelType INTEGER = SimpleType.INT;
    static final CelType NUMBER = SimpleType.DOUBLE;
    static final CelType TRUTH = SimpleType.BOOL;
    static final CelType MOMENT = SimpleType.TIMESTAMP;
    static final CelType DURATION = SimpleType.DURATION;
    static final CelType TEXTS = ListType.create(SimpleType.STRING);
    static final CelType ANY_LIST = ListType.create(TypeParamType.create("A"));
    static final CelType ANY_MAP = MapType.create(TypeParamType.create("A"), TypeParamType.create("B"));
    private static final CelType ANY = TypeParamType.create("A");

    static final List<Function> ALL = Stream.of(TextFunctions.all(), NumberFunctions.all(), TimeFunctions.all(), any())
            .flatMap(List::stream)
            .toList();

    /** By name and number of arguments; {@code size} is the same both before and behind what it counts. */
    private static final Map<String, Function> BY_NAME = ALL.stream()
            .collect(Collectors.toMap(
                    one -> one.name() + one.arity(),
                    one -> one,
                    (one, other) -> one.name().equals("size") ? one : either(one, other)));

    private Library() {}

    private static List<Function> any() {
        return List.of(
                function("coalesce", "the first of two or three values that is not nothing", Library::first)
                        .form(ANY, ANY, ANY)
                        .keepingNothing()
                        .example("coalesce('a'.extract('b'), 'none')", "none"),
                function("coalesce", "", Library::first)
                        .form(ANY, ANY, ANY, ANY)
                        .keepingNothing()
                        .example("coalesce('a'.extract('b'), 'a'.extract('c'), 'none')", "none"));
    }

    private static Object first(Frame frame, Object... values) {
        for (Object value : values) {
            if (value != null) {
                return value;
            }
        }
        return null;
    }

    /** {@code format} is one word for two things, told apart by what is formatted, and how. */
    private static Function either(Function numbers, Function times) {
        List<Function.Form> forms = new ArrayList<>(numbers.forms());
        forms.addAll(times.forms());
        return new Function(
                numbers.name(),
                numbers.method(),
                forms,
                (frame, a) -> (Values.isNumber(a[0]) ? numbers : times).body().of(frame, a),
                constants ->
                        (constants[1] instanceof Long ? numbers : times).check().mistake(constants),
                false,
                numbers.means(),
                numbers.examples());
    }

    static Optional<Function> find(String name, int arguments) {
        return Optional.ofNullable(BY_NAME.get(name + arguments));
    }

    /** For the checker. */
    static List<CelFunctionDecl> declarations() {
        Map<String, List<CelOverloadDecl>> forms = new LinkedHashMap<>();
        for (Function function : ALL) {
            for (Function.Form form : function.forms()) {
                String id = (function.method() ? "of_" : "") + function.name() + "_"
                        + form.takes().stream().map(Library::word).collect(Collectors.joining("_"));
                forms.computeIfAbsent(function.name(), name -> new ArrayList<>())
                        .add(
                                function.method()
                                        ? CelOverloadDecl.newMemberOverload(id, form.gives(), form.takes())
                                        : CelOverloadDecl.newGlobalOverload(id, form.gives(), form.takes()));
            }
        }
        // What CEL leaves to explicit conversions: whole numbers and others go together.
        for (String operator : List.of("+", "-", "*", "/")) {
            forms.put(
                    "_" + operator + "_",
                    List.of(
                            CelOverloadDecl.newGlobalOverload(operator + "_int_double", NUMBER, INTEGER, NUMBER),
                            CelOverloadDecl.newGlobalOverload(operator + "_double_int", NUMBER, NUMBER, INTEGER)));
        }
        forms.put(
                "_%_",
                List.of(
                        CelOverloadDecl.newGlobalOverload("%_double_double", NUMBER, NUMBER, NUMBER),
                        CelOverloadDecl.newGlobalOverload("%_double_int", NUMBER, NUMBER, INTEGER)));
        return forms.entrySet().stream()
                .map(entry -> CelFunctionDecl.newFunctionDeclaration(entry.getKey(), entry.getValue()))
                .toList();
    }

    private static String word(CelType type) {
        return type.name() + type.parameters().stream().map(Library::word).collect(Collectors.joining());
    }

    /** Begins a function that is written in front of its arguments. */
    static Function function(String name, String means, Function.Body body) {
        return new Function(name, false, List.of(), body, constants -> Optional.empty(), false, means, List.of());
    }

    /** Begins a function that is written behind its first argument. */
    static Function method(String name, String means, Function.Body body) {
        return new Function(name, true, List.of(), body, constants -> Optional.empty(), false, means, List.of());
    }
}
