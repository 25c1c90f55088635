package dev.hapster.core.work;

import java.util.Map;
import java.util.Optional;
import org.slf4j.MDC;

/**
 * Says in which run a thread is at work, so that what it logs can be told from what others log: the key {@code run} of
 * the logging context (MDC).
 */
public final class LogMark {

    public static final String KEY = "run";

    private LogMark() {}

    /** The same work, marked as being a run's. */
    public static Runnable marked(long run, Runnable work) {
        return () -> {
            MDC.put(KEY, Long.toString(run));
            try {
                work.run();
            } finally {
                MDC.remove(KEY);
            }
        };
    }

    /** The same work, marked as whoever asks for it now is. */
    public static Runnable alike(Runnable work) {
        Map<String, String> context = MDC.getCopyOfContextMap();
        return run(context == null ? null : context.get(KEY))
                .map(run -> marked(run, work))
                .orElse(work);
    }

    /** The run that a mark tells of; empty where there is none. */
    public static Optional<Long> run(String mark) {
        return mark != null && mark.matches("\\d{1,18}") ? Optional.of(Long.parseLong(mark)) : Optional.empty();
    }
}
