package dev.hapster.service.api.query;

import static dev.hapster.service.api.call.ListParameters.split;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Roots;
import dev.hapster.core.query.DatasetQuery.Selection;
import dev.hapster.core.query.RowExport;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.write.RowStyle;
import dev.hapster.core.query.write.RowWriter;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
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
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import jakarta.ws.rs.core.StreamingOutput;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.apache.commons.compress.utils.SeekableInMemoryByteChannel;
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
    private final Workspace workspace;
    private final Roots roots;

    ExportResource(StoredRows stored, CallLimits limits, Workspace workspace, Roots roots) {
        this.workspace = workspace;
        this.roots = roots;
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
            @BeanParam StyleParameters texts,
            @QueryParam("partial") @DefaultValue("false") boolean partial,
            @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        RowStyle style = checked(as, texts);
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

    /**
     * Where a file goes.
     *
     * @param to an address such as {@code sftp://ACCOUNT/out/rows.csv}
     * @param replace whether a file that is there already is replaced
     */
    public record SendRequest(String to, boolean replace) {}

    /** What was sent. */
    public record SentView(String to, long rows, long bytes) {}

    /**
     * All rows as a file on another machine, which is there once it is whole.
     *
     * @param as {@code csv}, {@code xlsx}, {@code json}, {@code json_lines}, {@code xml} or {@code parquet}
     * @param origins whether the columns that say where a row comes from are among them
     * @param columns which columns, in this order, several times or separated by commas, each also as {@code lab as
     *     Laboratory}; all where none is named
     * @param where conditions, several times; all must hold
     * @param sort columns, several times or separated by commas; with {@code -} in front for descending
     * @param partial whether parts that are missing or damaged are left out; otherwise nothing is sent then
     */
    @POST
    @Path("/elsewhere")
    @Produces(MediaType.APPLICATION_JSON)
    public SentView send(
            String dataset,
            SendRequest request,
            @QueryParam("as") @DefaultValue("csv") String as,
            @QueryParam("origins") @DefaultValue("false") boolean origins,
            @QueryParam("columns") List<String> columns,
            @QueryParam("where") List<String> where,
            @QueryParam("sort") List<String> sort,
            @BeanParam StyleParameters texts,
            @QueryParam("partial") @DefaultValue("false") boolean partial)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        RowStyle style = checked(as, texts);
        if (request == null || request.to() == null || !Remotes.isAddress(request.to())) {
            throw new QueryException("'to' must be an address on another machine, such as sftp://ACCOUNT/out/rows.csv");
        }
        RemotePath to = (RemotePath) roots.resolve(workspace.folder(), request.to());
        if (!request.replace() && roots.remotes().look(to).isPresent()) {
            throw isThere(to);
        }
        Selection selection = new Selection(split(columns), origins, where, split(sort));
        RowExport export = stored.ask(
                        dataset,
                        partial,
                        all -> all.export(selection, names -> RowWriter.limits(as, style, names), true))
                .found();
        java.nio.file.Path file = roots.remotes().scratchFile();
        try {
            try (OutputStream out = new BufferedOutputStream(Files.newOutputStream(file))) {
                stored.writing(
                        () -> export.to(RowWriter.of(as, out, dataset, style).orElseThrow(), stored.scratch()));
            }
            roots.remotes().send(file, to, request.replace());
            return new SentView(to.toString(), export.rows(), Files.size(file));
        } catch (FileAlreadyExistsException other) {
            throw isThere(to);
        } finally {
            Files.deleteIfExists(file);
        }
    }

    private static QueryException isThere(RemotePath to) {
        return new QueryException(to + " is there already; it is only replaced where that is asked for");
    }

    private static RowStyle checked(String as, StyleParameters texts) throws QueryException {
        if (!RowWriter.FORMATS.contains(as)) {
            throw new QueryException(
                    "'as' must be one of " + String.join(", ", RowWriter.FORMATS) + ", not '" + as + "'");
        }
        return texts.style();
    }

    /** @param book a workbook (xlsx), as Base64 has it */
    public record SheetRequest(String book) {}

    /**
     * A workbook with rows in one of its sheets; all else in it stays as it is.
     *
     * @param sheet name of the sheet; it is added where the workbook has none of this name
     * @param below whether the rows go below the last one of the sheet; otherwise they take the place of all
     * @param origins whether the columns that say where a row comes from are among them
     * @param columns which columns, in this order, several times or separated by commas, each also as {@code lab as
     *     Laboratory}; all where none is named
     * @param where conditions, several times; all must hold
     * @param sort columns, several times or separated by commas; with {@code -} in front for descending
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     */
    @POST
    @Path("/sheet")
    @Produces(MediaType.APPLICATION_OCTET_STREAM)
    public Response sheet(
            String dataset,
            SheetRequest request,
            @QueryParam("sheet") String sheet,
            @QueryParam("below") @DefaultValue("false") boolean below,
            @QueryParam("origins") @DefaultValue("false") boolean origins,
            @QueryParam("columns") List<String> columns,
            @QueryParam("where") List<String> where,
            @QueryParam("sort") List<String> sort,
            @QueryParam("partial") @DefaultValue("false") boolean partial,
            @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        byte[] book = book(request);
        String name = sheet == null ? "" : sheet;
        limits.takeLongAnswer(call);
        Selection selection = new Selection(split(columns), origins, where, split(sort));
        RowExport export = stored.ask(
                        dataset,
                        partial,
                        all -> all.export(selection, names -> RowWriter.limits("xlsx", RowStyle.USUAL, names), true))
                .found();
        // whether it can be written into is known before the first byte
        RowWriter.intoSheet(new SeekableInMemoryByteChannel(book), OutputStream.nullOutputStream(), name, below)
                .close();
        StreamingOutput rows = out -> WholeAnswer.write(
                call,
                export.rows(),
                () -> stored.writing(() -> export.to(into(book, out, name, below), stored.scratch())));
        return Response.ok(rows, TYPES.get("xlsx"))
                .header(WholeAnswer.ROWS, export.rows())
                .header("Trailer", WholeAnswer.WRITTEN)
                .header("Content-Disposition", "attachment; filename=\"" + dataset + ".xlsx\"")
                .build();
    }

    private static byte[] book(SheetRequest request) throws QueryException {
        if (request == null || request.book() == null) {
            throw new QueryException("The workbook is missing: send it as {\"book\": \"…\"}, in Base64");
        }
        try {
            return Base64.getDecoder().decode(request.book());
        } catch (IllegalArgumentException wrong) {
            throw new QueryException("The workbook is not Base64: " + wrong.getMessage());
        }
    }

    private static RowWriter into(byte[] book, OutputStream out, String sheet, boolean below) throws IOException {
        try {
            return RowWriter.intoSheet(new SeekableInMemoryByteChannel(book), out, sheet, below);
        } catch (QueryException impossible) {
            throw new IllegalStateException("It was seen before that it can be written into", impossible);
        }
    }
}
