package dev.hapster.core.catalogue;

import dev.hapster.core.reason.Reason;
import java.util.List;

/**
 * Rejected rows of one file that share reason and column.
 *
 * @param column the dataset's column; empty where the whole row is meant
 * @param rows how many rows
 * @param samples the first few of them
 */
public record ReasonGroup(String code, String column, long rows, List<Sample> samples) {

    public ReasonGroup {
        samples = List.copyOf(samples);
    }

    /** One rejected row, as an example. */
    public record Sample(long line, String value, String sentence) {
        public static Sample of(long line, String value, Reason reason) {
            return new Sample(line, value, reason.sentence());
        }
    }
}
