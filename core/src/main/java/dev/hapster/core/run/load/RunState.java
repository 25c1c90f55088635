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

    /** As people and programs read it. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    /** Whether it never changes again. */
    public boolean ended() {
        return this != QUEUED && this != RUNNING;
    }
}
