package dev.hapster.service.api.edit;

import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Datasets while somebody is writing them. Nothing is saved here. */
@Path("/api/v1/datasets/{dataset}/edit")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class DatasetEditResource {

    private final Workspace workspace;

    DatasetEditResource(Workspace workspace) {
        this.workspace = workspace;
    }

    /** Makes changes in the text of a dataset, and says what is wrong with it. */
    @POST
    public EditResource.EditView dataset(String dataset, EditResource.EditRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        DatasetDef known = workspace.dataset(dataset);
        String text = EditResource.changed(request, known.text());
        List<Problem> problems = List.of();
        try {
            DatasetDef unused = Definitions.dataset("datasets/" + dataset + ".yaml", text);
        } catch (DefinitionException wrong) {
            problems = wrong.problems();
        }
        return new EditResource.EditView(
                text, known.version(), known.text(), EditResource.sections(text), problems, null);
    }
}
