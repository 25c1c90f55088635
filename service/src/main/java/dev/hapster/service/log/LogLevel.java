package dev.hapster.service.log;

import com.fasterxml.jackson.annotation.JsonValue;
import java.util.Locale;
import java.util.Optional;

/** How much a line matters. */
public enum LogLevel {
    INFO,
    /** Something was rejected, or did not go as it should; the run went on. */
    WARN,
    /** The run failed. */
    ERROR;

    /** The one that a word means; empty where none does. */
    public static Optional<LogLevel> of(String word) {
        for (LogLevel level : values()) {
            if (level.word().equals(word)) {
                return Optional.of(level);
            }
        }
        return Optional.empty();
    }

    @JsonValue
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
