package dev.hapster.core.remote;

import java.io.IOException;
import java.net.URI;
import java.nio.channels.SeekableByteChannel;
import java.nio.file.AccessMode;
import java.nio.file.CopyOption;
import java.nio.file.DirectoryStream;
import java.nio.file.FileStore;
import java.nio.file.FileSystem;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.NotDirectoryException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileAttribute;
import java.nio.file.attribute.FileAttributeView;
import java.nio.file.spi.FileSystemProvider;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What {@link java.nio.file.Files} asks for: looking, listing and reading. Writing, moving and deleting is done by
 * {@link RemoteStore}, whose words say what may go wrong. Thread-safe.
 */
final class RemoteProvider extends FileSystemProvider {

    private final Remotes remotes;

    RemoteProvider(Remotes remotes) {
        this.remotes = remotes;
    }

    private static UnsupportedOperationException unsupported() {
        return new UnsupportedOperationException("Folders on other machines are not changed like this");
    }

    private RemoteFile look(Path path) throws IOException {
        return remotes.look((RemotePath) path).orElseThrow(() -> new NoSuchFileException(path.toString()));
    }

    @Override
    public String getScheme() {
        return "remote";
    }

    @Override
    public SeekableByteChannel newByteChannel(
            Path path, Set<? extends OpenOption> options, FileAttribute<?>... attributes) throws IOException {
        if (!Set.of(StandardOpenOption.READ).containsAll(options)) {
            throw unsupported();
        }
        return remotes.open((RemotePath) path);
    }

    @Override
    public DirectoryStream<Path> newDirectoryStream(Path folder, DirectoryStream.Filter<? super Path> filter)
            throws IOException {
        RemotePath at = (RemotePath) folder;
        if (!look(at).isDirectory()) {
            throw new NotDirectoryException(folder.toString());
        }
        List<Path> all = new ArrayList<>();
        remotes.store(at).list(at.below(), 0, file -> all.add(at.at(file)));
        List<Path> accepted = new ArrayList<>();
        for (Path one : all) {
            if (filter.accept(one)) {
                accepted.add(one);
            }
        }
        return new DirectoryStream<>() {
            @Override
            public Iterator<Path> iterator() {
                return accepted.iterator();
            }

            @Override
            public void close() {
                // everything has been listed
            }
        };
    }

    @Override
    public void checkAccess(Path path, AccessMode... modes) throws IOException {
        look(path);
    }

    @Override
    public <A extends BasicFileAttributes> A readAttributes(Path path, Class<A> type, LinkOption... options)
            throws IOException {
        if (!type.isAssignableFrom(RemoteFile.class)) {
            throw unsupported();
        }
        return type.cast(look(path));
    }

    @Override
    public Map<String, Object> readAttributes(Path path, String attributes, LinkOption... options) throws IOException {
        RemoteFile file = look(path);
        return Map.of(
                "size", file.size(),
                "lastModifiedTime", file.lastModifiedTime(),
                "isRegularFile", file.isRegularFile(),
                "isDirectory", file.isDirectory());
    }

    @Override
    public boolean isSameFile(Path path, Path other) {
        return path.normalize().equals(other.normalize());
    }

    @Override
    public boolean isHidden(Path path) {
        return Optional.ofNullable(path.getFileName())
                .map(Path::toString)
                .orElse("")
                .startsWith(".");
    }

    @Override
    public <V extends FileAttributeView> V getFileAttributeView(Path path, Class<V> type, LinkOption... options) {
        return null; // so the interface wants it where there is no such view
    }

    @Override
    public FileSystem newFileSystem(URI uri, Map<String, ?> env) {
        throw unsupported();
    }

    @Override
    public FileSystem getFileSystem(URI uri) {
        throw unsupported();
    }

    @Override
    public Path getPath(URI uri) {
        throw unsupported();
    }

    @Override
    public void createDirectory(Path folder, FileAttribute<?>... attributes) {
        throw unsupported();
    }

    @Override
    public void delete(Path path) {
        throw unsupported();
    }

    @Override
    public void copy(Path source, Path target, CopyOption... options) {
        throw unsupported();
    }

    @Override
    public void move(Path source, Path target, CopyOption... options) {
        throw unsupported();
    }

    @Override
    public FileStore getFileStore(Path path) {
        throw unsupported();
    }

    @Override
    public void setAttribute(Path path, String attribute, Object value, LinkOption... options) {
        throw unsupported();
    }
}
