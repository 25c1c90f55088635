package dev.hapster.service.api;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.Trace;
import dev.hapster.core.run.repair.Fixes;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.Views.ReasonView;
import dev.hapster.service.api.call.NamedRun;
import dev.hapster.service.catalogue.StoredReasons;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** What is currently rejected, over all jobs; and what the reasons mean. */
@Path("/api/v1")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "rejects")
@Blocking
public class RejectsResource {

    private final Workspace workspace;
    private final Runner runner;
    private final StoredRuns records;
    private final StoredReasons reasons;

    RejectsResource(Workspace workspace, Runner runner, StoredRuns records, StoredReasons reasons) {
        this.workspace = workspace;
        this.runner = runner;
        this.records = records;
        this.reasons = reasons;
    }

    /** A kind of reject. */
    public record ReasonMeaning(String code, String level, String cause, String cure) {}

    /** Of each file what its latest reading found, by job and reason. */
    @GET
    @Path("/rejects")
    public List<ReasonView> open(@QueryParam("job") String job)
            throws IOException, UnknownNameException, DefinitionException {
        List<ReasonView> open = RunsResource.collect(reasons.openReasons(job), reasons, workspace);
        JobsResource.known(workspace, job, open.isEmpty());
        return open;
    }

    @GET
    @Path("/reasons")
    public List<ReasonMeaning> reasons() {
        return Arrays.stream(ReasonCode.values())
                .map(reason -> new ReasonMeaning(
                        reason.code(), reason.level().name().toLowerCase(Locale.ROOT), reason.cause(), reason.cure()))
                .toList();
    }

    /**
     * A row that a run rejected, as each step makes it by the rules as they are now.
     *
     * @param path of its file
     * @param row which row of the file it is
     */
    @GET
    @Path("/rejects/{run}/trace")
    public Trace trace(long run, @QueryParam("path") String path, @QueryParam("row") long row)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        RunRecord record = record(run);
        try {
            return runner.traces()
                    .of(
                            record.job,
                            run,
                            path,
                            records.sources(run).getOrDefault(path, ""),
                            row,
                            records.headers(run).getOrDefault(path, List.of()))
                    .orElseThrow(() -> new NotFoundException("Run " + run + " rejected no row " + row + " of " + path));
        } catch (FileRejectedException gone) {
            throw new QueryException(
                    "The row cannot be followed: its file " + gone.reason().sentence());
        }
    }

    /**
     * Changes to the definition files by which what a run rejected for a reason would fit. Saved with {@code PUT
     * /jobs/{job}} or {@code PUT /datasets/{dataset}}.
     */
    @GET
    @Path("/rejects/{run}/mends")
    public Fixes mends(long run, @QueryParam("code") String code, @QueryParam("column") String column)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        RunRecord record = record(run);
        ReasonCode reason =
                ReasonCode.of(code).orElseThrow(() -> new QueryException("There is no reason '" + code + "'"));
        Map<String, String> sources = records.sources(run);
        return runner.fixes()
                .of(record.job, run, reason, column == null ? "" : column, path -> sources.getOrDefault(path, ""));
    }

    private RunRecord record(long run) {
        return NamedRun.of(run, records);
    }
}
