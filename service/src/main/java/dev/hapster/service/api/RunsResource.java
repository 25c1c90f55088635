package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.RejectExport;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.store.reject.RejectStore.Left;
import dev.hapster.core.store.reject.RejectStore.Reject;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.access.CallLimits;
import dev.hapster.service.api.RunComparison.Comparison;
import dev.hapster.service.api.Views.FileView;
import dev.hapster.service.api.Views.ReasonCollector;
import dev.hapster.service.api.Views.ReasonView;
import dev.hapster.service.api.Views.RunView;
import dev.hapster.service.api.call.NamedRun;
import dev.hapster.service.api.call.ValueParameters;
import dev.hapster.service.catalogue.StoredReasons;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunFileRecord;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.data.WholeAnswer;
import dev.hapster.service.runs.ActiveRun;
import dev.hapster.service.runs.ActiveRun.Progress;
import dev.hapster.service.runs.RunControl;
import io.smallrye.common.annotation.Blocking;
import io.smallrye.mutiny.Multi;
import io.smallrye.mutiny.infrastructure.Infrastructure;
import io.vertx.ext.web.RoutingContext;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.IOException;
import java.net.URI;
import java.nio.file.Files;
import java.time.Duration;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponseSchema;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;
import org.jboss.resteasy.reactive.RestStreamElementType;

/** Runs: their history, progress, files and rejects. */
@Path("/api/v1/runs")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "runs")
@Blocking
public class RunsResource {

    private static final Duration BEAT = Duration.ofMillis(200);
    private static final int MOST = 1000;

    private final Workspace workspace;
    private final RunControl desk;
    private final StoredRuns records;
    private final StoredReasons stored;
    private final RejectStore rejects;
    private final CallLimits limits;

    RunsResource(
            Workspace workspace,
            RunControl desk,
            StoredRuns records,
            StoredReasons stored,
            RejectStore rejects,
            CallLimits limits) {
        this.limits = limits;
        this.workspace = workspace;
        this.desk = desk;
        this.records = records;
        this.stored = stored;
        this.rejects = rejects;
    }

    /** Something that happened in a run: {@code progress} while it goes on, {@code ended} as the last. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record RunEvent(String kind, Progress progress, RunView run) {}

    @GET
    public List<RunView> runs(
            @QueryParam("job") String job,
            @QueryParam("label") String label,
            @QueryParam("offset") @DefaultValue("0") int offset,
            @QueryParam("limit") @DefaultValue("50") int limit)
            throws IOException, UnknownNameException, DefinitionException {
        List<RunView> runs = records.runs(job, label, Math.max(0, offset), Math.max(1, Math.min(limit, MOST))).stream()
                .map(this::view)
                .toList();
        JobsResource.known(workspace, job, runs.isEmpty() && offset == 0 && label == null);
        return runs;
    }

    @GET
    @Path("/{run}")
    public RunView run(long run) {
        return view(record(run));
    }

    private RunView view(RunRecord run) {
        return Views.run(run, rejects, desk.active(run.id).flatMap(ActiveRun::trouble));
    }

    private RunRecord record(long run) {
        return NamedRun.of(run, records);
    }

    @GET
    @Path("/{run}/files")
    public List<FileView> files(long run) {
        RunRecord record = record(run);
        return Stream.concat(
                        records.files(run).stream().map(Views::file),
                        records.carried(record).stream().map(Views::file))
                .sorted(Comparator.comparingInt(FileView::ordinal))
                .toList();
    }

    /** What the run rejected, by reason. */
    @GET
    @Path("/{run}/rejects")
    public List<ReasonView> reasons(long run) {
        RunRecord record = record(run);
        ReasonCollector reasons = collector(stored.reasons(run), stored, workspace);
        records.carried(record).stream()
                .filter(file -> file.outcome() == Outcome.REJECTED)
                .forEach(file -> reasons.file(
                        record.job, record.dataset, run, file.name(), file.path(), file.code(), file.sentence()));
        return reasons.views();
    }

    static List<ReasonView> collect(List<StoredReasons.Found> found, StoredReasons stored, Workspace workspace) {
        return collector(found, stored, workspace).views();
    }

    private static ReasonCollector collector(
            List<StoredReasons.Found> found, StoredReasons stored, Workspace workspace) {
        ReasonCollector reasons = new ReasonCollector(workspace::format);
        Set<Long> said = new HashSet<>();
        for (StoredReasons.Found one : found) {
            if (one.reason() != null) {
                reasons.rows(
                        one.run().job,
                        one.run().dataset,
                        one.run().id,
                        one.file().name,
                        one.file().path,
                        one.reason().code,
                        one.reason().column,
                        one.reason().rows,
                        stored.samples(one.reason()));
                if (isGone(workspace, one.file())) {
                    reasons.gone(one.run().job, one.reason().code, one.reason().column, one.file().name);
                }
            }
            boolean once = one.reason() == null || said.add(one.file().id);
            if (once && ReasonCode.of(one.file().code).isPresent() && one.file().outcome == Outcome.REJECTED) {
                reasons.file(
                        one.run().job,
                        one.run().dataset,
                        one.run().id,
                        one.file().name,
                        one.file().path,
                        one.file().code,
                        one.file().sentence);
                if (isGone(workspace, one.file())) {
                    reasons.gone(one.run().job, one.file().code, "", one.file().name);
                }
            }
        }
        return reasons;
    }

    /** Whether a file lies neither where it was found nor where the job took it. */
    private static boolean isGone(Workspace workspace, RunFileRecord file) {
        if (Remotes.isAddress(file.path)
                || (file.routedTo != null
                        && (Remotes.isAddress(file.routedTo)
                                || Files.exists(workspace.folder().resolve(file.routedTo))))) {
            return false; // what lies on other machines, nobody asks for a page
        }
        for (int end = file.path.length(); end > 0; end = file.path.lastIndexOf('!', end - 1)) {
            if (Files.exists(java.nio.file.Path.of(file.path.substring(0, end)))) {
                return false; // the file itself, or the one that it is a sheet or an entry of
            }
        }
        return true;
    }

    /** Rejected rows one by one, with their original text; some of them. */
    @GET
    @Path("/{run}/rejects/rows")
    public List<Reject> rejectedRows(
            long run,
            @QueryParam("code") String code,
            @QueryParam("column") String column,
            @QueryParam("path") String path,
            @QueryParam("offset") @DefaultValue("0") long offset,
            @QueryParam("limit") @DefaultValue("100") int limit)
            throws IOException {
        record(run);
        return rejects.read(
                run,
                reject -> (code == null || reject.code().equals(code))
                        && (column == null || reject.column().equals(column))
                        && (path == null || reject.path().equals(path)),
                Math.max(0, offset),
                Math.max(1, Math.min(limit, MOST)));
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
        return Response.ok(file.toFile())
                .header("Content-Disposition", "attachment; filename=\"" + file.getFileName() + "\"")
                .build();
    }

    /** Rows that the run set aside, one by one; some of them. */
    @GET
    @Path("/{run}/aside/rows")
    public List<Left> asideRows(
            long run,
            @QueryParam("rule") String rule,
            @QueryParam("path") String path,
            @QueryParam("offset") @DefaultValue("0") long offset,
            @QueryParam("limit") @DefaultValue("100") int limit)
            throws IOException {
        record(run);
        return rejects.readAside(
                run,
                left -> (rule == null || left.rule().equals(rule))
                        && (path == null || left.path().equals(path)),
                Math.max(0, offset),
                Math.max(1, Math.min(limit, MOST)));
    }

    /** How many rows a rule set aside. */
    public record RuleCount(String rule, long rows, long files) {}

    /** Rows that the run set aside, counted by the rule that did so. */
    @GET
    @Path("/{run}/aside")
    public List<RuleCount> aside(long run) throws IOException {
        record(run);
        Map<String, Map<String, Long>> counts = new TreeMap<>();
        rejects.readAside(
                run,
                left -> {
                    counts.computeIfAbsent(left.rule(), rule -> new HashMap<>()).merge(left.path(), 1L, Long::sum);
                    return false;
                },
                0,
                1);
        return counts.entrySet().stream()
                .map(entry -> new RuleCount(
                        entry.getKey(),
                        entry.getValue().values().stream()
                                .mapToLong(Long::longValue)
                                .sum(),
                        entry.getValue().size()))
                .toList();
    }

    /**
     * What the run rejected, row by row in the source's own columns, with the reasons behind them.
     *
     * @param as {@code csv}, {@code parquet}, or {@code source} for delimited text as the job reads it
     */
    @GET
    @Path("/{run}/rejects/export")
    @Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response rejectsExport(
            long run, @QueryParam("as") @DefaultValue("csv") String as, @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        return export(run, as, false, call);
    }

    /** The same for the rows that it set aside. */
    @GET
    @Path("/{run}/aside/export")
    @Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response asideExport(
            long run, @QueryParam("as") @DefaultValue("csv") String as, @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        return export(run, as, true, call);
    }

    private Response export(long run, String as, boolean aside, RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        limits.takeLongAnswer(call);
        RunRecord record = record(run);
        RejectExport export = new RejectExport(rejects, run, records.headers(run), aside);
        String name = (aside ? "aside-" : "rejects-") + "run-" + run;
        if (as.equals("source")) {
            Read read = workspace.job(record.job).read();
            if (read.as() != Format.DELIMITED) {
                throw new QueryException(record.job + " reads " + read.as().noun()
                        + ", and rows can be written as delimited text only. Ask for csv or parquet");
            }
            StreamingOutput text = out -> WholeAnswer.write(call, () -> export.likeSource(read, out));
            return Response.ok(text, "text/plain; charset=" + read.encoding().name())
                    .header("Content-Disposition", "attachment; filename=\"" + name + ".csv\"")
                    .build();
        }
        if (!as.equals("csv") && !as.equals("parquet")) {
            throw new QueryException("'as' must be csv, parquet or source, not '" + as + "'");
        }
        StreamingOutput rows = out -> WholeAnswer.write(
                call, () -> export.write(RowWriter.of(as, out, name).orElseThrow()));
        return Response.ok(rows, as.equals("csv") ? "text/csv; charset=UTF-8" : "application/vnd.apache.parquet")
                .header("Content-Disposition", "attachment; filename=\"" + name + "." + as + "\"")
                .build();
    }

    /**
     * How a retry is asked for.
     *
     * @param set values given for it alone
     */
    public record RetryRequest(Map<String, String> set) {}

    /** Takes again what the run rejected and what still is. */
    @POST
    @Path("/{run}/retry")
    @APIResponseSchema(value = RunView.class, responseCode = "202")
    public Response retry(long run, RetryRequest request)
            throws IOException, DefinitionException, UnknownNameException, RunControl.BusyException {
        RunRecord record = record(run);
        long number = desk.retry(record, ValueParameters.orNone(request == null ? null : request.set()));
        return Response.accepted(view(record(number)))
                .location(URI.create("/api/v1/runs/" + number))
                .build();
    }

    /**
     * What would come of taking the run, or another entry of the history, back: rows taken out and put back, and what
     * stands in the way.
     */
    @GET
    @Path("/{run}/undo")
    public Effect undoEffect(long run) throws IOException, DefinitionException, UnknownNameException {
        return desk.undoEffect(record(run));
    }

    /**
     * Takes the run, or another entry of the history, back; that is an entry itself, and can be taken back like any
     * other.
     */
    @POST
    @Path("/{run}/undo")
    public RunView undo(long run)
            throws IOException, RunControl.BusyException, ActNotPossibleException, DefinitionException,
                    UnknownNameException {
        return view(record(desk.undo(record(run))));
    }

    /**
     * A run beside another one, file by file.
     *
     * @param with number of the other; the one before it, of the same job, where it is not said
     */
    @GET
    @Path("/{run}/comparison")
    public Comparison comparison(long run, @RestQuery Long with) {
        RunRecord record = record(run);
        Optional<RunRecord> other = with == null ? records.before(record) : Optional.of(record(with));
        if (with != null && with == run) {
            throw new BadRequestException("Run " + run + " cannot be compared with itself");
        }
        for (RunRecord one : other.isEmpty() ? List.of(record) : List.of(record, other.get())) {
            if (!one.kind.equals(RunRecord.RUN) && !one.kind.equals(RunRecord.RETRY)) {
                throw new BadRequestException("Entry " + one.id + " of the history is no run (" + one.kind + ")");
            }
        }
        if (other.isEmpty()) {
            return RunComparison.alone(view(record));
        }
        RunRecord older = other.get().id < record.id ? other.get() : record;
        RunRecord newer = older == record ? other.get() : record;
        return RunComparison.of(view(older), files(older.id), view(newer), files(newer.id));
    }

    /**
     * What people call a run.
     *
     * @param label on one line; empty takes it away
     */
    public record LabelRequest(String label) {}

    /** Calls a run by a label, in place of the one that it has. */
    @POST
    @Path("/{run}/label")
    public RunView label(long run, LabelRequest request) {
        record(run);
        if (request == null || request.label() == null) {
            throw new BadRequestException("Give a label: {\"label\": \"after the pump was changed\"}");
        }
        records.label(run, RunLabel.of(request.label()).orElse(null));
        return run(run);
    }

    /** Asks the run to stop. Files that were committed stay. */
    @POST
    @Path("/{run}/cancel")
    public Response cancel(long run) {
        record(run);
        return desk.cancel(run)
                ? Response.accepted().build()
                : Response.noContent().build();
    }

    /** Server-sent events: progress a few times a second, and the result at the end. */
    @GET
    @Path("/{run}/events")
    @Produces(MediaType.SERVER_SENT_EVENTS)
    @RestStreamElementType(MediaType.APPLICATION_JSON)
    public Multi<RunEvent> events(long run) {
        record(run);
        return Multi.createFrom()
                .ticks()
                .startingAfter(Duration.ofMillis(1))
                .every(BEAT)
                .onOverflow()
                .drop()
                .emitOn(Infrastructure.getDefaultWorkerPool())
                .map(tick -> event(run))
                .select()
                .first(new UpToTheEnd());
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
        return desk.active(run)
                .map(ActiveRun::progress)
                .map(progress -> new RunEvent("progress", progress, null))
                .orElseGet(() -> {
                    RunRecord record = record(run);
                    return record.state.ended()
                            ? new RunEvent("ended", null, view(record))
                            : new RunEvent("progress", null, view(record));
                });
    }
}
