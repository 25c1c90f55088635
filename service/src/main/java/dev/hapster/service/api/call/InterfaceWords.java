package dev.hapster.service.api.call;

import static java.util.Map.entry;

import dev.hapster.core.definition.section.PlaceSection;
import io.quarkus.smallrye.openapi.OpenApiFilter;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.OASFactory;
import org.eclipse.microprofile.openapi.OASFilter;
import org.eclipse.microprofile.openapi.models.OpenAPI;
import org.eclipse.microprofile.openapi.models.Operation;
import org.eclipse.microprofile.openapi.models.PathItem;
import org.eclipse.microprofile.openapi.models.media.Schema;
import org.eclipse.microprofile.openapi.models.media.Schema.SchemaType;
import org.eclipse.microprofile.openapi.models.parameters.Parameter;
import org.eclipse.microprofile.openapi.models.responses.APIResponse;

/**
 * Completes the document of the interface (OpenAPI 3.1): what each call does and each parameter means, with which
 * statuses a call may answer, and what a problem looks like (RFC 9457). A call without words here fails the build.
 */
@OpenApiFilter(OpenApiFilter.RunStage.BUILD)
public final class InterfaceWords implements OASFilter {

    private static final String PREFIX = "/api/v1";

    private static final Map<String, String> CALLS = Map.ofEntries(
            entry("GET /datasets", "All datasets, with their rows and the mistakes of their files."),
            entry(
                    "GET /datasets/{dataset}",
                    "A dataset: its columns, the text of its file, and what each job brought."),
            entry("GET /datasets/{dataset}/split", "The files that there would be if rows were split by values."),
            entry("GET /datasets/{dataset}/split/zip", "Rows split by values, as a ZIP archive of files."),
            entry(
                    "GET /datasets/{dataset}/parts",
                    "Where the rows of a dataset lie, for programs that read Parquet themselves."),
            entry("GET /datasets/{dataset}/deliveries", "Deliveries of a dataset, each with how it went last."),
            entry("GET /datasets/{dataset}/deliveries/{delivery}", "A delivery, its files and its history."),
            entry(
                    "POST /datasets/{dataset}/deliveries/{delivery}",
                    "Has a delivery done, as soon as those before it are; says under which number it is found."),
            entry(
                    "GET /datasets/{dataset}/deliveries/{delivery}/{number}",
                    "One time that a delivery was done, or is to be done."),
            entry(
                    "POST /datasets/{dataset}/deliveries/{delivery}/trial",
                    "What a delivery would do. Nothing is written."),
            entry(
                    "PUT /datasets/{dataset}",
                    "Writes a dataset's file; makes the dataset where there is none of that name."),
            entry("DELETE /datasets/{dataset}", "Deletes a dataset that holds no rows and that no job loads into."),
            entry("GET /datasets/{dataset}/rows", "Some rows, each with the file and line that it comes from."),
            entry("DELETE /datasets/{dataset}/rows", "Takes the rows of a job, a run or a file out; it can be undone."),
            entry("GET /datasets/{dataset}/removal", "What taking rows out would change. Nothing is changed."),
            entry(
                    "GET /datasets/{dataset}/counts",
                    "Rows counted by columns, with sums, means and the like of others."),
            entry(
                    "GET /datasets/{dataset}/profile",
                    "What columns hold: empty, different, frequent, smallest and largest values, and what looks odd."),
            entry(
                    "POST /datasets/{dataset}/export/sheet",
                    "A workbook with rows in one of its sheets; all else in it stays as it is."),
            entry(
                    "GET /datasets/{dataset}/export",
                    "Rows as a file for other programs. An export that cannot be written fails before its first byte."),
            entry("POST /drafts", "A job and a dataset proposed from files, with the evidence. Nothing is written."),
            entry("GET /folders/content", "What lies in a folder: folders with their numbers of files, and files."),
            entry("GET /folders", "Folders that a job may search, for a person who types a path."),
            entry("GET /jobs", "All jobs, with their last runs and the mistakes of their files."),
            entry("GET /jobs/{job}", "A job: the text of its file, what it does in sentences, and its last run."),
            entry("PUT /jobs/{job}", "Writes a job's file; makes the job where there is none of that name."),
            entry("DELETE /jobs/{job}", "Deletes a job's file. What it loaded stays in the dataset."),
            entry("POST /jobs/{job}/copy", "Makes a job out of another one."),
            entry("POST /jobs/{job}/rename", "Gives a job another name, with its history and its rows."),
            entry("POST /datasets/{dataset}/copy", "Makes a dataset with the columns of another one, and no rows."),
            entry(
                    "POST /datasets/{dataset}/rename",
                    "Gives a dataset another name, with its jobs, its history and its rows."),
            entry("POST /jobs/{job}/find", "Which files the job takes now, which it skips, and by which rule."),
            entry(
                    "GET /jobs/{job}/profile",
                    "What the columns of a job's files hold before they are loaded, and what would be rejected."),
            entry("GET /calendar", "What is due for jobs, and whether it has arrived."),
            entry("GET /jobs/{job}/calendar", "What is due for a job, period by period, and whether it has arrived."),
            entry(
                    "GET /jobs/{job}/calendar/proposal",
                    "What a job's file may say of what is due, as it was up to now. Nothing is written."),
            entry("GET /messages", "Messages about runs and arrivals, the latest first."),
            entry("GET /messages/{message}", "A message, with its text."),
            entry("POST /messages/trial", "Sends a trial message, so that one sees whether an account works."),
            entry("POST /messages/again", "Has messages sent once more that were given up."),
            entry("POST /runs/{run}/label", "Calls a run by a label; an empty one takes it away."),
            entry("GET /schedule", "When jobs run by themselves, each with its next times."),
            entry("GET /jobs/{job}/schedule", "When a job runs by itself: its next times, and whether it is paused."),
            entry("POST /jobs/{job}/schedule/times", "The next times of a job's text that is not saved."),
            entry("POST /jobs/{job}/schedule/pause", "Pauses a job: it does not run by itself any more."),
            entry("POST /jobs/{job}/schedule/resume", "Ends the pause of a job."),
            entry("GET /jobs/{job}/peek", "The first lines or rows of one file, as they are."),
            entry(
                    "GET /jobs/{job}/fit",
                    "Whether the job's files have one structure: files of equal structure together."),
            entry(
                    "GET /jobs/{job}/drift",
                    "How the files that the job takes now differ from its definitions, with edits to choose from."),
            entry(
                    "POST /jobs/{job}/check",
                    "What would fail, found without a run: definitions, folders, header and first rows of each file."),
            entry("POST /jobs/{job}/trial", "Everything that a run does, with nothing written."),
            entry(
                    "POST /jobs/{job}/edit",
                    "Makes changes in the text of a job without saving it, and says what is wrong with it."),
            entry(
                    "POST /datasets/{dataset}/edit",
                    "Makes changes in the text of a dataset without saving it, and says what is wrong with it."),
            entry(
                    "POST /jobs/{job}/rows",
                    "Rows of a file, or of all files, as they are read, cleaned or would be stored; filtered, sorted, "
                            + "page by page."),
            entry("POST /jobs/{job}/rows/trace", "One row of a file through all steps, whatever becomes of it."),
            entry("POST /jobs/{job}/runs", "Starts a run. Its address is in the header Location."),
            entry("GET /jobs/{job}/ledger", "Every content of every file that the job ever read, and how it stands."),
            entry("GET /jobs/{job}/arrivals", "The contents of one file that the job ever read, the first one first."),
            entry(
                    "POST /jobs/{job}/dismissals",
                    "Says of a file's rejects that they need nobody's attention any more; it can be undone."),
            entry("GET /queries", "All saved queries, with the mistakes of their files."),
            entry("GET /queries/{query}", "A saved query, and what in it does not suit its dataset by now."),
            entry("PUT /queries/{query}", "Saves a query under a name; it must suit its dataset."),
            entry("DELETE /queries/{query}", "Deletes a saved query."),
            entry("GET /reasons", "Every reason for which something is rejected: what it means and what to do."),
            entry("GET /rejects", "What is currently rejected, by job and reason."),
            entry(
                    "GET /rejects/{run}/mends",
                    "Changes to the definitions by which what a run rejected for a reason would fit."),
            entry("GET /rejects/{run}/trace", "One rejected row through all steps, by the rules as they are now."),
            entry("GET /runs", "Runs and other entries of the history, the newest first."),
            entry("GET /runs/{run}", "One run with its balance."),
            entry("GET /runs/{run}/files", "The files of a run, and what became of each."),
            entry("GET /runs/{run}/events", "The progress of a run as server-sent events, until it ends."),
            entry("POST /runs/{run}/cancel", "Asks a run to stop. Files that it has finished stay."),
            entry("POST /runs/{run}/retry", "Takes again what a run rejected and what still is, as a run of its own."),
            entry("GET /runs/{run}/undo", "What undoing a run would change. Nothing is changed."),
            entry(
                    "POST /runs/{run}/undo",
                    "Takes a run, or another entry of the history, back; it can be undone itself."),
            entry("GET /runs/{run}/comparison", "A run beside the one before it, or another one, file by file."),
            entry(
                    "GET /runs/{run}/definitions",
                    "By which definitions a run went, and what changed in them since, or up to another run."),
            entry("GET /runs/{run}/log", "A piece of what a run did, line by line; asked again, it is followed."),
            entry("GET /runs/{run}/log.jsonl", "All of a run's log as a file, a JSON object on each line."),
            entry(
                    "GET /jobs/{job}/trend",
                    "Rows, rejects and duration of the latest runs of a job that did something."),
            entry("GET /runs/{run}/rejects", "What a run rejected, by reason."),
            entry(
                    "GET /runs/{run}/rejects/rows",
                    "Rejected rows one by one, with their text as it stands in the file."),
            entry(
                    "GET /runs/{run}/rejects/export",
                    "A run's rejected rows as a file that can be corrected and loaded."),
            entry("POST /datasets/{dataset}/export/elsewhere", "All rows as a file on another machine."),
            entry(
                    "GET /metrics",
                    "How the last run of each job went and what arrived, for programs that watch services."),
            entry("GET /runs/{run}/rejects.csv", "The file in which the run keeps its rejects."),
            entry("GET /runs/{run}/aside", "What a run set aside by the job's own rules, by rule."),
            entry("GET /runs/{run}/aside/rows", "Rows that were set aside, one by one."),
            entry("GET /runs/{run}/aside/export", "All rows that a run set aside, as a file."),
            entry("GET /schemas/{name}.schema.json", "The JSON Schema of job and dataset files, for editors."),
            entry("GET /store", "Whether everything in the store is as it should be."),
            entry("POST /store/verify", "Reads the whole store and says what is missing, damaged or left over."));

    private static final Map<String, String> PARAMETERS = Map.ofEntries(
            entry("as", "The format of the file."),
            entry("at", "Where in a log to begin: the next of the last piece, 0 for the beginning."),
            entry("begin", "The beginning of a path."),
            entry(
                    "by",
                    "Columns to count by, several times or separated by commas; dates also as sampled_at:month (:year, "
                            + ":quarter, :month, :week, :day, :hour)."),
            entry("delivery", "Name of a delivery that the dataset's file declares."),
            entry("code", "A reason, such as date-unreadable."),
            entry("column", "A column of the dataset; empty where a whole row or file is meant."),
            entry(
                    "columns",
                    "Which columns, in this order, several times or separated by commas; all where none is named. In "
                            + "exports each also as lab as Laboratory."),
            entry("count", "How many lines."),
            entry("dates", "A pattern (CLDR) for dates in text formats, such as dd.MM.yyyy; usually ISO 8601."),
            entry("decimal", "The decimal mark of CSV: a point or a comma."),
            entry("element", "The element of a row in XML."),
            entry("encoding", "The encoding of CSV; usually UTF-8."),
            entry("header", "Whether CSV begins with the names of the columns."),
            entry("quote_all", "Whether every field of CSV is quoted."),
            entry("root", "The outermost element of XML."),
            entry(
                    "safe",
                    "Whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front."),
            entry("separator", "The character between the fields of CSV, or tab."),
            entry("message", "The number of a message."),
            entry("periods", "How many periods, up to the present one."),
            entry("times", "How many of the next times."),
            entry("timestamps", "A pattern (CLDR) for timestamps in text formats, such as dd.MM.yyyy HH:mm."),
            entry("dataset", "The name of a dataset."),
            entry("file", "A file: its name, or as much of its path as tells it apart."),
            entry("files", "Names of files or patterns, several times; all where none is named."),
            entry("folder", "A folder, absolute or relative to the workspace."),
            entry("from", "The first line, counted from 1; negative to count from the end."),
            entry("job", "The name of a job."),
            entry("level", "Only lines that matter as much: info, warn or error."),
            entry("limit", "How many, at most 1000."),
            entry(
                    "below",
                    "Whether the rows go below the last one of the sheet; otherwise they take the place of all."),
            entry("sheet", "The name of a sheet; it is added where the workbook has none of this name."),
            entry("to", "The pattern of the paths of files, such as out/{lab}.csv."),
            entry("exact", "Whether nothing is estimated, which takes much longer."),
            entry(
                    "partial",
                    "Whether parts that are missing or damaged are left out; otherwise there is no answer then."),
            entry(
                    "measures",
                    "What is found out in each group: sum(COLUMN), mean(COLUMN), min(COLUMN), max(COLUMN) or "
                            + "count(COLUMN), several times or separated by commas."),
            entry("name", "job, dataset or query."),
            entry("number", "The number under which a delivery is found."),
            entry("offset", "How many to skip."),
            entry("origins", "Whether the columns that say where a row comes from are among them."),
            entry("path", "The path of a file, as rejects name it."),
            entry("query", "The name of a saved query."),
            entry("row", "Which row of the file, counted from 1."),
            entry("rule", "The rule that set the rows aside, as the job has it."),
            entry("run", "The number of a run, or of another entry of the history."),
            entry(
                    "total",
                    "Whether it is found out how many rows there are. If not, nothing is read behind the last row "
                            + "wanted, and the total is -1 where it is not known anyway."),
            entry("set", "A value for a name in the job's file, as name=value; may be given several times."),
            entry("sort", "Columns to sort by, several times or separated by commas; with - in front descending."),
            entry("source", "The identity of a file within the job, as the ledger names it."),
            entry("top", "Only so many groups, the largest unless sort says otherwise; the rest are put together."),
            entry("label", "A part of what people call a run."),
            entry("with", "The number of another run."),
            entry(
                    "where",
                    "Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it "
                            + "is given several times, all must hold."));

    @Override
    public void filterOpenAPI(OpenAPI document) {
        List<Object> keys = new ArrayList<>(PlaceSection.RULES);
        keys.add("");
        document.getComponents()
                .getSchemas()
                .get("Step")
                .getProperties()
                .get("key")
                .setEnumeration(keys);
        document.getComponents().addSchema("ProblemDetail", problem());
        document.getPaths().getPathItems().forEach((path, item) -> item.getOperations()
                .forEach((method, call) -> complete(path.substring(PREFIX.length()), method, call)));
    }

    private static Schema problem() {
        return OASFactory.createSchema()
                .addType(SchemaType.OBJECT)
                .description("A problem, as RFC 9457 has it")
                .addProperty("type", text("The kind of problem, as a URN that stays the same"))
                .addProperty("title", text("The kind in words"))
                .addProperty("status", OASFactory.createSchema().addType(SchemaType.INTEGER))
                .addProperty("detail", text("What is wrong here"))
                .addProperty("hint", text("What to do"))
                .addProperty(
                        "problems",
                        OASFactory.createSchema()
                                .addType(SchemaType.ARRAY)
                                .items(OASFactory.createSchema().ref("Problem"))
                                .description("The mistakes of a definition file, with their places"))
                .addProperty("run", OASFactory.createSchema().addType(SchemaType.INTEGER))
                .required(List.of("type", "title", "status", "detail"));
    }

    private static Schema text(String words) {
        return OASFactory.createSchema().addType(SchemaType.STRING).description(words);
    }

    private static void complete(String path, PathItem.HttpMethod method, Operation call) {
        String words = CALLS.get(method + " " + path);
        if (words == null) {
            throw new IllegalStateException("Nothing says what " + method + " " + path + " does; add it to CALLS");
        }
        call.setDescription(words);
        boolean asks = call.getRequestBody() != null;
        for (Parameter parameter : call.getParameters() == null ? List.<Parameter>of() : call.getParameters()) {
            String means = PARAMETERS.get(parameter.getName());
            if (means == null) {
                throw new IllegalStateException(
                        "Nothing says what the parameter " + parameter.getName() + " is; add it to PARAMETERS");
            }
            parameter.setDescription(means);
        }
        if (method == PathItem.HttpMethod.PUT) {
            APIResponse made = OASFactory.createAPIResponse().description("Made");
            made.setContent(call.getResponses().getAPIResponse("200").getContent());
            call.getResponses().addAPIResponse("201", made);
        }
        if (path.endsWith("/cancel")) {
            call.getResponses().removeAPIResponse("200");
            call.getResponses()
                    .addAPIResponse("204", OASFactory.createAPIResponse().description("Asked to stop"));
        }
        problem(call, "400", "A parameter or the JSON is not what the call takes");
        if (path.contains("{")) {
            problem(call, "404", "There is nothing of that name or number");
        }
        if (method != PathItem.HttpMethod.GET || path.startsWith("/datasets/{")) {
            problem(
                    call,
                    "409",
                    "Something stands in the way: a run, a change by somebody else, rows stored otherwise");
        }
        if (path.startsWith("/jobs") || path.startsWith("/datasets") || path.startsWith("/rejects") || asks) {
            problem(call, "422", "A definition file has mistakes");
        }
        problem(call, "500", "An error that was not foreseen; the service's log has more");
        problem(call, "503", "The catalogue cannot be used, mostly for the disk");
    }

    private static void problem(Operation call, String status, String when) {
        call.getResponses()
                .addAPIResponse(
                        status,
                        OASFactory.createAPIResponse()
                                .description(when)
                                .content(OASFactory.createContent()
                                        .addMediaType(
                                                "application/problem+json",
                                                OASFactory.createMediaType()
                                                        .schema(OASFactory.createSchema()
                                                                .ref("ProblemDetail")))));
    }
}
