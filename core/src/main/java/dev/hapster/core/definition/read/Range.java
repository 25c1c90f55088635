package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Shape;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A block of cells; rows and columns are counted from 1, and the last of each may be open ({@link Integer#MAX_VALUE}).
 */
public record Range(int firstRow, int lastRow, int firstColumn, int lastColumn) {

    /** All cells of a sheet. */
    public static final Range ALL = new Range(1, Integer.MAX_VALUE, 1, Integer.MAX_VALUE);

    private static final Pattern FORM =
            Pattern.compile("\\$?([A-Za-z]{1,3})?\\$?([1-9]\\d{0,6})?:\\$?([A-Za-z]{1,3})?\\$?([1-9]\\d{0,6})?");

    static Shape<Optional<Range>> shape() {
        return Shape.of(
                (map, key, usual) -> {
                    Optional<Range> range = of(map.text(key, ""));
                    if (range.isEmpty()) {
                        map.wrong(
                                key,
                                "'" + map.text(key, "") + "' is not a range of cells",
                                "Write it like B3:G200; B3:G goes to the last row, B:G takes whole columns");
                    }
                    return range;
                },
                Map.of("type", "string"),
                range -> "");
    }

    /** Reads {@code B3:G200}, {@code B3:G} or {@code B:G}, with or without dollar signs; empty where it is none. */
    static Optional<Range> of(String text) {
        Matcher form = FORM.matcher(text);
        boolean fits = form.matches()
                && (form.group(1) == null) == (form.group(3) == null)
                && (form.group(1) != null || form.group(2) != null);
        if (!fits) {
            return Optional.empty();
        }
        Range range = new Range(
                form.group(2) == null ? 1 : Integer.parseInt(form.group(2)),
                form.group(4) == null ? Integer.MAX_VALUE : Integer.parseInt(form.group(4)),
                form.group(1) == null ? 1 : column(form.group(1)),
                form.group(3) == null ? Integer.MAX_VALUE : column(form.group(3)));
        return range.firstRow <= range.lastRow && range.firstColumn <= range.lastColumn
                ? Optional.of(range)
                : Optional.empty();
    }

    /** The position of a column by its letters, counted from 1. */
    private static int column(String letters) {
        int column = 0;
        for (char letter : letters.toUpperCase(Locale.ROOT).toCharArray()) {
            column = column * 26 + letter - 'A' + 1;
        }
        return column;
    }
}
