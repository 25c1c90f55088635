package dev.hapster.core.query.value;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.store.PartSchema;
import java.util.ArrayList;
import java.util.List;

/** All columns of a dataset that can be asked for: where a row comes from first, then those declared. */
public final class Fields {

    /** The name of the file that a row is from. */
    public static final Field FILE = new Field(PartSchema.FILE, ColumnType.of(Kind.TEXT));

    /** The line of that file on which it begins. */
    public static final Field LINE = new Field(PartSchema.LINE, ColumnType.of(Kind.INTEGER));

    /** The run that brought a row. */
    public static final Field RUN = new Field(PartSchema.RUN, ColumnType.of(Kind.INTEGER));

    /** The job that did; rows do not have it, but can be asked for by it, and counted. */
    public static final Field JOB = new Field("_job", ColumnType.of(Kind.TEXT));

    private final List<Field> fields;

    public Fields(DatasetDef dataset) {
        List<Field> all = new ArrayList<>();
        all.add(FILE);
        all.add(LINE);
        all.add(new Field(PartSchema.PATH, ColumnType.of(Kind.TEXT)));
        all.add(RUN);
        all.add(new Field(PartSchema.LOADED_AT, ColumnType.of(Kind.TIMESTAMP)));
        dataset.columns().forEach(column -> all.add(Field.of(column)));
        fields = List.copyOf(all);
    }

    private Fields(List<Field> fields) {
        this.fields = List.copyOf(fields);
    }

    /** The same with the job, for conditions. */
    public Fields withJob() {
        List<Field> all = new ArrayList<>(fields);
        all.add(JOB);
        return new Fields(all);
    }

    /** The columns of the dataset and those that say where a row comes from. */
    public List<Field> all() {
        return fields;
    }

    /** The column of a name, or else the one that had that name before. */
    public Field field(String name) throws QueryException {
        return among(fields, name);
    }

    /** The same among some columns. */
    public static Field among(List<Field> fields, String name) throws QueryException {
        for (Field field : fields) {
            if (field.name().equals(name)) {
                return field;
            }
        }
        for (Field field : fields) {
            if (field.was().contains(name)) {
                return field;
            }
        }
        throw new QueryException("There is no column '" + name + "'. "
                + Nearest.hint(name, fields.stream().map(Field::name).toList()));
    }
}
