package dev.hapster.service.api.history;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.JobsResource;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** How the runs of a job went, one after another. */
@Path("/api/v1/jobs/{job}/trend")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class TrendResource {

    private static final int MOST = 1000;

    private final Workspace workspace;
    private final StoredRuns records;

    TrendResource(Workspace workspace, StoredRuns records) {
        this.workspace = workspace;
        this.records = records;
    }

    /**
     * A run among others.
     *
     * @param state finished, failed, stopped or cancelled
     * @param seconds how long it took; absent where it did not begin
     * @param filesLoaded new and replaced ones
     * @param label what people call it; absent where nobody does
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record TrendPoint(
            long run,
            Instant startedAt,
            String state,
            Double seconds,
            long filesLoaded,
            long filesRejected,
            long rowsLoaded,
            long rowsRejected,
            String label) {

        static TrendPoint of(RunRecord run) {
            return new TrendPoint(
                    run.id,
                    run.startedAt == null ? run.queuedAt : run.startedAt,
                    run.state.word(),
                    run.startedAt == null || run.endedAt == null
                            ? null
                            : Duration.between(run.startedAt, run.endedAt).toMillis() / 1000.0,
                    run.filesLoaded + run.filesReplaced,
                    run.filesRejected,
                    run.rowsLoaded,
                    run.rowsRejected,
                    run.label);
        }
    }

    /**
     * The latest runs of a job that found something new or failed, the oldest first. Runs that found nothing new are
     * left out, and counted.
     *
     * @param points as many as were asked for, or all
     * @param idle runs among them that found nothing new
     */
    public record Trend(String job, List<TrendPoint> points, long idle) {}

    /**
     * How the latest runs of a job went.
     *
     * @param limit how many, up to 1000
     */
    @GET
    public Trend trend(String job, @QueryParam("limit") @DefaultValue("60") int limit)
            throws IOException, UnknownNameException, DefinitionException {
        List<RunRecord> runs = records.runsWithNews(job, Math.max(1, Math.min(limit, MOST)));
        JobsResource.known(workspace, job, runs.isEmpty());
        List<TrendPoint> points =
                new ArrayList<>(runs.stream().map(TrendPoint::of).toList());
        Collections.reverse(points);
        long first = points.isEmpty() ? 0 : points.get(0).run();
        return new Trend(job, points, records.endedRuns(job, first) - points.size());
    }
}
