package dev.hapster.service.api.history;

import dev.hapster.service.api.call.NamedRun;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.log.LogLevel;
import dev.hapster.service.log.LogLine;
import dev.hapster.service.log.RunLogs;
import dev.hapster.service.log.RunLogs.Lines;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.file.Files;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** What single runs did, line by line. */
@Path("/api/v1/runs/{run}")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "runs")
@Blocking
public class LogResource {

    private static final int MOST = 1000;

    private final StoredRuns records;
    private final RunLogs logs;

    LogResource(StoredRuns records, RunLogs logs) {
        this.records = records;
        this.logs = logs;
    }

    /**
     * A piece of a run's log.
     *
     * @param next {@code at} of the following piece
     * @param more whether there is one: now, or later since the run goes on
     * @param kept whether anything was logged of the run at all
     */
    public record LogPiece(List<LogLine> lines, long next, boolean more, boolean kept) {}

    /**
     * The run's log, a piece at a time: asked again from where the last piece ended, it is followed while the run goes
     * on.
     *
     * @param at where to begin, as the last piece said it
     * @param level only lines that matter as much: info, warn or error
     */
    @GET
    @Path("/log")
    public LogPiece log(
            long run,
            @QueryParam("at") @DefaultValue("0") long at,
            @QueryParam("limit") @DefaultValue("1000") int limit,
            @QueryParam("level") @DefaultValue("info") String level)
            throws IOException {
        LogLevel least = LogLevel.of(level)
                .orElseThrow(() -> new BadRequestException("level must be info, warn or error, not '" + level + "'"));
        boolean ended = record(run).state.ended(); // asked first: what it logs at its end is there once it has ended
        Lines lines = logs.read(run, at, Math.max(1, Math.min(limit, MOST)), least);
        return new LogPiece(lines.lines(), lines.next(), lines.more() || !ended, Files.exists(logs.path(run)));
    }

    /** The whole log as a file: a JSON object on each line. */
    @GET
    @Path("/log.jsonl")
    @Produces("application/x-ndjson")
    public Response file(long run) {
        record(run);
        java.nio.file.Path file = logs.path(run);
        if (!Files.exists(file)) {
            throw new NotFoundException("Nothing was logged of run " + run);
        }
        return Response.ok(file.toFile())
                .header("Content-Disposition", "attachment; filename=\"" + file.getFileName() + "\"")
                .build();
    }

    private RunRecord record(long run) {
        return NamedRun.of(run, records);
    }
}
