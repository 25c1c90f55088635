package dev.hapster.core.definition;

import java.util.List;
import java.util.Optional;

/**
 * A dataset as its file declares it.
 *
 * @param version first 12 hexadecimal digits of the SHA-256 of the file's text
 * @param text    the file as it stands
 */
public record DatasetDef(String name, String about, List<ColumnDef> columns, String version, String text) {

    public DatasetDef {
        columns = List.copyOf(columns);
    }

    public Optional<ColumnDef> column(String wanted) {
        return columns.stream().filter(column -> column.name().equals(wanted)).findFirst();
    }
}
