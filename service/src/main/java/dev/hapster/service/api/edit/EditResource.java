package dev.hapster.service.api.edit;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.definition.JobDef;
import dev.hapster.core.definition.edit.SectionEdit;
import dev.hapster.core.definition.explain.Explanation;
import dev.hapster.core.definition.parse.Definitions;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.definition.yaml.Problem;
import dev.hapster.core.expression.Expression;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import dev.hapster.service.api.call.ValueParameters;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.concurrent.atomic.AtomicBoolean;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Jobs while somebody is writing them. Nothing is saved here. */
@Path("/api/v1/jobs/{job}/edit")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "jobs")
@Blocking
public class EditResource {

    private final Workspace workspace;
    private final AtomicBoolean opened = new AtomicBoolean();

    EditResource(Workspace workspace) {
        this.workspace = workspace;
    }

    /**
     * A change of one key.
     *
     * @param path the key with the sections that it stands in, such as {@code ["read", "separator"]}; a column of a
     *     dataset stands for itself
     * @param value null takes the key out
     */
    public record KeyChange(List<String> path, Object value) {}

    /**
     * @param text the text as it is being written; absent for the saved one
     * @param changes made one after the other
     * @param set values for names that have none of their own
     */
    public record EditRequest(String text, List<KeyChange> changes, Map<String, String> set) {}

    /**
     * A definition as it would be.
     *
     * @param text with the changes made
     * @param savedVersion of the text that is saved now
     * @param saved the text that is saved now
     * @param sections what it says, by section: texts, and lists and maps of them
     * @param problems mistakes in it
     * @param explanation what a job does; absent where there are mistakes, and of datasets
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record EditView(
            String text,
            String savedVersion,
            String saved,
            Map<String, Object> sections,
            List<Problem> problems,
            Explanation explanation) {}

    /** Makes changes in the text of a job, and says what is wrong with it. */
    @POST
    public EditView job(String job, EditRequest request) throws IOException, DefinitionException, UnknownNameException {
        if (opened.compareAndSet(false, true)) {
            Thread loading = new Thread(Expression::prepare, "expressions"); // whoever opens the editor may write one
            loading.setDaemon(true);
            loading.start();
        }
        String saved = workspace.jobText(job);
        String text = changed(request, saved);
        Map<String, String> set = request == null ? Map.of() : ValueParameters.orNone(request.set());
        List<Problem> problems = List.of();
        Explanation explanation = null;
        try {
            JobDef definition = workspace.job(job, text, set);
            explanation = Explanation.of(definition, workspace.dataset(definition.into()));
        } catch (DefinitionException wrong) {
            problems = wrong.problems();
        }
        return new EditView(text, Definitions.version(saved), saved, sections(text), problems, explanation);
    }

    static String changed(EditRequest request, String saved) {
        String text = request == null || request.text() == null ? saved : request.text();
        List<KeyChange> changes = request == null || request.changes() == null ? List.of() : request.changes();
        try {
            for (KeyChange change : changes) {
                text = SectionEdit.set(text, change.path() == null ? List.of() : change.path(), change.value());
            }
        } catch (IllegalArgumentException wrong) {
            throw new BadRequestException("The change cannot be made: " + wrong.getMessage());
        }
        return text;
    }

    /** Nothing where the text is not made of keys with values; that is among the problems then. */
    static Map<String, Object> sections(String text) {
        try {
            return SectionEdit.plainly(text);
        } catch (IllegalArgumentException broken) {
            return Map.of();
        }
    }
}
