package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.part.SourceRows;
import dev.hapster.core.query.part.StoredFile;
import dev.hapster.core.query.sorted.RowSorter;
import dev.hapster.core.query.sorted.Sort;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Fields;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/**
 * An export of which is known that it can be written: that all parts are there and can be read as the columns are now,
 * and that what is written can hold their values. Immutable.
 */
public final class RowExport {

    private final Parts parts;
    private final List<Field> wanted;
    private final List<Sort> sorts;
    private final Where where;
    private final long rows;

    private RowExport(Parts parts, List<Field> wanted, List<Sort> sorts, Where where, long rows) {
        this.parts = parts;
        this.wanted = wanted;
        this.sorts = sorts;
        this.where = where;
        this.rows = rows;
    }

    RowExport(Parts parts, Fields fields, Selection what, Where where) throws QueryException {
        this(parts, wanted(fields, what), Sort.parse(what.sort(), fields), where, 0);
    }

    private static List<Field> wanted(Fields fields, Selection what) throws QueryException {
        List<Field> wanted = new ArrayList<>();
        for (Field field : fields.all()) {
            boolean ours = field.name().startsWith("_");
            if (ours ? what.origins() : what.columns().isEmpty()) {
                wanted.add(field);
            }
        }
        for (String column : what.columns()) {
            Field field = fields.field(column);
            if (!wanted.contains(field)) {
                wanted.add(field);
            }
        }
        return wanted;
    }

    /** The same, of which it is known how many rows it has. */
    RowExport of(long count) {
        return new RowExport(parts, wanted, sorts, where, count);
    }

    /** How many rows it has. */
    public long rows() {
        return rows;
    }

    /**
     * Writes it.
     *
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     * @return how many rows there were
     */
    public long to(RowWriter to, Path scratch) throws IOException {
        try (RowWriter writer = to) {
            writer.begin(wanted);
            long count = sorts.isEmpty() ? inPlace(writer) : sorted(writer, scratch);
            writer.finish();
            return count;
        }
    }

    private long inPlace(RowWriter writer) throws IOException {
        long[] count = {0};
        Filter filter = new Filter(where, wanted.size());
        List<Field> read = new ArrayList<>(wanted);
        read.addAll(where.fields());
        try (SourceRows sources = new SourceRows(parts, read)) {
            for (int part = 0, end; part < parts.all().size(); part = end) {
                end = parts.endOfSource(part);
                if (end == part + 1) {
                    sources.batches(part, (reader, all) -> {
                        int selected = filter.select(reader, all);
                        for (int i = 0; i < selected; i++) {
                            writer.row(Parts.values(reader, filter.selected()[i], wanted.size()));
                        }
                        count[0] += selected;
                        return true;
                    });
                } else {
                    sources.rows(part, end, (reader, row) -> {
                        if (filter.holds(reader, row)) {
                            writer.row(Parts.values(reader, row, wanted.size()));
                            count[0]++;
                        }
                        return true;
                    });
                }
            }
        }
        return count[0];
    }

    private long sorted(RowWriter writer, Path scratch) throws IOException {
        try (RowSorter sorter = new RowSorter(parts, wanted, sorts, where, scratch)) {
            return sorter.each(writer::row);
        } catch (QueryException impossible) {
            throw new IllegalStateException("What is exported was checked before", impossible);
        }
    }

    /**
     * Sees whether it can be written.
     *
     * @param mostText how many UTF-16 units a text may have in what is written
     * @param all whether every part is read whole, too
     */
    void check(int mostText, boolean all) throws IOException, QueryException {
        List<Field> needed = new ArrayList<>(wanted);
        needed.addAll(where.fields());
        needed.addAll(Sort.fields(sorts));
        for (StoredFile file : parts.files()) {
            try (PartReader reader = file.read(needed)) {
                for (int count = all ? reader.next() : 0; count > 0; count = reader.next()) {
                    for (int i = 0; i < needed.size(); i++) {
                        reader.vector(i);
                    }
                }
            }
        }
        if (mostText < Integer.MAX_VALUE) {
            checkTexts(mostText);
        }
    }

    private void checkTexts(int most) throws IOException, QueryException {
        List<Field> texts = new ArrayList<>(wanted.stream()
                .filter(field -> field.type().kind() == Kind.TEXT)
                .toList());
        int count = texts.size();
        texts.add(Fields.FILE);
        texts.add(Fields.LINE);
        for (PartFile part : parts.all()) {
            try (PartReader reader = part.read(texts)) {
                for (int all = reader.next(); all > 0; all = reader.next()) {
                    for (int i = 0; i < count; i++) {
                        checkTexts(reader, all, i, most, texts.get(i), count);
                    }
                }
            }
        }
    }

    private static void checkTexts(PartReader reader, int all, int asked, int most, Field field, int file)
            throws IOException, QueryException {
        Vector.Bytes bytes = (Vector.Bytes) reader.vector(asked);
        for (int row = 0; row < all; row++) {
            if (bytes.empty[row] || bytes.length[row] <= most) {
                continue;
            }
            int length = reader.value(asked, row).toString().length();
            if (length > most) {
                throw new QueryException("A cell of a workbook holds at most " + Reasons.grouped(most)
                        + " characters, and " + field.name() + " in " + reader.value(file, row) + ":"
                        + reader.value(file + 1, row) + " has " + Reasons.grouped(length)
                        + ". Export it as csv, json_lines or parquet, or leave the column out");
            }
        }
    }
}
