package dev.hapster.service.log;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.Balance;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.load.RunState;
import java.time.Instant;
import java.util.Optional;

/**
 * A line of a run's log.
 *
 * @param at when, UTC
 * @param event what kind of thing happened
 * @param file by which people tell it from the job's other files; absent where no single file is meant
 * @param path absolute, with the place inside the file where it has one
 * @param outcome of a file: loaded, replaced, rejected, waiting; of the run: finished, failed, stopped, cancelled
 * @param files how many the job takes
 * @param bytes of all of them together
 * @param rows counts; absent where none were read
 * @param code why a file was rejected or waits, by which programs know it
 * @param millis how long it took
 * @param text a sentence for people; absent where the numbers say all
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record LogLine(
        Instant at,
        LogLevel level,
        LogEvent event,
        String file,
        String path,
        String outcome,
        Long files,
        Long bytes,
        LogRows rows,
        String code,
        Long millis,
        String text) {

    private static final int LONGEST = 4000;

    /** What became of rows. */
    public record LogRows(long read, long loaded, long aside, long repeated, long rejected) {}

    static LogLine saying(Instant at, LogLevel level, LogEvent event, String text) {
        return new LogLine(at, level, event, null, null, null, null, null, null, null, null, shortened(text));
    }

    static LogLine found(Instant at, long files, long bytes) {
        return new LogLine(at, LogLevel.INFO, LogEvent.FOUND, null, null, null, files, bytes, null, null, null, null);
    }

    static LogLine about(Instant at, FileResult file) {
        Optional<Reason> reason = file.reason();
        return new LogLine(
                at,
                reason.isEmpty() && file.rejected() == 0 ? LogLevel.INFO : LogLevel.WARN,
                LogEvent.FILE,
                shortened(file.name()),
                shortened(file.path()),
                file.outcome().word(),
                null,
                null,
                file.read() == 0
                        ? null
                        : new LogRows(file.read(), file.loaded(), file.aside(), file.repeated(), file.rejected()),
                reason.map(why -> why.code().code()).orElse(null),
                file.millis(),
                reason.map(Reason::sentence).map(LogLine::shortened).orElse(null));
    }

    static LogLine about(Instant at, Route.Done done) {
        return new LogLine(
                at,
                done.problem().isPresent() ? LogLevel.WARN : LogLevel.INFO,
                LogEvent.MOVED,
                shortened(String.valueOf(done.route().source().getFileName())),
                shortened(done.route().source().toString()),
                null,
                null,
                null,
                null,
                null,
                null,
                shortened(done.afterwards().words()));
    }

    /** @param millis since it began */
    static LogLine ended(Instant at, RunResult result, long millis) {
        Balance all = result.balance();
        return new LogLine(
                at,
                level(result.state()),
                LogEvent.ENDED,
                null,
                null,
                result.state().word(),
                all.found(),
                null,
                new LogRows(all.read(), all.loaded(), all.aside(), all.repeated(), all.rejected()),
                null,
                millis,
                result.failure().map(LogLine::shortened).orElse(null));
    }

    private static LogLevel level(RunState end) {
        return switch (end) {
            case FAILED -> LogLevel.ERROR;
            case FINISHED -> LogLevel.INFO;
            default -> LogLevel.WARN;
        };
    }

    private static String shortened(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 1) + "…";
    }

    boolean matters(LogLevel least) {
        return level.compareTo(least) >= 0;
    }
}
