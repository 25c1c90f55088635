package dev.hapster.core.run.load;

/** A run that cannot go on: the disk is full, the catalogue is gone, or the counts do not balance. */
public final class RunFailedException extends Exception {

    public RunFailedException(String message, Throwable cause) {
        super(message, cause);
    }
}
