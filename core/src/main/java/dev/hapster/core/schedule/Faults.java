package dev.hapster.core.schedule;

import dev.hapster.core.remote.RemoteFault;
import java.io.IOException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLRecoverableException;
import java.sql.SQLTransientException;
import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * How often a run that failed is tried again, where what it failed for may pass.
 *
 * @param tries runs in all, the first included; at least 2
 * @param first before the second one; each further pause is twice as long as the one before
 * @param longest no pause is longer
 */
public record Faults(int tries, Duration first, Duration longest) {

    /** What systems say of a disk that is full, a file that is in use, and network drives that are gone for a while. */
    private static final Set<String> PASSING = Set.of(
            "no space left on device",
            "disk quota exceeded",
            "not enough space on the disk",
            "used by another process",
            "resource temporarily unavailable",
            "stale file handle",
            "host is down",
            "connection timed out",
            "transport endpoint is not connected");

    /**
     * The pause behind a run that failed.
     *
     * @param attempt which one it was, counted from 1
     * @return empty where it was the last one
     */
    public Optional<Duration> pauseAfter(int attempt) {
        if (attempt >= tries) {
            return Optional.empty();
        }
        Duration pause = first;
        for (int i = 1; i < attempt && pause.compareTo(longest) < 0; i++) {
            pause = pause.multipliedBy(2);
        }
        return Optional.of(pause.compareTo(longest) < 0 ? pause : longest);
    }

    /** Whether what went wrong may be gone after a while, without anybody doing something. */
    public static boolean isPassing(Throwable wrong) {
        for (Throwable one = wrong; one != null; one = one.getCause()) {
            if (one instanceof RemoteFault fault) {
                return fault.isPassing();
            }
            boolean database = one instanceof SQLTransientException
                    || one instanceof SQLRecoverableException
                    || one instanceof SQLNonTransientConnectionException;
            String said = String.valueOf(one.getMessage()).toLowerCase(Locale.ROOT);
            if (database || (one instanceof IOException && PASSING.stream().anyMatch(said::contains))) {
                return true;
            }
        }
        return false;
    }
}
