package dev.hapster.core.run.stage;

import java.util.List;
import java.util.Locale;

/**
 * A row of a file at a stage.
 *
 * @param file as people name it
 * @param row which row of the file it is, counted from 1
 * @param line the line on which it begins, counted from 1
 * @param place where it stands, in files in which a line does not say it, such as {@code Mar!17}; otherwise empty
 * @param outcome what a run by the same rules makes of it
 * @param cells one for each column of the stage; null for nothing
 * @param faults why it is rejected
 * @param rule the rule by which it is set aside; empty where none does
 */
public record StageRow(
        String file,
        long row,
        long line,
        String place,
        Outcome outcome,
        List<String> cells,
        List<RowFault> faults,
        String rule) {

    /** What becomes of a row. Whether another row is the same is not told here. */
    public enum Outcome {
        STORED,
        REJECTED,
        ASIDE;

        public String word() {
            return this == ASIDE ? "set aside" : name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * What is wrong.
     *
     * @param column of the dataset; empty where the whole row is meant
     * @param cell where that stands among the cells, counted from 0; -1 where it does not
     */
    public record RowFault(String column, int cell, String value, String code, String sentence) {}
}
