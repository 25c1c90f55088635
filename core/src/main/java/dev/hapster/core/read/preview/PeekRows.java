package dev.hapster.core.read.preview;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Range;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.pattern.CellName;
import dev.hapster.core.read.Signature;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.read.preview.Peek.Line;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.tree.TreeReader;
import dev.hapster.core.read.workbook.Grid;
import dev.hapster.core.read.workbook.GridRow;
import dev.hapster.core.read.workbook.XlsBook;
import dev.hapster.core.read.workbook.XlsxBook;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/** A look at files that have no lines: rows of sheets, records of Parquet files, entries of archives. */
final class PeekRows {

    /** Merged areas that are named. */
    private static final int MOST_MERGED = 100;

    private PeekRows() {}

    static Peek of(Content content, Signature found, Read rules, Optional<String> sheet, long from, int most)
            throws IOException, FileRejectedException {
        Window window = new Window(from, most);
        String kind =
                switch (found) {
                    case XLSX -> {
                        try (XlsxBook book = new XlsxBook(content.seekable())) {
                            String name = sheet.orElseGet(() -> first(book.sheets()));
                            yield rows(book.grid(name).orElseThrow(() -> gone(name, book.sheets())), name, window);
                        }
                    }
                    case XLS -> {
                        try (XlsBook book = new XlsBook(content.seekable())) {
                            String name = sheet.orElseGet(() -> first(book.sheets()));
                            yield rows(book.grid(name).orElseThrow(() -> gone(name, book.sheets())), name, window);
                        }
                    }
                    case ZIP -> {
                        long number = 0;
                        for (Archive.Entry entry : Archive.entries(content.seekable())) {
                            window.add(++number, entry.name() + Peek.BAR + Reasons.grouped(entry.size()) + " bytes");
                        }
                        yield "entries of the archive";
                    }
                    default -> records(content, rules, window);
                };
        return new Peek(window.lines(), Optional.empty(), "", window.more, kind, "", List.copyOf(window.merged));
    }

    /** Keeps the lines that are wanted. */
    private static final class Window {
        private final long from;
        private final int most;
        private final Deque<Line> lines = new ArrayDeque<>();
        private final List<String> merged = new ArrayList<>();
        private boolean more;

        Window(long from, int most) {
            this.from = from;
            this.most = most;
        }

        /** False where no more lines are wanted. */
        boolean add(long number, String text) {
            return add(Peek.line(number, text));
        }

        boolean add(Line line) {
            if (from >= 1 && lines.size() == most) {
                more = true;
                return false;
            }
            if (line.number() >= from) {
                lines.add(line);
            }
            if (from < 1 && lines.size() > most) {
                lines.remove();
            }
            return true;
        }

        List<Line> lines() {
            return List.copyOf(lines);
        }
    }

    private static String first(List<String> sheets) {
        return sheets.isEmpty() ? "" : sheets.get(0);
    }

    private static FileRejectedException gone(String sheet, List<String> sheets) {
        return new FileRejectedException(Reasons.sheetGone(sheet, sheets));
    }

    private static String rows(Grid cells, String sheet, Window window) throws IOException, FileRejectedException {
        try (Grid grid = cells) {
            GridRow row = new GridRow();
            boolean wanted = true;
            while (wanted && grid.next(row)) {
                List<String> texts = new ArrayList<>();
                for (int column = 0; column < row.width; column++) {
                    texts.add(
                            row.kinds[column] == RawBatch.FAULT && row.from[column] == row.to[column]
                                    ? "(no value)"
                                    : row.text(column));
                }
                wanted = window.add(Peek.row(row.number, texts));
            }
            long first = window.lines.isEmpty() ? 0 : window.lines.getFirst().number();
            long last = window.lines.isEmpty() ? 0 : window.lines.getLast().number();
            for (Range area : grid.merged()) {
                if (area.lastRow() >= first && area.firstRow() <= last && window.merged.size() < MOST_MERGED) {
                    window.merged.add(CellName.letters(area.firstColumn()) + area.firstRow() + ":"
                            + CellName.letters(area.lastColumn()) + area.lastRow());
                }
            }
            return "rows of sheet " + sheet;
        }
    }

    private static String records(Content content, Read rules, Window window)
            throws IOException, FileRejectedException {
        Read whole = rules.whole(Format.PARQUET);
        try (RecordReader reader = new TreeReader(content, whole, 1, List.of())) {
            RawBatch batch = RecordReader.batchFor(reader.header());
            boolean wanted = true;
            while (wanted && reader.next(batch)) {
                for (int row = 0; row < batch.rows && wanted; row++) {
                    wanted = window.add(batch.line[row], batch.original(row));
                }
            }
            return "records of the Parquet file";
        }
    }
}
