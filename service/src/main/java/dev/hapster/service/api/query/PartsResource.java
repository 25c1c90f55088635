package dev.hapster.service.api.query;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.data.StoredRows;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Where the rows of datasets lie, for programs that read Parquet themselves. */
@Path("/api/v1/datasets/{dataset}/parts")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class PartsResource {

    private final Workspace workspace;
    private final StoredRows stored;

    PartsResource(Workspace workspace, StoredRows stored) {
        this.workspace = workspace;
        this.stored = stored;
    }

    /**
     * Rows that one file brought, and that count.
     *
     * @param file the Parquet file, relative to the workspace
     * @param from number of the first row in it, counted from 0
     * @param to the number behind the last; absent where it is the last of the file
     * @param without numbers of rows in between that do not count, counted from {@code from}
     * @param rows how many count
     * @param source the file that they are from
     * @param run the run that loaded them
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record PartView(
            String file, long from, Long to, List<Integer> without, long rows, String job, String source, long run) {}

    @GET
    public List<PartView> parts(String dataset) throws IOException, DefinitionException, UnknownNameException {
        workspace.dataset(dataset);
        return stored.where(dataset).stream()
                .map(part -> new PartView(
                        workspace.folder().relativize(part.span().file()).toString(),
                        part.span().first(),
                        part.span().isWhole() ? null : part.span().end(),
                        part.part()
                                .masked()
                                .map(rows -> rows.stream().boxed().toList())
                                .orElse(List.of()),
                        part.part().rows(),
                        part.part().job(),
                        part.part().source(),
                        part.part().run()))
                .toList();
    }
}
