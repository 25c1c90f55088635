package dev.hapster.terminal;

/** How a command ended. */
public final class ExitStatus {
    public static final int DONE = 0;
    /** Done, with rejects or findings. */
    public static final int FINDINGS = 1;

    public static final int WRONG_USE = 2;
    public static final int FAILED = 3;
    public static final int NO_SERVICE = 4;

    private ExitStatus() {}
}
