package dev.hapster.core.arrival;

import java.util.Comparator;

/**
 * A place in the order of arrivals.
 *
 * @param entry number of the run or retry that saw the file
 * @param turn its turn among the files of that run: the one that was written last comes last
 * @param ordinal number of the file within that run, for files that were written at the same time
 */
public record Order(long entry, int turn, int ordinal) implements Comparable<Order> {

    private static final Comparator<Order> ORDER =
            Comparator.comparingLong(Order::entry).thenComparingInt(Order::turn).thenComparingInt(Order::ordinal);

    @Override
    public int compareTo(Order other) {
        return ORDER.compare(this, other);
    }
}
