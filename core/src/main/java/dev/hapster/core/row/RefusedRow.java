package dev.hapster.core.row;

import dev.hapster.core.reason.Reason;
import java.util.List;

/**
 * A row that does not fit.
 *
 * @param line     physical line on which it begins, counted from 1
 * @param faults   everything that is wrong with it, at least one
 * @param original its text as it stands in the file, without the line end
 */
public record RefusedRow(long line, List<Fault> faults, String original) {

    public RefusedRow {
        faults = List.copyOf(faults);
        if (faults.isEmpty()) {
            throw new IllegalArgumentException("A refused row needs a fault");
        }
    }

    /**
     * One thing that is wrong with a row.
     *
     * @param column the dataset's column, or an empty text where the whole row is meant
     * @param value  the value as it was read, or an empty text
     */
    public record Fault(String column, String value, Reason reason) {
    }
}
