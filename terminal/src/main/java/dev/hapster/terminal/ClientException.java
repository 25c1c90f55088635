package dev.hapster.terminal;

/** A command that cannot go on; the message is for the person at the terminal. */
public final class ClientException extends RuntimeException {

    private final int status;

    public ClientException(int status, String message) {
        super(message, null, false, false);
        this.status = status;
    }

    public int status() {
        return status;
    }
}
