package dev.hapster.core.query.sorted;

import dev.hapster.core.query.value.Ordering;
import java.util.Comparator;
import java.util.List;

/**
 * Where a row stands, with the values it is sorted by.
 *
 * @param group number of its source
 * @param file number of the file in which it lies
 * @param row its number in that file
 */
public record Spot(int group, long line, int file, long row, List<Comparable<?>> keys) {

    /** Rows by what they are sorted by, and those that are the same in it, or not sorted, by source and line. */
    static Comparator<Spot> order(List<Sort> sorts) {
        return (a, b) -> {
            for (int i = 0; i < sorts.size(); i++) {
                int order = Ordering.compareEmptyLast(
                        a.keys.get(i), b.keys.get(i), sorts.get(i).descending());
                if (order != 0) {
                    return order;
                }
            }
            return byPlace(a, b);
        };
    }

    private static int byPlace(Spot a, Spot b) {
        int order = Integer.compare(a.group, b.group);
        order = order != 0 ? order : Long.compare(a.line, b.line);
        order = order != 0 ? order : Integer.compare(a.file, b.file);
        return order != 0 ? order : Long.compare(a.row, b.row);
    }
}
