package dev.hapster.core.query.value;

import java.util.List;

/** How values are put in order: by their type, and empty values behind all others. */
public final class Ordering {

    private Ordering() {}

    /** Compares two values of one type, neither of them empty. */
    @SuppressWarnings("unchecked")
    public static int compare(Comparable<?> a, Comparable<?> b) {
        return ((Comparable<Object>) a).compareTo(b);
    }

    /** Compares lists of values of the same types, empty ones last. */
    public static int compare(List<? extends Comparable<?>> a, List<? extends Comparable<?>> b) {
        for (int i = 0; i < a.size(); i++) {
            int order = compareEmptyLast(a.get(i), b.get(i), false);
            if (order != 0) {
                return order;
            }
        }
        return 0;
    }

    /** Compares two values of one type; null is last in both directions. */
    public static int compareEmptyLast(Comparable<?> a, Comparable<?> b, boolean descending) {
        if (a == null || b == null) {
            return a == b ? 0 : a == null ? 1 : -1;
        }
        return descending ? compare(b, a) : compare(a, b);
    }
}
