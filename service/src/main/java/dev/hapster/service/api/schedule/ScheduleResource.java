package dev.hapster.service.api.schedule;

import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.schedule.ScheduleViews.ScheduleView;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** When all jobs run by themselves. */
@Path("/api/v1/schedule")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class ScheduleResource {

    private final Workspace workspace;
    private final ScheduleViews views;

    ScheduleResource(Workspace workspace, ScheduleViews views) {
        this.workspace = workspace;
        this.views = views;
    }

    /**
     * All jobs, each with its next times.
     *
     * @param times how many times of each; 1 where it is not said
     */
    @GET
    public List<ScheduleView> schedule(@RestQuery Integer times) throws IOException {
        return views.all(workspace.jobs(), ScheduleViews.checked(times, 1));
    }
}
