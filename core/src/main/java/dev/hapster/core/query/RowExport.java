package dev.hapster.core.query;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.filter.Filter;
import dev.hapster.core.query.filter.Where;
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
import dev.hapster.core.query.write.RowWriter.Limits;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.OptionalInt;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * An export of which is known that it can be written: that all parts are there and can be read as the columns are now,
 * and that what is written can hold their values. Immutable.
 */
public final class RowExport {

    /** {@code lab as Laboratory}: a column, and what it is called in what is written. */
    private static final Pattern NAMED = Pattern.compile("(?is)\\s*(\\w+)\\s+as\\s+(\\S.*?)\\s*");

    private static final int LONGEST_NAME = 200;

    private final Parts parts;
    private final List<Field> wanted;
    /** The same with the names that they have in what is written. */
    private final List<Field> written;

    private final List<Sort> sorts;
    private final Where where;
    private final long rows;

    private RowExport(Parts parts, List<Field> wanted, List<Field> written, List<Sort> sorts, Where where, long rows) {
        this.parts = parts;
        this.wanted = wanted;
        this.written = written;
        this.sorts = sorts;
        this.where = where;
        this.rows = rows;
    }

    /** An export of which it is not known yet whether it can be written. */
    static RowExport of(Parts parts, Fields fields, Selection what, Where where) throws QueryException {
        List<Field> wanted = new ArrayList<>();
        List<Field> written = new ArrayList<>();
        for (Field field : fields.all()) {
            boolean ours = field.name().startsWith("_");
            if (ours ? what.origins() : what.columns().isEmpty()) {
                wanted.add(field);
                written.add(field);
            }
        }
        for (String column : what.columns()) {
            Matcher named = NAMED.matcher(column);
            boolean as = named.matches();
            Field field = fields.field(as ? named.group(1) : column.strip());
            String name = as ? named.group(2) : field.name();
            if (!as && written.contains(field)) {
                continue;
            }
            if (name.length() > LONGEST_NAME || name.chars().anyMatch(Character::isISOControl)) {
                throw new QueryException("A column cannot be called " + Reasons.quote(name) + ": a name has up to "
                        + LONGEST_NAME + " characters, all of which can be seen");
            }
            if (written.stream().anyMatch(other -> other.name().equals(name))) {
                throw new QueryException("Two columns would be called " + Reasons.quote(name));
            }
            wanted.add(field);
            written.add(as ? new Field(name, field.type()) : field);
        }
        return new RowExport(parts, wanted, written, Sort.parse(what.sort(), fields), where, 0);
    }

    /** What its columns are called. */
    public List<String> names() {
        return written.stream().map(Field::name).toList();
    }

    /** The same, of which it is known how many rows it has. */
    RowExport of(long count) {
        return new RowExport(parts, wanted, written, sorts, where, count);
    }

    /** The same, in an order in which rows that are the same in some of its columns stand together. */
    RowExport groupedBy(List<Integer> columns) {
        if (columns.isEmpty()) {
            return this;
        }
        List<Sort> order = new ArrayList<>();
        for (int column : columns) {
            Field field = wanted.get(column);
            order.add(sorts.stream()
                    .filter(sort -> sort.field().equals(field))
                    .findFirst()
                    .orElse(new Sort(field, false)));
        }
        sorts.stream().filter(sort -> !order.contains(sort)).forEach(order::add);
        return new RowExport(parts, wanted, written, order, where, rows);
    }

    /** How many rows it has. */
    public long rows() {
        return rows;
    }

    Parts parts() {
        return parts;
    }

    Where where() {
        return where;
    }

    /** Its columns. */
    List<Field> wanted() {
        return wanted;
    }

    /** Its columns with the names that they have in what is written. */
    List<Field> written() {
        return written;
    }

    /**
     * Writes it.
     *
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     * @return how many rows there were
     */
    public long to(RowWriter to, Path scratch) throws IOException {
        try (RowWriter writer = to) {
            writer.begin(written);
            long count = each(List.of(), scratch, into(writer));
            writer.finish();
            return count;
        }
    }

    /** What is done with rows, of their columns and those asked for besides. */
    interface Sink {
        void row(List<Comparable<?>> values) throws IOException;

        /** Rows of the present batch, by their numbers in it. */
        void batch(PartReader reader, int[] rows, int count) throws IOException;
    }

    /** Gives every row to one writer. */
    Sink into(RowWriter writer) {
        int columns = written.size();
        return new Sink() {
            @Override
            public void row(List<Comparable<?>> values) throws IOException {
                writer.row(values);
            }

            @Override
            public void batch(PartReader reader, int[] rows, int count) throws IOException {
                writer.batch(reader, rows, count, columns);
            }
        };
    }

    /** Goes through the rows in their order. */
    long each(List<Field> besides, Path scratch, Sink sink) throws IOException {
        List<Field> read = new ArrayList<>(wanted);
        read.addAll(besides);
        return sorts.isEmpty() ? inPlace(read, sink) : sorted(read, scratch, sink);
    }

    private long inPlace(List<Field> columns, Sink sink) throws IOException {
        long[] count = {0};
        Filter filter = new Filter(where, columns.size());
        List<Field> read = new ArrayList<>(columns);
        read.addAll(where.fields());
        try (SourceRows sources = new SourceRows(parts, read)) {
            for (int part = 0, end; part < parts.all().size(); part = end) {
                end = parts.endOfSource(part);
                if (end == part + 1) {
                    sources.batches(part, (reader, all) -> {
                        int selected = filter.select(reader, all);
                        sink.batch(reader, filter.selected(), selected);
                        count[0] += selected;
                        return true;
                    });
                } else {
                    sources.rows(part, end, (reader, row) -> {
                        if (filter.holds(reader, row)) {
                            sink.row(Parts.values(reader, row, columns.size()));
                            count[0]++;
                        }
                        return true;
                    });
                }
            }
        }
        return count[0];
    }

    private long sorted(List<Field> columns, Path scratch, Sink sink) throws IOException {
        try (RowSorter sorter = new RowSorter(parts, columns, sorts, where, scratch)) {
            return sorter.each(sink::row);
        } catch (QueryException impossible) {
            throw new IllegalStateException("What is exported was checked before", impossible);
        }
    }

    /**
     * Sees whether it can be written.
     *
     * @param limits what the format can hold
     * @param all whether every part is read whole, too
     */
    void check(Limits limits, boolean all) throws IOException, QueryException {
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
        if (!limits.isNone()) {
            checkTexts(limits);
        }
    }

    private void checkTexts(Limits limits) throws IOException, QueryException {
        List<Field> texts = new ArrayList<>(wanted.stream()
                .filter(field -> field.type().kind() == Kind.TEXT)
                .toList());
        int count = texts.size();
        texts.add(Fields.FILE);
        texts.add(Fields.LINE);
        texts.addAll(where.fields());
        for (StoredFile file : parts.files()) {
            try (PartReader reader = file.read(texts)) {
                Filter filter = new Filter(where, count + 2);
                for (int all = reader.next(); all > 0; all = reader.next()) {
                    int selected = filter.select(reader, all);
                    for (int i = 0; i < count; i++) {
                        checkTexts(reader, filter.selected(), selected, i, limits, texts.get(i), count);
                    }
                }
            }
        }
    }

    private static void checkTexts(
            PartReader reader, int[] selected, int count, int asked, Limits limits, Field field, int file)
            throws IOException, QueryException {
        Vector.Bytes bytes = (Vector.Bytes) reader.vector(asked);
        for (int i = 0; i < count; i++) {
            int row = selected[i];
            if (bytes.empty[row] || (bytes.length[row] <= limits.mostText() && limits.characters() == null)) {
                continue;
            }
            String text = reader.value(asked, row).toString();
            String place =
                    field.name() + " in " + reader.value(file, row) + ":" + reader.value(file + 1, row) + " has ";
            if (text.length() > limits.mostText()) {
                throw new QueryException("A cell of a workbook holds at most " + Reasons.grouped(limits.mostText())
                        + " characters, and " + place + Reasons.grouped(text.length())
                        + ". Export it as csv, json_lines or parquet, or leave the column out");
            }
            if (limits.characters() != null) {
                OptionalInt wrong = text.codePoints()
                        .filter(c -> !limits.characters().test(c))
                        .findFirst();
                if (wrong.isPresent()) {
                    throw new QueryException("What is written cannot hold every character: " + place
                            + String.format("U+%04X", wrong.getAsInt()) + " in " + Reasons.quote(text)
                            + ". Choose UTF-8 or another format, or leave the column out");
                }
            }
        }
    }
}
