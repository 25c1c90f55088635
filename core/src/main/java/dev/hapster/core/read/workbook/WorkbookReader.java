package dev.hapster.core.read.workbook;

import dev.hapster.core.definition.read.Range;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.pattern.CellName;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.Closeable;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * Reads one sheet of a workbook, from its header to its last row. A row in which no cell of the header's columns holds
 * anything is none. The line of a record is its row, counted from 1.
 */
public final class WorkbookReader implements RecordReader {

    private final String sheet;
    private final Closeable book;
    private final Grid grid;
    private final Read rules;
    private Range range;
    private boolean declaredHeader;
    private List<Range> merged = List.of();
    private int nextMerged;
    /** Merged areas that reach into the present row, and what their first cells hold. */
    private final List<Range> open = new ArrayList<>();

    private final List<GridRow> firsts = new ArrayList<>();
    /** For each field its column in the sheet, and the other way round (-1 where there is none); counted from 0. */
    private int[] columns = new int[0];

    private int[] fields = new int[0];
    private final Deque<GridRow> ahead = new ArrayDeque<>();
    private GridRow row = new GridRow();
    private boolean ended;
    private long records;
    private long cut;
    private byte[] arena = new byte[1 << 16];

    /** @param book closed with the reader */
    public WorkbookReader(String sheet, Closeable book, Grid grid, Read rules) {
        this.sheet = sheet;
        this.book = book;
        this.grid = grid;
        this.rules = rules;
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        try {
            return find();
        } catch (Unpacked.DamagedException wrong) {
            throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
        }
    }

    private Header find() throws IOException, FileRejectedException {
        locate();
        if (rules.get(ReadSection.REPEAT_MERGED)) {
            merged = grid.merged();
        }
        boolean named = !rules.hasHeader() || !declaredHeader;
        if (!rules.hasHeader()) {
            named(rules.names().size());
            return new Header(rules.names(), "");
        }
        boolean some = false;
        while (advance()) {
            some = true;
            boolean wanted = rules.get(ReadSection.HEADER_CONTAINS).isEmpty()
                    || holds(rules.get(ReadSection.HEADER_CONTAINS).get());
            int last = last();
            if (wanted && last >= first()) {
                if (named) {
                    ahead.addFirst(copy(row)); // a table without a header row: its columns go by their letters
                }
                return named(last, named);
            }
        }
        throw new FileRejectedException(
                !some
                        ? Reasons.sheetEmpty(rules.get(ReadSection.LINES_ABOVE))
                        : rules.get(ReadSection.HEADER_CONTAINS)
                                .map(text -> Reasons.headerNotFound(text, row.number))
                                .orElseGet(() -> Reasons.sheetEmpty(rules.get(ReadSection.LINES_ABOVE))));
    }

    private int first() {
        return range.firstColumn() - 1;
    }

    /** The last column of the row that holds anything, within the range. */
    private int last() {
        int last = Math.min(row.width, range.lastColumn()) - 1;
        while (last >= first() && row.isBlank(last)) {
            last--;
        }
        return last;
    }

    private boolean holds(String text) {
        for (int column = first(); column < Math.min(row.width, range.lastColumn()); column++) {
            if (row.text(column).contains(text)) {
                return true;
            }
        }
        return false;
    }

    private void locate() throws IOException, FileRejectedException {
        declaredHeader = true;
        range = rules.get(ReadSection.RANGE).orElse(Range.ALL);
        if (rules.get(ReadSection.TABLE).isPresent()) {
            String wanted = rules.get(ReadSection.TABLE).get();
            Optional<List<Grid.Table>> tables = grid.tables();
            if (tables.isEmpty()) {
                throw new FileRejectedException(
                        Reasons.tableMissing(wanted, "old workbooks (xls) say nothing of tables; use range"));
            }
            Grid.Table table = tables.get().stream()
                    .filter(one -> one.name().equalsIgnoreCase(wanted))
                    .findFirst()
                    .orElse(null);
            if (table == null) {
                List<String> names = tables.get().stream().map(Grid.Table::name).toList();
                throw new FileRejectedException(Reasons.tableMissing(
                        wanted, names.isEmpty() ? "the sheet has no tables" : "it has " + String.join(", ", names)));
            }
            range = table.range();
            declaredHeader = table.header();
        }
    }

    private void named(int count) {
        columns = new int[count];
        for (int i = 0; i < count; i++) {
            columns[i] = first() + i;
        }
        inverse();
    }

    private Header named(int last, boolean byLetters) throws FileRejectedException {
        List<String> names = new ArrayList<>();
        int[] found = new int[last - first() + 1];
        for (int column = first(); column <= last; column++) {
            if (byLetters || !row.isBlank(column)) {
                if (names.size() == DelimitedReader.MOST_COLUMNS) {
                    throw new FileRejectedException(Reasons.tooManyColumns(DelimitedReader.MOST_COLUMNS));
                }
                found[names.size()] = column;
                names.add(
                        byLetters
                                ? CellName.letters(column + 1)
                                : row.text(column).strip());
            }
        }
        columns = Arrays.copyOf(found, names.size());
        inverse();
        return new Header(names, String.join("\t", names));
    }

    private void inverse() {
        int most = columns.length == 0 ? 0 : columns[columns.length - 1] + 1;
        fields = new int[most];
        Arrays.fill(fields, -1);
        for (int field = 0; field < columns.length; field++) {
            fields[columns[field]] = field;
        }
    }

    private static GridRow copy(GridRow row) {
        GridRow copy = new GridRow();
        copy.copy(row);
        return copy;
    }

    /** Goes to the next row of the sheet that lies within the range and not above the header. */
    private boolean advance() throws IOException, FileRejectedException {
        while (!ended && grid.next(row)) {
            if (row.number > range.lastRow()) {
                ended = true;
            } else if (row.number >= (long) range.firstRow() + rules.get(ReadSection.LINES_ABOVE)) {
                repeat();
                return true;
            } else {
                repeat();
            }
        }
        ended = true;
        return false;
    }

    /** Gives the cells of merged areas the value of their first one. */
    private void repeat() {
        while (nextMerged < merged.size() && merged.get(nextMerged).firstRow() <= row.number) {
            Range area = merged.get(nextMerged++);
            if (area.firstRow() == row.number) {
                open.add(area);
                firsts.add(copy(row));
            }
        }
        for (int i = open.size() - 1; i >= 0; i--) {
            Range area = open.get(i);
            if (area.lastRow() < row.number) {
                open.remove(i);
                firsts.remove(i);
                continue;
            }
            GridRow first = firsts.get(i);
            int from = area.firstColumn() - 1;
            if (from >= first.width || first.kinds[from] == RawBatch.NOTHING) {
                continue;
            }
            for (int column = from; column < Math.min(area.lastColumn(), Grid.MOST_COLUMNS); column++) {
                if (column != from || row.number != area.firstRow()) {
                    row.set(
                            column,
                            first.kinds[from],
                            first.bytes,
                            first.from[from],
                            first.to[from] - first.from[from]);
                    row.faults[column] = first.faults[from];
                }
            }
        }
    }

    /** The next row that holds anything, as many behind it read as are no rows at the end; null where there is none. */
    private GridRow record() throws IOException, FileRejectedException {
        while (ahead.size() <= rules.get(ReadSection.LINES_BELOW) && advance()) {
            if (last() < first()) {
                continue;
            }
            if (rules.get(ReadSection.ENDS_AT).isPresent()
                    && begins(rules.get(ReadSection.ENDS_AT).get())) {
                ended = true;
                break;
            }
            if (rules.get(ReadSection.LINES_BELOW) == 0 && ahead.isEmpty()) {
                return row;
            }
            ahead.addLast(copy(row));
        }
        return ahead.size() > rules.get(ReadSection.LINES_BELOW) ? ahead.removeFirst() : null;
    }

    private boolean begins(String text) {
        int column = first();
        while (column < row.width && row.isBlank(column)) {
            column++;
        }
        return row.text(column).strip().startsWith(text);
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        batch.rows = 0;
        batch.marks.clear();
        batch.withKinds();
        batch.places = (line, field) -> sheet + "!" + CellName.letters(columns[field] + 1) + line;
        int used = 0;
        while (batch.rows < batch.capacity && used < 1 << 22) {
            GridRow one;
            try {
                one = record();
            } catch (Unpacked.DamagedException wrong) {
                throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
            }
            if (one == null) {
                break;
            }
            used = add(batch, one, used);
        }
        batch.bytes = arena;
        records += batch.rows;
        return batch.rows > 0;
    }

    private int add(RawBatch batch, GridRow one, int before) {
        int at = batch.rows;
        int used = before;
        if (arena.length - used < one.used + columns.length) {
            arena = Arrays.copyOf(arena, Math.max(arena.length * 2, used + one.used + columns.length));
        }
        batch.recordFrom[at] = used;
        int base = at * batch.width;
        for (int field = 0; field < columns.length; field++) {
            int column = columns[field];
            if (field > 0) {
                arena[used++] = '\t';
            }
            batch.from[base + field] = used;
            byte kind = column < one.width ? one.kinds[column] : RawBatch.NOTHING;
            if (kind != RawBatch.NOTHING) {
                int length = one.to[column] - one.from[column];
                if (arena.length - used < length + columns.length) {
                    arena = Arrays.copyOf(arena, Math.max(arena.length * 2, used + length + columns.length));
                }
                System.arraycopy(one.bytes, one.from[column], arena, used, length);
                used += length;
                if (kind == RawBatch.FAULT) {
                    batch.marks.add(new RawBatch.Mark(
                            at, field, Reasons.cell(address(column, one.number), one.faults[column])));
                }
            }
            batch.kinds[base + field] = kind;
            batch.to[base + field] = used;
        }
        batch.recordTo[at] = used;
        batch.line[at] = one.number;
        batch.fields[at] = batch.width;
        batch.misquoted[at] = false;
        strays(batch, one, at);
        batch.rows++;
        return used;
    }

    /** Values in columns that have no header would be lost: they reject the row, or are cut as declared. */
    private void strays(RawBatch batch, GridRow one, int at) {
        for (int column = first(); column < Math.min(one.width, range.lastColumn()); column++) {
            if ((column >= fields.length || fields[column] < 0) && !one.isBlank(column)) {
                if (rules.get(ReadSection.CUT_LONG)) {
                    cut++;
                } else {
                    Reason reason = Reasons.strayCell(address(column, one.number), one.text(column));
                    batch.marks.add(new RawBatch.Mark(at, -1, reason));
                }
                return;
            }
        }
    }

    private String address(int column, long line) {
        return sheet + "!" + CellName.letters(column + 1) + String.format(Locale.ROOT, "%d", line);
    }

    @Override
    public long records() {
        return records;
    }

    @Override
    public List<String> notes() {
        List<String> notes = new ArrayList<>();
        RecordReader.note(
                notes,
                cut,
                "row with a value in a column without a header cut",
                "rows with values in columns without a header cut");
        return notes;
    }

    @Override
    public void close() throws IOException {
        try {
            grid.close();
        } finally {
            book.close();
        }
    }
}
