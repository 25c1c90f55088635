package dev.hapster.core.read.record;

/**
 * Where the next record of a file begins, so that a reader can be set on there.
 *
 * @param at bytes of the file before it
 * @param line its line, counted from 1
 */
public record Bookmark(long at, long line) {}
