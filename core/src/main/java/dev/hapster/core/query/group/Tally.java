package dev.hapster.core.query.group;

import java.util.ArrayList;
import java.util.Collections;
import java.util.List;

/**
 * How many rows a group has, and what was found out of their values.
 *
 * @param totals one for each measure
 */
public record Tally(long rows, List<Total> totals) {

    /** A group of no rows. */
    public static Tally none(List<Measure> measures) {
        return new Tally(0, Collections.nCopies(measures.size(), new Total(0, null, 0, 0, null)));
    }

    /** Both together. */
    public Tally with(Tally other, List<Measure> measures) {
        List<Total> both = new ArrayList<>();
        for (int i = 0; i < totals.size(); i++) {
            both.add(totals.get(i).with(other.totals.get(i), measures.get(i)));
        }
        return new Tally(rows + other.rows, both);
    }

    /** What each measure comes to; null where there are no values. */
    public List<Comparable<?>> values(List<Measure> measures) {
        List<Comparable<?>> values = new ArrayList<>();
        for (int i = 0; i < totals.size(); i++) {
            values.add(totals.get(i).value(measures.get(i)));
        }
        return Collections.unmodifiableList(values);
    }
}
