package dev.hapster.core.definition;

import java.util.List;
import java.util.Optional;

/**
 * A hand-over of a dataset's rows that is declared with it.
 *
 * @param where conditions, all of which must hold
 * @param columns which columns, in this order, each also as {@code lab as Laboratory}; empty for all
 * @param origins whether the columns that say where a row comes from go with them
 * @param eachRun whether it is done after each run, and whatever else changes rows; otherwise on call alone
 */
public record DeliveryDef(
        String name,
        String about,
        Target to,
        List<String> where,
        List<String> columns,
        boolean origins,
        boolean eachRun) {

    public DeliveryDef {
        where = List.copyOf(where);
        columns = List.copyOf(columns);
    }

    /** Where rows go. */
    public sealed interface Target {

        /** What is written, in one word. */
        String format();
    }

    /**
     * To a file, or to files where rows are split.
     *
     * @param pattern its path, with pieces where there are several
     * @param format one of those that rows can be written as
     * @param sheet the sheet of a workbook of others that is written into; empty where files are the delivery's own
     * @param sort columns to sort by, with a {@code -} in front for descending
     */
    public record ToFiles(FilePattern pattern, String format, Optional<String> sheet, List<String> sort, Style style)
            implements Target {

        public ToFiles {
            sort = List.copyOf(sort);
        }

        @Override
        public String toString() {
            return pattern + sheet.map(name -> ", sheet " + name).orElse("");
        }
    }

    /** How a table follows. */
    public enum Mode {
        /** It has the dataset's rows; only those that changed are carried over. */
        FOLLOW,
        /** It has the dataset's rows; all are carried over where one changed. */
        REPLACE,
        /** It gets the rows of each arrival once, and loses none. */
        APPEND
    }

    /**
     * To a table of a database.
     *
     * @param account by which to sign in
     * @param schema empty for the first of the search path
     * @param table its name, as the database spells it
     */
    public record ToTable(String account, String schema, String table, Mode mode) implements Target {

        @Override
        public String format() {
            return "table";
        }

        /** As it stands in the definition. */
        public String path() {
            return schema.isEmpty() ? table : schema + "." + table;
        }

        @Override
        public String toString() {
            return path() + " at " + account;
        }
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
