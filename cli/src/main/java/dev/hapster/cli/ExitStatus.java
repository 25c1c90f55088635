package dev.hapster.cli;

/** How a command ended. */
final class ExitStatus {
    static final int DONE = 0;
    /** Done, with rejects or findings. */
    static final int FINDINGS = 1;

    static final int WRONG_USE = 2;
    static final int FAILED = 3;
    static final int NO_SERVICE = 4;

    private ExitStatus() {}
}
