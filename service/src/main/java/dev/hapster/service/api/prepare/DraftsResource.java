package dev.hapster.service.api.prepare;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.yaml.DefinitionException;
import dev.hapster.core.draft.Draft;
import dev.hapster.core.draft.DraftRequest;
import dev.hapster.core.draft.Drafting;
import dev.hapster.core.draft.reading.ReadChoice;
import dev.hapster.core.find.Roots;
import dev.hapster.core.workspace.UnknownNameException;
import dev.hapster.core.workspace.Workspace;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.POST;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalInt;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;

/** Jobs and datasets proposed from files. */
@Path("/api/v1/drafts")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "drafts")
@Blocking
public class DraftsResource {

    private static final int MOST_ABOVE = 1_000;
    private static final int MOST_PATHS = 1_000;

    private final Drafting drafting;
    private final Workspace workspace;
    private final Roots roots;

    DraftsResource(Drafting drafting, Workspace workspace, Roots roots) {
        this.drafting = drafting;
        this.workspace = workspace;
        this.roots = roots;
    }

    /**
     * What was decided for a column of the files; what is absent stays as it is proposed.
     *
     * @param name what it is called in the dataset
     * @param type as a definition says it
     * @param required whether a row without a value is rejected
     * @param skip whether the column is left out
     */
    public record ColumnChoice(String name, String type, Boolean required, Boolean skip) {}

    /**
     * How text files with separators are read, where that was decided; what is absent is found out.
     *
     * @param separator what stands between fields
     * @param encoding that Java knows, such as windows-1252
     * @param header whether the first row of the table names the columns
     * @param linesAbove lines above the table, from 0
     */
    public record ReadingChoice(String separator, String encoding, Boolean header, Integer linesAbove) {}

    /**
     * What to look at.
     *
     * @param paths folders and files, absolute or relative to the workspace; files stand for themselves and their like
     * @param into a dataset that exists and is to be loaded into; absent for a new one
     * @param name of the job and of a new dataset; absent for one made from the folder's name
     * @param thorough whether every row is read, and not only some of each file
     * @param comments whether the evidence is written into the definitions as comments
     * @param reading what was decided of how text files are read
     * @param columns what was decided for columns, by their name in the files
     */
    public record NewDraft(
            List<String> paths,
            String into,
            String name,
            boolean thorough,
            boolean comments,
            ReadingChoice reading,
            Map<String, ColumnChoice> columns) {}

    /** Looks at files and proposes jobs and datasets, with the evidence. Nothing is written. */
    @POST
    public Draft draft(NewDraft request) throws IOException, UnknownNameException, DefinitionException {
        if (request == null || request.paths() == null || request.paths().isEmpty()) {
            throw new BadRequestException("The field 'paths' is missing: folders or files to look at");
        }
        if (request.paths().size() > MOST_PATHS) {
            throw new BadRequestException("'paths' names more than " + MOST_PATHS + " files; name their folder");
        }
        List<java.nio.file.Path> paths = new ArrayList<>();
        for (String path : request.paths()) {
            paths.add(inside(path));
        }
        Map<String, DraftRequest.Choice> choices = new HashMap<>();
        if (request.columns() != null) {
            request.columns().forEach((header, choice) -> choices.put(header, choice(header, choice)));
        }
        return drafting.draft(new DraftRequest(
                paths,
                Optional.ofNullable(request.into()).filter(name -> !name.isBlank()),
                Optional.ofNullable(request.name()).filter(name -> !name.isBlank()),
                request.thorough(),
                request.comments(),
                reading(request.reading()),
                choices));
    }

    private static ReadChoice reading(ReadingChoice choice) {
        if (choice == null) {
            return ReadChoice.NONE;
        }
        if (choice.linesAbove() != null && (choice.linesAbove() < 0 || choice.linesAbove() > MOST_ABOVE)) {
            throw new BadRequestException("'linesAbove' lies between 0 and " + MOST_ABOVE);
        }
        String separator = choice.separator();
        if (separator != null && !separator.matches("[^\"\r\n]{1," + ReadSection.LONGEST_SEPARATOR + "}")) {
            throw new BadRequestException("'separator' has between 1 and " + ReadSection.LONGEST_SEPARATOR
                    + " characters, without quotes and line breaks");
        }
        Optional<Charset> encoding;
        try {
            encoding = Optional.ofNullable(choice.encoding()).map(Charset::forName);
        } catch (IllegalArgumentException unknown) {
            throw new BadRequestException(
                    "unknown encoding '" + choice.encoding()
                            + "'; common ones are UTF-8, windows-1252, ISO-8859-1, UTF-16LE",
                    unknown);
        }
        return new ReadChoice(
                Optional.ofNullable(separator),
                encoding,
                Optional.ofNullable(choice.header()),
                choice.linesAbove() == null ? OptionalInt.empty() : OptionalInt.of(choice.linesAbove()));
    }

    private static DraftRequest.Choice choice(String header, ColumnChoice choice) {
        if (choice.name() != null && !choice.name().matches(DatasetSection.NAME_RULE)) {
            throw new BadRequestException("'" + choice.name() + "', chosen for '" + header
                    + "', is not a name of a column: use letters, digits and _, beginning with a letter");
        }
        Optional<ColumnType> type = Optional.ofNullable(choice.type()).flatMap(ColumnType::parse);
        if (choice.type() != null && type.isEmpty()) {
            throw new BadRequestException("'" + choice.type() + "', chosen for '" + header
                    + "', is not a type; types are " + ColumnType.WORDS);
        }
        return new DraftRequest.Choice(
                Optional.ofNullable(choice.name()),
                type,
                Optional.ofNullable(choice.required()),
                Optional.ofNullable(choice.skip()));
    }

    private java.nio.file.Path inside(String written) throws IOException {
        java.nio.file.Path path;
        try {
            path = roots.resolve(workspace.folder(), written);
        } catch (InvalidPathException wrong) {
            throw new BadRequestException("'" + written + "' is not a path: " + wrong.getReason(), wrong);
        }
        if (!roots.holdAsWritten(path) || (Files.exists(path) && !roots.hold(path))) {
            throw new BadRequestException(path + " lies outside the folders that the service may read (" + roots
                    + "); start it with --root " + path + " to allow it");
        }
        if (!Files.exists(path)) {
            throw new BadRequestException("There is no file and no folder " + path);
        }
        return path;
    }
}
