package dev.hapster.core.definition.read;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What a file is made of, by the word of {@code as}. */
public enum Format {
    DELIMITED("delimited text", Kind.TEXT),
    LINES("lines of text", Kind.TEXT),
    FIXED("text of fixed width", Kind.TEXT),
    WORKBOOK("a workbook", Kind.GRID),
    JSON("JSON", Kind.TREE),
    JSON_LINES("JSON lines", Kind.TREE),
    XML("XML", Kind.TREE),
    PARQUET("Parquet", Kind.TREE);

    /** What it is like inside. */
    private enum Kind {
        TEXT,
        GRID,
        TREE
    }

    private final String noun;
    private final Kind kind;

    Format(String noun, Kind kind) {
        this.noun = noun;
        this.kind = kind;
    }

    /** As a job file says it. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** The words of all. */
    public static List<String> words() {
        return Arrays.stream(values()).map(Format::word).toList();
    }

    /** Reads a word; empty where there is no such format. */
    public static Optional<Format> of(String word) {
        return Arrays.stream(values())
                .filter(format -> format.word().equals(word))
                .findFirst();
    }

    /** As a sentence says it. */
    public String noun() {
        return noun;
    }

    /** Whether its rows are lines of text. */
    public boolean isText() {
        return kind == Kind.TEXT;
    }

    /** Whether its columns stand in one order, so that each has a position. */
    public boolean isOrdered() {
        return kind != Kind.TREE;
    }

    /** Whether the columns' names may stand in a row above the others. */
    public boolean mayHaveHeader() {
        return this == DELIMITED || this == WORKBOOK;
    }

    /** What a path to its rows is divided by. */
    public String pathMark() {
        return this == XML ? "/" : ".";
    }
}
