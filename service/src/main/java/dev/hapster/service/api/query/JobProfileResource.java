package dev.hapster.service.api.query;

import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.run.Runner;
import dev.hapster.core.run.inspect.FileProfile;
import dev.hapster.core.workspace.PreparedJob;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.service.access.CallLimits;
import dev.hapster.service.api.FilesOfJob;
import dev.hapster.service.api.call.ValueParameters;
import dev.hapster.service.api.query.ProfileResource.ColumnProfileView;
import io.smallrye.common.annotation.Blocking;
import io.vertx.ext.web.RoutingContext;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.Context;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** What the columns of a job's files hold, before they are loaded. */
@Path("/api/v1/jobs/{job}/profile")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class JobProfileResource {

    private final Runner runner;
    private final CallLimits limits;

    JobProfileResource(Runner runner, CallLimits limits) {
        this.runner = runner;
        this.limits = limits;
    }

    /**
     * Values rejected for one reason.
     *
     * @param first what is wrong with the first of them, with its file and line
     */
    public record FaultView(String code, long rows, String first) {}

    /**
     * A column of the dataset in the files.
     *
     * @param profile what its values hold in rows that are not rejected and not set aside
     * @param missing of how many of these rows the file has no such column
     * @param rejected rows that are rejected for it, by reason
     */
    public record FileColumnView(ColumnProfileView profile, long missing, List<FaultView> rejected) {}

    /**
     * What files hold.
     *
     * @param files how many were read
     * @param rows that they have
     * @param aside how many of them the job's rules set aside
     * @param rejected how many would be rejected
     * @param columns of the dataset
     * @param whole rows rejected for other reasons than the value of a column
     * @param notes what a person should know of single files
     */
    public record FilesProfileView(
            String job,
            int files,
            long rows,
            long aside,
            long rejected,
            List<FileColumnView> columns,
            List<FaultView> whole,
            List<String> notes) {}

    /**
     * Reads every row of a job's files, or of some of them, and says what their columns hold. Nothing is written.
     *
     * @param files names or patterns; all files that the job takes where none is named
     * @param set values given for this look, each as {@code name=value}
     */
    @GET
    public FilesProfileView profile(
            String job, @RestQuery List<String> files, @RestQuery List<String> set, @Context RoutingContext call)
            throws IOException, DefinitionException, UnknownNameException, QueryException {
        PreparedJob prepared = runner.prepare(job, ValueParameters.inAddress(set));
        List<Candidate> wanted = FilesOfJob.named(prepared, files);
        limits.takeLongAnswer(call);
        FileProfile found = runner.inspection().profile(prepared, wanted);
        List<FileColumnView> columns = new ArrayList<>();
        for (int i = 0; i < found.columns().size(); i++) {
            ColumnProfileView view = ProfileResource.view(found.columns().get(i), false);
            columns.add(new FileColumnView(view, found.missing().get(i), faults(found, view.name())));
        }
        return new FilesProfileView(
                job,
                found.files(),
                found.rows(),
                found.aside(),
                found.rejected(),
                columns,
                faults(found, ""),
                found.notes());
    }

    private static List<FaultView> faults(FileProfile found, String column) {
        return found.faults().getOrDefault(column, Map.of()).entrySet().stream()
                .map(fault -> new FaultView(
                        fault.getKey(),
                        fault.getValue().rows(),
                        fault.getValue().first()))
                .toList();
    }
}
