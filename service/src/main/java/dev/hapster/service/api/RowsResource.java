package dev.hapster.service.api;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.read.Cures;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.Trace;
import dev.hapster.core.run.stage.Stage;
import dev.hapster.core.run.stage.StagePage;
import dev.hapster.core.run.stage.StageQuestion;
import dev.hapster.core.run.stage.StageRow;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.call.ValueParameters;
import io.quarkus.runtime.ShutdownEvent;
import io.smallrye.common.annotation.Blocking;
import jakarta.enterprise.event.Observes;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** The rows of a job's files at each stage, by the rules as they are saved or as somebody is writing them. */
@Path("/api/v1/jobs/{job}/rows")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class RowsResource {

    private static final int USUAL_ROWS = 50;

    private final Workspace workspace;
    private final Runner runner;

    RowsResource(Workspace workspace, Runner runner) {
        this.workspace = workspace;
        this.runner = runner;
    }

    /** What was written down for questions goes with the service. */
    void onStop(@Observes ShutdownEvent stop) throws IOException {
        runner.stages().close();
    }

    /**
     * Which rows are asked for.
     *
     * @param file as `find` lists it; without it the rows of all files, one file after the other
     * @param stage {@code read}, {@code cleaned} or {@code stored}
     * @param from the first row, counted from 1; of sorted rows the first of these
     * @param fileNumber of all files, the one that {@code from} is meant of, counted from 0
     * @param line the line at or behind which the first row stands, instead of {@code from}
     * @param limit how many rows at most, up to 1000
     * @param rejected whether only rows that are rejected are meant
     * @param where a condition (CEL) that rows must satisfy
     * @param sort a column of the stage, with a - in front for the greatest first
     * @param whole whether all rows are looked at to filter and sort, and not the first 50,000
     * @param text the job as it is being written, instead of the saved one
     * @param datasetText the same of the dataset
     * @param set values given for this look
     */
    public record RowsQuestion(
            String file,
            String stage,
            Long from,
            Integer fileNumber,
            Long line,
            Integer limit,
            Boolean rejected,
            String where,
            String sort,
            Boolean whole,
            String text,
            String datasetText,
            Map<String, String> set) {}

    /** A row; {@code outcome} is {@code stored}, {@code rejected} or {@code set aside}. */
    public record StageRowView(
            String file,
            long row,
            long line,
            String place,
            String outcome,
            List<String> cells,
            List<StageRow.RowFault> faults,
            String rule) {
        static StageRowView of(StageRow row) {
            return new StageRowView(
                    row.file(),
                    row.row(),
                    row.line(),
                    row.place(),
                    row.outcome().word(),
                    row.cells(),
                    row.faults(),
                    row.rule());
        }
    }

    /** Why the file as a whole would be rejected. */
    public record Rejection(String code, String sentence, String cure) {}

    /**
     * Rows at a stage.
     *
     * @param next the row at which the next page begins; 0 behind the last
     * @param nextFile of all files, the one that {@code next} is meant of, counted from 0
     * @param looked how many rows were looked at
     * @param whole whether those were all
     * @param found how many of them satisfy what was asked for
     * @param untold for how many of them the condition could not be evaluated
     * @param total rows of the file; -1 where that is not known yet
     * @param busy whether the file is still being looked through: ask again
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record StageRowsView(
            String job,
            String file,
            String stage,
            Rejection rejection,
            List<StagePage.StageColumn> columns,
            List<StageRowView> rows,
            long next,
            int nextFile,
            long looked,
            boolean whole,
            long found,
            long untold,
            long total,
            boolean busy,
            List<String> notes) {}

    /** Shows rows of one file, or of all files of the job, as they are read, cleaned or would be stored. */
    @POST
    public StageRowsView rows(String job, RowsQuestion asked)
            throws IOException, DefinitionException, UnknownNameException, QueryException, InterruptedException {
        RowsQuestion question = orFirst(asked);
        PreparedJob prepared = prepared(job, question);
        StageQuestion which = question(question, prepared.dataset());
        if (question.file() == null || question.file().isEmpty()) {
            int first = question.fileNumber() == null ? 0 : Math.max(0, question.fileNumber());
            List<Candidate> files = prepared.finding().taken().stream()
                    .filter(file -> file.waiting().isEmpty())
                    .toList();
            return view(job, null, which, null, runner.stages().page(prepared, files, first, which));
        }
        Candidate file = file(prepared, question.file());
        try {
            return view(job, prepared.name(file), which, null, runner.stages().page(prepared, file, which));
        } catch (FileRejectedException whole) {
            Rejection rejection = new Rejection(
                    whole.reason().code().code(),
                    whole.reason().sentence(),
                    Cures.of(whole.reason().code(), prepared.job().read().as()));
            return view(job, prepared.name(file), which, rejection, StagePage.NONE);
        }
    }

    /** Follows one row of a file through all steps, whatever becomes of it. */
    @POST
    @Path("/trace")
    public Trace trace(String job, RowsQuestion asked)
            throws IOException, DefinitionException, UnknownNameException, QueryException, InterruptedException {
        RowsQuestion question = orFirst(asked);
        if (question.file() == null || question.from() == null) {
            throw new BadRequestException("Say which row: {\"file\": \"samples.csv\", \"from\": 17}");
        }
        PreparedJob prepared = prepared(job, question);
        Candidate file = file(prepared, question.file());
        try {
            return runner.traces()
                    .of(prepared, file, question.from())
                    .orElseThrow(() -> new NotFoundException(
                            question.file() + " has no row " + question.from() + ", or it has not been found yet"));
        } catch (FileRejectedException whole) {
            throw new QueryException(
                    "The row cannot be followed: its file " + whole.reason().sentence());
        }
    }

    private static RowsQuestion orFirst(RowsQuestion asked) {
        return asked != null
                ? asked
                : new RowsQuestion(null, null, null, null, null, null, null, null, null, null, null, null, null);
    }

    private PreparedJob prepared(String job, RowsQuestion question)
            throws IOException, DefinitionException, UnknownNameException {
        String saved = workspace.jobText(job);
        String text = question.text() == null ? saved : question.text();
        Map<String, String> set = ValueParameters.orNone(question.set());
        workspace.checkCall(job, text, set);
        Optional<DatasetDef> written = question.datasetText() == null
                ? Optional.empty()
                : Optional.of(workspace.datasetOf(job, text, set, question.datasetText()));
        JobDef definition = workspace.job(job, text, set, written);
        DatasetDef dataset = written.isPresent() ? written.get() : workspace.dataset(definition.into());
        return runner.prepare(definition, dataset);
    }

    private static Candidate file(PreparedJob prepared, String name) throws QueryException {
        return FilesOfJob.named(prepared, List.of(name)).get(0);
    }

    private static StageQuestion question(RowsQuestion asked, DatasetDef dataset) throws QueryException {
        String word = asked.stage() == null ? Stage.STORED.word() : asked.stage();
        Stage stage = Arrays.stream(Stage.values())
                .filter(one -> one.word().equals(word))
                .findFirst()
                .orElseThrow(() -> new QueryException("'stage' is read, cleaned or stored, not '" + word + "'"));
        Optional<Expression> where = Optional.empty();
        if (asked.where() != null && !asked.where().isBlank()) {
            try {
                where = Optional.of(Definitions.condition(asked.where(), dataset));
            } catch (Expression.WrongException wrong) {
                Expression.Mistake mistake = wrong.mistakes().get(0);
                throw new QueryException(
                        "The condition has a mistake at character " + (mistake.at() + 1) + ": " + mistake.what());
            }
        }
        String sort = asked.sort() == null ? "" : asked.sort();
        return new StageQuestion(
                stage,
                Math.max(1, orElse(asked.from(), 1)),
                Math.max(0, orElse(asked.line(), 0)),
                (int) Math.max(1, Math.min(StageQuestion.MOST_ROWS, orElse(asked.limit(), USUAL_ROWS))),
                Boolean.TRUE.equals(asked.rejected()),
                where,
                Optional.of(sort.replaceFirst("^-", "")).filter(name -> !name.isEmpty()),
                sort.startsWith("-"),
                Boolean.TRUE.equals(asked.whole()));
    }

    private static long orElse(Number given, long usual) {
        return given == null ? usual : given.longValue();
    }

    private static StageRowsView view(
            String job, String file, StageQuestion which, Rejection rejection, StagePage page) {
        return new StageRowsView(
                job,
                file,
                which.stage().word(),
                rejection,
                page.columns(),
                page.shown().stream().map(StageRowView::of).toList(),
                page.next(),
                page.file(),
                page.looked(),
                page.whole(),
                page.found(),
                page.untold(),
                page.rows(),
                page.busy(),
                page.notes());
    }
}
