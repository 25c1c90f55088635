package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.Formats;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;

/** Finds the table in a sheet of a workbook. */
public final class WorkbookReading {

    private static final int ROWS = 1_000;
    private static final int COLUMNS = 512;

    private WorkbookReading() {}

    /**
     * Finds the table in a sheet.
     *
     * @throws FileRejectedException where the sheet has none
     */
    public static Reading of(Content content, String sheet) throws IOException, FileRejectedException {
        List<Row> rows = rows(content, sheet, false);
        Map<Integer, Integer> extents = new TreeMap<>();
        rows.forEach(row -> extents.merge(row.fields(), 1, Integer::sum));
        int width = extents.entrySet().stream()
                .filter(one -> one.getKey() > 0)
                .max(Map.Entry.<Integer, Integer>comparingByValue().thenComparing(Map.Entry.comparingByKey()))
                .map(Map.Entry::getKey)
                .orElseThrow(() -> new FileRejectedException(Reasons.fileEmpty()));
        int widest = rows.stream()
                .filter(row -> row.filled() > 1 && row.fields() >= width)
                .mapToInt(Row::fields)
                .max()
                .orElse(width);
        List<Row> even = rows.stream()
                .map(row -> row.filled() * 2 > width || row.fields() >= width ? widened(row, widest) : row)
                .toList();
        TableStart start = TableStart.of(even, widest);
        if (even.size() < 2 || even.get(start.first()).filled() < 2) {
            throw new FileRejectedException(Reasons.damaged("holds no table: few rows, or one column of notes"));
        }
        Row top = even.get(start.first());
        List<Evidence> evidence = new ArrayList<>();
        evidence.add(new Evidence("as", "workbook", "it is a workbook"));
        Read read = Read.USUAL.with(ReadSection.AS, Format.WORKBOOK);
        int above = (int) top.line() - 1;
        if (above > 0) {
            read = read.with(ReadSection.LINES_ABOVE, above);
            evidence.add(new Evidence("lines_above", String.valueOf(above), "the table begins in row " + top.line()));
        }
        evidence.add(new Evidence("header", start.header() ? "row " + top.line() : "none", start.why()));
        long merged = merged(rows, rows(content, sheet, true), start.first());
        if (merged > 0) {
            read = read.with(ReadSection.REPEAT_MERGED, true);
            evidence.add(new Evidence(
                    "merged",
                    "repeat",
                    merged + " cells below the header belong to merged areas, and look empty without it"));
        }
        List<String> names = start.header()
                ? top.cells().subList(0, Math.min(widest, top.cells().size())).stream()
                        .map(String::strip)
                        .filter(name -> !name.isEmpty())
                        .toList()
                : List.of();
        return new Reading(
                read,
                names,
                start.header() ? names.size() : widest,
                evidence,
                start.doubt().isEmpty() ? List.of() : List.of(start.doubt()),
                true,
                start.header());
    }

    private static Row widened(Row row, int width) {
        return new Row(row.line(), width, row.cells(), row.kinds(), false);
    }

    private static long merged(List<Row> once, List<Row> repeated, int first) {
        long merged = 0;
        for (int i = first + 1; i < Math.min(once.size(), repeated.size()); i++) {
            merged += Math.max(0, repeated.get(i).filled() - once.get(i).filled());
        }
        return merged;
    }

    /** The first rows; each has as many fields as reach to its last filled cell. */
    private static List<Row> rows(Content content, String sheet, boolean repeat)
            throws IOException, FileRejectedException {
        Read read = Read.USUAL
                .with(ReadSection.AS, Format.WORKBOOK)
                .with(ReadSection.REPEAT_MERGED, repeat)
                .with(ReadSection.CUT_LONG, true)
                .with(
                        ReadSection.NAMES,
                        IntStream.rangeClosed(1, COLUMNS).mapToObj(i -> "c" + i).toList());
        try (RecordReader reader = Formats.open(content, read, Optional.of(sheet), Optional.empty(), ROWS)) {
            return Row.first(reader, ROWS).stream()
                    .map(row -> {
                        int extent = row.cells().size();
                        while (extent > 0 && row.cells().get(extent - 1).isBlank()) {
                            extent--;
                        }
                        return new Row(row.line(), extent, row.cells(), row.kinds(), false);
                    })
                    .toList();
        }
    }
}
