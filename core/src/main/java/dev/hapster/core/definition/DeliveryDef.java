package dev.hapster.core.definition;

import java.util.List;
import java.util.Optional;

/**
 * A hand-over of a dataset's rows that is declared with it.
 *
 * @param to the file, or the files where rows are split
 * @param format one of those that rows can be written as
 * @param where conditions, all of which must hold
 * @param columns which columns, in this order, each also as {@code lab as Laboratory}; empty for all
 * @param sort columns to sort by, with a {@code -} in front for descending
 * @param origins whether the columns that say where a row comes from go with them
 * @param eachRun whether it is done after each run, and whatever else changes rows; otherwise on call alone
 */
public record DeliveryDef(
        String name,
        String about,
        FilePattern to,
        String format,
        List<String> where,
        List<String> columns,
        List<String> sort,
        boolean origins,
        boolean eachRun,
        Style style) {

    public DeliveryDef {
        where = List.copyOf(where);
        columns = List.copyOf(columns);
        sort = List.copyOf(sort);
    }

    /**
     * How texts are written, as it stands in the dataset's file.
     *
     * @param safe whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front
     * @param root the outermost element of XML
     * @param row the element of a row in XML
     */
    public record Style(
            Optional<String> separator,
            Optional<String> encoding,
            Optional<String> decimal,
            Optional<String> dates,
            Optional<String> timestamps,
            boolean quoteAll,
            boolean header,
            boolean safe,
            String root,
            String row) {}
}
