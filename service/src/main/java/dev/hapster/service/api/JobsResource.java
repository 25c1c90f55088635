package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.DefinitionException;
import dev.hapster.core.definition.Explanation;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.Problem;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Finding;
import dev.hapster.core.find.Sieve;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.CheckResult;
import dev.hapster.core.run.FileResult;
import dev.hapster.core.run.LedgerEntry;
import dev.hapster.core.run.Outcome;
import dev.hapster.core.run.RunResult;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.UnknownNameException;
import dev.hapster.core.run.Workspace;
import dev.hapster.core.store.RejectStore;
import dev.hapster.service.api.Views.CheckView;
import dev.hapster.service.api.Views.CheckedFile;
import dev.hapster.service.api.Views.ReasonCollector;
import dev.hapster.service.api.Views.ReportView;
import dev.hapster.service.api.Views.RunView;
import dev.hapster.service.operate.ActiveRun;
import dev.hapster.service.operate.RunDesk;
import dev.hapster.service.records.Records;
import dev.hapster.service.records.RunRecord;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Jobs: what they do, what they would take, check, trial and run. */
@Path("/api/v1/jobs")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class JobsResource {

    private final Workspace workspace;
    private final Runner runner;
    private final RunDesk desk;
    private final Records records;
    private final RejectStore rejects;
    private final Clock clock;

    JobsResource(Workspace workspace, Runner runner, RunDesk desk, Records records, RejectStore rejects, Clock clock) {
        this.workspace = workspace;
        this.runner = runner;
        this.desk = desk;
        this.records = records;
        this.rejects = rejects;
        this.clock = clock;
    }

    /**
     * A job in a list.
     *
     * @param problems   mistakes in its file; empty where it can be used
     * @param lastRun    its latest run; absent where it never ran
     * @param running    number of the run going on; absent where there is none
     * @param openRows   rows that its files hold and the dataset lacks, since they were rejected
     * @param openFiles  files that are rejected whole
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record JobView(String name, String about, String into, List<Problem> problems, RunView lastRun, Long running, long openRows, long openFiles) {
    }

    /** One folder of a job, with its rules in the order in which they act. */
    public record PlaceView(String folder, int depth, List<String> rules) {
    }

    /**
     * A job in full.
     *
     * @param text its file as it stands
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record JobDetail(String name, String about, String into, String version, String text, List<Problem> problems, List<PlaceView> find,
            Explanation explanation, RunView lastRun, Long running) {
    }

    /**
     * A file that lies in the job's folders.
     *
     * @param rule   what took or left it
     * @param status of a file that is taken: {@code new}, {@code loaded}, {@code changed} or {@code rejected}, compared with what is known
     * @param run    the run by which it stands so
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FoundFile(int place, String path, String relative, String name, long size, Instant modified, boolean taken, String rule,
            String status, Long run) {
    }

    /**
     * Everything that lies in the job's folders now.
     *
     * @param sieves for each place, what its rules left over one after another
     */
    public record FoundView(String job, int taken, int left, List<Finding.Trouble> troubles, List<Sieve> sieves, List<FoundFile> files) {
    }

    @GET
    public List<JobView> jobs() throws IOException {
        Map<String, RunRecord> latest = records.latest();
        Map<String, Records.OpenCount> open = records.openCounts();
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
            Records.OpenCount refused = open.getOrDefault(name, new Records.OpenCount(name, 0, 0));
            jobs.add(new JobView(name, about, into, problems, lastRun(latest.get(name)), running(name), refused.rows(), refused.files()));
        }
        return jobs;
    }

    private RunView lastRun(RunRecord run) {
        return run == null ? null : Views.run(run, rejects.path(run.id));
    }

    private Long running(String job) {
        return desk.activeOf(job).map(ActiveRun::number).orElse(null);
    }

    @GET
    @Path("/{job}")
    public JobDetail job(String job) throws IOException, DefinitionException, UnknownNameException {
        RunView last = lastRun(records.latest().get(job));
        String text = workspace.jobText(job);
        try {
            JobDef def = workspace.job(job);
            DatasetDef dataset = workspace.dataset(def.into());
            List<PlaceView> places = def.find().stream().map(place -> new PlaceView(place.folder(), place.depth(),
                    place.rules().stream().map(FindRule::words).toList())).toList();
            return new JobDetail(job, def.about(), def.into(), def.version(), text, List.of(), places, Explanation.of(def, dataset), last, running(job));
        } catch (DefinitionException wrong) {
            return new JobDetail(job, "", "", "", text, wrong.problems(), List.of(), null, last, running(job));
        }
    }

    @GET
    @Path("/{job}/files")
    public FoundView files(String job) throws IOException, DefinitionException, UnknownNameException {
        Finding finding = runner.find(workspace.job(job));
        Map<String, LedgerEntry> ledger = records.ledger(job);
        List<FoundFile> files = new ArrayList<>();
        for (Candidate file : finding.candidates()) {
            LedgerEntry known = file.taken() ? ledger.get(file.path().toString()) : null;
            files.add(new FoundFile(file.place(), file.path().toString(), file.relative(), file.name(), file.size(), file.modified(), file.taken(),
                    file.rule(), file.taken() ? status(file, known) : null, known == null ? null : known.run()));
        }
        return new FoundView(job, finding.taken().size(), finding.left().size(), finding.troubles(), finding.sieves(), files);
    }

    private static String status(Candidate file, LedgerEntry known) {
        if (known == null) {
            return "new";
        }
        boolean same = known.fingerprint().size() == file.size()
                && known.fingerprint().modified().equals(file.modified().truncatedTo(ChronoUnit.MICROS));
        return !same ? "changed" : known.outcome() == Outcome.REJECTED ? "rejected" : "loaded";
    }

    @POST
    @Path("/{job}/check")
    public CheckView check(String job) throws IOException, UnknownNameException {
        CheckResult result = runner.check(job);
        List<CheckedFile> files = result.files().stream().map(file -> new CheckedFile(file.path(), file.name(), file.size(),
                file.reason().map(reason -> reason.code().code()).orElse(null), file.reason().map(Reason::sentence).orElse(null),
                file.reason().map(reason -> reason.code().cure()).orElse(null), file.notes())).toList();
        return new CheckView(job, result.problems().isEmpty(), result.clean(), result.problems(), result.warnings(), files);
    }

    @POST
    @Path("/{job}/trial")
    public ReportView trial(String job, RunRequest request) throws IOException, DefinitionException, UnknownNameException {
        Instant started = clock.instant();
        RunResult result = desk.trial(job, request != null && request.again());
        String into = workspace.job(job).into();
        ReasonCollector reasons = new ReasonCollector();
        for (FileResult file : result.files()) {
            file.reason().filter(reason -> file.outcome() == Outcome.REJECTED).ifPresent(reason ->
                    reasons.file(job, into, 0, file.name(), file.path(), reason.code().code(), reason.sentence()));
            file.groups().forEach(group -> reasons.rows(job, into, 0, file.name(), file.path(), group.code(), group.column(), group.rows(), group.samples()));
        }
        return new ReportView(Views.trial(job, into, result, started, clock.instant()), result.files().stream().map(Views::file).toList(), reasons.views());
    }

    /** How a run or a trial is asked for: whether unchanged files are dealt with anew. */
    public record RunRequest(boolean again) {
    }

    @POST
    @Path("/{job}/runs")
    public Response run(String job, RunRequest request)
            throws IOException, DefinitionException, UnknownNameException, RunDesk.BusyException {
        long number = desk.start(job, request != null && request.again());
        return Response.accepted(Views.run(records.run(number).orElseThrow(), rejects.path(number))).location(URI.create("/api/v1/runs/" + number)).build();
    }
}
