package dev.hapster.service.api;

import dev.hapster.core.find.Roots;
import dev.hapster.core.workspace.Workspace;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.eclipse.microprofile.openapi.annotations.tags.Tag;
import org.jboss.resteasy.reactive.RestQuery;

/** Folders that a job may look into, for completion while somebody writes one. */
@Path("/api/v1/folders")
@Produces(MediaType.APPLICATION_JSON)
@Tag(name = "folders")
@Blocking
public class FoldersResource {

    private static final int MOST = 100;

    private final Workspace workspace;
    private final Roots roots;

    FoldersResource(Workspace workspace, Roots roots) {
        this.workspace = workspace;
        this.roots = roots;
    }

    /**
     * Folders whose paths begin as written, one level further; those of the workspace relative to it, others absolute.
     *
     * @param begin what is written so far, such as {@code inbox/no}
     */
    @GET
    public List<String> folders(@RestQuery @DefaultValue("") String begin) throws IOException {
        String parent = begin.substring(0, begin.lastIndexOf('/') + 1);
        List<String> found = new ArrayList<>();
        try {
            java.nio.file.Path folder = workspace.folder().resolve(parent).normalize();
            if (Files.isDirectory(folder) && roots.hold(folder)) {
                try (DirectoryStream<java.nio.file.Path> inside =
                        Files.newDirectoryStream(folder, Files::isDirectory)) {
                    for (java.nio.file.Path one : inside) {
                        String path = parent + one.getFileName();
                        if (path.startsWith(begin)
                                && !one.equals(workspace.store())
                                && !one.getFileName().toString().startsWith(".")) {
                            found.add(path);
                        }
                    }
                }
            }
        } catch (InvalidPathException | java.nio.file.AccessDeniedException none) {
            return List.of(); // nothing to complete with
        }
        Stream<String> others = roots.folders().stream()
                .map(Object::toString)
                .filter(root -> root.startsWith(begin)
                        && !root.equals(workspace.folder().toString()));
        return Stream.concat(found.stream(), others)
                .distinct()
                .sorted()
                .limit(MOST)
                .toList();
    }
}
