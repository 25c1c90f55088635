package dev.hapster.service.log;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;

/** Kinds of things that happen. */
public enum LogEvent {
    /** The run began. */
    STARTED,
    /** The files are known that the job takes. */
    FOUND,
    /** A file is done with. */
    FILE,
    /** A file was moved, copied or deleted, or could not be. */
    MOVED,
    /** Something that the service said while it worked for the run. */
    SAID,
    /** Something that stands in the run's report. */
    NOTE,
    /** The run ended. */
    ENDED;

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
