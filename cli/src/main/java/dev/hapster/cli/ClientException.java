package dev.hapster.cli;

/** A command that cannot go on; the message is for the person at the terminal. */
final class ClientException extends RuntimeException {

    private final int status;

    ClientException(int status, String message) {
        super(message, null, false, false);
        this.status = status;
    }

    int status() {
        return status;
    }
}
