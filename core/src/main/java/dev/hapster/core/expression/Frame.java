package dev.hapster.core.expression;

import dev.hapster.core.reason.Reasons;

/**
 * What one evaluation holds while it goes on: the variables of loops, and how much it may still do. An expression costs
 * a bounded time for each row, whatever it says. Not thread-safe.
 */
final class Frame {

    /** Turns of all loops, for one row. */
    static final int MOST_TURNS = 1_000;
    /** Characters of all texts that are made, for one row. */
    static final int MOST_CHARACTERS = 1_000_000;

    final Object[] variables;
    private int turns;
    private long characters;

    Frame(int variables) {
        this.variables = new Object[variables];
    }

    /** Makes it ready for another row. */
    void reset() {
        turns = MOST_TURNS;
        characters = MOST_CHARACTERS;
    }

    void turn() throws FailedException {
        if (turns-- <= 0) {
            throw new FailedException(
                    "its loops take more than " + Reasons.grouped(MOST_TURNS) + " turns, and no more are allowed");
        }
    }

    /** To be said before a text is made. */
    void make(long count) throws FailedException {
        characters -= count;
        if (characters < 0) {
            throw new FailedException("the texts that it makes have more than " + Reasons.grouped(MOST_CHARACTERS)
                    + " characters, and no more are allowed for a row");
        }
    }
}
