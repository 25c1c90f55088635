package dev.hapster.service.api.query;

import static dev.hapster.service.api.ListParameters.split;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.RowExport;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.access.CallLimits;
import dev.hapster.service.data.StoredRows;
import dev.hapster.service.data.WholeAnswer;
import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
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
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Rows as files for other programs and people. */
@Path("/api/v1/datasets/{dataset}/export")
@Tag(name = "datasets")
@Blocking
public class ExportResource {

    private static final Map<String, String> TYPES = Map.of(
            "csv", "text/csv",
            "xlsx", "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            "json", "application/json",
            "json_lines", "application/x-ndjson",
            "xml", "application/xml",
            "parquet", "application/vnd.apache.parquet");

    private final StoredRows stored;
    private final CallLimits limits;

    ExportResource(StoredRows stored, CallLimits limits) {
        this.stored = stored;
        this.limits = limits;
    }

    /**
     * All rows as a file for other programs.
     *
     * @param as {@code csv}, {@code xlsx}, {@code json}, {@code json_lines}, {@code xml} or {@code parquet}
     * @param origins whether the columns that say where a row comes from are among them
     * @param columns which columns, in this order, several times or separated by commas, each also as {@code lab as
     *     Laboratory}; all where none is named
     * @param where conditions, several times; all must hold
     * @param sort columns, several times or separated by commas; with {@code -} in front for descending. Without, rows
     *     come by source and line
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     */
    @GET
    @Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response export(
            String dataset,
            @QueryParam("as") @DefaultValue("csv") String as,
            @QueryParam("origins") @DefaultValue("false") boolean origins,
            @QueryParam("columns") List<String> columns,
            @QueryParam("where") List<String> where,
            @QueryParam("sort") List<String> sort,
            @QueryParam("separator") String separator,
            @QueryParam("encoding") String encoding,
            @QueryParam("decimal") String decimal,
            @QueryParam("dates") String dates,
            @QueryParam("timestamps") String timestamps,
            @QueryParam("quote_all") @DefaultValue("false") boolean quoteAll,
            @QueryParam("header") @DefaultValue("true") boolean header,
            @QueryParam("safe") @DefaultValue("false") boolean safe,
            @QueryParam("root") @DefaultValue("rows") String root,
            @QueryParam("element") @DefaultValue("row") String element,
            @QueryParam("partial") @DefaultValue("false") boolean partial,
            @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        if (!RowWriter.FORMATS.contains(as)) {
            throw new QueryException(
                    "'as' must be one of " + String.join(", ", RowWriter.FORMATS) + ", not '" + as + "'");
        }
        RowStyle style = RowStyle.of(
                Optional.ofNullable(separator),
                Optional.ofNullable(encoding),
                Optional.ofNullable(decimal),
                Optional.ofNullable(dates),
                Optional.ofNullable(timestamps),
                quoteAll,
                header,
                safe,
                root,
                element);
        limits.takeLongAnswer(call);
        Selection selection = new Selection(split(columns), origins, where, split(sort));
        boolean small = stored.bytes(dataset) < WholeAnswer.READ_BEFORE;
        RowExport export = stored.ask(
                        dataset,
                        partial,
                        all -> all.export(selection, names -> RowWriter.limits(as, style, names), partial || small))
                .found();
        StreamingOutput rows = out -> WholeAnswer.write(
                call,
                export.rows(),
                () -> stored.writing(
                        () -> export.to(RowWriter.of(as, out, dataset, style).orElseThrow(), stored.scratch())));
        String type = TYPES.get(as)
                + (as.equals("csv") ? "; charset=" + style.encoding().name() : "");
        return Response.ok(rows, type)
                .header(WholeAnswer.ROWS, export.rows())
                .header("Trailer", WholeAnswer.WRITTEN)
                .header(
                        "Content-Disposition",
                        "attachment; filename=\"" + dataset + (as.equals("json_lines") ? ".jsonl" : "." + as) + "\"")
                .build();
    }
}
