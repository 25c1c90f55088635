package dev.hapster.terminal;

import java.util.ArrayList;
import java.util.List;

/**
 * A table that fits the screen: columns align, numbers to the right; where it is too wide, the column that matters
 * least goes first, and the last that may shrink is shortened.
 */
public final class Table {

    private static final String GAP = "  ";

    private static final class Column {
        final String title;
        final boolean right;
        /** 0 stays always; the highest number goes first. */
        final int goes;

        final boolean shrinks;

        Column(String title, boolean right, int goes, boolean shrinks) {
            this.title = title;
            this.right = right;
            this.goes = goes;
            this.shrinks = shrinks;
        }
    }

    private final List<Column> columns = new ArrayList<>();
    private final List<List<String>> rows = new ArrayList<>();
    private final String indent;
    private final List<String> dropped = new ArrayList<>();

    public Table(String indent) {
        this.indent = indent;
    }

    public Table text(String title) {
        columns.add(new Column(title, false, 0, false));
        return this;
    }

    /** A text that may be shortened. */
    public Table prose(String title) {
        columns.add(new Column(title, false, 0, true));
        return this;
    }

    /** A text that may be left out; the highest number goes first. */
    public Table text(String title, int goes) {
        columns.add(new Column(title, false, goes, false));
        return this;
    }

    public Table number(String title) {
        columns.add(new Column(title, true, 0, false));
        return this;
    }

    public Table number(String title, int goes) {
        columns.add(new Column(title, true, goes, false));
        return this;
    }

    public void row(Object... cells) {
        if (cells.length != columns.size()) {
            throw new IllegalArgumentException(cells.length + " cells for " + columns.size() + " columns");
        }
        List<String> row = new ArrayList<>();
        for (Object cell : cells) {
            row.add(
                    cell == null
                            ? ""
                            : cell instanceof Long number ? Screen.grouped(number) : Screen.visible(cell.toString()));
        }
        rows.add(row);
    }

    public boolean isEmpty() {
        return rows.isEmpty();
    }

    /** The lines, with a line of titles where any column has one. */
    public List<String> lines(int width) {
        List<Integer> shown = new ArrayList<>();
        int[] widths = new int[columns.size()];
        for (int i = 0; i < columns.size(); i++) {
            int column = i;
            widths[i] = Math.max(
                    columns.get(i).title.length(),
                    rows.stream()
                            .mapToInt(row -> row.get(column).length())
                            .max()
                            .orElse(0));
            if (rows.isEmpty() || rows.stream().anyMatch(row -> !row.get(column).isEmpty())) {
                shown.add(i);
            }
        }
        int total = total(shown, widths);
        dropped.clear();
        while (total > width && shown.stream().anyMatch(i -> columns.get(i).goes > 0)) {
            Integer least = shown.stream()
                    .max(java.util.Comparator.comparingInt(i -> columns.get(i).goes))
                    .orElseThrow();
            shown.remove(least);
            dropped.add(0, columns.get(least).title);
            total = total(shown, widths);
        }
        for (int i = shown.size() - 1; i >= 0 && total > width; i--) {
            int column = shown.get(i);
            if (columns.get(column).shrinks) {
                widths[column] = Math.max(8, widths[column] - (total - width));
                total = total(shown, widths);
            }
        }
        List<String> lines = new ArrayList<>();
        if (columns.stream().anyMatch(column -> !column.title.isEmpty())) {
            lines.add(line(
                    shown, widths, columns.stream().map(column -> column.title).toList()));
        }
        rows.forEach(row -> lines.add(line(shown, widths, row)));
        return lines;
    }

    /** Titles of the columns that did not fit, once the lines were asked for; those without a title are ornaments. */
    public List<String> dropped() {
        return dropped.stream().filter(title -> !title.isEmpty()).toList();
    }

    private int total(List<Integer> shown, int[] widths) {
        return indent.length()
                + shown.stream().mapToInt(i -> widths[i]).sum()
                + GAP.length() * Math.max(0, shown.size() - 1);
    }

    private String line(List<Integer> shown, int[] widths, List<String> cells) {
        StringBuilder line = new StringBuilder(indent);
        for (int i = 0; i < shown.size(); i++) {
            int column = shown.get(i);
            String cell = Screen.shorten(cells.get(column), widths[column]);
            String pad = " ".repeat(widths[column] - cell.length());
            line.append(i == 0 ? "" : GAP).append(columns.get(column).right ? pad + cell : cell + pad);
        }
        return line.toString().stripTrailing();
    }
}
