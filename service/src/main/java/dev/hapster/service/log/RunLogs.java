package dev.hapster.service.log;

import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.SerializationFeature;
import com.fasterxml.jackson.databind.json.JsonMapper;
import com.fasterxml.jackson.datatype.jsr310.JavaTimeModule;
import dev.hapster.core.workspace.Workspace;
import jakarta.enterprise.context.ApplicationScoped;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** The logs of all runs, {@code store/logs/run-14.jsonl} each: a JSON object on each line. Thread-safe. */
@ApplicationScoped
public class RunLogs {

    private static final Logger LOG = LoggerFactory.getLogger(RunLogs.class);
    private static final ObjectMapper JSON = JsonMapper.builder()
            .addModule(new JavaTimeModule())
            .disable(SerializationFeature.WRITE_DATES_AS_TIMESTAMPS)
            .build();

    private final Path folder;
    private final Clock clock;
    private final Map<Long, RunLog> open = new ConcurrentHashMap<>();

    RunLogs(Workspace workspace, Clock clock) throws IOException {
        folder = Files.createDirectories(workspace.store().resolve("logs"));
        this.clock = clock;
    }

    /** Where the log of a run lies; there is none where nothing of it was logged. */
    public Path path(long run) {
        return folder.resolve("run-" + run + ".jsonl");
    }

    /**
     * Begins the log of a run. There is none of its number yet, unless the catalogue was lost and numbers are given
     * once more: that one tells of another run, and goes.
     */
    public RunLog begin(long run) {
        try {
            drop(run);
        } catch (IOException wrong) {
            LOG.warn("{} tells of another run, and cannot be removed", path(run), wrong);
        }
        return open(run);
    }

    /** Goes on with the log of a run, or begins it. To be closed with {@link #close}. */
    public RunLog open(long run) {
        return open.computeIfAbsent(run, number -> new RunLog(number, path(number), JSON.writer(), clock));
    }

    public void close(long run) {
        RunLog log = open.remove(run);
        if (log != null) {
            log.close();
        }
    }

    /** The log of a run that is going on. */
    Optional<RunLog> of(long run) {
        return Optional.ofNullable(open.get(run));
    }

    /**
     * A piece of a run's log.
     *
     * @param from where to begin, as an earlier piece said it; 0 is the beginning
     * @param limit of lines
     * @param least lines that matter less are passed over
     */
    public Lines read(long run, long from, int limit, LogLevel least) throws IOException {
        try {
            return LogFile.read(path(run), JSON.readerFor(LogLine.class), from, limit, least);
        } catch (NoSuchFileException nothing) {
            return new Lines(List.of(), 0, false);
        }
    }

    /**
     * A piece of a log.
     *
     * @param lines whole ones
     * @param next where the following piece begins, in bytes
     * @param more whether there are more whole ones already
     */
    public record Lines(List<LogLine> lines, long next, boolean more) {}

    /** Removes the log of a run. */
    public void drop(long run) throws IOException {
        Files.deleteIfExists(path(run));
    }
}
