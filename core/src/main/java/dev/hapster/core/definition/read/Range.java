package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.pattern.CellName;
import java.util.Map;
import java.util.Optional;

/**
 * A block of cells; rows and columns are counted from 1, and the last of each may be open ({@link Integer#MAX_VALUE}).
 */
public record Range(int firstRow, int lastRow, int firstColumn, int lastColumn) {

    /** All cells of a sheet. */
    public static final Range ALL = new Range(1, Integer.MAX_VALUE, 1, Integer.MAX_VALUE);

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
        int colon = text.indexOf(':');
        if (colon < 0) {
            return Optional.empty();
        }
        Optional<CellName> first = CellName.of(text.substring(0, colon));
        Optional<CellName> last = CellName.of(text.substring(colon + 1));
        boolean fits = first.isPresent()
                && last.isPresent()
                && (first.get().column() == 0) == (last.get().column() == 0);
        if (!fits) {
            return Optional.empty();
        }
        Range range = new Range(
                Math.max(1, first.get().row()),
                last.get().row() == 0 ? Integer.MAX_VALUE : last.get().row(),
                Math.max(1, first.get().column()),
                last.get().column() == 0 ? Integer.MAX_VALUE : last.get().column());
        return range.firstRow <= range.lastRow && range.firstColumn <= range.lastColumn
                ? Optional.of(range)
                : Optional.empty();
    }
}
