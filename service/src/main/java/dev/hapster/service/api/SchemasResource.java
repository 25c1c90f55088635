package dev.hapster.service.api;

import dev.hapster.core.definition.explain.Schemas;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** The JSON Schemas of the definition files, for editors. */
@Path("/api/v1/schemas")
@Tag(name = "schemas")
public class SchemasResource {

    /** @param name {@code job}, {@code dataset}, {@code query} or {@code accounts} */
    @GET
    @Path("/{name}.schema.json")
    @Produces("application/schema+json")
    public String schema(String name) {
        return Schemas.of(name)
                .orElseThrow(() -> new NotFoundException(
                        "There are schemas of job, dataset, query and accounts, not of '" + name + "'"));
    }
}
