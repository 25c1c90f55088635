package dev.hapster.service.api.prepare;

import com.fasterxml.jackson.annotation.JsonInclude;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.workspace.Workspace;
import io.smallrye.common.annotation.Blocking;
import jakarta.ws.rs.BadRequestException;
import jakarta.ws.rs.DefaultValue;
import jakarta.ws.rs.GET;
import jakarta.ws.rs.NotFoundException;
import jakarta.ws.rs.Path;
import jakarta.ws.rs.Produces;
import jakarta.ws.rs.core.MediaType;
import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
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

    private static final int MOST_LOOKED = 10_000;
    private static final int COUNTED_DEPTH = 4;

    private final Workspace workspace;
    private final Roots roots;
    private final FoldersElsewhere elsewhere;

    FoldersResource(Workspace workspace, Roots roots) {
        this.workspace = workspace;
        this.roots = roots;
        elsewhere = new FoldersElsewhere(workspace, roots, MOST, MOST_LOOKED);
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
            java.nio.file.Path folder = roots.resolve(workspace.folder(), parent);
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
        } catch (InvalidPathException | java.nio.file.AccessDeniedException | RemoteFault none) {
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

    /**
     * A folder within another.
     *
     * @param path as {@link #content} takes it
     * @param files how many files lie in it and in the folders below, at most those that were counted; absent for
     *     folders of other machines, where nobody counts
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record SubFolder(String name, String path, Long files) {}

    /**
     * A file in a folder.
     *
     * @param size in bytes
     */
    public record FileIn(String name, String path, long size, Instant modified) {}

    /**
     * What lies in a folder.
     *
     * @param path of the folder, relative to the workspace where it lies below it
     * @param above the folder above it, where that may be read; absent at the top
     * @param files the first of them by name
     * @param more how many files are not listed
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record FolderContent(String path, String above, List<SubFolder> folders, List<FileIn> files, long more) {}

    /**
     * What lies in a folder, for a person who looks for files.
     *
     * @param folder its path, absolute or relative to the workspace; the folders that may be read where it is empty
     */
    @GET
    @Path("/content")
    public FolderContent content(@RestQuery @DefaultValue("") String folder) throws IOException {
        java.nio.file.Path at;
        try {
            at = roots.resolve(workspace.folder(), folder);
        } catch (InvalidPathException wrong) {
            throw new BadRequestException("'" + folder + "' is not a path: " + wrong.getReason(), wrong);
        }
        if (Remotes.isRemote(at)) {
            return elsewhere.content((RemotePath) at);
        }
        if (!roots.holdAsWritten(at) || !Files.isDirectory(at) || !roots.hold(at)) {
            throw new NotFoundException("There is no folder " + at + " that the service may read (" + roots + ")");
        }
        List<SubFolder> folders = new ArrayList<>();
        List<FileIn> files = new ArrayList<>();
        long more = 0;
        try (DirectoryStream<java.nio.file.Path> inside = Files.newDirectoryStream(at)) {
            for (java.nio.file.Path one : inside) {
                String name = one.getFileName().toString();
                if (name.startsWith(".") || one.equals(workspace.store())) {
                    continue;
                }
                if (Files.isDirectory(one) && roots.hold(one)) {
                    folders.add(new SubFolder(name, written(one), count(one)));
                } else if (Files.isRegularFile(one)) {
                    files.add(new FileIn(
                            name,
                            written(one),
                            Files.size(one),
                            Files.getLastModifiedTime(one).toInstant()));
                }
                if (files.size() > MOST_LOOKED) {
                    more++;
                    files.remove(files.size() - 1);
                }
            }
        }
        if (folder.isEmpty()) {
            folders.addAll(elsewhere.tops());
            for (java.nio.file.Path root : roots.folders()) {
                if (!root.equals(workspace.folder().toRealPath())) {
                    folders.add(new SubFolder(root.toString(), root.toString(), count(root)));
                }
            }
        }
        folders.sort(Comparator.comparing(SubFolder::name));
        files.sort(Comparator.comparing(FileIn::name));
        java.nio.file.Path parent = at.getParent();
        boolean top = at.equals(workspace.folder());
        String above = top ? null : parent != null && roots.holdAsWritten(parent) ? written(parent) : "";
        long left = more + Math.max(0, files.size() - MOST);
        return new FolderContent(
                written(at), above, folders, files.stream().limit(MOST).toList(), left);
    }

    private String written(java.nio.file.Path path) {
        return path.startsWith(workspace.folder())
                ? workspace.folder().relativize(path).toString()
                : path.toString();
    }

    /** Files in a folder and below, as far as they are counted. */
    private static long count(java.nio.file.Path folder) {
        try (Stream<java.nio.file.Path> all = Files.walk(folder, COUNTED_DEPTH)) {
            return all.limit(MOST_LOOKED).filter(Files::isRegularFile).count();
        } catch (IOException | java.io.UncheckedIOException unreadable) {
            return 0;
        }
    }
}
