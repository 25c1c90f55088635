package dev.hapster.core.deliver;

import dev.hapster.core.disk.OpenFolder;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.RemotePath;
import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Optional;

/** A folder into which files are delivered, on this machine or another one. Not thread-safe. */
interface Shelf extends Closeable {

    /** A file that is being written, to be named once it is whole. */
    interface Draft extends Closeable {
        FileChannel channel();

        /** What is known of it once it is written; the time may be another one when it has its name. */
        BasicFileAttributes look() throws IOException;

        /**
         * Gives it a name; what had it is replaced.
         *
         * @return as it lies there now
         */
        BasicFileAttributes name(String name) throws IOException;

        /** Removes it where it has got no name. */
        @Override
        void close() throws IOException;
    }

    /** What a name stands for, a link for itself; empty where there is nothing. */
    Optional<BasicFileAttributes> look(String name) throws IOException;

    FileChannel read(String name) throws IOException;

    /** @param of what it belongs to, by which drafts that were cut off are found again */
    Draft draft(String of) throws IOException;

    void dropDrafts(String of) throws IOException;

    void delete(String name) throws IOException;

    /** @param make whether the folder is made where there is none */
    static Shelf of(Path folder, Roots roots, boolean make) throws IOException {
        if (folder instanceof RemotePath elsewhere) {
            return new RemoteShelf(elsewhere, roots.remotes());
        }
        return new Here(make ? roots.makeFolder(folder) : roots.openFolder(folder));
    }

    /** What lies there, a link for itself; empty where nothing does. */
    static Optional<BasicFileAttributes> look(Path path, Roots roots) throws IOException {
        if (path instanceof RemotePath elsewhere) {
            return roots.remotes().look(elsewhere).map(BasicFileAttributes.class::cast);
        }
        return Files.exists(path, LinkOption.NOFOLLOW_LINKS)
                ? Optional.of(Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS))
                : Optional.empty();
    }

    /** On this machine. */
    record Here(OpenFolder folder) implements Shelf {

        @Override
        public Optional<BasicFileAttributes> look(String name) throws IOException {
            return folder.look(name);
        }

        @Override
        public FileChannel read(String name) throws IOException {
            return folder.read(name);
        }

        @Override
        public Draft draft(String of) throws IOException {
            return new DraftHere(folder, folder.draft(of));
        }

        @Override
        public void dropDrafts(String of) throws IOException {
            folder.dropDrafts(of);
        }

        @Override
        public void delete(String name) throws IOException {
            folder.delete(name);
            folder.force();
        }

        @Override
        public void close() throws IOException {
            folder.close();
        }
    }

    /** A draft beside the name that it will have. */
    record DraftHere(OpenFolder folder, OpenFolder.Draft draft) implements Draft {

        @Override
        public FileChannel channel() {
            return draft.channel();
        }

        @Override
        public BasicFileAttributes look() throws IOException {
            return folder.look(draft.name()).orElseThrow(() -> new IOException("what was written was removed"));
        }

        @Override
        public BasicFileAttributes name(String name) throws IOException {
            BasicFileAttributes known = look();
            folder.rename(draft.name(), name);
            folder.force();
            return known;
        }

        @Override
        public void close() throws IOException {
            draft.channel().close();
            folder.deleteIfThere(draft.name());
        }
    }
}
