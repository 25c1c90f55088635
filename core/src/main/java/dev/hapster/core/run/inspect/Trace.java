package dev.hapster.core.run.inspect;

import java.util.List;
import java.util.Optional;

/**
 * What each step makes of one row of a file, by the rules as they are now.
 *
 * @param row which row of the file it is, counted from 1
 * @param original the row as it stands in the file
 * @param leftBy the rule by which it would be set aside now; empty where none would
 * @param passes whether it would be loaded now, or set aside
 * @param readAnew whether the file itself was read; otherwise it is gone or has changed, and this is what was kept of
 *     the row
 */
public record Trace(
        String path,
        long line,
        long row,
        String original,
        List<Cell> cells,
        Optional<String> leftBy,
        boolean passes,
        boolean readAnew) {

    public Trace {
        cells = List.copyOf(cells);
    }

    /**
     * One column of the dataset; or, with an empty name, what is wrong with the row as a whole.
     *
     * @param from the file's own column, or where else it comes from
     * @param read as it stands in the file
     * @param cleaned after cleaning
     * @param value as it is stored; empty where it is nothing, or does not fit
     * @param code of the reason why it does not fit
     * @param sentence that in words
     * @param rule what the definitions say of the column
     */
    public record Cell(
            String column,
            String type,
            String from,
            Optional<String> read,
            Optional<String> cleaned,
            Optional<String> value,
            Optional<String> code,
            Optional<String> sentence,
            String rule) {}
}
