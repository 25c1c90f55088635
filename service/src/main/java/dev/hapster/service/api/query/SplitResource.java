package dev.hapster.service.api.query;

import static dev.hapster.service.api.call.ListParameters.split;

import dev.hapster.core.definition.FilePattern;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.SplitExport;
import dev.hapster.core.query.SplitExport.Target;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.access.CallLimits;
import dev.hapster.service.data.StoredRows;
import dev.hapster.service.data.WholeAnswer;
import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import jakarta.ws.rs.BeanParam;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Rows as several files, of which the values of each row say which one it goes to. */
@Path("/api/v1/datasets/{dataset}/split")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class SplitResource {

    private final Workspace workspace;
    private final StoredRows stored;
    private final CallLimits limits;

    SplitResource(Workspace workspace, StoredRows stored, CallLimits limits) {
        this.workspace = workspace;
        this.stored = stored;
        this.limits = limits;
    }

    /** @param path as the pattern makes it */
    public record SplitFile(String path, long rows) {}

    /** Which rows, of which columns, and in which order. */
    public static class Which {

        @QueryParam("as")
        @DefaultValue("csv")
        public String as;

        @QueryParam("origins")
        @DefaultValue("false")
        public boolean origins;

        @QueryParam("columns")
        public List<String> columns;

        @QueryParam("where")
        public List<String> where;

        @QueryParam("sort")
        public List<String> sort;
    }

    private SplitExport export(String dataset, String to, Which which, RowStyle style)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        if (!RowWriter.FORMATS.contains(which.as)) {
            throw new QueryException(
                    "'as' must be one of " + String.join(", ", RowWriter.FORMATS) + ", not '" + which.as + "'");
        }
        FilePattern pattern;
        try {
            pattern = FilePattern.of(
                    to == null ? "" : to, workspace.dataset(dataset).columns());
        } catch (IllegalArgumentException wrong) {
            throw new QueryException(wrong.getMessage());
        }
        Selection selection = new Selection(split(which.columns), which.origins, which.where, split(which.sort));
        return stored.ask(
                        dataset,
                        false,
                        all -> all.split(selection, pattern, names -> RowWriter.limits(which.as, style, names)))
                .found();
    }

    /**
     * The files that there would be.
     *
     * @param to the pattern of their paths, such as {@code out/{lab}.csv}
     */
    @GET
    public List<SplitFile> files(
            String dataset,
            @QueryParam("to") String to,
            @BeanParam Which which,
            @BeanParam StyleParameters style,
            @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        limits.takeLongAnswer(call);
        SplitExport export = export(dataset, to, which, style.style());
        return targets(export).entrySet().stream()
                .map(file -> new SplitFile(file.getKey(), file.getValue().rows()))
                .toList();
    }

    private Map<String, Target> targets(SplitExport export) throws IOException, QueryException {
        return stored.reading(export::targets);
    }

    /**
     * The files as a ZIP archive.
     *
     * @param to the pattern of their paths, such as {@code out/{lab}.csv}
     */
    @GET
    @Path("/zip")
    @Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response zip(
            String dataset,
            @QueryParam("to") String to,
            @BeanParam Which which,
            @BeanParam StyleParameters style,
            @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        limits.takeLongAnswer(call);
        RowStyle written = style.style();
        SplitExport export = export(dataset, to, which, written);
        Map<String, Target> targets = targets(export);
        long rows = targets.values().stream().mapToLong(Target::rows).sum();
        StreamingOutput zip = out -> WholeAnswer.write(
                call,
                rows,
                () -> stored.writing(() -> export.zip(targets, out, which.as, dataset, written, stored.scratch())));
        return Response.ok(zip, "application/zip")
                .header(WholeAnswer.ROWS, rows)
                .header("Trailer", WholeAnswer.WRITTEN)
                .header("Content-Disposition", "attachment; filename=\"" + dataset + ".zip\"")
                .build();
    }
}
