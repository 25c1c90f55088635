package dev.hapster.core.run.stage;

import java.util.List;

/**
 * Rows of a file at a stage.
 *
 * @param columns what the cells of the rows are
 * @param file of several files, the one to which {@code next} belongs, counted from 0
 * @param next the row at which the next page begins; 0 behind the last
 * @param looked how many rows were looked at
 * @param whole whether those were all rows of the file, or all behind the first one asked for
 * @param found how many of them satisfy what was asked for
 * @param untold for how many of them the condition could not be evaluated
 * @param rows of the file, as far as it has been looked through; -1 where that is not known
 * @param busy whether the file is still being looked through to find the place that was asked for: ask again
 * @param notes what is worth knowing
 */
public record StagePage(
        List<StageColumn> columns,
        List<StageRow> shown,
        int file,
        long next,
        long looked,
        boolean whole,
        long found,
        long untold,
        long rows,
        boolean busy,
        List<String> notes) {

    /** Of a file of which no row can be shown. */
    public static final StagePage NONE = new StagePage(List.of(), List.of(), 0, 0, 0, true, 0, 0, -1, false, List.of());

    /**
     * A column of a stage.
     *
     * @param type of the dataset's column; empty for a file's own
     * @param from what feeds it: the file's column, or where else it comes from; for a file's own column the dataset's
     */
    public record StageColumn(String name, String type, String from) {}
}
