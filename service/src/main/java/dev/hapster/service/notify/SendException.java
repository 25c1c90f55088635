package dev.hapster.service.notify;

/** A message could not be sent; the sentence says why, and holds nothing that is secret. */
class SendException extends Exception {

    SendException(String message) {
        super(message);
    }

    SendException(String message, Throwable cause) {
        super(message, cause);
    }
}
