package dev.hapster.core.run;

/** The run came to its end while a file was in work; nothing of that is kept. */
final class CancelledException extends Exception {
    CancelledException() {
        super("cancelled", null, false, false);
    }
}
