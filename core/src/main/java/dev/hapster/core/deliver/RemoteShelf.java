package dev.hapster.core.deliver;

import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.RemoteStore;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.UUID;

/** A folder on another machine. What is written lies on this one until it is whole, and is sent then. */
final class RemoteShelf implements Shelf {

    private static final String DRAFT = ".hapster-";

    private final RemotePath folder;
    private final Remotes remotes;

    RemoteShelf(RemotePath folder, Remotes remotes) {
        this.folder = folder;
        this.remotes = remotes;
    }

    private RemotePath at(String name) {
        return (RemotePath) folder.resolve(name);
    }

    @Override
    public Optional<BasicFileAttributes> look(String name) throws IOException {
        return remotes.look(at(name)).map(BasicFileAttributes.class::cast);
    }

    @Override
    public FileChannel read(String name) throws IOException {
        return remotes.open(at(name));
    }

    @Override
    public Draft draft(String of) throws IOException {
        Path file = remotes.scratchFile();
        return new Sent(of, file, FileChannel.open(file, StandardOpenOption.WRITE));
    }

    @Override
    public void dropDrafts(String of) throws IOException {
        RemoteStore store = remotes.store(folder);
        List<RemoteFile> drafts = new ArrayList<>();
        try {
            Remotes.patiently(() -> {
                drafts.clear();
                store.list(folder.below(), 0, file -> {
                    String name = file.path().substring(file.path().lastIndexOf('/') + 1);
                    if (name.startsWith(DRAFT + of + "-") && name.endsWith(".tmp")) {
                        drafts.add(file);
                    }
                    return true;
                });
                return true;
            });
        } catch (NoSuchFileException noFolder) {
            return;
        }
        for (RemoteFile draft : drafts) {
            store.delete(draft.path());
        }
    }

    @Override
    public void delete(String name) throws IOException {
        Remotes.patiently(() -> {
            if (look(name).isPresent()) {
                remotes.store(folder).delete(at(name).below());
            }
            return true;
        });
    }

    @Override
    public void close() {
        // connections belong to whoever lends them
    }

    /** Written here, to be sent there. */
    private final class Sent implements Draft {
        private final String of;
        private final Path file;
        private final FileChannel channel;

        Sent(String of, Path file, FileChannel channel) {
            this.of = of;
            this.file = file;
            this.channel = channel;
        }

        @Override
        public FileChannel channel() {
            return channel;
        }

        @Override
        public BasicFileAttributes look() throws IOException {
            return Files.readAttributes(file, BasicFileAttributes.class);
        }

        @Override
        public BasicFileAttributes name(String name) throws IOException {
            String draft = DRAFT + of + "-" + UUID.randomUUID() + ".tmp";
            return Remotes.patiently(() -> {
                remotes.store(folder).write(at(name).below(), RemoteStore.Outgoing.of(file), draft, true);
                BasicFileAttributes now = RemoteShelf.this
                        .look(name)
                        .orElseThrow(() -> new IOException(at(name) + " is not there after it was sent"));
                if (now.size() != Files.size(file)) {
                    throw new IOException(at(name) + " is not what was sent; somebody else wrote it meanwhile");
                }
                return now;
            });
        }

        @Override
        public void close() throws IOException {
            channel.close();
            Files.deleteIfExists(file);
        }
    }
}
