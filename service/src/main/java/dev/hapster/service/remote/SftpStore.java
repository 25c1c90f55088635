package dev.hapster.service.remote;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.Sftp;
import dev.hapster.core.remote.RemoteChanged;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemoteFile.Kind;
import dev.hapster.core.remote.RemoteStore;
import dev.hapster.service.remote.SftpSessions.Lent;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Optional;
import java.util.function.Predicate;
import org.apache.sshd.sftp.client.SftpClient;
import org.apache.sshd.sftp.client.SftpClient.Attributes;
import org.apache.sshd.sftp.client.SftpClient.CloseableHandle;
import org.apache.sshd.sftp.client.SftpClient.DirEntry;
import org.apache.sshd.sftp.client.SftpClient.OpenMode;
import org.apache.sshd.sftp.client.extensions.openssh.OpenSSHPosixRenameExtension;
import org.apache.sshd.sftp.client.impl.AbstractSftpClient;
import org.apache.sshd.sftp.client.impl.SftpInputStreamAsync;
import org.apache.sshd.sftp.common.SftpConstants;
import org.apache.sshd.sftp.common.SftpException;

/** Folders of a server that speaks SFTP. Thread-safe. */
final class SftpStore implements RemoteStore {

    private static final int BLOCK = 1 << 15;

    private final AccountDef account;
    private final Sftp server;
    private final SftpSessions sessions;

    SftpStore(AccountDef account, Sftp server, Path workspace) {
        this.account = account;
        this.server = server;
        sessions = new SftpSessions(account, server, workspace);
    }

    private interface Act<T> {
        T perform(Lent lent) throws IOException;
    }

    /** Does something with a connection, and says what went wrong as Java says it. */
    private <T> T with(String path, Act<T> act) throws IOException {
        Lent lent = sessions.borrow();
        boolean sound = false;
        try {
            T done = act.perform(lent);
            sound = true;
            return done;
        } catch (SftpException answer) {
            sound = true;
            throw told(path, answer);
        } catch (RemoteFault | java.nio.file.FileSystemException wrong) {
            sound = true;
            throw wrong;
        } catch (IOException lost) {
            throw lost(lost);
        } finally {
            sessions.giveBack(lent, sound);
        }
    }

    private String words(String path) {
        return "sftp://" + account.name() + "/" + path;
    }

    private RemoteFault lost(IOException wrong) {
        return new RemoteFault(
                "The connection to the server " + server + " was lost: " + wrong.getMessage(), true, wrong);
    }

    private IOException told(String path, SftpException answer) {
        return switch (answer.getStatus()) {
            case SftpConstants.SSH_FX_NO_SUCH_FILE, SftpConstants.SSH_FX_NO_SUCH_PATH ->
                new NoSuchFileException(words(path));
            case SftpConstants.SSH_FX_PERMISSION_DENIED, SftpConstants.SSH_FX_WRITE_PROTECT ->
                new AccessDeniedException(words(path));
            case SftpConstants.SSH_FX_FILE_ALREADY_EXISTS -> new FileAlreadyExistsException(words(path));
            case SftpConstants.SSH_FX_NO_SPACE_ON_FILESYSTEM, SftpConstants.SSH_FX_QUOTA_EXCEEDED ->
                new RemoteFault("The server " + server + " has no space left for " + words(path), true, answer);
            case SftpConstants.SSH_FX_NO_CONNECTION, SftpConstants.SSH_FX_CONNECTION_LOST -> lost(answer);
            default ->
                new RemoteFault(
                        "The server " + server + " did not do it with " + words(path) + ": " + answer.getMessage(),
                        false,
                        answer);
        };
    }

    @Override
    public void list(String folder, int depth, Predicate<RemoteFile> each) throws IOException {
        with(folder, lent -> {
            Deque<String> folders = new ArrayDeque<>();
            folders.add(folder);
            int last = 1; // folders of this level that are still to come
            for (int below = depth; !folders.isEmpty(); ) {
                String one = folders.poll();
                if (!list(lent, one, below > 0 ? folders : null, each)) {
                    return false;
                }
                if (--last == 0) {
                    last = folders.size();
                    below--;
                }
            }
            return true;
        });
    }

    private boolean list(Lent lent, String folder, Deque<String> folders, Predicate<RemoteFile> each)
            throws IOException {
        try (CloseableHandle handle = lent.sftp().openDir(lent.at(folder))) {
            for (DirEntry entry : lent.sftp().listDir(handle)) {
                String name = entry.getFilename();
                if (name.equals(".") || name.equals("..")) {
                    continue;
                }
                String path = folder.isEmpty() ? name : folder + "/" + name;
                RemoteFile file = listed(lent, path, entry.getAttributes());
                if (!each.test(file)) {
                    return false;
                }
                if (folders != null && file.isDirectory()) {
                    folders.add(path);
                }
            }
        }
        return true;
    }

    /** What a name stands for; links to folders are not followed, so that there are no circles. */
    private static RemoteFile listed(Lent lent, String path, Attributes attributes) throws IOException {
        if (!attributes.isSymbolicLink()) {
            return file(path, attributes);
        }
        try {
            RemoteFile target = file(path, lent.sftp().stat(lent.at(path)));
            return target.isRegularFile()
                    ? target
                    : new RemoteFile(path, Kind.OTHER, target.size(), target.modified(), "");
        } catch (SftpException nowhere) {
            return new RemoteFile(path, Kind.OTHER, 0, Instant.EPOCH, "");
        }
    }

    private static RemoteFile file(String path, Attributes attributes) {
        Kind kind = attributes.isRegularFile() ? Kind.FILE : attributes.isDirectory() ? Kind.FOLDER : Kind.OTHER;
        Instant modified = attributes.getModifyTime() == null
                ? Instant.EPOCH
                : attributes.getModifyTime().toInstant();
        return new RemoteFile(path, kind, attributes.getSize(), modified, "");
    }

    @Override
    public Optional<RemoteFile> look(String path) throws IOException {
        try {
            return with(path, lent -> Optional.of(file(path, lent.sftp().stat(lent.at(path)))));
        } catch (NoSuchFileException nothing) {
            return Optional.empty();
        }
    }

    @Override
    public InputStream read(RemoteFile version, long from) throws IOException {
        Lent lent = sessions.borrow();
        boolean opened = false;
        try {
            SftpClient sftp = lent.sftp();
            String path = lent.at(version.path());
            CloseableHandle handle = sftp.open(path, OpenMode.Read);
            if (!file(version.path(), sftp.stat(handle)).isSameVersion(version)) {
                handle.close();
                throw new RemoteChanged(words(version.path()));
            }
            opened = true;
            return new Content(
                    lent,
                    new SftpInputStreamAsync((AbstractSftpClient) sftp, BLOCK, from, version.size(), path, handle),
                    version.size() - from);
        } catch (SftpException answer) {
            throw told(version.path(), answer);
        } catch (RemoteFault wrong) {
            throw wrong;
        } catch (IOException lost) {
            throw lost(lost);
        } finally {
            if (!opened) {
                sessions.giveBack(lent, lent.sftp().isOpen());
            }
        }
    }

    /** Content of a file on its way; the connection is given back when it is closed. */
    private final class Content extends FilterInputStream {
        private final Lent lent;
        private long left;
        private boolean sound = true;
        private boolean closed;

        Content(Lent lent, InputStream in, long left) {
            super(in);
            this.lent = lent;
            this.left = left;
        }

        @Override
        public int read(byte[] to, int offset, int length) throws IOException {
            if (left == 0) {
                return -1; // what the server said there is has come: it is not asked whether there is more
            }
            try {
                int count = in.read(to, offset, (int) Math.min(length, left));
                left -= Math.max(0, count);
                return count;
            } catch (IOException wrong) {
                sound = false;
                throw lost(wrong);
            }
        }

        @Override
        public void close() throws IOException {
            if (closed) {
                return;
            }
            closed = true;
            try {
                if (sound) {
                    in.close();
                }
            } catch (IOException wrong) { // everything that was wanted has come
                sound = false;
            } finally {
                sessions.giveBack(lent, sound);
            }
        }
    }

    @Override
    public void write(String path, Outgoing content, String draft, boolean replacing) throws IOException {
        with(path, lent -> {
            SftpClient sftp = lent.sftp();
            if (!replacing && isThere(lent, path)) {
                throw new FileAlreadyExistsException(words(path));
            }
            makeFolders(lent, parent(path));
            String at = lent.at(beside(path, draft));
            boolean named = false;
            try {
                long sent;
                try (InputStream in = content.open();
                        OutputStream out = sftp.write(at, OpenMode.Write, OpenMode.Create, OpenMode.Truncate)) {
                    sent = in.transferTo(out);
                }
                if (sftp.stat(at).getSize() != sent || sent != content.size()) {
                    throw new RemoteFault("Of " + words(path) + " not all bytes arrived", true, null);
                }
                content.check();
                name(lent, at, path, replacing);
                named = true;
                return true;
            } finally {
                if (!named && sftp.isOpen()) {
                    remove(lent, at);
                }
            }
        });
    }

    private void name(Lent lent, String from, String path, boolean replacing) throws IOException {
        OpenSSHPosixRenameExtension posix = lent.sftp().getExtension(OpenSSHPosixRenameExtension.class);
        if (replacing && posix != null && posix.isSupported()) {
            posix.posixRename(from, lent.at(path));
            return;
        }
        if (replacing) {
            remove(lent, lent.at(path));
        }
        try {
            lent.sftp().rename(from, lent.at(path));
        } catch (SftpException answer) {
            if (isThere(lent, path)) {
                throw new FileAlreadyExistsException(words(path));
            }
            throw answer;
        }
    }

    private static boolean isThere(Lent lent, String path) throws IOException {
        return attributes(lent, lent.at(path)).isPresent();
    }

    private static Optional<Attributes> attributes(Lent lent, String at) throws IOException {
        try {
            return Optional.of(lent.sftp().lstat(at));
        } catch (SftpException answer) {
            if (answer.getStatus() == SftpConstants.SSH_FX_NO_SUCH_FILE
                    || answer.getStatus() == SftpConstants.SSH_FX_NO_SUCH_PATH) {
                return Optional.empty();
            }
            throw answer;
        }
    }

    private static void remove(Lent lent, String at) throws IOException {
        if (attributes(lent, at).isPresent()) {
            lent.sftp().remove(at);
        }
    }

    private static String parent(String path) {
        return path.substring(0, Math.max(0, path.lastIndexOf('/')));
    }

    private static String beside(String path, String name) {
        return path.substring(0, path.lastIndexOf('/') + 1) + name;
    }

    private void makeFolders(Lent lent, String folder) throws IOException {
        if (folder.isEmpty() || attributes(lent, lent.at(folder)).isPresent()) {
            return;
        }
        makeFolders(lent, parent(folder));
        try {
            lent.sftp().mkdir(lent.at(folder));
        } catch (SftpException answer) {
            if (!isThere(lent, folder)) { // somebody else has made it meanwhile
                throw answer;
            }
        }
    }

    @Override
    public void clean(String path, String draft) throws IOException {
        with(path, lent -> {
            remove(lent, lent.at(beside(path, draft)));
            return true;
        });
    }

    @Override
    public boolean rename(RemoteFile file, String to) throws IOException {
        return with(file.path(), lent -> {
            if (lent.sftp().lstat(lent.at(file.path())).isSymbolicLink()) {
                return false;
            }
            if (isThere(lent, to)) {
                throw new FileAlreadyExistsException(words(to));
            }
            makeFolders(lent, parent(to));
            name(lent, lent.at(file.path()), to, false);
            boolean same = attributes(lent, lent.at(to))
                    .filter(now -> file(file.path(), now).isSameVersion(file))
                    .isPresent();
            if (!same) { // somebody wrote it in the same moment: it is not what was meant
                name(lent, lent.at(to), file.path(), false);
                throw new RemoteChanged(words(file.path()));
            }
            return true;
        });
    }

    /** Servers seldom do it: whoever asks reads and writes. */
    @Override
    public boolean copy(RemoteFile file, String to) {
        return false;
    }

    @Override
    public void delete(String path) throws IOException {
        with(path, lent -> {
            lent.sftp().remove(lent.at(path));
            return true;
        });
    }

    @Override
    public boolean hasOnlyFiles() {
        return false;
    }

    @Override
    public void rest() {
        sessions.rest();
    }

    @Override
    public void close() {
        sessions.close();
    }
}
