package dev.hapster.service.api.prepare;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.draft.Drafting;
import dev.hapster.core.draft.Drift;
import dev.hapster.core.workspace.UnknownNameException;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Whether a job's files have moved away from its definitions. */
@Path("/api/v1/jobs/{job}/drift")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class DriftResource {

    private final Drafting drafting;

    DriftResource(Drafting drafting) {
        this.drafting = drafting;
    }

    /** Holds the files that the job takes now against its definitions, and proposes edits. */
    @GET
    public Drift drift(String job) throws IOException, UnknownNameException, DefinitionException {
        return drafting.drift(job);
    }
}
