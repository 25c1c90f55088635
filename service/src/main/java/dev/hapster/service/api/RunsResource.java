package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.store.RejectStore;
import dev.hapster.core.store.RejectStore.Reject;
import dev.hapster.service.api.Views.FileView;
import dev.hapster.service.api.Views.ReasonCollector;
import dev.hapster.service.api.Views.ReasonView;
import dev.hapster.service.api.Views.RunView;
import dev.hapster.service.operate.ActiveRun;
import dev.hapster.service.operate.ActiveRun.Progress;
import dev.hapster.service.operate.RunDesk;
import dev.hapster.service.records.Records;
import dev.hapster.service.records.RunRecord;
import io.smallrye.common.annotation.Blocking;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.infrastructure.Infrastructure;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestStreamElementType;

/** Runs: their history, progress, files and rejects. */
@Path("/api/v1/runs")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "runs")
@Blocking
public class RunsResource {

    private static final Duration BEAT = Duration.ofMillis(200);
    private static final int MOST = 1000;

    private final RunDesk desk;
    private final Records records;
    private final RejectStore rejects;

    RunsResource(RunDesk desk, Records records, RejectStore rejects) {
        this.desk = desk;
        this.records = records;
        this.rejects = rejects;
    }

    /**
     * Something that happened in a run: {@code progress} while it goes on, {@code ended} as the last.
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunEvent(String kind, Progress progress, RunView run) {
    }

    @GET
    public List<RunView> runs(@QueryParam("job") String job, @QueryParam("offset") @DefaultValue("0") int offset,
            @QueryParam("limit") @DefaultValue("50") int limit) {
        return records.runs(job, Math.max(0, offset), Math.max(1, Math.min(limit, MOST))).stream().map(this::view).toList();
    }

    @GET
    @Path("/{run}")
    public RunView run(long run) {
        return view(record(run));
    }

    private RunView view(RunRecord run) {
        return Views.run(run, rejects.path(run.id));
    }

    private RunRecord record(long run) {
        return records.run(run).orElseThrow(() -> new NotFoundException("There is no run " + run));
    }

    @GET
    @Path("/{run}/files")
    public List<FileView> files(long run) {
        record(run);
        return records.files(run).stream().map(Views::file).toList();
    }

    /** What the run rejected, by reason. */
    @GET
    @Path("/{run}/rejects")
    public List<ReasonView> reasons(long run) {
        record(run);
        return collect(records.reasons(run), records);
    }

    static List<ReasonView> collect(List<Records.Found> found, Records records) {
        ReasonCollector reasons = new ReasonCollector();
        for (Records.Found one : found) {
            if (one.reason() != null) {
                reasons.rows(one.run().job, one.run().dataset, one.run().id, one.file().name, one.file().path, one.reason().code,
                        one.reason().column, one.reason().rows, records.samples(one.reason()));
            } else if (ReasonCode.of(one.file().code).isPresent() && one.file().outcome == dev.hapster.core.run.Outcome.REJECTED) {
                reasons.file(one.run().job, one.run().dataset, one.run().id, one.file().name, one.file().path, one.file().code, one.file().sentence);
            }
        }
        return reasons.views();
    }

    /** Rejected rows one by one, with their original text; some of them. */
    @GET
    @Path("/{run}/rejects/rows")
    public List<Reject> rejectedRows(long run, @QueryParam("code") String code, @QueryParam("column") String column, @QueryParam("path") String path,
            @QueryParam("offset") @DefaultValue("0") long offset, @QueryParam("limit") @DefaultValue("100") int limit) throws IOException {
        record(run);
        return rejects.read(run, reject -> (code == null || reject.code().equals(code)) && (column == null || reject.column().equals(column))
                && (path == null || reject.path().equals(path)), Math.max(0, offset), Math.max(1, Math.min(limit, MOST)));
    }

    /** The run's rejects file. */
    @GET
    @Path("/{run}/rejects.csv")
    @Produces("text/csv")
    public Response rejectsFile(long run) {
        record(run);
        java.nio.file.Path file = rejects.path(run);
        if (!Files.exists(file)) {
            throw new NotFoundException("The rejects of run " + run + " are not put together yet; it has not ended");
        }
        return Response.ok(file.toFile()).header("Content-Disposition", "attachment; filename=\"" + file.getFileName() + "\"").build();
    }

    /** Asks the run to stop. Files that were committed stay. */
    @POST
    @Path("/{run}/cancel")
    public Response cancel(long run) {
        record(run);
        return desk.cancel(run) ? Response.accepted().build() : Response.noContent().build();
    }

    /** Server-sent events: progress a few times a second, and the result at the end. */
    @GET
    @Path("/{run}/events")
    @Produces(MediaType.SERVER_SENT_EVENTS)
    @RestStreamElementType(MediaType.APPLICATION_JSON)
    public Multi<RunEvent> events(long run) {
        record(run);
        return Multi.createFrom().ticks().startingAfter(Duration.ofMillis(1)).every(BEAT).onOverflow().drop()
                .emitOn(Infrastructure.getDefaultWorkerPool())
                .map(tick -> event(run))
                .select().first(new UpToTheEnd());
    }

    /** Lets events pass up to and including the one that says that the run has ended. */
    private static final class UpToTheEnd implements java.util.function.Predicate<RunEvent> {
        private boolean ended;

        @Override
        public boolean test(RunEvent event) {
            boolean pass = !ended;
            ended |= event.kind().equals("ended");
            return pass;
        }
    }

    private RunEvent event(long run) {
        return desk.active(run).map(ActiveRun::progress).map(progress -> new RunEvent("progress", progress, null)).orElseGet(() -> {
            RunRecord record = record(run);
            return record.state.ended() ? new RunEvent("ended", null, view(record)) : new RunEvent("progress", null, view(record));
        });
    }
}
