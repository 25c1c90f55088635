package dev.hapster.core.query.profile;

import dev.hapster.core.query.value.Field;
import java.util.List;
import java.util.Optional;
import java.util.OptionalDouble;

/**
 * What is known of the values of one column.
 *
 * @param rows rows looked at
 * @param empty those of them without a value
 * @param distinct how many different values there are
 * @param smallest of numbers and times the least, of texts the first; null where there are no values. So are those that
 *     follow where the column is of another kind
 * @param mean of numbers
 * @param deviation of numbers: the root of the mean square of the distances from the mean (of all rows, not of a
 *     sample)
 * @param quantiles of numbers and times: the values below which a share of the rows lies
 * @param histogram of numbers and times: stretches of equal width, from the smallest to the largest value
 * @param frequent the most frequent values, the most frequent first
 * @param text of texts: lengths, spaces, characters that cannot be seen
 * @param lookAlikes values that differ only in case, spaces, accents or width, by groups; of the first
 *     {@link Frequencies#MOST} different values
 * @param gaps of dates and timestamps: the longest stretches without a row
 */
public record ColumnProfile(
        Field field,
        long rows,
        long empty,
        Amount distinct,
        Comparable<?> smallest,
        Comparable<?> largest,
        OptionalDouble mean,
        OptionalDouble deviation,
        List<Quantile> quantiles,
        List<Bin> histogram,
        List<Frequent> frequent,
        Optional<TextProfile> text,
        List<List<Frequent>> lookAlikes,
        Optional<Gaps> gaps) {

    /**
     * A number that may be estimated.
     *
     * @param error within which share of itself it lies, 19 times of 20; 0 where it is exact
     */
    public record Amount(long number, double error) {}

    /**
     * A value and its rank.
     *
     * @param share of the rows with a value that lie at it or below, from 0 to 1
     * @param error within which share of the rows the rank lies, 99 times of 100; 0 where it is exact
     */
    public record Quantile(double share, Comparable<?> value, double error) {}

    /**
     * Rows between two values.
     *
     * @param to itself only in the last one
     */
    public record Bin(Comparable<?> from, Comparable<?> to, long rows) {}

    /** @param error how many rows more it may be; 0 where it is exact */
    public record Frequent(Comparable<?> value, long rows, long error) {}

    /**
     * Lengths in code points.
     *
     * @param strayRows rows whose value has white space at an end, or two of it behind one another
     * @param controlRows rows whose value has control characters in it
     */
    public record TextProfile(
            int shortest, String shortestValue, int longest, String longestValue, long strayRows, long controlRows) {}

    /**
     * Days without rows.
     *
     * @param days days with rows
     * @param usual how many days lie between two of these usually (the median)
     * @param longest the longest stretches that are longer than usual, the longest first
     */
    public record Gaps(long days, long usual, List<Gap> longest) {}

    /**
     * A stretch without a row.
     *
     * @param from the last day before it with a row
     * @param to the first day behind it with one
     * @param days how many days lie between them
     */
    public record Gap(java.time.LocalDate from, java.time.LocalDate to, long days) {}

    /** Rows that have a value. */
    public long filled() {
        return rows - empty;
    }
}
