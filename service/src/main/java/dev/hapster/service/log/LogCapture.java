package dev.hapster.service.log;

import dev.hapster.core.reason.Reasons;
import dev.hapster.core.work.LogMark;
import io.quarkus.runtime.ShutdownEvent;
import io.quarkus.runtime.StartupEvent;
import jakarta.enterprise.context.ApplicationScoped;
import jakarta.enterprise.event.Observes;
import java.util.logging.Formatter;
import java.util.logging.Handler;
import java.util.logging.LogRecord;
import java.util.logging.Logger;
import org.jboss.logmanager.ExtLogRecord;
import org.jboss.logmanager.formatters.PatternFormatter;

/** Puts what the service says while it works for a run into the log of that run, too. */
@ApplicationScoped
class LogCapture {

    private static final int INFO = java.util.logging.Level.INFO.intValue();
    private static final int WARN = java.util.logging.Level.WARNING.intValue();

    private static final Formatter MESSAGE = new PatternFormatter("%s");

    private final Logger logger = Logger.getLogger("dev.hapster");
    private final Handler handler;

    LogCapture(RunLogs logs) {
        handler = new Handler() {
            @Override
            public void publish(LogRecord line) {
                if (line instanceof ExtLogRecord marked && marked.getLevel().intValue() >= INFO) {
                    LogMark.run(marked.getMdc(LogMark.KEY))
                            .flatMap(logs::of)
                            .ifPresent(log -> log.said(level(marked), text(marked)));
                }
            }

            @Override
            public void flush() {
                // nothing is held back
            }

            @Override
            public void close() {
                // each log is closed when its run has ended
            }
        };
    }

    void begin(@Observes StartupEvent start) {
        logger.addHandler(handler);
    }

    void end(@Observes ShutdownEvent stop) {
        logger.removeHandler(handler);
    }

    /** A run whose last line says that it failed says so itself. */
    private static LogLevel level(LogRecord line) {
        return line.getLevel().intValue() >= WARN ? LogLevel.WARN : LogLevel.INFO;
    }

    private static String text(ExtLogRecord line) {
        String message = MESSAGE.formatMessage(line);
        return line.getThrown() == null ? message : message + ": " + Reasons.deepest(line.getThrown());
    }
}
