package dev.hapster.core.expression;

import dev.cel.checker.CelStandardDeclarations;
import dev.cel.checker.CelStandardDeclarations.StandardFunction;
import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelIssue;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.CelValidationResult;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.navigation.CelNavigableExpr;
import dev.cel.common.types.CelType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.NullableType;
import dev.cel.common.types.SimpleType;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.parser.CelStandardMacro;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A condition on a row, or a value that is calculated for it: in the syntax and with the types of CEL (Common
 * Expression Language), with the functions of {@link Library}. Names stand for the row's columns; beside them there are
 * {@code row}, {@code source}, {@code file} and {@code fact}, from which values are taken by name:
 * {@code source["Site"]}. Immutable, thread-safe.
 */
public final class Expression {

    /** The row's columns by name, for those whose name CEL keeps for itself. */
    public static final String ROW = "row";
    /** The texts of the row as they stand in the file, by the file's own column names. */
    public static final String SOURCE = "source";
    /** {@code name}, {@code path}, {@code size} of the file. */
    public static final String FILE = "file";
    /** What the file's name says, as text. */
    public static final String FACT = "fact";

    private static final int LONGEST = 4_000;
    private static final Set<String> MAPS = Set.of(ROW, SOURCE, FILE, FACT);
    private static final Set<String> KEPT = Set.of(
            "as",
            "break",
            "const",
            "continue",
            "else",
            "false",
            "for",
            "function",
            "if",
            "import",
            "in",
            "let",
            "loop",
            "namespace",
            "null",
            "package",
            "return",
            "true",
            "var",
            "void",
            "while",
            "int",
            "uint",
            "double",
            "bool",
            "string",
            "bytes",
            "list",
            "null_type",
            "type",
            "dyn",
            "map",
            "has",
            "all",
            "exists",
            "exists_one",
            "filter");
    private static final CelOptions OPTIONS = CelOptions.current()
            .enableHeterogeneousNumericComparisons(true)
            .maxExpressionCodePointSize(LONGEST)
            .build();
    /** Of CEL's own functions, its operators alone: the others are those of {@link Library}. */
    private static final CelStandardDeclarations OPERATORS = CelStandardDeclarations.newBuilder()
            .includeFunctions(
                    StandardFunction.IN,
                    StandardFunction.NOT_STRICTLY_FALSE,
                    StandardFunction.CONDITIONAL,
                    StandardFunction.LOGICAL_NOT,
                    StandardFunction.LOGICAL_OR,
                    StandardFunction.LOGICAL_AND,
                    StandardFunction.EQUALS,
                    StandardFunction.NOT_EQUALS,
                    StandardFunction.ADD,
                    StandardFunction.SUBTRACT,
                    StandardFunction.MULTIPLY,
                    StandardFunction.DIVIDE,
                    StandardFunction.MODULO,
                    StandardFunction.NEGATE,
                    StandardFunction.INDEX,
                    StandardFunction.DYN,
                    StandardFunction.LESS,
                    StandardFunction.LESS_EQUALS,
                    StandardFunction.GREATER,
                    StandardFunction.GREATER_EQUALS)
            .build();

    /** What a name stands for. Each may be null. */
    public enum Type {
        TEXT(SimpleType.STRING),
        INTEGER(SimpleType.INT),
        NUMBER(SimpleType.DOUBLE),
        BOOLEAN(SimpleType.BOOL),
        MOMENT(SimpleType.TIMESTAMP);

        private final CelType plain;
        private final CelType type;

        Type(CelType plain) {
            this.plain = plain;
            type = NullableType.create(plain);
        }

        /** Why a result cannot be one of this type; empty where it can. */
        private Optional<String> mistake(CelType result) {
            CelType bare = result instanceof NullableType nullable ? nullable.targetType() : result;
            if (bare.equals(plain) || bare.equals(SimpleType.DYN) || (this == NUMBER && bare.equals(SimpleType.INT))) {
                return Optional.empty();
            }
            String is = "this gives " + MistakeWords.kind(bare.name());
            return Optional.of(
                    switch (this) {
                        case BOOLEAN -> is + ", and it must be true or false";
                        case TEXT -> is + ", and it must be a text: write string(…), or (…).format(…)";
                        case INTEGER -> is + ", and it must be a whole number: write round(…) or int(…)";
                        case NUMBER -> is + ", and it must be a number: write number(…)";
                        case MOMENT -> is + ", and it must be a date or time: write date(…)";
                    });
        }
    }

    /**
     * A mistake.
     *
     * @param at the character at which it is, counted from 0
     */
    public record Mistake(int at, String what) {}

    /** The text is not what it should be. */
    public static final class WrongException extends Exception {
        private final transient List<Mistake> mistakes;

        WrongException(List<Mistake> mistakes) {
            super(mistakes.get(0).what());
            this.mistakes = mistakes;
        }

        public List<Mistake> mistakes() {
            return mistakes;
        }
    }

    private final String text;
    private final CelExpr tree;
    private final Set<String> names;
    private final Set<String> sourceColumns;

    private Expression(String text, CelExpr tree) {
        this.text = text;
        this.tree = tree;
        Set<String> used = new LinkedHashSet<>();
        Set<String> asked = new LinkedHashSet<>();
        parts(tree).forEach(part -> {
            if (part.getKind() == CelExpr.ExprKind.Kind.IDENT) {
                used.add(part.ident().name());
            }
            sourceColumn(part).ifPresent(asked::add);
        });
        names = Set.copyOf(used);
        sourceColumns = Set.copyOf(asked);
    }

    /**
     * A condition, which is true or false.
     *
     * @param columns types of the row's columns, by name
     */
    public static Expression of(String text, Map<String, Type> columns) throws WrongException {
        return of(text, columns, Type.BOOLEAN);
    }

    /**
     * A value of a type.
     *
     * @param columns types of the row's columns, by name
     * @throws WrongException also where it would give another type
     */
    public static Expression of(String text, Map<String, Type> columns, Type gives) throws WrongException {
        CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                .setOptions(OPTIONS)
                .setStandardEnvironmentEnabled(false)
                .setStandardDeclarations(OPERATORS)
                .addFunctionDeclarations(Library.declarations())
                .setStandardMacros(CelStandardMacro.STANDARD_MACROS)
                .addVar(ROW, MapType.create(SimpleType.STRING, SimpleType.DYN))
                .addVar(SOURCE, MapType.create(SimpleType.STRING, SimpleType.DYN))
                .addVar(FILE, MapType.create(SimpleType.STRING, SimpleType.DYN))
                .addVar(FACT, MapType.create(SimpleType.STRING, SimpleType.DYN));
        columns.forEach((name, type) -> {
            if (!MAPS.contains(name) && !KEPT.contains(name)) {
                builder.addVar(name, type.type);
            }
        });
        try {
            CelValidationResult result = builder.build().compile(text);
            if (result.hasError()) {
                List<Mistake> mistakes = new ArrayList<>();
                for (CelIssue issue : result.getErrors()) {
                    mistakes.add(new Mistake(
                            offset(
                                    text,
                                    issue.getSourceLocation().getLine(),
                                    issue.getSourceLocation().getColumn()),
                            MistakeWords.of(issue.getMessage())));
                }
                throw new WrongException(mistakes);
            }
            CelAbstractSyntaxTree ast = result.getAst();
            List<Mistake> mistakes = new ArrayList<>();
            parts(ast.getExpr()).forEach(part -> mistake(part)
                    .ifPresent(what -> mistakes.add(
                            new Mistake(ast.getSource().getPositionsMap().getOrDefault(part.id(), 0), what))));
            if (mistakes.isEmpty()) {
                gives.mistake(ast.getResultType()).ifPresent(what -> mistakes.add(new Mistake(0, what)));
            }
            if (!mistakes.isEmpty()) {
                throw new WrongException(mistakes);
            }
            return new Expression(text, ast.getExpr());
        } catch (CelValidationException wrong) {
            throw new WrongException(List.of(new Mistake(0, MistakeWords.of(String.valueOf(wrong.getMessage())))));
        }
    }

    /** A column of any type by itself; empty where its name is one that the language keeps. */
    public static Optional<Expression> ofColumn(String name, Type type) {
        try {
            String text = KEPT.contains(name) || MAPS.contains(name) ? ROW + "[\"" + name + "\"]" : name;
            return Optional.of(of(text, Map.of(name, type), type));
        } catch (WrongException impossible) {
            return Optional.empty();
        }
    }

    /**
     * Loads what understands expressions, so that whoever writes one soon does not wait for it: the first one takes
     * some 300 ms, all others a few.
     */
    public static void prepare() {
        try {
            Expression unused = of("size(a) > 0 && missing", Map.of("a", Type.TEXT));
        } catch (WrongException asExpected) {
            // a mistake, so that the words for mistakes are loaded, too
        }
    }

    private static Stream<CelExpr> parts(CelExpr tree) {
        return CelNavigableExpr.fromExpr(tree).allNodes().map(CelNavigableExpr::expr);
    }

    /** What the checker lets pass and is not of this language, or is known to be wrong before any row is there. */
    private static Optional<String> mistake(CelExpr part) {
        if (part.getKind() == CelExpr.ExprKind.Kind.STRUCT) {
            return Optional.of("there are no messages here, only texts, numbers, times, lists and maps");
        }
        if (part.getKind() == CelExpr.ExprKind.Kind.CONSTANT) {
            CelConstant.Kind kind = part.constant().getKind();
            return kind == CelConstant.Kind.UINT64_VALUE
                    ? Optional.of("whole numbers are written without 'u'")
                    : kind == CelConstant.Kind.BYTES_VALUE
                            ? Optional.of("there are no bytes here; write a text")
                            : Optional.empty();
        }
        if (part.getKind() != CelExpr.ExprKind.Kind.CALL) {
            return Optional.empty();
        }
        List<CelExpr> arguments = new ArrayList<>();
        part.call().target().ifPresent(arguments::add);
        arguments.addAll(part.call().args());
        Object[] constants = arguments.stream()
                .map(one -> one.getKind() == CelExpr.ExprKind.Kind.CONSTANT ? Steps.value(one.constant()) : null)
                .toArray();
        return Library.find(part.call().function(), arguments.size())
                .flatMap(function -> function.check().mistake(constants));
    }

    /** The column of the file that a part of the tree asks for: {@code source["op"]} or {@code source.op}. */
    private static Optional<String> sourceColumn(CelExpr part) {
        if (part.getKind() == CelExpr.ExprKind.Kind.SELECT
                && isSource(part.select().operand())) {
            return Optional.of(part.select().field());
        }
        return part.getKind() == CelExpr.ExprKind.Kind.CALL
                        && part.call().function().equals("_[_]")
                        && isSource(part.call().args().get(0))
                        && part.call().args().get(1).getKind() == CelExpr.ExprKind.Kind.CONSTANT
                        && part.call().args().get(1).constant().getKind() == CelConstant.Kind.STRING_VALUE
                ? Optional.of(part.call().args().get(1).constant().stringValue())
                : Optional.empty();
    }

    private static boolean isSource(CelExpr part) {
        return part.getKind() == CelExpr.ExprKind.Kind.IDENT
                && part.ident().name().equals(SOURCE);
    }

    private static int offset(String text, int line, int column) {
        int start = 0;
        for (int i = 1; i < line; i++) {
            int end = text.indexOf('\n', start);
            start = end < 0 ? start : end + 1;
        }
        return Math.max(0, Math.min(text.length(), start + column));
    }

    /** The names that the expression speaks of. */
    public Set<String> names() {
        return names;
    }

    /** The columns of the file, mapped or not, that the expression asks for by name. */
    public Set<String> sourceColumns() {
        return sourceColumns;
    }

    /** As it was written. */
    public String text() {
        return text;
    }

    /** The names of all functions. */
    public static Set<String> functions() {
        return Library.ALL.stream().map(Function::name).collect(Collectors.toCollection(LinkedHashSet::new));
    }

    /** A value as a text, as {@code string(value)} gives it. */
    public static String words(Object value) {
        return Values.words(value);
    }

    /** Makes it ready for the rows of one file. What is made is not thread-safe. */
    public Ready in(Names meaning) {
        Steps steps = new Steps(meaning);
        Step step = steps.of(tree);
        return new Ready(step, new Frame(steps.variables()));
    }

    /** An expression whose names stand for the columns of a file. Not thread-safe. */
    public static final class Ready {
        private final Step step;
        private final Frame frame;

        private Ready(Step step, Frame frame) {
            this.step = step;
            this.frame = frame;
        }

        /**
         * Its value for the present row.
         *
         * @return as {@link Step} has it; null for nothing
         * @throws FailedException with a sentence for people, where it cannot be had
         */
        public Object value() throws FailedException {
            frame.reset();
            return step.of(frame);
        }

        /**
         * Whether the condition holds for the present row.
         *
         * @throws FailedException also where a value that decides it is nothing
         */
        public boolean holds() throws FailedException {
            Object value = value();
            if (value instanceof Boolean truth) {
                return truth;
            }
            throw new FailedException(
                    value == null
                            ? "a value that it compares is empty"
                            : "it gives " + Values.kind(value) + ", neither true nor false");
        }
    }
}
