package dev.hapster.core.notify;

import java.util.Locale;

/** Of what somebody can be told. */
public enum Event {
    /** A run failed, or a limit stopped it; the same failure again is not told again. */
    FAILED,
    /** A run rejected rows or files that no run before it had rejected. */
    REJECTED,
    /** Files that were due arrived too late. */
    LATE,
    /** Files that are due are not there. */
    MISSING,
    /** More or fewer files or rows arrived than usual. */
    UNUSUAL,
    /** The first run that finished after one that did not. */
    RECOVERED,
    /** Any run. */
    RUN;

    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
