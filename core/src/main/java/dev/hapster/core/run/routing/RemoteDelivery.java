package dev.hapster.core.run.routing;

import dev.hapster.core.catalogue.Route;
import dev.hapster.core.catalogue.Route.Done;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.disk.ContentHash;
import dev.hapster.core.disk.OpenFolder;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.RemoteStore;
import dev.hapster.core.remote.Remotes;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.util.Optional;
import java.util.UUID;

/**
 * Moves, copies and deletes one file where it, or what it is to become, lies on another machine. Each act looks first
 * what is there, so that it can be begun again after the connection was lost at any point. Thread-safe.
 */
final class RemoteDelivery {

    private final Path workspace;
    private final Roots roots;
    private final Delivery here;

    RemoteDelivery(Path workspace, Roots roots, Delivery here) {
        this.workspace = workspace;
        this.roots = roots;
        this.here = here;
    }

    private RemoteStore store(RemotePath path) throws IOException {
        return roots.remotes().store(path);
    }

    /** What lies there, a link of this machine for itself; empty where nothing does. */
    private Optional<BasicFileAttributes> look(Path path) throws IOException {
        if (path instanceof RemotePath elsewhere) {
            return store(elsewhere).look(elsewhere.below()).map(BasicFileAttributes.class::cast);
        }
        try {
            return Optional.of(Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS));
        } catch (NoSuchFileException nothing) {
            return Optional.empty();
        }
    }

    Done delete(Route route) throws IOException {
        return Remotes.patiently(() -> {
            Optional<BasicFileAttributes> source = look(route.source());
            if (source.isPresent() && !isStill(route, source.get())) {
                return Delivery.gone(route, "was not deleted: it has changed since it was read");
            }
            if (source.isPresent()) {
                remove(route.source());
            }
            CrashPoint.SOURCE_GONE.reached();
            return Delivery.done(route, Optional.empty());
        });
    }

    Done move(Route route) throws IOException {
        return Remotes.patiently(() -> {
            Optional<BasicFileAttributes> source = look(route.source());
            Optional<BasicFileAttributes> target = look(route.target());
            if (source.isEmpty()) {
                return target.isPresent()
                        ? Delivery.done(route, Optional.of(route.target()))
                        : Delivery.gone(route, "was not moved: it is gone");
            }
            if (target.isPresent()) {
                checkSame(route, source.get(), target.get());
            } else if (!isStill(route, source.get())) {
                return Delivery.gone(route, "was not moved: it has changed since it was read");
            } else if (isWithinOne(route)
                    && store((RemotePath) route.source())
                            .rename((RemoteFile) source.get(), ((RemotePath) route.target()).below())) {
                CrashPoint.SOURCE_GONE.reached();
                return Delivery.done(route, Optional.of(route.target()));
            } else {
                arrive(route);
                CrashPoint.TARGET_NAMED.reached();
            }
            if (!look(route.source()).filter(now -> isStill(route, now)).isPresent()) {
                return Delivery.gone(route, "was copied and not deleted: it has changed since it was read");
            }
            remove(route.source());
            CrashPoint.SOURCE_GONE.reached();
            return Delivery.done(route, Optional.of(route.target()));
        });
    }

    Done copy(Route route) throws IOException {
        return Remotes.patiently(() -> {
            Optional<BasicFileAttributes> source = look(route.source());
            Optional<BasicFileAttributes> target = look(route.target());
            if (source.isEmpty() && target.isPresent()) {
                return Delivery.done(route, Optional.empty());
            }
            if (source.isEmpty() || (target.isEmpty() && !isStill(route, source.get()))) {
                return Delivery.gone(route, "was not copied: it is gone, or has changed since it was read");
            }
            if (target.isPresent()) {
                checkSame(route, source.get(), target.get());
            } else if (!isWithinOne(route)
                    || !store((RemotePath) route.source())
                            .copy((RemoteFile) source.get(), ((RemotePath) route.target()).below())) {
                arrive(route);
            }
            CrashPoint.TARGET_NAMED.reached();
            return Delivery.done(route, Optional.empty());
        });
    }

    private static boolean isWithinOne(Route route) {
        return route.source() instanceof RemotePath source
                && route.target() instanceof RemotePath target
                && source.getRoot().equals(target.getRoot());
    }

    private static boolean isStill(Route route, BasicFileAttributes now) {
        return Delivery.isStill(route, now)
                && (!(now instanceof RemoteFile file)
                        || file.tag().equals(route.seen().tag()));
    }

    /** A file under the target's name must be what an earlier attempt left. */
    private void checkSame(Route route, BasicFileAttributes source, BasicFileAttributes target) throws IOException {
        boolean sameTag = source instanceof RemoteFile one
                && target instanceof RemoteFile other
                && isWithinOne(route)
                && !one.tag().isEmpty()
                && one.tag().equals(other.tag());
        boolean same = target.isRegularFile()
                && source.size() == target.size()
                && (sameTag || hash(route.source()).equals(hash(route.target())));
        if (!same) {
            throw new FileAlreadyExistsException(route.target().toString());
        }
    }

    private String hash(Path file) throws IOException {
        try (InputStream in = Channels.newInputStream(roots.open(file))) {
            return Delivery.hash(in, OutputStream.nullOutputStream());
        }
    }

    private void remove(Path file) throws IOException {
        if (file instanceof RemotePath elsewhere) {
            store(elsewhere).delete(elsewhere.below());
            return;
        }
        try (OpenFolder folder = roots.openFolder(file.getParent())) {
            folder.delete(Delivery.name(file));
        }
    }

    /** Copies the content to where the target is. */
    private void arrive(Route route) throws IOException {
        if (!(route.target() instanceof RemotePath target)) {
            try (OpenFolder to = roots.makeFolder(route.target().getParent())) {
                here.verifiedCopy(route, to);
            }
            return;
        }
        // opened before a connection is borrowed for the target: nobody may wait for a second one while he holds one
        try (FileChannel content = roots.open(route.source())) {
            store(target).write(target.below(), new Read(route, content), draft(route), false);
        }
    }

    /** A name that no other writing has, the same for each attempt of this one. */
    private String draft(Route route) {
        String of = workspace + "\n" + Delivery.draftsOf(route) + "\n" + route.source();
        return ".hapster-" + UUID.nameUUIDFromBytes(of.getBytes(StandardCharsets.UTF_8)) + ".tmp";
    }

    void clean(Route route, RemotePath target) throws IOException {
        Remotes.patiently(() -> {
            store(target).clean(target.below(), draft(route));
            return true;
        });
    }

    /** What was read, on its way to another machine; it must be the same bytes still. */
    private static final class Read implements RemoteStore.Outgoing {
        private final Route route;
        private final FileChannel content;
        private ContentHash hash = new ContentHash();

        Read(Route route, FileChannel content) {
            this.route = route;
            this.content = content;
        }

        @Override
        public long size() throws IOException {
            return content.size();
        }

        @Override
        public InputStream open() throws IOException {
            ContentHash sent = new ContentHash();
            hash = sent;
            content.position(0);
            return new FilterInputStream(Channels.newInputStream(content)) {
                @Override
                public void close() {
                    // it may have to be sent once more
                }

                @Override
                public int read() throws IOException {
                    byte[] one = new byte[1];
                    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
                }

                @Override
                public int read(byte[] to, int offset, int length) throws IOException {
                    int count = in.read(to, offset, length);
                    if (count > 0) {
                        sent.add(to, offset, count);
                    }
                    return count;
                }
            };
        }

        @Override
        public void check() throws IOException {
            String expected = route.seen().hash();
            if (!expected.isEmpty() && !hash.value().equals(expected)) {
                throw new IOException("it is not the content that was read");
            }
            CrashPoint.COPY_WRITTEN.reached();
        }
    }

    /** Takes away reasons that no longer hold. */
    void dropReasons(RemotePath stale) throws IOException {
        Remotes.patiently(() -> {
            if (isOurs(stale)) {
                remove(stale);
            }
            return true;
        });
    }

    private boolean isOurs(RemotePath reasons) throws IOException {
        if (look(reasons).filter(BasicFileAttributes::isRegularFile).isEmpty()) {
            return false;
        }
        try (InputStream file = Channels.newInputStream(roots.open(reasons))) {
            return Delivery.isOurs(file);
        }
    }

    /** Puts the reasons beside a rejected file. */
    void writeReasons(Route route, RemotePath file) throws IOException {
        Remotes.patiently(() -> {
            Path target = Delivery.beside(file);
            for (int number = 2; look(target).isPresent() && !isOurs((RemotePath) target); number++) {
                target = Router.numbered(Delivery.beside(file), number);
            }
            Path reasons = roots.remotes().scratchFile();
            try {
                try (OutputStream out = Files.newOutputStream(reasons)) {
                    here.writeReasons(route, out);
                }
                RemotePath at = (RemotePath) target;
                store(at).write(at.below(), RemoteStore.Outgoing.of(reasons), draft(route), true);
            } finally {
                Files.deleteIfExists(reasons);
            }
            CrashPoint.REASONS_WRITTEN.reached();
            return true;
        });
    }
}
