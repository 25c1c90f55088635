package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.draft.column.ColumnProfile;
import dev.hapster.core.draft.column.TypeFinder;
import dev.hapster.core.row.RawBatch;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * Where among the rows the table begins, and whether its first row names the columns.
 *
 * @param first index of the first row of the table
 * @param header whether that row names the columns
 * @param why what this rests on
 * @param doubt what nothing decides; empty where it is sure
 */
record TableStart(int first, boolean header, String why, String doubt) {

    private static final int LOOKED = 400;
    /** Rows from which on it says something that all values are equally long. */
    private static final int ENOUGH = 10;

    /**
     * Finds the beginning of the table.
     *
     * @param width fields that its rows have
     */
    static TableStart of(List<Row> rows, int width) {
        int first = 0;
        while (first < rows.size() && !begins(rows, first, width)) {
            first++;
        }
        if (first == rows.size()) {
            return new TableStart(0, true, "no row has the usual number of fields", "");
        }
        return judge(rows, first, width);
    }

    /** Whether the table, where it begins with this row, names its columns. */
    static TableStart at(List<Row> rows, int first, int width) {
        return judge(rows, first, width);
    }

    /** Whether a row has as many fields as the table, and most of those that follow have them too. */
    private static boolean begins(List<Row> rows, int at, int width) {
        if (rows.get(at).fields() != width || rows.get(at).isBlank()) {
            return false;
        }
        int fit = 0;
        int end = Math.min(rows.size(), at + 8);
        for (int i = at; i < end; i++) {
            fit += rows.get(i).fields() == width ? 1 : 0;
        }
        return fit * 10 >= (end - at) * 7;
    }

    private static TableStart judge(List<Row> rows, int first, int width) {
        Row top = rows.get(first);
        List<Row> below = rows.subList(first + 1, Math.min(rows.size(), first + 1 + LOOKED)).stream()
                .filter(row -> row.fields() == width)
                .toList();
        if (below.isEmpty()) {
            boolean named = top.cells().stream().noneMatch(TableStart::isValue);
            return new TableStart(first, named, "the only line of the table", "only one line, so nothing is sure");
        }
        List<String> typed = new ArrayList<>();
        List<String> alike = new ArrayList<>();
        for (int i = 0; i < Math.min(width, top.cells().size()); i++) {
            String cell = top.cells().get(i).strip();
            ColumnProfile column = profile(below, i);
            if (column.filled() == 0) {
                continue;
            }
            Kind kind = new TypeFinder(column, List.of(column.brief()), (char) 0)
                    .find()
                    .type()
                    .kind();
            if (kind != Kind.TEXT && !cell.isEmpty()) {
                boolean fits = new TypeFinder(with(column, cell, top.kinds()[i]), List.of(), (char) 0)
                                .find()
                                .type()
                                .kind()
                        != Kind.TEXT;
                (fits ? alike : typed).add(cell);
            } else if (column.shortest() == column.longest() && below.size() >= ENOUGH && !cell.isEmpty()) {
                (cell.codePointCount(0, cell.length()) == column.longest() ? alike : typed).add(cell);
            } else if (repeats(column, below, i, cell)) {
                alike.add(cell);
            }
        }
        Set<String> names = new HashSet<>();
        long named = top.cells().stream()
                .map(cell -> cell.strip().toLowerCase(Locale.ROOT))
                .filter(cell -> !cell.isEmpty() && names.add(cell))
                .count();
        if (!typed.isEmpty() && typed.size() >= alike.size()) {
            return new TableStart(
                    first,
                    true,
                    "\"" + typed.get(0) + "\" stands above values of another kind"
                            + (typed.size() > 1 ? ", and so do " + (typed.size() - 1) + " more" : ""),
                    "");
        }
        if (!alike.isEmpty()) {
            return new TableStart(first, false, "the first line looks like all others (\"" + alike.get(0) + "\")", "");
        }
        return named * 2 > width
                ? new TableStart(
                        first,
                        true,
                        "the words of the first line stand nowhere below",
                        "all columns are text, so a first line of names is likely, but not proved")
                : new TableStart(first, false, "the first line names few columns", "");
    }

    /** Whether a cell of a text column looks like what stands below it. */
    private static boolean repeats(ColumnProfile column, List<Row> below, int i, String cell) {
        if (cell.isEmpty()) {
            return false;
        }
        boolean stands =
                below.stream().anyMatch(row -> row.cells().get(i).strip().equals(cell));
        boolean digits = cell.chars().anyMatch(Character::isDigit);
        boolean alike = digits
                && below.stream()
                                        .filter(row ->
                                                look(row.cells().get(i).strip()).equals(look(cell)))
                                        .count()
                                * 5
                        > below.size();
        boolean counted = Character.isDigit(cell.charAt(0))
                && below.stream()
                                        .filter(row ->
                                                startsWithDigit(row.cells().get(i)))
                                        .count()
                                * 2
                        > below.size();
        boolean prose = cell.length() > 60;
        return stands || alike || counted || (prose && column.longest() > 60);
    }

    private static boolean startsWithDigit(String cell) {
        String value = cell.strip();
        return !value.isEmpty() && Character.isDigit(value.charAt(0));
    }

    private static String look(String cell) {
        return cell.replaceAll("\\p{L}+", "a").replaceAll("\\d+", "9");
    }

    private static boolean isValue(String cell) {
        return cell.strip().matches("[-+]?[\\d.,:/ -]+") || cell.isBlank();
    }

    static ColumnProfile profile(List<Row> rows, int column) {
        ColumnProfile profile = new ColumnProfile(line -> "line " + line);
        for (Row row : rows) {
            if (column < row.cells().size()) {
                add(profile, row.cells().get(column), row.kinds()[column], row.line());
            }
        }
        return profile;
    }

    private static ColumnProfile with(ColumnProfile column, String cell, byte kind) {
        ColumnProfile both = new ColumnProfile(line -> "line " + line);
        both.merge(column);
        add(both, cell, kind, 1);
        return both;
    }

    private static void add(ColumnProfile profile, String cell, byte kind, long line) {
        byte[] bytes = cell.getBytes(StandardCharsets.UTF_8);
        profile.add(bytes, 0, bytes.length, bytes.length == 0 ? RawBatch.NOTHING : kind, line);
    }
}
