package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.catalogue.Fate;
import dev.hapster.core.catalogue.FileResult;
import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Outcome;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.explain.Explanation;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.find.FilesNamed;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.CheckResult;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.Views.CheckView;
import dev.hapster.service.api.Views.CheckedFile;
import dev.hapster.service.api.Views.ReasonCollector;
import dev.hapster.service.api.Views.ReportView;
import dev.hapster.service.api.Views.RunView;
import dev.hapster.service.api.call.ValueParameters;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.catalogue.StoredReasons;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.catalogue.record.RunRecord;
import dev.hapster.service.notify.Messenger;
import dev.hapster.service.runs.ActiveRun;
import dev.hapster.service.runs.Again;
import dev.hapster.service.runs.RunControl;
import dev.hapster.service.runs.RunControl.BusyException;
import dev.hapster.service.schedule.Scheduler;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponseSchema;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** Jobs: what they do, what they would take, check, trial and run. */
@Path("/api/v1/jobs")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class JobsResource {

    private final Workspace workspace;
    private final Runner runner;
    private final RunControl desk;
    private final StoredRuns records;
    private final StoredCatalogue catalogue;
    private final StoredReasons reasons;
    private final RejectStore rejects;
    private final Scheduler scheduler;
    private final Messenger messenger;
    private final Clock clock;

    JobsResource(
            Workspace workspace,
            Runner runner,
            RunControl desk,
            StoredRuns records,
            StoredCatalogue catalogue,
            StoredReasons reasons,
            RejectStore rejects,
            Scheduler scheduler,
            Messenger messenger,
            Clock clock) {
        this.messenger = messenger;
        this.scheduler = scheduler;
        this.workspace = workspace;
        this.runner = runner;
        this.desk = desk;
        this.records = records;
        this.catalogue = catalogue;
        this.reasons = reasons;
        this.rejects = rejects;
        this.clock = clock;
    }

    /**
     * A job in a list.
     *
     * @param problems mistakes in its file; empty where it can be used
     * @param lastRun its latest run; absent where it never ran
     * @param running number of the run going on; absent where there is none
     * @param openRows rows that its files hold and the dataset lacks, since they were rejected
     * @param openFiles files that are rejected whole
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record JobView(
            String name,
            String about,
            String into,
            List<Problem> problems,
            RunView lastRun,
            Long running,
            long openRows,
            long openFiles) {}

    /** One folder of a job, with its rules in the order in which they act. */
    public record PlaceView(String folder, int depth, List<String> rules) {}

    /**
     * A job in full.
     *
     * @param text its file as it stands
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record JobDetail(
            String name,
            String about,
            String into,
            String version,
            String text,
            List<Problem> problems,
            List<Values.Used> values,
            List<PlaceView> find,
            Explanation explanation,
            RunView lastRun,
            Long running) {}

    /**
     * A new text for a job's file.
     *
     * @param version of the text that was changed
     * @param set values for names that have none of their own, so that the text can be checked
     */
    public record SaveRequest(String text, String version, Map<String, String> set) {}

    /**
     * A job made out of another one.
     *
     * @param values values to set in the new job's {@code values}
     */
    public record CopyRequest(String name, Map<String, String> values) {}

    @GET
    public List<JobView> jobs() throws IOException {
        Map<String, RunRecord> latest = records.latest();
        Map<String, StoredReasons.OpenCount> open = reasons.openCounts();
        List<JobView> jobs = new ArrayList<>();
        for (String name : workspace.jobs()) {
            String about = "";
            String into = "";
            List<Problem> problems = List.of();
            try {
                JobDef job = workspace.job(name);
                about = job.about();
                into = job.into();
            } catch (DefinitionException wrong) {
                problems = wrong.problems();
            } catch (UnknownNameException gone) {
                continue;
            }
            StoredReasons.OpenCount rejected = open.getOrDefault(name, new StoredReasons.OpenCount(name, 0, 0));
            jobs.add(new JobView(
                    name,
                    about,
                    into,
                    problems,
                    lastRun(latest.get(name)),
                    running(name),
                    rejected.rows(),
                    rejected.files()));
        }
        return jobs;
    }

    private RunView lastRun(RunRecord run) {
        return run == null ? null : Views.run(run, rejects, desk.active(run.id).flatMap(ActiveRun::trouble));
    }

    private Long running(String job) {
        return desk.activeOf(job).map(ActiveRun::number).orElse(null);
    }

    @GET
    @Path("/{job}")
    public JobDetail job(String job, @RestQuery List<String> set)
            throws IOException, DefinitionException, UnknownNameException {
        RunView last = lastRun(records.latest().get(job));
        String text = workspace.jobText(job);
        try {
            JobDef def = workspace.job(job, ValueParameters.inAddress(set));
            DatasetDef dataset = workspace.dataset(def.into());
            List<PlaceView> places = def.find().stream()
                    .map(place -> new PlaceView(
                            place.folder(),
                            place.depth(),
                            place.rules().stream().map(FindRule::words).toList()))
                    .toList();
            return new JobDetail(
                    job,
                    def.about(),
                    def.into(),
                    def.version(),
                    text,
                    List.of(),
                    def.values(),
                    places,
                    Explanation.of(def, dataset),
                    last,
                    running(job));
        } catch (DefinitionException wrong) {
            return new JobDetail(
                    job,
                    "",
                    "",
                    Definitions.version(text),
                    text,
                    wrong.problems(),
                    List.of(),
                    List.of(),
                    null,
                    last,
                    running(job));
        }
    }

    /**
     * Writes a job's file, or makes a job where there is none of that name. The text must be without mistakes, and
     * nobody else may have changed it in the meantime.
     */
    @PUT
    @Path("/{job}")
    @APIResponseSchema(JobDetail.class)
    public Response save(String job, SaveRequest request)
            throws IOException, DefinitionException, UnknownNameException, Workspace.ChangedException {
        if (request == null || request.text() == null) {
            throw new BadRequestException("The field 'text' is missing: the text of the job's file");
        }
        Map<String, String> values = ValueParameters.orNone(request.set());
        if (request.version() == null && !workspace.jobs().contains(job)) {
            workspace.create(job, request.text(), values);
            return Response.created(URI.create("/api/v1/jobs/" + job))
                    .entity(job(job, List.of()))
                    .build();
        }
        if (request.version() == null) {
            throw new BadRequestException("There is a job '" + job
                    + "' already; to change it, give the 'version' of the text that was changed");
        }
        workspace.save(job, request.text(), request.version(), values);
        return Response.ok(job(job, List.of())).build();
    }

    /** Deletes a job's file. What the job loaded stays in its dataset, and its runs in the history. */
    @DELETE
    @Path("/{job}")
    public void delete(String job) throws IOException, DefinitionException, UnknownNameException, BusyException {
        Long running = running(job);
        if (running != null) {
            throw new BusyException(job, running);
        }
        workspace.delete(job);
        scheduler.deleted(job);
        messenger.deleted(job);
    }

    /**
     * What is known of an arrival: one content of a file, as a run read it.
     *
     * @param source identity of the file within the job: its place, and its path below the place's folder
     * @param generation tells files of one name apart: once the job has taken a file away, the next one of that name is
     *     another file
     * @param path where it lay when it was read, with the place inside the file
     * @param outcome loaded or rejected
     * @param run that read it
     * @param rejected rows of it that are rejected
     * @param code why the whole of it is not loaded
     * @param inDataset whether rows of it are in the dataset
     * @param current whether it is the last word on its file
     * @param rows of it that are in the dataset
     * @param kept whether its rows are kept, so that they can come back where they are not in the dataset
     * @param repairs the run that loaded the file of which these are repaired rows
     * @param movedTo where the file lies now, where a run moved it
     * @param deletedBy the run that deleted it
     * @param hash XXH3-128 of its content
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record LedgerView(
            String source,
            int generation,
            String path,
            String outcome,
            long run,
            long rejected,
            String code,
            String sentence,
            boolean inDataset,
            boolean current,
            long rows,
            boolean kept,
            Long repairs,
            String movedTo,
            Long deletedBy,
            long size,
            Instant modified,
            String hash) {
        static LedgerView of(LedgerEntry entry, long rows) {
            boolean copy = entry.standing().copyOf() != 0;
            boolean rejected = !entry.arrival().accepted() || copy;
            Long deletedBy =
                    entry.fate().kind() == Fate.Kind.DELETED ? entry.fate().run() : null;
            String path = entry.file().resolveSibling(entry.name()).toString();
            return new LedgerView(
                    entry.arrival().source(),
                    entry.arrival().generation(),
                    path,
                    rejected ? "rejected" : "loaded",
                    entry.arrival().entry(),
                    copy ? 0 : entry.rejected(),
                    rejected
                            ? entry.reason().map(reason -> reason.code().code()).orElse(null)
                            : null,
                    rejected ? entry.reason().map(Reason::sentence).orElse(null) : null,
                    entry.isLoaded() || rows > 0,
                    entry.standing().current(),
                    rows,
                    !entry.arrival().part().isEmpty(),
                    entry.arrival().isRepair() ? entry.arrival().base() >> 24 : null,
                    entry.fate().to().map(Object::toString).orElse(null),
                    deletedBy,
                    entry.fingerprint().size(),
                    entry.fingerprint().modified(),
                    entry.arrival().content());
        }
    }

    /**
     * A job whose file is gone is known as long as there is anything of it.
     *
     * @param nothing whether nothing was found of it
     * @throws UnknownNameException where there is no such job either
     */
    public static void known(Workspace workspace, String job, boolean nothing)
            throws IOException, UnknownNameException, DefinitionException {
        if (job != null && nothing) {
            workspace.jobText(job);
        }
    }

    /** Every file that the job has ever dealt with, as it was last, by source. */
    @GET
    @Path("/{job}/ledger")
    public List<LedgerView> ledger(String job) throws IOException, UnknownNameException, DefinitionException {
        known(workspace, job, catalogue.ledger(job).isEmpty());
        Map<String, Long> rows = catalogue.rowsByFile(job);
        return catalogue.ledger(job).stream()
                .map(entry ->
                        LedgerView.of(entry, rows.getOrDefault(entry.arrival().slot(), 0L)))
                .toList();
    }

    /**
     * Everything that ever arrived as one file, in the order of arrival.
     *
     * @param source as in the ledger, or the end of it, such as the name alone
     */
    @GET
    @Path("/{job}/arrivals")
    public List<LedgerView> arrivals(String job, @RestQuery String source)
            throws QueryException, IOException, UnknownNameException, DefinitionException {
        known(workspace, job, catalogue.ledger(job).isEmpty());
        if (source == null || source.isBlank()) {
            throw new BadRequestException("Name a file: ?source=, as GET /jobs/" + job + "/ledger lists them");
        }
        List<String> all;
        try {
            all = FileQuestions.named(source)
                    .among(catalogue.ledger(job).stream()
                            .map(entry -> entry.arrival().source())
                            .collect(Collectors.toSet()));
        } catch (FilesNamed.AmbiguousException several) {
            throw new BadRequestException(several.getMessage());
        }
        if (all.isEmpty()) {
            throw new NotFoundException(job + " has never dealt with a file '" + source + "'. hapster ledger " + job
                    + " lists those that it has");
        }
        return catalogue.arrivals(job, all.get(0)).stream()
                .map(entry -> LedgerView.of(entry, entry.countingRows()))
                .toList();
    }

    /**
     * Which rejects need nobody's attention any more.
     *
     * @param file pattern for the name of the file, or its source as the ledger lists it
     * @param why a word for those who read the history
     */
    public record DismissRequest(String file, String why) {}

    /**
     * Says of the rejects of files that they need nobody's attention any more; an entry of the history that can be
     * undone.
     */
    @POST
    @Path("/{job}/dismissals")
    public RunView dismiss(String job, DismissRequest request)
            throws IOException, QueryException, DefinitionException, UnknownNameException, RunControl.BusyException {
        if (request == null
                || request.file() == null
                || request.why() == null
                || request.why().isBlank()) {
            throw new BadRequestException(
                    "Say which file's rejects are dismissed, and why: {\"file\": \"samples-2026-03.csv\", "
                            + "\"why\": \"delivered again as samples-2026-03b.csv\"}");
        }
        DatasetDef dataset = workspace.dataset(workspace.job(job).into());
        Set<String> files = FileQuestions.among(
                request.file(),
                catalogue.history(dataset.name(), Optional.of(job)).entries().stream()
                        .filter(one -> one.rejected() > 0 || one.reason().isPresent())
                        .toList());
        long entry = desk.dismiss(
                dataset,
                one -> one.arrival().job().equals(job) && files.contains(FileQuestions.key(one)),
                request.why().strip());
        if (entry == 0) {
            throw new NotFoundException(
                    "Nothing of '" + request.file() + "' is rejected. hapster rejects " + job + " lists what is");
        }
        return Views.run(records.run(entry).orElseThrow(), rejects);
    }

    @POST
    @Path("/{job}/copy")
    @APIResponseSchema(value = JobDetail.class, responseCode = "201")
    public Response copy(String job, CopyRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        if (request == null || request.name() == null) {
            throw new BadRequestException("The new job needs a name");
        }
        scheduler.copying(job, request.name());
        try {
            workspace.copy(job, request.name(), ValueParameters.orNone(request.values()));
        } finally {
            if (!workspace.jobs().contains(request.name())) {
                scheduler.deleted(request.name());
            }
        }
        return Response.created(URI.create("/api/v1/jobs/" + request.name()))
                .entity(job(request.name(), List.of()))
                .build();
    }

    @POST
    @Path("/{job}/check")
    public CheckView check(String job, RunRequest request) throws IOException, UnknownNameException {
        RunRequest.noLabel(request);
        CheckResult result = runner.inspection().check(job, RunRequest.values(request));
        return new CheckView(
                job,
                result.problems().isEmpty(),
                result.clean(),
                result.problems(),
                result.warnings(),
                result.files().stream()
                        .map(file -> CheckedFile.of(file, result.format()))
                        .toList());
    }

    @POST
    @Path("/{job}/trial")
    public ReportView trial(String job, RunRequest request)
            throws QueryException, IOException, DefinitionException, UnknownNameException {
        RunRequest.noLabel(request);
        Instant started = clock.instant();
        RunResult result = desk.trial(
                job, RunRequest.again(request), request != null && request.applyAfter(), RunRequest.values(request));
        JobDef def = workspace.job(job, RunRequest.values(request));
        ReasonCollector reasons = new ReasonCollector(workspace::format);
        for (FileResult file : result.files()) {
            file.reason()
                    .filter(reason -> file.outcome() == Outcome.REJECTED)
                    .ifPresent(reason -> reasons.file(
                            job,
                            def.into(),
                            0,
                            file.name(),
                            file.path(),
                            reason.code().code(),
                            reason.sentence()));
            file.groups()
                    .forEach(group -> reasons.rows(
                            job,
                            def.into(),
                            0,
                            file.name(),
                            file.path(),
                            group.code(),
                            group.column(),
                            group.rows(),
                            group.samples()));
        }
        return new ReportView(
                Views.trial(job, def.into(), def.values(), result, started, clock.instant()),
                result.files().stream().map(Views::file).toList(),
                reasons.views());
    }

    /**
     * How a run, a trial or a check is asked for.
     *
     * @param again whether unchanged files are dealt with anew: those that {@code files} names, or all where it names
     *     none
     * @param files patterns for names of files, or for paths below their folder
     * @param set values given for this run alone
     * @param applyAfter whether what the job says now of what becomes of files is done also with files that were loaded
     *     when it said otherwise
     * @param label what people call the run; goes with runs only
     */
    public record RunRequest(
            boolean again, List<String> files, Map<String, String> set, boolean applyAfter, String label) {
        static Again again(RunRequest request) {
            boolean named = request != null
                    && request.files() != null
                    && !request.files().isEmpty();
            if (named && !request.again()) {
                throw new BadRequestException(
                        "'files' names files that are dealt with anew; say so with \"again\": true");
            }
            return request == null || !request.again()
                    ? Again.NOTHING
                    : new Again(!named, named ? request.files() : List.of());
        }

        static void noLabel(RunRequest request) {
            if (request != null && request.label() != null) {
                throw new BadRequestException("'label' goes with runs only");
            }
        }

        static Map<String, String> values(RunRequest request) {
            return request == null ? Map.of() : ValueParameters.orNone(request.set());
        }
    }

    @POST
    @Path("/{job}/runs")
    @APIResponseSchema(value = RunView.class, responseCode = "202")
    public Response run(String job, RunRequest request)
            throws QueryException, IOException, DefinitionException, UnknownNameException, RunControl.BusyException {
        Optional<String> label =
                RunLabel.of(Optional.ofNullable(request).map(RunRequest::label).orElse(null));
        long number = desk.start(
                job, RunRequest.again(request), request != null && request.applyAfter(), RunRequest.values(request));
        label.ifPresent(text -> records.label(number, text));
        return Response.accepted(Views.run(records.run(number).orElseThrow(), rejects))
                .location(URI.create("/api/v1/runs/" + number))
                .build();
    }
}
