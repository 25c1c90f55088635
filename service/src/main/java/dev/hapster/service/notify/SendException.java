package dev.hapster.service.notify;

/** A message could not be sent; the sentence says why, and holds nothing that is secret. */
class SendException extends Exception {

    private final boolean ofAll;

    /** @param ofAll whether that goes for all messages by the account; otherwise for this one alone */
    SendException(String message, boolean ofAll) {
        super(message);
        this.ofAll = ofAll;
    }

    SendException(String message, boolean ofAll, Throwable cause) {
        super(message, cause);
        this.ofAll = ofAll;
    }

    boolean isOfAll() {
        return ofAll;
    }
}
