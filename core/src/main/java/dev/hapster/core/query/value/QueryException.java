package dev.hapster.core.query.value;

/** A question that cannot be answered as it was put; the message says why and what would be right. */
public final class QueryException extends Exception {
    public QueryException(String message) {
        super(message);
    }
}
