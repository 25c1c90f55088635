package dev.hapster.service.log;

import com.fasterxml.jackson.databind.ObjectWriter;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.load.RunListener;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * The log of one run while it goes on. Each line is handed to the operating system at once: who follows sees it, and a
 * kill takes none. Files of which there is nothing new have no line of their own; nor have others once there are very
 * many. A line that cannot be written makes the log end, never the run. Thread-safe.
 */
public final class RunLog implements RunListener, AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(RunLog.class);
    /** About single files and what the service says; so that a run of a million files does not fill the disk. */
    private static final int MOST_LINES = Integer.getInteger("hapster.log-lines", 100_000);

    private final long run;
    private final Path file;
    private final ObjectWriter json;
    private final Clock clock;
    private OutputStream out;
    private long lines;
    private String trouble;
    private volatile Instant began;
    private boolean over;

    RunLog(long run, Path file, ObjectWriter json, Clock clock) {
        this.run = run;
        this.file = file;
        this.json = json;
        this.clock = clock;
    }

    /** Why lines are missing in it; empty where none are. */
    public synchronized Optional<String> trouble() {
        return Optional.ofNullable(trouble);
    }

    /** The run begins. */
    public void started(String text) {
        began = clock.instant();
        write(LogLine.saying(began, LogLevel.INFO, LogEvent.STARTED, text));
    }

    /** The run has ended, or is about to be said to have. */
    public void ended(RunResult result) {
        result.notes().forEach(note -> write(LogLine.saying(clock.instant(), LogLevel.WARN, LogEvent.NOTE, note)));
        Instant now = clock.instant();
        write(LogLine.ended(
                now, result, began == null ? 0 : Duration.between(began, now).toMillis()));
    }

    /** The run ended by something that was not foreseen. */
    public synchronized void brokenOff(String why) {
        if (over) {
            return;
        }
        over = true; // what cannot be recorded is tried again, and said once
        write(LogLine.saying(clock.instant(), LogLevel.ERROR, LogEvent.ENDED, why));
    }

    /** What the service said while it worked for the run. */
    void said(LogLevel level, String text) {
        writeOneOfMany(LogLine.saying(clock.instant(), level, LogEvent.SAID, text));
    }

    @Override
    public void found(long files, long bytes) {
        write(LogLine.found(clock.instant(), files, bytes));
    }

    @Override
    public void fileDone(FileResult result) {
        boolean news = result.outcome() != Outcome.UNCHANGED && result.sinceRun() == 0;
        if (news) {
            writeOneOfMany(LogLine.about(clock.instant(), result));
        }
    }

    @Override
    public void routed(Route.Done done) {
        writeOneOfMany(LogLine.about(clock.instant(), done));
    }

    private synchronized void writeOneOfMany(LogLine line) {
        if (lines < MOST_LINES) {
            write(line);
        } else if (lines == MOST_LINES) {
            write(LogLine.saying(
                    clock.instant(),
                    LogLevel.WARN,
                    LogEvent.SAID,
                    "The log has " + MOST_LINES + " lines; further files have none. hapster runs " + run
                            + " and its files say all"));
        }
    }

    private synchronized void write(LogLine line) {
        if (trouble != null) {
            return;
        }
        try {
            if (out == null) {
                out = open();
            }
            byte[] text = json.writeValueAsBytes(line);
            byte[] whole = Arrays.copyOf(text, text.length + 1);
            whole[text.length] = '\n';
            out.write(whole);
            lines++;
        } catch (IOException full) {
            trouble = "Its log ends early: " + file.getFileName() + " cannot be written: " + full.getMessage();
            LOG.warn("Run {}: {}", run, trouble);
        }
    }

    /** A line that a kill cut off is ended first. */
    private OutputStream open() throws IOException {
        boolean torn = Files.exists(file) && !LogFile.endsWithLine(file);
        OutputStream opened = Files.newOutputStream(file, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        if (torn) {
            opened.write('\n');
        }
        return opened;
    }

    @Override
    public synchronized void close() {
        if (out == null) {
            return;
        }
        try {
            out.close();
        } catch (IOException wrong) {
            LOG.warn("The log of run {} could not be closed", run, wrong);
        }
        out = null;
    }
}
