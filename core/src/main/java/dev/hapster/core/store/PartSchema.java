package dev.hapster.core.store;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.ColumnType;
import java.util.ArrayList;
import java.util.List;
import org.apache.parquet.schema.LogicalTypeAnnotation;
import org.apache.parquet.schema.LogicalTypeAnnotation.TimeUnit;
import org.apache.parquet.schema.MessageType;
import org.apache.parquet.schema.PrimitiveType;
import org.apache.parquet.schema.PrimitiveType.PrimitiveTypeName;
import org.apache.parquet.schema.Type;
import org.apache.parquet.schema.Types;

/**
 * How the columns of a dataset are written in Parquet: the declared columns, each optional, and behind them those that
 * say where a row comes from. The latter begin with an underscore, which no declared column may.
 */
public final class PartSchema {

    /** Name of the file. */
    public static final String FILE = "_file";
    /** Its absolute path. */
    public static final String PATH = "_path";
    /** Physical line on which the row begins, counted from 1. */
    public static final String LINE = "_line";
    /** Number of the run that loaded the row. */
    public static final String RUN = "_run";
    /** When that was, in UTC. */
    public static final String LOADED_AT = "_loaded_at";

    public static final List<String> PROVENANCE = List.of(FILE, PATH, LINE, RUN, LOADED_AT);

    private PartSchema() {}

    /** The columns alone. */
    static MessageType plain(List<ColumnDef> columns) {
        List<Type> fields = new ArrayList<>();
        columns.forEach(column -> fields.add(field(column.name(), column.type())));
        return new MessageType("rows", fields);
    }

    public static MessageType of(List<ColumnDef> columns) {
        List<Type> fields = new ArrayList<>();
        columns.forEach(column -> fields.add(field(column.name(), column.type())));
        fields.add(Types.required(PrimitiveTypeName.BINARY)
                .as(LogicalTypeAnnotation.stringType())
                .named(FILE));
        fields.add(Types.required(PrimitiveTypeName.BINARY)
                .as(LogicalTypeAnnotation.stringType())
                .named(PATH));
        fields.add(Types.required(PrimitiveTypeName.INT64).named(LINE));
        fields.add(Types.required(PrimitiveTypeName.INT64).named(RUN));
        fields.add(Types.required(PrimitiveTypeName.INT64)
                .as(LogicalTypeAnnotation.timestampType(true, TimeUnit.MICROS))
                .named(LOADED_AT));
        return new MessageType("part", fields);
    }

    private static PrimitiveType field(String name, ColumnType type) {
        return switch (type.kind()) {
            case TEXT ->
                Types.optional(PrimitiveTypeName.BINARY)
                        .as(LogicalTypeAnnotation.stringType())
                        .named(name);
            case INTEGER ->
                Types.optional(PrimitiveTypeName.INT64)
                        .as(LogicalTypeAnnotation.intType(64, true))
                        .named(name);
            case DECIMAL -> decimal(name, type);
            case DOUBLE -> Types.optional(PrimitiveTypeName.DOUBLE).named(name);
            case BOOLEAN -> Types.optional(PrimitiveTypeName.BOOLEAN).named(name);
            case DATE ->
                Types.optional(PrimitiveTypeName.INT32)
                        .as(LogicalTypeAnnotation.dateType())
                        .named(name);
            case TIME ->
                Types.optional(PrimitiveTypeName.INT64)
                        .as(LogicalTypeAnnotation.timeType(false, TimeUnit.MICROS))
                        .named(name);
            case TIMESTAMP ->
                Types.optional(PrimitiveTypeName.INT64)
                        .as(LogicalTypeAnnotation.timestampType(false, TimeUnit.MICROS))
                        .named(name);
        };
    }

    private static PrimitiveType decimal(String name, ColumnType type) {
        LogicalTypeAnnotation annotation = LogicalTypeAnnotation.decimalType(type.scale(), type.precision());
        if (type.precision() <= 9) {
            return Types.optional(PrimitiveTypeName.INT32).as(annotation).named(name);
        }
        if (type.precision() <= 18) {
            return Types.optional(PrimitiveTypeName.INT64).as(annotation).named(name);
        }
        return Types.optional(PrimitiveTypeName.FIXED_LEN_BYTE_ARRAY)
                .length(16)
                .as(annotation)
                .named(name);
    }
}
