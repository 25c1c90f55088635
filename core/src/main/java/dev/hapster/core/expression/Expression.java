package dev.hapster.core.expression;

import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelIssue;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.CelValidationResult;
import dev.cel.common.ast.CelConstant;
import dev.cel.common.ast.CelExpr;
import dev.cel.common.navigation.CelNavigableAst;
import dev.cel.common.types.CelType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.NullableType;
import dev.cel.common.types.SimpleType;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import dev.cel.runtime.CelStandardFunctions;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A condition on a row, in CEL (Common Expression Language). Names stand for the row's columns; beside them there are
 * {@code row}, {@code source}, {@code file} and {@code fact}, from which values are taken by name:
 * {@code source["Site"]}. Immutable, thread-safe.
 */
@SuppressWarnings("deprecation") // there is no other way yet to have values as they are in Java
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
            "map",
            "null_type",
            "type",
            "timestamp",
            "duration",
            "dyn",
            "size",
            "matches",
            "has",
            "all",
            "exists",
            "exists_one",
            "filter");
    private static final Pattern ENDS = Pattern.compile("'<EOF>'");
    private static final Pattern ALIEN =
            Pattern.compile("(?:mismatched|extraneous|no viable alternative at) input '(.*?)'");
    private static final Pattern OPERATOR =
            Pattern.compile("no matching overload for '_(\\S+)_' applied to '\\((.*), (.*?)\\)'");
    private static final Pattern OVERLOAD = Pattern.compile("no matching overload for '(\\w+)'");
    private static final Pattern RESULT = Pattern.compile("expected type 'bool' but found '(.*?)'");
    private static final CelOptions OPTIONS = CelOptions.current()
            .enableHeterogeneousNumericComparisons(true)
            .maxExpressionCodePointSize(LONGEST)
            .comprehensionMaxIterations(1_000)
            .evaluateCanonicalTypesToNativeValues(true)
            .build();
    private static final CelStandardFunctions FUNCTIONS = CelStandardFunctions.newBuilder()
            .excludeFunctions(CelStandardFunctions.StandardFunction.MATCHES)
            .build();
    private static final CelRuntime RUNTIME = CelRuntimeFactory.legacyCelRuntimeBuilder()
            .setOptions(OPTIONS)
            .setStandardEnvironmentEnabled(false)
            .setStandardFunctions(FUNCTIONS)
            .addFunctionBindings(
                    CelFunctionBinding.from("matches", String.class, String.class, Matching::matches),
                    CelFunctionBinding.from("matches_string", String.class, String.class, Matching::matches))
            .build();

    /** What stands for nothing in a map. */
    public static final Object NOTHING = dev.cel.common.values.NullValue.NULL_VALUE;

    /** What a name stands for. Each may be null. */
    public enum Type {
        TEXT(SimpleType.STRING),
        INTEGER(SimpleType.INT),
        NUMBER(SimpleType.DOUBLE),
        BOOLEAN(SimpleType.BOOL),
        MOMENT(SimpleType.TIMESTAMP);

        private final CelType type;

        Type(CelType plain) {
            type = NullableType.create(plain);
        }
    }

    /**
     * A mistake.
     *
     * @param at the character at which it is, counted from 0
     */
    public record Mistake(int at, String what) {}

    /** The text is not a condition. */
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

    /** The condition could not be told for a row. */
    public static final class FailedException extends Exception {
        FailedException(String message) {
            super(message, null, false, false);
        }
    }

    private final String text;
    private final CelRuntime.Program program;
    private final Set<String> names;
    private final Set<String> sourceColumns;

    private Expression(String text, CelRuntime.Program program, Set<String> names, Set<String> sourceColumns) {
        this.text = text;
        this.program = program;
        this.names = Set.copyOf(names);
        this.sourceColumns = Set.copyOf(sourceColumns);
    }

    /** @param columns types of the row's columns, by name */
    public static Expression of(String text, Map<String, Type> columns) throws WrongException {
        CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                .setOptions(OPTIONS)
                .setStandardMacros(dev.cel.parser.CelStandardMacro.STANDARD_MACROS)
                .setResultType(SimpleType.BOOL)
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
                            words(issue.getMessage())));
                }
                throw new WrongException(mistakes);
            }
            CelAbstractSyntaxTree tree = result.getAst();
            List<Mistake> large = new ArrayList<>();
            CelNavigableAst.fromAst(tree).getRoot().allNodes().forEach(node -> Matching.mistake(node.expr())
                    .ifPresent(what -> large.add(new Mistake(Math.max(0, text.indexOf("matches")), what))));
            if (!large.isEmpty()) {
                throw new WrongException(large);
            }
            Set<String> used = new LinkedHashSet<>();
            CelNavigableAst.fromAst(tree)
                    .getRoot()
                    .allNodes()
                    .filter(node -> node.getKind() == CelExpr.ExprKind.Kind.IDENT)
                    .forEach(node -> used.add(node.expr().ident().name()));
            Set<String> asked = new LinkedHashSet<>();
            CelNavigableAst.fromAst(tree).getRoot().allNodes().forEach(node -> sourceColumn(node.expr())
                    .ifPresent(asked::add));
            return new Expression(text, RUNTIME.createProgram(tree), used, asked);
        } catch (CelValidationException | CelEvaluationException wrong) {
            throw new WrongException(List.of(new Mistake(0, words(String.valueOf(wrong.getMessage())))));
        }
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

    /** The library's words, said as people would. */
    private static String words(String message) {
        Matcher end = ENDS.matcher(message);
        if (end.find()) {
            return "something is missing here: the condition ends too early";
        }
        Matcher alien = ALIEN.matcher(message);
        if (alien.find()) {
            return "'" + alien.group(1) + "' does not belong here";
        }
        Matcher two = OPERATOR.matcher(message);
        if (two.find()) {
            return "'" + two.group(1) + "' does not go with " + kind(two.group(2)) + " and " + kind(two.group(3));
        }
        Matcher other = OVERLOAD.matcher(message);
        if (other.find()) {
            return "'" + other.group(1) + "' cannot be used so";
        }
        Matcher result = RESULT.matcher(message);
        if (result.find()) {
            return "this gives " + kind(result.group(1)) + ", and a condition must be true or false";
        }
        return message.replace("undeclared reference to", "there is no")
                .replace(" (in container '')", "")
                .replaceAll("\\s+", " ");
    }

    private static String kind(String type) {
        String plain = type.replaceAll("wrapper|[()]|google\\.protobuf\\.", "").strip();
        return switch (plain) {
            case "string" -> "a text";
            case "int" -> "a whole number";
            case "double" -> "a number";
            case "bool" -> "true or false";
            case "timestamp", "Timestamp" -> "a time";
            case "null", "null_type" -> "nothing";
            default -> plain;
        };
    }

    /** The names that the condition speaks of. */
    public Set<String> names() {
        return names;
    }

    /** The columns of the file, mapped or not, that the condition asks for by name. */
    public Set<String> sourceColumns() {
        return sourceColumns;
    }

    /** As it was written. */
    public String text() {
        return text;
    }

    /**
     * Whether the condition holds.
     *
     * @param values by name: {@code String}, {@code Long}, {@code Double}, {@code Boolean}, {@code Instant}, maps of
     *     these, or nothing at all for an empty value
     * @throws FailedException with a sentence for people, where it cannot be told
     */
    public boolean holds(java.util.function.Function<String, Object> values) throws FailedException {
        try {
            Object result = program.eval((dev.cel.runtime.CelVariableResolver) name -> names.contains(name)
                    ? Optional.of(Optional.ofNullable(values.apply(name)).orElse(NOTHING))
                    : Optional.empty());
            if (result instanceof Boolean truth) {
                return truth;
            }
            throw new FailedException("it gives " + result + ", neither true nor false");
        } catch (CelEvaluationException wrong) {
            throw new FailedException(why(wrong));
        }
    }

    private static String why(CelEvaluationException wrong) {
        return switch (wrong.getErrorCode()) {
            case OVERLOAD_NOT_FOUND -> "a value that it compares is empty, or of another kind than it expects";
            case DIVIDE_BY_ZERO -> "it divides by zero";
            case NUMERIC_OVERFLOW -> "a number becomes too large";
            case INDEX_OUT_OF_BOUNDS -> "it asks for a position that does not exist";
            case ATTRIBUTE_NOT_FOUND -> "it asks for a name that does not exist";
            case INVALID_ARGUMENT, BAD_FORMAT -> "a value cannot be converted as it asks";
            default ->
                "it cannot be calculated: "
                        + String.valueOf(wrong.getMessage()).replaceFirst("^evaluation error[^:]*: ", "");
        };
    }
}
