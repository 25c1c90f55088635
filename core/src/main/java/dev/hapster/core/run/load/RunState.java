package dev.hapster.core.run.load;

import java.util.Locale;

/** How far a run has come, or how it ended. */
public enum RunState {
    QUEUED,
    RUNNING,
    FINISHED,
    STOPPED,
    CANCELLED,
    FAILED;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    public boolean ended() {
        return this != QUEUED && this != RUNNING;
    }
}
