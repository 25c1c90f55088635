package dev.hapster.core.expression;

/** An expression could not be evaluated for a row. The message is for people: the end of a sentence. */
public final class FailedException extends Exception {

    /** Rows fail by the million: there is no stack trace. */
    FailedException(String message) {
        super(message, null, false, false);
    }
}
