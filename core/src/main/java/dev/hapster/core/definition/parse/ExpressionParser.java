package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.expression.Expression;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads conditions and what is calculated, with every mistake at its character. */
final class ExpressionParser {

    private static final Pattern UNKNOWN = Pattern.compile("there is no '(\\w+)'");

    private ExpressionParser() {}

    /**
     * The expressions of a key, which may be one or a list.
     *
     * @param gives what each of them must give
     * @return those without mistakes
     */
    static List<Expression> read(YamlMap map, String key, DatasetDef dataset, Expression.Type gives) {
        List<Expression> all = new ArrayList<>();
        Map<String, Expression.Type> types = types(dataset);
        for (YamlMap.Written written : map.written(key)) {
            try {
                all.add(Expression.of(written.text, types, gives));
            } catch (Expression.WrongException wrong) {
                Set<String> names = new TreeSet<>(types.keySet());
                names.addAll(Expression.functions());
                wrong.mistakes().forEach(mistake -> {
                    Matcher unknown = UNKNOWN.matcher(mistake.what());
                    written.wrong(
                            mistake.at(),
                            "in '" + key + "': " + mistake.what(),
                            unknown.find()
                                    ? Nearest.hint(unknown.group(1), names)
                                    : key.equals("keep") || key.equals("deleted")
                                            ? "Conditions are CEL, such as parameter != 'colour'"
                                            : "Expressions are CEL, such as round(price * quantity, 2)");
                });
            }
        }
        return all;
    }

    /** What the dataset's columns are to an expression. */
    static Map<String, Expression.Type> types(DatasetDef dataset) {
        Map<String, Expression.Type> types = new LinkedHashMap<>();
        dataset.columns().forEach(column -> types.put(column.name(), type(column)));
        return types;
    }

    /** What a column is to an expression. */
    static Expression.Type type(ColumnDef column) {
        Kind kind = column.type().kind();
        return switch (kind) {
            case TEXT, TIME -> Expression.Type.TEXT;
            case INTEGER -> Expression.Type.INTEGER;
            case DECIMAL, DOUBLE -> Expression.Type.NUMBER;
            case BOOLEAN -> Expression.Type.BOOLEAN;
            case DATE, TIMESTAMP -> Expression.Type.MOMENT;
        };
    }
}
