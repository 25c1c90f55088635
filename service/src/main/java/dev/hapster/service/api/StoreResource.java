package dev.hapster.service.api;

import dev.hapster.service.deliver.Deliveries;
import dev.hapster.service.notify.Messenger;
import dev.hapster.service.runs.RunControl;
import dev.hapster.service.runs.StoreCheck;
import dev.hapster.service.schedule.Scheduler;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** The store and the catalogue beside each other. */
@Path("/api/v1/store")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "store")
@Blocking
public class StoreResource {

    private final RunControl desk;
    private final StoreCheck store;

    private final Deliveries deliveries;

    private final Scheduler scheduler;

    private final Messenger messenger;

    StoreResource(RunControl desk, StoreCheck store, Deliveries deliveries, Scheduler scheduler, Messenger messenger) {
        this.messenger = messenger;
        this.scheduler = scheduler;
        this.desk = desk;
        this.store = store;
        this.deliveries = deliveries;
    }

    /**
     * What is wrong as a whole.
     *
     * @param problems of the store, a sentence each; empty where nothing is
     * @param deliveries those that fail, a sentence each
     * @param schedules jobs that do not run by themselves as they declare, a sentence each
     * @param messages those that cannot be sent, a sentence for each account
     */
    public record StoreView(
            List<String> problems, List<String> deliveries, List<String> schedules, List<String> messages) {}

    /** What was found when the store was last looked through: at the start, or by {@code POST /store/verify}. */
    @GET
    public StoreView store() throws IOException {
        return new StoreView(store.problems(), deliveries.problems(), scheduler.problems(), messenger.problems());
    }

    /**
     * How the store is to be looked through.
     *
     * @param rebuild whether parts are taken in that the catalogue does not know, and it is corrected what counts
     */
    public record VerifyRequest(boolean rebuild) {}

    /**
     * Looks through the store: whether each part is there with its rows, and whether what counts is what the log says.
     */
    @POST
    @Path("/verify")
    public StoreCheck.Verified verify(VerifyRequest request) throws IOException, RunControl.BusyException {
        return desk.verify(request != null && request.rebuild());
    }
}
