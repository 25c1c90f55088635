package dev.hapster.service.api.schedule;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.schedule.ScheduleViews.ScheduleView;
import dev.hapster.service.schedule.Scheduler;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** When a job runs by itself, and pauses. */
@Path("/api/v1/jobs/{job}/schedule")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class JobScheduleResource {

    private static final int USUAL_TIMES = 10;
    private static final int MOST_LETTERS = 1000;

    private final Workspace workspace;
    private final Scheduler scheduler;
    private final ScheduleViews views;
    private final Clock clock;

    JobScheduleResource(Workspace workspace, Scheduler scheduler, ScheduleViews views, Clock clock) {
        this.workspace = workspace;
        this.scheduler = scheduler;
        this.views = views;
        this.clock = clock;
    }

    /**
     * When a job runs by itself.
     *
     * @param times how many of the next times; 10 where it is not said
     */
    @GET
    public ScheduleView schedule(String job, @RestQuery Integer times)
            throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        return views.of(job, ScheduleViews.checked(times, USUAL_TIMES));
    }

    /**
     * A text that may become the job's file.
     *
     * @param text the whole of it
     */
    public record TimesRequest(String text) {}

    /** The next times of a text that is not saved. */
    @POST
    @Path("/times")
    public ScheduleView times(String job, TimesRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        if (request == null || request.text() == null) {
            throw new BadRequestException("Give the job's text: {\"text\": \"job: …\"}");
        }
        return views.of(job, workspace.when(job, request.text()), USUAL_TIMES);
    }

    /**
     * A pause.
     *
     * @param until when it ends by itself; absent until somebody ends it
     * @param because why, for others; may be absent
     */
    public record PauseRequest(Instant until, String because) {}

    /** From now on the job does not run by itself. */
    @POST
    @Path("/pause")
    public ScheduleView pause(String job, PauseRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        Optional<Instant> until = Optional.ofNullable(request).map(PauseRequest::until);
        if (until.isPresent() && !until.get().isAfter(clock.instant())) {
            throw new BadRequestException("until must be later than now, and " + until.get() + " is not");
        }
        String because = Optional.ofNullable(request).map(PauseRequest::because).orElse("");
        if (because.length() > MOST_LETTERS) {
            throw new BadRequestException("because must not have more than " + MOST_LETTERS + " characters");
        }
        scheduler.pause(job, until, because);
        return views.of(job, USUAL_TIMES);
    }

    /** Ends a pause. */
    @POST
    @Path("/resume")
    public ScheduleView resume(String job) throws IOException, DefinitionException, UnknownNameException {
        scheduler.resume(job);
        return views.of(job, USUAL_TIMES);
    }
}
