package dev.hapster.core.remote;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.Predicate;

/**
 * Files behind one account. Paths are below its top, with {@code /} between their names and none in front. Thread-safe.
 *
 * <p>All throw {@link RemoteFault} where the server or the way to it is at fault, {@code NoSuchFileException} and
 * {@code AccessDeniedException} as {@link java.nio.file.Files} does.
 */
public interface RemoteStore extends AutoCloseable {

    /**
     * Lists a folder, in no particular order.
     *
     * @param folder empty for the top
     * @param depth levels of subfolders whose content is listed too; 0 for none
     * @param each takes files and folders, and says whether to go on
     * @throws java.nio.file.NoSuchFileException where there is no such folder
     */
    void list(String folder, int depth, Predicate<RemoteFile> each) throws IOException;

    /** What lies there; empty where nothing does. Links are followed. */
    Optional<RemoteFile> look(String path) throws IOException;

    /**
     * The content from a place on.
     *
     * @throws RemoteChanged where it is another version by now, as far as the server tells
     */
    InputStream read(RemoteFile version, long from) throws IOException;

    /**
     * Puts a file there, whole or not at all, and makes the folders that it needs.
     *
     * @param draft a name that nobody else uses, for a file beside it while it is being written, where that is needed
     * @param replacing whether what is there is replaced
     * @throws java.nio.file.FileAlreadyExistsException where something is there that is not to be replaced
     */
    void write(String path, Outgoing content, String draft, boolean replacing) throws IOException;

    /** Removes what a writing left that was cut off; what was whole stays. */
    void clean(String path, String draft) throws IOException;

    /** What is to be written elsewhere. */
    interface Outgoing {
        /** In bytes. */
        long size() throws IOException;

        /** The content from its beginning; asked for once more where it has to be sent again. */
        InputStream open() throws IOException;

        /**
         * Called when all of it has been sent, and before anybody can see it there.
         *
         * @throws IOException where it turned out not to be what was meant: then nothing is there
         */
        void check() throws IOException;

        /** A file of our own, which nobody else changes. */
        static Outgoing of(Path file) {
            return new Outgoing() {
                @Override
                public long size() throws IOException {
                    return Files.size(file);
                }

                @Override
                public InputStream open() throws IOException {
                    return Files.newInputStream(file);
                }

                @Override
                public void check() {
                    // it is ours
                }
            };
        }
    }

    /**
     * Gives a file another name, and makes the folders that it needs. Where the server has no such thing, it is copied
     * and then deleted.
     *
     * @return false where it is a link, which would lead elsewhere under another name; then nothing was done
     * @throws RemoteChanged where it is another version by now; it has its name still
     * @throws java.nio.file.FileAlreadyExistsException where something has that name
     */
    boolean rename(RemoteFile file, String to) throws IOException;

    /**
     * Copies a file, whole or not at all, and makes the folders that it needs.
     *
     * @return false where the server does not do it by itself
     * @throws java.nio.file.FileAlreadyExistsException where something has that name
     */
    boolean copy(RemoteFile file, String to) throws IOException;

    void delete(String path) throws IOException;

    /** Whether a folder is there only as long as something lies in it. */
    boolean hasOnlyFiles();

    /** Connections that nobody has used for a while are let go of. */
    void rest();

    @Override
    void close();
}
