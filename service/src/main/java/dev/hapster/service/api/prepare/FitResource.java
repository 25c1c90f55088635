package dev.hapster.service.api.prepare;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.FitReport;
import dev.hapster.core.run.inspect.FitReport.Cell;
import dev.hapster.core.run.inspect.FitReport.Extra;
import dev.hapster.core.run.inspect.FitReport.Named;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.api.call.ValueParameters;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import java.util.Locale;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** Whether a job's files have one structure. */
@Path("/api/v1/jobs/{job}/fit")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class FitResource {

    private final Runner runner;

    FitResource(Runner runner) {
        this.runner = runner;
    }

    /**
     * A column of the dataset in the files of a group.
     *
     * @param state {@code present}, {@code moved}, {@code other_type}, {@code missing}, {@code empty} or {@code fixed}
     * @param header its name there
     * @param position counted from 1; 0 where it has none
     * @param usual its position in most files
     * @param looks what is worth knowing of its values
     */
    public record CellView(String column, String state, String header, int position, int usual, String looks) {
        static CellView of(Cell cell) {
            return new CellView(
                    cell.column(),
                    cell.state().name().toLowerCase(Locale.ROOT),
                    cell.header(),
                    cell.position(),
                    cell.usual(),
                    cell.looks());
        }
    }

    /**
     * Files of equal structure.
     *
     * @param verdict {@code fits}, {@code fits with differences} or {@code does not fit}
     * @param files how many
     * @param names the first of them
     * @param code of the reason for which they are rejected; absent where they are not
     * @param header their columns as they stand there
     * @param rows rows that were looked at
     * @param rejected how many of those would be rejected
     * @param changes what could be changed, in sentences
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record GroupView(
            String verdict,
            int files,
            List<Named> names,
            String code,
            String sentence,
            List<String> header,
            List<CellView> cells,
            List<Extra> extra,
            long rows,
            long rejected,
            List<String> changes) {}

    /**
     * The matrix of a job's files against its columns.
     *
     * @param clean whether every file fits
     * @param columns the dataset's columns
     * @param waiting files that are not complete and were not looked at
     */
    public record FitView(
            String job,
            boolean canRun,
            boolean clean,
            List<Problem> problems,
            List<String> columns,
            int files,
            int waiting,
            List<GroupView> groups) {}

    /**
     * Reads the header and the first rows of each of a job's files, and puts those of equal structure together.
     *
     * @param set values given for this look, each as {@code name=value}
     */
    @GET
    public FitView fit(String job, @RestQuery List<String> set) throws IOException, UnknownNameException {
        FitReport report = runner.inspection().fit(job, ValueParameters.inAddress(set));
        boolean clean = report.problems().isEmpty()
                && report.groups().stream().allMatch(group -> group.verdict() == FitReport.Verdict.FITS);
        return new FitView(
                job,
                report.problems().isEmpty(),
                clean,
                report.problems(),
                report.columns(),
                report.files(),
                report.waiting(),
                report.groups().stream().map(FitResource::view).toList());
    }

    private static GroupView view(FitReport.Group group) {
        return new GroupView(
                group.verdict().words(),
                group.files(),
                group.names(),
                group.reason().map(reason -> reason.code().code()).orElse(null),
                group.reason().map(Reason::sentence).orElse(null),
                group.header(),
                group.cells().stream().map(CellView::of).toList(),
                group.extra(),
                group.rows(),
                group.rejected(),
                group.changes());
    }
}
