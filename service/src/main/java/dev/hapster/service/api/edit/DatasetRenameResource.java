package dev.hapster.service.api.edit;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace.Kind;
import dev.hapster.service.api.call.NameRequest;
import dev.hapster.service.runs.Renames.Renamed;
import dev.hapster.service.runs.RunControl;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Other names for datasets, with all that is known of them. */
@Path("/api/v1/datasets/{dataset}/rename")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class DatasetRenameResource {

    private final RunControl desk;

    DatasetRenameResource(RunControl desk) {
        this.desk = desk;
    }

    /**
     * Gives a dataset another name: its file, the jobs that load into it, its history, and the folder of its parts.
     * Where somebody has given its file the new name already, the rest follows.
     */
    @POST
    public Renamed rename(String dataset, NameRequest request)
            throws IOException, DefinitionException, UnknownNameException, ActNotPossibleException,
                    RunControl.BusyException {
        return desk.rename(Kind.DATASET, dataset, NameRequest.of(request));
    }
}
