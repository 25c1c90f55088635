package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.store.PartSchema;
import java.util.ArrayList;
import java.util.List;

/** All columns of a dataset that can be asked for: where a row comes from first, then those declared. */
public final class Fields {

    private final List<Field> fields;

    public Fields(DatasetDef dataset) {
        List<Field> all = new ArrayList<>();
        all.add(new Field(PartSchema.FILE, ColumnType.of(Kind.TEXT)));
        all.add(new Field(PartSchema.LINE, ColumnType.of(Kind.INTEGER)));
        all.add(new Field(PartSchema.PATH, ColumnType.of(Kind.TEXT)));
        all.add(new Field(PartSchema.RUN, ColumnType.of(Kind.INTEGER)));
        all.add(new Field(PartSchema.LOADED_AT, ColumnType.of(Kind.TIMESTAMP)));
        dataset.columns().forEach(column -> all.add(Field.of(column)));
        fields = List.copyOf(all);
    }

    public List<Field> all() {
        return fields;
    }

    Field field(String name) throws QueryException {
        return fields.stream()
                .filter(field -> field.name().equals(name))
                .findFirst()
                .orElseThrow(() -> new QueryException("There is no column '" + name + "'. "
                        + Nearest.hint(name, fields.stream().map(Field::name).toList())));
    }
}
