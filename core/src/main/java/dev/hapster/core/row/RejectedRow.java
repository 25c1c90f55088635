package dev.hapster.core.row;

import dev.hapster.core.reason.Reason;
import java.util.List;

/**
 * A row that does not fit.
 *
 * @param line physical line on which it begins, counted from 1
 * @param number which row of the file it is, counted from 1
 * @param faults everything that is wrong with it, at least one
 * @param original its text as it stands in the file, without the line end
 * @param fields its values as they stand in the file, one for each of the file's columns
 */
public record RejectedRow(long line, long number, List<Fault> faults, String original, List<String> fields) {

    public RejectedRow {
        faults = List.copyOf(faults);
        fields = List.copyOf(fields);
        if (faults.isEmpty()) {
            throw new IllegalArgumentException("A rejected row needs a fault");
        }
    }

    /**
     * One thing that is wrong with a row.
     *
     * @param column the dataset's column, or an empty text where the whole row is meant
     * @param value the value as it was read, or an empty text
     */
    public record Fault(String column, String value, Reason reason) {}
}
