package dev.hapster.service.api.schedule;

import dev.hapster.core.calendar.DueProposal.Proposed;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.schedule.CalendarViews.CalendarView;
import dev.hapster.service.calendar.Calendars;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** Whether what is due for a job has arrived. */
@Path("/api/v1/jobs/{job}/calendar")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class JobCalendarResource {

    private final Workspace workspace;
    private final CalendarViews views;
    private final Calendars calendars;

    JobCalendarResource(Workspace workspace, CalendarViews views, Calendars calendars) {
        this.workspace = workspace;
        this.views = views;
        this.calendars = calendars;
    }

    /**
     * What is due for a job, and what arrived.
     *
     * @param periods how many periods, up to the present one
     */
    @GET
    public CalendarView calendar(String job, @RestQuery Integer periods)
            throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        CalendarViews.check(periods);
        return views.of(job, periods);
    }

    /** What its file may say of what is due, as it was up to now. Nothing is written. */
    @GET
    @Path("/proposal")
    public Proposed proposal(String job) throws IOException, DefinitionException, UnknownNameException {
        workspace.jobText(job); // says so where there is none
        return calendars.proposed(job);
    }
}
