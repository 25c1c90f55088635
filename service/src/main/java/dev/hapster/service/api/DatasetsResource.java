package dev.hapster.service.api;

import static dev.hapster.service.api.call.ListParameters.split;

import dev.hapster.core.catalogue.LedgerEntry;
import dev.hapster.core.catalogue.Part;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.query.Counts;
import dev.hapster.core.query.DatasetQuery;
import dev.hapster.core.query.DatasetQuery.Grouping;
import dev.hapster.core.query.Page;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.run.act.Effect;
import dev.hapster.core.store.PartStore;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.call.NameRequest;
import dev.hapster.service.catalogue.StoredCatalogue;
import dev.hapster.service.catalogue.StoredRuns;
import dev.hapster.service.data.StoredRows;
import dev.hapster.service.runs.RunControl;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DELETE;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.PUT;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.QueryParam;
import jakarta.ws.rs.core.MediaType;
import jakarta.ws.rs.core.Response;
import java.io.IOException;
import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.media.Schema;
import org.eclipse.microprofile.openapi.annotations.responses.APIResponseSchema;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Datasets: their columns, rows and counts. */
@Path("/api/v1/datasets")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "datasets")
@Blocking
public class DatasetsResource {

    private static final int MOST_ROWS = 1000;

    private final Workspace workspace;
    private final RunControl desk;
    private final StoredRuns records;
    private final StoredCatalogue catalogue;
    private final RejectStore rejects;
    private final PartStore parts;
    private final StoredRows stored;

    DatasetsResource(
            Workspace workspace,
            RunControl desk,
            StoredRuns records,
            StoredCatalogue catalogue,
            RejectStore rejects,
            PartStore parts,
            StoredRows stored) {
        this.stored = stored;
        this.desk = desk;
        this.rejects = rejects;
        this.workspace = workspace;
        this.records = records;
        this.catalogue = catalogue;
        this.parts = parts;
    }

    /** A dataset in a list. */
    public record DatasetView(String name, String about, long rows, long parts, List<Problem> problems) {}

    /** A declared column. */
    public record ColumnView(String name, String type, boolean required, String about) {}

    /** The rows that one job brought. */
    public record JobShare(String job, long rows, long parts) {}

    /** A dataset in full; {@code folder} is where its Parquet files lie on the service's machine. */
    public record DatasetDetail(
            String name,
            String about,
            long rows,
            long parts,
            String folder,
            List<ColumnView> columns,
            List<JobShare> jobs,
            String text,
            String version) {}

    /** A column of an answer. */
    public record FieldView(String name, String type) {}

    /**
     * Some rows.
     *
     * @param fields columns, where a row comes from first ({@code _file}, {@code _line}, …)
     * @param total rows that satisfy the conditions; -1 where that is not known
     * @param rows values in the order of {@code fields}; null where empty
     * @param hints where no row satisfies the conditions: what may be the matter, a sentence each
     * @param leftOut parts that are missing or damaged and were left out, as was asked for; a sentence each
     */
    public record RowsView(
            String dataset,
            long total,
            long offset,
            List<FieldView> fields,
            @Schema(implementation = Value[][].class) List<List<Object>> rows,
            List<String> hints,
            List<String> leftOut) {}

    /**
     * Rows that are counted together.
     *
     * @param values one for each column counted by; null where empty
     * @param measures one for each measure; null where there were no values
     */
    public record CountGroup(
            @Schema(implementation = Value[].class) List<Object> values,
            long rows,
            @Schema(implementation = Value[].class) List<Object> measures) {}

    /**
     * Groups that are not listed.
     *
     * @param groups how many these are
     * @param rows all of theirs
     * @param measures of all of them together
     */
    public record CountRest(int groups, long rows, @Schema(implementation = Value[].class) List<Object> measures) {}

    /** A value of a row as JSON has it, for the document of the interface. */
    @Schema(
            name = "Value",
            anyOf = {String.class, Double.class, Boolean.class},
            nullable = true,
            description = "A number, true or false; everything else as text. null where the row has no value.")
    private static final class Value {}

    /**
     * Rows counted by columns, in the order of their values.
     *
     * @param measures names of what was found out in each group, such as {@code mean(value)}
     * @param total all rows counted
     * @param totals the measures of all of them together
     * @param rest groups that are not listed; absent where there are none
     * @param hints where no row satisfies the conditions: what may be the matter, a sentence each
     * @param leftOut parts that are missing or damaged and were left out, as was asked for; a sentence each
     */
    public record CountsView(
            String dataset,
            List<String> by,
            List<String> measures,
            long total,
            @Schema(implementation = Value[].class) List<Object> totals,
            List<CountGroup> groups,
            CountRest rest,
            List<String> hints,
            List<String> leftOut) {}

    @GET
    public List<DatasetView> datasets() throws IOException {
        List<DatasetView> views = new ArrayList<>();
        for (String name : workspace.datasets()) {
            List<Part> stored = catalogue.parts(name);
            try {
                views.add(
                        new DatasetView(name, workspace.dataset(name).about(), sum(stored), stored.size(), List.of()));
            } catch (DefinitionException wrong) {
                views.add(new DatasetView(name, "", sum(stored), stored.size(), wrong.problems()));
            } catch (UnknownNameException gone) {
                continue; // its file was removed between listing and reading
            }
        }
        return views;
    }

    private static long sum(List<Part> stored) {
        return stored.stream().mapToLong(Part::rows).sum();
    }

    @GET
    @Path("/{dataset}")
    public DatasetDetail dataset(String dataset) throws IOException, DefinitionException, UnknownNameException {
        DatasetDef def = workspace.dataset(dataset);
        List<Part> stored = catalogue.parts(dataset);
        Map<String, JobShare> shares = new TreeMap<>();
        stored.forEach(part -> shares.merge(
                part.job(),
                new JobShare(part.job(), part.rows(), 1),
                (a, b) -> new JobShare(a.job(), a.rows() + b.rows(), a.parts() + b.parts())));
        List<ColumnView> columns =
                def.columns().stream().map(DatasetsResource::column).toList();
        return new DatasetDetail(
                dataset,
                def.about(),
                sum(stored),
                stored.size(),
                parts.path(dataset).toString(),
                columns,
                List.copyOf(shares.values()),
                def.text(),
                def.version());
    }

    /**
     * A new text for a dataset's file.
     *
     * @param version of the text that was changed
     */
    public record SaveDatasetRequest(String text, String version) {}

    /**
     * Writes a dataset's file, or makes a dataset where there is none of that name. The text must be without mistakes,
     * the dataset's jobs must suit it as well as before, and nobody else may have changed it in the meantime.
     */
    @PUT
    @Path("/{dataset}")
    @APIResponseSchema(DatasetDetail.class)
    public Response save(String dataset, SaveDatasetRequest request)
            throws IOException, DefinitionException, UnknownNameException, Workspace.ChangedException {
        if (request == null || request.text() == null) {
            throw new BadRequestException("The field 'text' is missing: the text of the dataset's file");
        }
        if (request.version() == null && !workspace.datasets().contains(dataset)) {
            workspace.createDataset(dataset, request.text());
            return Response.created(URI.create("/api/v1/datasets/" + dataset))
                    .entity(dataset(dataset))
                    .build();
        }
        if (request.version() == null) {
            throw new BadRequestException("There is a dataset '" + dataset
                    + "' already; to change it, give the 'version' of the text that was changed");
        }
        workspace.saveDataset(dataset, request.text(), request.version());
        return Response.ok(dataset(dataset)).build();
    }

    /** Makes a dataset with the columns of another one: its file as it stands, with the new name. It has no rows. */
    @POST
    @Path("/{dataset}/copy")
    @APIResponseSchema(value = DatasetDetail.class, responseCode = "201")
    public Response copy(String dataset, NameRequest request)
            throws IOException, DefinitionException, UnknownNameException {
        String name = NameRequest.of(request);
        workspace.copyDataset(dataset, name);
        return Response.created(URI.create("/api/v1/datasets/" + name))
                .entity(dataset(name))
                .build();
    }

    /** Deletes a dataset's file, where no job loads into it and it holds no rows. */
    @DELETE
    @Path("/{dataset}")
    public void delete(String dataset)
            throws IOException, DefinitionException, UnknownNameException, ActNotPossibleException {
        long rows = sum(catalogue.parts(dataset));
        if (rows > 0) {
            throw new ActNotPossibleException(
                    "The dataset cannot be deleted",
                    List.of("it holds " + Reasons.grouped(rows) + (rows == 1 ? " row" : " rows")
                            + "; remove them first (hapster remove " + dataset + " --job JOB)"));
        }
        workspace.deleteDataset(dataset);
    }

    private static ColumnView column(ColumnDef column) {
        return new ColumnView(column.name(), column.type().toString(), column.required(), column.about());
    }

    /**
     * Some rows.
     *
     * @param sort columns, several times or separated by commas; with {@code -} in front for descending
     * @param where conditions such as {@code value >= 5}, several times; all must hold
     * @param columns which columns, several times or separated by commas; all where none is named. Those that say where
     *     a row comes from are always there
     * @param total whether it is found out how many rows there are. If not, nothing is read behind the last row wanted,
     *     and the total is -1 where it is not known anyway
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     */
    @GET
    @Path("/{dataset}/rows")
    public RowsView rows(
            String dataset,
            @QueryParam("offset") @DefaultValue("0") long offset,
            @QueryParam("limit") @DefaultValue("100") int limit,
            @QueryParam("sort") List<String> sort,
            @QueryParam("where") List<String> where,
            @QueryParam("columns") List<String> columns,
            @QueryParam("total") @DefaultValue("true") boolean total,
            @QueryParam("partial") @DefaultValue("false") boolean partial)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        if (offset < 0 || limit < 0 || limit > MOST_ROWS) {
            throw new QueryException("limit must be between 0 and " + MOST_ROWS + ", and offset 0 or more");
        }
        List<String> hints = new ArrayList<>();
        StoredRows.Answer<Page> answer = stored.ask(dataset, partial, rows -> {
            Page found = rows.rows(offset, limit, split(sort), where, total).only(split(columns));
            hint(rows, where, found.total().orElse(1), hints);
            return found;
        });
        Page page = answer.found();
        return new RowsView(
                dataset,
                page.total().orElse(-1),
                offset,
                page.fields().stream()
                        .map(field -> new FieldView(field.name(), field.type().toString()))
                        .toList(),
                page.rows().stream()
                        .map(row -> (List<Object>) new ArrayList<Object>(row))
                        .toList(),
                hints,
                answer.leftOut());
    }

    /**
     * What was taken out of a dataset.
     *
     * @param entry of the history that says so; it can be undone
     */
    public record RemovedView(long entry, long rows, long parts, List<String> notes) {}

    /** Which rows are meant: those for which all of this holds. */
    private record Meant(Predicate<LedgerEntry> which, String words) {}

    private Meant meant(String dataset, String file, Long run, String job) throws QueryException {
        if (file == null && run == null && job == null) {
            throw new QueryException("Say which rows: by file, run or job");
        }
        String what = Stream.of(
                        file == null ? "" : "file " + file,
                        run == null ? "" : "run " + run,
                        job == null ? "" : "job " + job)
                .filter(text -> !text.isEmpty())
                .collect(Collectors.joining(", "));
        Predicate<LedgerEntry> others =
                entry -> (job == null || entry.arrival().job().equals(job))
                        && (run == null || entry.arrival().entry() == run);
        if (file == null) {
            return new Meant(others, what);
        }
        Set<String> sources = FileQuestions.among(
                file,
                catalogue.history(dataset, Optional.ofNullable(job)).entries().stream()
                        .filter(others.and(LedgerEntry::isLoaded))
                        .toList());
        return new Meant(entry -> others.test(entry) && sources.contains(FileQuestions.key(entry)), what);
    }

    /**
     * What would come of taking rows out. Nothing is changed.
     *
     * @param file pattern for the name or the path of the file that brought them
     * @param run the run that brought them
     * @param job the job that did
     */
    @GET
    @Path("/{dataset}/removal")
    public Effect removal(
            String dataset, @QueryParam("file") String file, @QueryParam("run") Long run, @QueryParam("job") String job)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        return desk.removeEffect(workspace.dataset(dataset), meant(dataset, file, run, job).which);
    }

    /**
     * Takes rows out: those that match everything that is said, of which one must be. Files that are there and
     * unchanged are not loaded again because of it.
     *
     * @param file pattern for the name or the path of the file that brought them
     * @param run the run that brought them
     * @param job the job that did
     */
    @DELETE
    @Path("/{dataset}/rows")
    public RemovedView remove(
            String dataset, @QueryParam("file") String file, @QueryParam("run") Long run, @QueryParam("job") String job)
            throws IOException, DefinitionException, UnknownNameException, QueryException, RunControl.BusyException,
                    ActNotPossibleException {
        Meant meant = meant(dataset, file, run, job);
        DatasetDef def = workspace.dataset(dataset);
        long before = sum(catalogue.parts(dataset));
        int partsBefore = catalogue.parts(dataset).size();
        long entry = desk.remove(def, meant.which, meant.words);
        if (entry == 0) {
            throw new QueryException("No rows of " + dataset + " are from " + meant.words + ". hapster count " + dataset
                    + " --by _file shows what there is");
        }
        return new RemovedView(
                entry,
                before - sum(catalogue.parts(dataset)),
                partsBefore - catalogue.parts(dataset).size(),
                Views.run(records.run(entry).orElseThrow(), rejects).notes());
    }

    /**
     * Rows counted by columns.
     *
     * @param by columns, several times or separated by commas; dates also as {@code sampled_at:month}
     * @param measures what is found out in each group: {@code sum(COLUMN)}, {@code mean}, {@code min}, {@code max} or
     *     {@code count}, several times or separated by commas
     * @param sort {@code rows}, columns counted by, or measures; with {@code -} in front for descending
     * @param top only so many groups, the largest unless {@code sort} says otherwise; the rest as one
     * @param partial whether parts that are missing or damaged are left out; otherwise there is no answer then
     */
    @GET
    @Path("/{dataset}/counts")
    public CountsView counts(
            String dataset,
            @QueryParam("by") List<String> by,
            @QueryParam("measures") List<String> measures,
            @QueryParam("where") List<String> where,
            @QueryParam("sort") List<String> sort,
            @QueryParam("top") @DefaultValue("0") int top,
            @QueryParam("partial") @DefaultValue("false") boolean partial)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        Grouping grouping = new Grouping(split(by), split(measures), where, split(sort), top);
        List<String> hints = new ArrayList<>();
        StoredRows.Answer<Counts> answer = stored.ask(dataset, partial, rows -> {
            Counts found = rows.counts(grouping);
            hint(rows, where, found.total().rows(), hints);
            return found;
        });
        Counts counts = answer.found();
        return new CountsView(
                dataset,
                counts.by(),
                counts.measures(),
                counts.total().rows(),
                new ArrayList<>(counts.total().measures()),
                counts.groups().stream()
                        .map(group -> new CountGroup(
                                new ArrayList<>(group.values()), group.rows(), new ArrayList<>(group.measures())))
                        .toList(),
                counts.rest()
                        .map(rest -> new CountRest(
                                rest.groups(),
                                rest.all().rows(),
                                new ArrayList<>(rest.all().measures())))
                        .orElse(null),
                hints,
                answer.leftOut());
    }

    /** Finds out why there may be no rows. A question may be asked again, and then only the last hints count. */
    private static void hint(DatasetQuery rows, List<String> where, long found, List<String> hints)
            throws IOException, QueryException {
        hints.clear();
        if (found == 0 && !where.isEmpty()) {
            hints.addAll(rows.missing(where));
        }
    }
}
