package dev.hapster.core.row;

import java.util.List;

/**
 * A row that is left out on purpose.
 *
 * @param line physical line on which it begins, counted from 1
 * @param number which row of the file it is, counted from 1
 * @param rule the rule that left it out, as people say it; the same for all rows that it left out
 * @param repeats what it repeats, as people say it, such as {@code line 4}; empty where it is not a repetition
 * @param original its text as it stands in the file, without the line end
 * @param fields its values as they stand in the file, one for each of the file's columns
 */
public record SetAsideRow(long line, long number, String rule, String repeats, String original, List<String> fields) {
    public SetAsideRow {
        fields = List.copyOf(fields);
    }
}
