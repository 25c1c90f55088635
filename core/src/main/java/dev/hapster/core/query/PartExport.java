package dev.hapster.core.query;

import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** An export part by part, in no order. Immutable. */
public final class PartExport {

    private final RowExport export;
    private final List<Field> read;

    PartExport(RowExport export, List<Field> read) {
        this.export = export;
        this.read = List.copyOf(read);
    }

    /** All parts, those among them of which no row is exported. */
    public List<PartFile> parts() {
        return export.parts().all();
    }

    /** Its columns with the names that they have in what is written. */
    public List<Field> columns() {
        return export.written();
    }

    /** Rows of a batch, by their numbers in it. */
    @FunctionalInterface
    public interface Batches {
        void batch(PartReader reader, int[] rows, int count) throws IOException;
    }

    /**
     * Goes through the rows of a part.
     *
     * @return how many
     */
    public long each(PartFile part, Batches to) throws IOException {
        return each(part, List.of(), to);
    }

    private long each(PartFile part, List<Field> besides, Batches to) throws IOException {
        List<Field> fields = new ArrayList<>(read);
        fields.addAll(besides);
        Filter filter = new Filter(export.where(), fields.size());
        fields.addAll(export.where().fields());
        long count = 0;
        try (PartReader reader = part.read(fields)) {
            for (int rows = reader.next(); rows > 0; rows = reader.next()) {
                int selected = filter.select(reader, rows);
                to.batch(reader, filter.selected(), selected);
                count += selected;
            }
        }
        return count;
    }

    /** How many rows of a part are exported. */
    public long count(PartFile part) throws IOException {
        return export.where().isAlways() ? part.rows() : each(part, (reader, rows, count) -> {});
    }

    /** Whether a part has values of any of these columns. */
    public boolean hasAny(PartFile part, Set<String> columns) throws IOException {
        try (PartReader reader = part.read(read)) {
            for (int i = 0; i < read.size(); i++) {
                if (columns.contains(columns().get(i).name()) && reader.holds(i)) {
                    return true;
                }
            }
        }
        return false;
    }

    /**
     * Where a row of a part comes from: its file and line.
     *
     * @param number of the row among those exported, counted from 0
     */
    public Optional<String> origin(PartFile part, long number) throws IOException {
        List<String> found = new ArrayList<>();
        long[] before = {0};
        each(part, List.of(Fields.FILE, Fields.LINE), (reader, rows, count) -> {
            if (number >= before[0] && number < before[0] + count) {
                List<Comparable<?>> values = Parts.values(reader, rows[(int) (number - before[0])], read.size() + 2);
                found.add(values.get(read.size()) + ":" + values.get(read.size() + 1));
            }
            before[0] += count;
        });
        return found.stream().findFirst();
    }
}
