package dev.hapster.service.api;

import dev.hapster.core.reason.ReasonCode;
import dev.hapster.service.api.Views.ReasonView;
import dev.hapster.service.records.Records;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** What is refused at present, over all jobs; and what the reasons mean. */
@Path("/api/v1")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "rejects")
@Blocking
public class RejectsResource {

    private final Records records;

    RejectsResource(Records records) {
        this.records = records;
    }

    /** A kind of refusal. */
    public record ReasonMeaning(String code, String level, String cause, String cure) {
    }

    /** Of each file what its latest reading found, by job and reason. */
    @GET
    @Path("/rejects")
    public List<ReasonView> open(@QueryParam("job") String job) {
        return RunsResource.collect(records.openReasons(job), records);
    }

    @GET
    @Path("/reasons")
    public List<ReasonMeaning> reasons() {
        return Arrays.stream(ReasonCode.values()).map(reason -> new ReasonMeaning(reason.code(), reason.level().name().toLowerCase(Locale.ROOT),
                reason.cause(), reason.cure())).toList();
    }
}
