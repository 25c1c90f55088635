package dev.hapster.service.api.schedule;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.schedule.CalendarViews.CalendarView;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** Whether what is due for all jobs has arrived. */
@Path("/api/v1/calendar")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class CalendarResource {

    private final Workspace workspace;
    private final CalendarViews views;

    CalendarResource(Workspace workspace, CalendarViews views) {
        this.workspace = workspace;
        this.views = views;
    }

    /**
     * The calendars of all jobs for which files are due.
     *
     * @param dataset only of jobs that load into it
     * @param periods how many periods, up to the present one; 31 days, 26 weeks, 12 months or quarters, 10 years where
     *     it is not said
     */
    @GET
    public List<CalendarView> calendars(@RestQuery String dataset, @RestQuery Integer periods)
            throws IOException, DefinitionException, UnknownNameException {
        CalendarViews.check(periods);
        if (dataset != null) {
            workspace.dataset(dataset); // says so where there is none
        }
        return views.all(dataset, periods);
    }
}
