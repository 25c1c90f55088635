package dev.hapster.core.arrival;

import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * How the rows of an arrival meet rows of other arrivals that have the same values in some columns.
 *
 * @param columns by which rows are the same; empty for all of them
 * @param newest the column that says which row is the newest; empty where the order of arrival does
 */
public record RowRule(Kind kind, Scope scope, List<String> columns, Optional<String> newest) {

    /** Rows are not compared with those of other arrivals. */
    public static final RowRule NONE = new RowRule(Kind.NONE, Scope.DATASET, List.of(), Optional.empty());

    public RowRule {
        columns = List.copyOf(columns);
    }

    /** What happens where rows are the same. */
    public enum Kind {
        /** Nothing. */
        NONE,
        /** The row takes the place of all before it; it may also say that they are to go. */
        UPDATE,
        /** The row stays only where there is none before it. */
        FIRST,
        /** The same, and a row that does not stay is rejected. */
        REJECT,
        /** The row takes the place of those before it within the scope. */
        LAST,
        /** All stay, and are counted. */
        COUNT
    }

    /** Among which rows. */
    public enum Scope {
        /** Those of files that were first seen by the same run. */
        RUN,
        /** All rows of the dataset. */
        DATASET
    }

    /** Whether it can keep a row from counting. */
    public boolean drops() {
        return kind != Kind.NONE && kind != Kind.COUNT;
    }

    /** For storing; {@link #parse} reads it back. */
    @Override
    public String toString() {
        return kind == Kind.NONE
                ? ""
                : (kind + "|" + scope + "|" + String.join(",", columns) + "|" + newest.orElse(""))
                        .toLowerCase(Locale.ROOT);
    }

    public static RowRule parse(String text) {
        if (text.isEmpty()) {
            return NONE;
        }
        String[] pieces = text.split("\\|", -1);
        return new RowRule(
                Kind.valueOf(pieces[0].toUpperCase(Locale.ROOT)),
                Scope.valueOf(pieces[1].toUpperCase(Locale.ROOT)),
                pieces[2].isEmpty() ? List.of() : List.of(pieces[2].split(",")),
                Optional.of(pieces[3]).filter(column -> !column.isEmpty()));
    }
}
