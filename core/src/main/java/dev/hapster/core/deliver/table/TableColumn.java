package dev.hapster.core.deliver.table;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;

/**
 * A column that a delivery fills.
 *
 * @param type as the database calls it
 */
record TableColumn(String name, String type) {

    /** Which part of the dataset brought a row. */
    static final TableColumn PART = new TableColumn("_part", "bigint");

    private static final int MOST_BYTES = 63;
    private static final int MOST_COLUMNS = 1600;
    private static final int MICROSECONDS = 6;
    /** The length of a header that the database counts with the digits of a type. */
    private static final int HEADER = 4;

    /**
     * A column that the table has.
     *
     * @param type the short name of its type, such as {@code int8}
     * @param modifier what the type says of length or digits, as {@code pg_attribute} has it; -1 where it says nothing
     * @param shown its type for people
     */
    record There(String type, int modifier, String shown) {}

    static List<TableColumn> of(List<Field> fields, boolean withPart) throws QueryException {
        List<TableColumn> columns = new ArrayList<>();
        for (Field field : fields) {
            if (field.name().getBytes(StandardCharsets.UTF_8).length > MOST_BYTES) {
                throw new QueryException("A column of a table cannot be called " + Reasons.quote(field.name())
                        + ": a name has " + MOST_BYTES + " bytes at most. Give it another: "
                        + "`columns: [… as …]`");
            }
            if (withPart && field.name().equals(PART.name)) {
                throw new QueryException("A column cannot be called " + PART.name
                        + ": a table that follows has one of that name already");
            }
            columns.add(new TableColumn(field.name(), type(field)));
        }
        if (columns.size() >= MOST_COLUMNS) {
            throw new QueryException("A table has fewer than " + Reasons.grouped(MOST_COLUMNS)
                    + " columns, and there are " + Reasons.grouped(columns.size()) + ". Choose some: `columns: […]`");
        }
        return columns;
    }

    private static String type(Field field) {
        ColumnType type = field.type();
        return switch (type.kind()) {
            case TEXT -> "text";
            case INTEGER -> "bigint";
            case DECIMAL -> "numeric(" + type.precision() + "," + type.scale() + ")";
            case DOUBLE -> "double precision";
            case BOOLEAN -> "boolean";
            case DATE -> "date";
            case TIME -> "time";
            case TIMESTAMP -> field.isInstant() ? "timestamptz" : "timestamp";
        };
    }

    /** Whether a column of the table takes every value, and keeps it as it is. */
    boolean fits(There there) {
        if (type.startsWith("numeric(")) {
            return there.type.equals("numeric") && (there.modifier < 0 || digitsFit(there.modifier));
        }
        return switch (type) {
            case "text" -> Set.of("text", "varchar", "citext").contains(there.type);
            case "bigint" ->
                Set.of("int8", "int4", "int2").contains(there.type)
                        || (there.type.equals("numeric") && there.modifier < 0);
            case "double precision" -> there.type.equals("float8");
            case "boolean" -> there.type.equals("bool");
            case "date" -> there.type.equals("date");
            default -> there.type.equals(type) && (there.modifier < 0 || there.modifier >= MICROSECONDS);
        };
    }

    private boolean digitsFit(int modifier) {
        int scaleThere = (modifier - HEADER) & 0x7ff;
        int digitsThere = ((modifier - HEADER) >> 16) & 0xffff;
        int comma = type.indexOf(',');
        int digits = Integer.parseInt(type.substring("numeric(".length(), comma));
        int scale = Integer.parseInt(type.substring(comma + 1, type.length() - 1));
        return scaleThere >= scale && digitsThere - scaleThere >= digits - scale;
    }

    String quoted() {
        return Database.quoted(name);
    }

    /** As it is declared. */
    String declared() {
        return quoted() + " " + type;
    }
}
