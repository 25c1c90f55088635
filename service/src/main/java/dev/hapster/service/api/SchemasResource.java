package dev.hapster.service.api;

import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** The JSON Schemas of the definition files, for editors. */
@Path("/api/v1/schemas")
@Tag(name = "schemas")
public class SchemasResource {

    /** @param name {@code job} or {@code dataset} */
    @GET
    @Path("/{name}.schema.json")
    @Produces("application/schema+json")
    public String schema(String name) throws IOException {
        if (!name.equals("job") && !name.equals("dataset")) {
            throw new NotFoundException("There are schemas of job and dataset, not of '" + name + "'");
        }
        try (InputStream in = Thread.currentThread()
                .getContextClassLoader()
                .getResourceAsStream("dev/hapster/core/schema/" + name + ".schema.json")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }
}
