package dev.hapster.core.query.profile;

import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.part.Parts;
import dev.hapster.core.query.profile.ColumnProfile.Amount;
import dev.hapster.core.query.profile.ColumnProfile.Bin;
import dev.hapster.core.query.profile.ColumnProfile.Frequent;
import dev.hapster.core.query.profile.ColumnProfile.Quantile;
import dev.hapster.core.query.sorted.RowSorter;
import dev.hapster.core.query.sorted.Sort;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.Ordering;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;

/**
 * Finds out exactly what a profile estimates: all values of a column are sorted, on disk where memory does not hold
 * them, and gone through once. Used once; not thread-safe.
 */
final class ExactFigures {

    private static final Comparator<Frequent> RAREST = Comparator.comparingLong(Frequent::rows);

    private final ColumnProfile about;
    private final double[] shares;
    private final long[] ranks;
    private final List<Quantile> quantiles = new ArrayList<>();
    private final long[] bins;
    private final PriorityQueue<Frequent> frequent = new PriorityQueue<>(RAREST);
    private Comparable<?> last;
    private long ofLast;
    private long seen;
    private long distinct;
    private int bin;

    private ExactFigures(ColumnProfile about) {
        this.about = about;
        boolean ranked = !about.quantiles().isEmpty() || about.field().type().isWideDecimal();
        shares = ranked ? Profiler.SHARES : new double[0];
        ranks = Arrays.stream(shares)
                .mapToLong(share -> (long) Math.ceil(share * about.filled()))
                .toArray();
        bins = new long[about.histogram().size()];
    }

    /** Whether there is anything that is not known exactly. */
    static boolean isMissingIn(ColumnProfile profile) {
        return profile.distinct().error() > 0
                || profile.quantiles().stream().anyMatch(one -> one.error() > 0)
                || profile.frequent().stream().anyMatch(one -> one.error() > 0);
    }

    /**
     * The same profile with exact figures.
     *
     * @param scratch folder for files of rows that are sorted; they are gone at the end
     */
    static ColumnProfile of(ColumnProfile profile, Parts parts, Where where, Path scratch)
            throws IOException, QueryException {
        ExactFigures figures = new ExactFigures(profile);
        List<Field> field = List.of(profile.field());
        try (RowSorter sorter =
                new RowSorter(parts, field, List.of(new Sort(profile.field(), false)), where, scratch)) {
            long unused = sorter.each(values -> figures.add(values.get(0)));
        }
        return figures.whole();
    }

    private void add(Comparable<?> value) {
        if (value == null) {
            return;
        }
        if (!value.equals(last) && (last == null || Ordering.compare(value, last) != 0)) {
            endValue();
            last = value;
            distinct++;
        }
        ofLast++;
        seen++;
        while (quantiles.size() < ranks.length && seen >= ranks[quantiles.size()]) {
            quantiles.add(new Quantile(shares[quantiles.size()], value, 0));
        }
        while (bin < bins.length - 1
                && Ordering.compare(value, about.histogram().get(bin).to()) >= 0) {
            bin++;
        }
        if (bins.length > 0) {
            bins[bin]++;
        }
    }

    private void endValue() {
        if (ofLast > 0) {
            frequent.add(new Frequent(last, ofLast, 0));
            if (frequent.size() > Profiler.MOST_FREQUENT) {
                frequent.poll();
            }
        }
        ofLast = 0;
    }

    private ColumnProfile whole() {
        endValue();
        List<Bin> histogram = new ArrayList<>();
        for (int i = 0; i < bins.length; i++) {
            Bin estimated = about.histogram().get(i);
            histogram.add(new Bin(estimated.from(), estimated.to(), bins[i]));
        }
        return new ColumnProfile(
                about.field(),
                about.rows(),
                about.empty(),
                new Amount(distinct, 0),
                about.smallest(),
                about.largest(),
                about.mean(),
                about.deviation(),
                quantiles,
                histogram,
                frequent.stream()
                        .sorted(RAREST.reversed().thenComparing((a, b) -> Ordering.compare(a.value(), b.value())))
                        .toList(),
                about.text(),
                about.lookAlikes(),
                about.gaps());
    }
}
