package dev.hapster.service.api.call;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.exc.MismatchedInputException;
import com.fasterxml.jackson.databind.exc.UnrecognizedPropertyException;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.deliver.table.DatabaseException;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.query.value.StoredOtherwiseException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.run.act.ActNotPossibleException;
import dev.hapster.core.store.DamagedPartException;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.catalogue.transaction.FileFault;
import dev.hapster.service.data.StoredRows;
import dev.hapster.service.runs.Renames;
import dev.hapster.service.runs.RunControl.BusyException;
import jakarta.ws.rs.WebApplicationException;
import jakarta.ws.rs.core.Response;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Collectors;
import org.jboss.resteasy.reactive.server.ServerExceptionMapper;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Turns what goes wrong into problem details (RFC 9457). */
class Problems {

    private static final Logger LOG = LoggerFactory.getLogger(Problems.class);

    private final StoredRows stored;

    Problems(StoredRows stored) {
        this.stored = stored;
    }

    /**
     * A problem.
     *
     * @param type stable name of the kind, as a URN
     * @param detail what is wrong here
     * @param hint what to do
     * @param problems the mistakes of a definition, where it has some
     * @param run the run concerned, where there is one
     */
    @JsonInclude(JsonInclude.Include.NON_EMPTY)
    public record Detail(
            String type, String title, int status, String detail, String hint, List<Problem> problems, Long run) {}

    @ServerExceptionMapper
    Response wrongDefinition(DefinitionException wrong) {
        int count = wrong.problems().size();
        return answer(
                422,
                "definition-wrong",
                "The definition cannot be used",
                count == 1 ? wrong.problems().get(0).toString() : count + " mistakes",
                "",
                wrong.problems(),
                null);
    }

    @ServerExceptionMapper
    Response unknownName(UnknownNameException wrong) {
        return answer(
                wrong.isOfCall() ? 400 : 404,
                "unknown-name",
                wrong.isOfCall() ? "Bad Request" : "Not found",
                wrong.getMessage(),
                wrong.hint(),
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response wrongQuestion(QueryException wrong) {
        return answer(
                400, "question-wrong", "The question cannot be answered", wrong.getMessage(), "", List.of(), null);
    }

    @ServerExceptionMapper
    Response storedOtherwise(StoredOtherwiseException wrong) {
        return answer(
                409, "stored-otherwise", "The rows are stored otherwise", wrong.getMessage(), "", List.of(), null);
    }

    @ServerExceptionMapper
    Response damagedPart(DamagedPartException wrong) {
        return answer(
                500,
                "part-damaged",
                "A part of the dataset cannot be read",
                stored.told(wrong),
                "The rows of all other parts are had with partial=true (hapster: --partial)",
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response database(DatabaseException wrong) {
        LOG.warn(wrong.getMessage(), wrong);
        return answer(
                502,
                "database-unusable",
                "The database does not do what is asked",
                wrong.getMessage(),
                "",
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response elsewhere(RemoteFault wrong) {
        LOG.warn(wrong.getMessage(), wrong);
        return answer(
                502,
                "elsewhere-unusable",
                "Another machine does not do what is asked",
                wrong.getMessage(),
                "",
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response busy(BusyException wrong) {
        return answer(
                409,
                "job-busy",
                "The job is being run",
                wrong.getMessage(),
                "Wait for it, or cancel it",
                List.of(),
                wrong.run());
    }

    @ServerExceptionMapper
    Response standsInTheWay(ActNotPossibleException wrong) {
        return answer(409, "stands-in-the-way", "It cannot be done now", wrong.getMessage(), "", List.of(), null);
    }

    @ServerExceptionMapper
    Response unfinished(Renames.UnfinishedException wrong) {
        LOG.error(wrong.getMessage(), wrong);
        return answer(
                503, "renaming-unfinished", "A renaming is not finished", wrong.getMessage(), "", List.of(), null);
    }

    @ServerExceptionMapper
    Response changed(Workspace.ChangedException wrong) {
        return answer(
                409,
                "file-changed",
                "The file was changed",
                wrong.getMessage(),
                "Load it anew, and make the change again",
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response unknownField(UnrecognizedPropertyException wrong) {
        List<String> known = wrong.getKnownPropertyIds().stream()
                .map(String::valueOf)
                .sorted()
                .toList();
        return answer(
                400,
                "http",
                "Bad Request",
                "There is no field '" + wrong.getPropertyName() + "' in this call",
                Nearest.hint(wrong.getPropertyName(), known),
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response wrongField(MismatchedInputException wrong) {
        String field = wrong.getPath().stream()
                .map(step -> step.getFieldName() == null ? "[" + step.getIndex() + "]" : step.getFieldName())
                .collect(Collectors.joining("."));
        return answer(
                400,
                "http",
                "Bad Request",
                field.isEmpty()
                        ? "The JSON is not what this call takes"
                        : "The field '" + field + "' does not have the right kind of value",
                "The document at /api/v1/openapi says what this call takes",
                List.of(),
                null);
    }

    @ServerExceptionMapper
    Response http(WebApplicationException wrong) {
        Response.StatusType status = wrong.getResponse().getStatusInfo();
        if (status.getStatusCode() == 500
                && wrong.getCause() instanceof Exception cause) { // met while rows were written
            return cause instanceof DamagedPartException damaged ? damagedPart(damaged) : unexpected(cause);
        }
        String detail = wrong.getCause() instanceof com.fasterxml.jackson.core.JsonProcessingException json
                ? "The JSON cannot be read: " + json.getOriginalMessage()
                : wrong.getMessage();
        return answer(status.getStatusCode(), "http", status.getReasonPhrase(), detail, "", List.of(), null);
    }

    @ServerExceptionMapper
    Response unexpected(Exception wrong) {
        Optional<Throwable> fault = FileFault.in(wrong);
        if (fault.isPresent()) {
            LOG.error("The catalogue cannot be used", wrong);
            return answer(
                    503,
                    "catalogue-unusable",
                    "The catalogue cannot be used",
                    "The catalogue's file cannot be read or written: " + Reasons.deepest(fault.get()),
                    "Look whether the disk under the workspace's folder 'store' is full, read-only or gone. "
                            + "What was committed is safe; once the disk is working again, call again, and if this "
                            + "stays, start the service anew",
                    List.of(),
                    null);
        }
        String reference = UUID.randomUUID().toString().substring(0, 8);
        LOG.error("Unexpected, reference {}", reference, wrong);
        return answer(
                500,
                "unexpected",
                "Unexpected error",
                wrong.toString(),
                "It stands in the service's log with the reference " + reference,
                List.of(),
                null);
    }

    private static Response answer(
            int status, String type, String title, String detail, String hint, List<Problem> problems, Long run) {
        return Response.status(status)
                .type("application/problem+json")
                .entity(new Detail("urn:hapster:" + type, title, status, detail, hint, problems, run))
                .build();
    }
}
