package dev.hapster.core.run.load;

/** The run came to its end while a file was in work; nothing of that is kept. */
public final class CancelledException extends Exception {
    CancelledException() {
        super("cancelled", null, false, false);
    }
}
