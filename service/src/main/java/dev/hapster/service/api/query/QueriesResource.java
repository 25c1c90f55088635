package dev.hapster.service.api.query;

import dev.hapster.core.definition.QueryDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.workspace.SavedQueries;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponseSchema;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Saved queries. */
@Path("/api/v1/queries")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "queries")
@Blocking
public class QueriesResource {

    private final Workspace workspace;
    private final SavedQueries queries;

    QueriesResource(Workspace workspace) {
        this.workspace = workspace;
        queries = new SavedQueries(workspace);
    }

    /**
     * A saved query. With {@code by} or {@code measures} it counts rows, otherwise it shows them.
     *
     * @param where conditions, all of which must hold
     * @param columns of rows: which, in this order; all where none is named
     * @param sort columns to sort by, with {@code -} in front for descending; of counts also {@code rows} and measures
     * @param by columns that rows are counted by
     * @param measures what is found out in each group
     * @param top of counts: how many groups are listed; 0 for all
     * @param version of the text of its file
     * @param problems mistakes in its file, or what does not suit its dataset; empty where it can be asked
     */
    public record QueryView(
            String name,
            String about,
            String dataset,
            List<String> where,
            List<String> columns,
            List<String> sort,
            List<String> by,
            List<String> measures,
            int top,
            String version,
            List<Problem> problems) {}

    /**
     * What a query is to be.
     *
     * @param version of the text that is replaced; absent for a new query
     */
    public record SaveQueryRequest(
            String about,
            String dataset,
            List<String> where,
            List<String> columns,
            List<String> sort,
            List<String> by,
            List<String> measures,
            Integer top,
            String version) {}

    @GET
    public List<QueryView> queries() throws IOException {
        List<QueryView> views = new ArrayList<>();
        for (String name : queries.names()) {
            try {
                views.add(view(name));
            } catch (UnknownNameException gone) {
                continue; // its file was removed between listing and reading
            }
        }
        return views;
    }

    @GET
    @Path("/{query}")
    public QueryView query(String query) throws IOException, UnknownNameException {
        return view(query);
    }

    private QueryView view(String name) throws IOException, UnknownNameException {
        String version = "";
        try {
            version = Definitions.version(queries.text(name));
            QueryDef query = queries.query(name);
            return view(query, version, problems(query));
        } catch (DefinitionException wrong) {
            QueryDef none = new QueryDef(name, "", "", List.of(), List.of(), List.of(), List.of(), List.of(), 0);
            return view(none, version, wrong.problems());
        }
    }

    private static QueryView view(QueryDef query, String version, List<Problem> problems) {
        return new QueryView(
                query.name(),
                query.about(),
                query.dataset(),
                query.where(),
                query.columns(),
                query.sort(),
                query.by(),
                query.measures(),
                query.top(),
                version,
                problems);
    }

    /** What does not suit the dataset that a query asks: it is asked as if it had no rows. */
    private List<Problem> problems(QueryDef query) throws IOException, DefinitionException, UnknownNameException {
        DatasetQuery rows = new DatasetQuery(workspace.dataset(query.dataset()), List.of());
        try {
            if (query.counts()) {
                rows.counts(new Grouping(query.by(), query.measures(), query.where(), query.sort(), query.top()));
            } else {
                rows.rows(0, 1, query.sort(), query.where()).only(query.columns());
            }
            return List.of();
        } catch (QueryException wrong) {
            return List.of(new Problem("queries/" + query.name() + ".yaml", 0, 0, wrong.getMessage(), ""));
        }
    }

    /**
     * Writes a query's file, or makes a query where there is none of that name. It must suit its dataset, and nobody
     * else may have changed it in the meantime.
     */
    @PUT
    @Path("/{query}")
    @APIResponseSchema(QueryView.class)
    public Response save(String query, SaveQueryRequest request)
            throws IOException, DefinitionException, UnknownNameException, QueryException, Workspace.ChangedException {
        if (request == null || request.dataset() == null) {
            throw new BadRequestException("The field 'dataset' is missing: the dataset that is asked");
        }
        boolean fresh = !queries.names().contains(query);
        if (!fresh && request.version() == null) {
            throw new BadRequestException("There is a query '" + query
                    + "' already; to change it, give the 'version' of the text that was changed");
        }
        QueryDef wanted = new QueryDef(
                query,
                request.about() == null ? "" : request.about(),
                request.dataset(),
                orNone(request.where()),
                orNone(request.columns()),
                orNone(request.sort()),
                orNone(request.by()),
                orNone(request.measures()),
                request.top() == null ? 0 : request.top());
        if (workspace.datasets().contains(wanted.dataset())) {
            List<Problem> problems = problems(wanted);
            if (!problems.isEmpty()) {
                throw new QueryException(problems.get(0).what());
            }
        }
        queries.save(wanted, Optional.ofNullable(request.version()));
        QueryView saved = view(query);
        return fresh
                ? Response.created(URI.create("/api/v1/queries/" + query))
                        .entity(saved)
                        .build()
                : Response.ok(saved).build();
    }

    /** Deletes a query's file. */
    @DELETE
    @Path("/{query}")
    public void delete(String query) throws IOException, DefinitionException, UnknownNameException {
        queries.delete(query);
    }

    private static List<String> orNone(List<String> texts) {
        return texts == null ? List.of() : texts;
    }
}
