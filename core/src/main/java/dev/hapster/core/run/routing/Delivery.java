package dev.hapster.core.run.routing;

import de.siegmar.fastcsv.writer.CsvWriter;
import dev.hapster.core.catalogue.Route;
import dev.hapster.core.catalogue.Route.Done;
import dev.hapster.core.crash.CrashPoint;
import dev.hapster.core.definition.Handling.Routing;
import dev.hapster.core.disk.ContentHash;
import dev.hapster.core.disk.FileNames;
import dev.hapster.core.disk.OpenFolder;
import dev.hapster.core.find.Candidate;
import dev.hapster.core.find.Roots;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import dev.hapster.core.store.reject.RejectStore;
import dev.hapster.core.store.reject.RejectStore.Reject;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.temporal.ChronoUnit;
import java.util.Optional;

/**
 * Moves, copies and deletes one file, and puts reasons beside it. The folders concerned are held open meanwhile, so
 * that whoever may write in them can neither have a file outside the roots overwritten or deleted, nor one put there
 * that was not read. Nothing is ever overwritten. Thread-safe.
 */
final class Delivery {

    /** The first line of a file of reasons. */
    private static final String FIRST_LINE = String.join(",", RejectStore.BESIDE_COLUMNS);

    private final Roots roots;
    private final RejectStore rejects;
    private final RemoteDelivery elsewhere;

    Delivery(Path workspace, Roots roots, RejectStore rejects) {
        this.roots = roots;
        this.rejects = rejects;
        elsewhere = new RemoteDelivery(workspace, roots, this);
    }

    private static boolean isHere(Route route) {
        return !Remotes.isRemote(route.source()) && !Remotes.isRemote(route.target());
    }

    /**
     * Does what a route asks for, or finishes what was begun.
     *
     * @throws FileAlreadyExistsException where another file has the name of the target
     */
    Done deliver(Route route) throws IOException {
        Done done =
                switch (route.kind()) {
                    case LEAVE -> done(route, Optional.empty());
                    case DELETE -> isHere(route) ? delete(route) : elsewhere.delete(route);
                    case MOVE -> isHere(route) ? move(route) : elsewhere.move(route);
                    case COPY -> isHere(route) ? copy(route) : elsewhere.copy(route);
                };
        if (done.note().isEmpty()) {
            reasons(route);
        }
        return done;
    }

    /** Removes what an attempt left that was cut off. */
    void clean(Route route) throws IOException {
        if (route.target() instanceof RemotePath target) {
            elsewhere.clean(route, target);
        } else if (Files.isDirectory(route.target().getParent())) {
            try (OpenFolder folder = roots.openFolder(route.target().getParent())) {
                folder.dropDrafts(draftsOf(route));
            }
        }
    }

    static String draftsOf(Route route) {
        return route.run() + "-" + route.ordinal();
    }

    static Done done(Route route, Optional<Path> movedTo) {
        return new Done(route, movedTo, Optional.empty(), Optional.empty());
    }

    static Done gone(Route route, String note) {
        return new Done(route, Optional.empty(), Optional.empty(), Optional.of(route.source() + " " + note));
    }

    static String name(Path file) {
        return file.getFileName().toString();
    }

    private static boolean isThere(Path file) {
        return Files.exists(file, LinkOption.NOFOLLOW_LINKS);
    }

    private Done delete(Route route) throws IOException {
        if (!isThere(route.source())) {
            return done(route, Optional.empty());
        }
        try (OpenFolder from = roots.openFolder(route.source().getParent())) {
            if (!isStill(route, from)) {
                return gone(route, "was not deleted: it has changed since it was read");
            }
            from.delete(name(route.source()));
        }
        CrashPoint.SOURCE_GONE.reached();
        return done(route, Optional.empty());
    }

    private Done move(Route route) throws IOException {
        Path target = route.target();
        if (!isThere(route.source())) {
            return Files.exists(target) ? done(route, Optional.of(target)) : gone(route, "was not moved: it is gone");
        }
        try (OpenFolder from = roots.openFolder(route.source().getParent())) {
            boolean finished = isThere(target);
            if (!finished && !isStill(route, from)) {
                return gone(route, "was not moved: it has changed since it was read");
            }
            try (OpenFolder to = roots.makeFolder(target.getParent())) {
                if (finished) {
                    checkSame(route, from, to);
                } else {
                    arrive(route, from, to);
                    CrashPoint.TARGET_NAMED.reached();
                }
            }
            from.delete(name(route.source()));
        }
        CrashPoint.SOURCE_GONE.reached();
        return done(route, Optional.of(target));
    }

    /** A file under the target's name must be what an earlier attempt left. */
    private static void checkSame(Route route, OpenFolder from, OpenFolder to) throws IOException {
        Optional<BasicFileAttributes> source = from.look(name(route.source()));
        Optional<BasicFileAttributes> target = to.look(name(route.target()));
        boolean same = source.isPresent()
                && target.isPresent()
                && target.get().isRegularFile()
                && (isSame(source.get(), target.get()) || sameContent(from, to, route));
        if (!same) {
            throw new FileAlreadyExistsException(route.target().toString());
        }
    }

    private static boolean sameContent(OpenFolder from, OpenFolder to, Route route) throws IOException {
        try (FileChannel source = from.read(name(route.source()));
                FileChannel target = to.read(name(route.target()))) {
            return source.size() == target.size() && hash(source).equals(hash(target));
        } catch (OpenFolder.ReplacedException link) {
            return false;
        }
    }

    private static boolean isSame(BasicFileAttributes one, BasicFileAttributes other) {
        return one.fileKey() != null && one.fileKey().equals(other.fileKey());
    }

    /** Gives a file its name in the target's folder: a second name for the same file, or else a copy. */
    private void arrive(Route route, OpenFolder from, OpenFolder to) throws IOException {
        BasicFileAttributes source = from.look(name(route.source())).orElseThrow(() -> new IOException("it is gone"));
        if (!source
                .isRegularFile()) { // a link is not moved, which would lead elsewhere then; what it leads to is copied
            verifiedCopy(route, to);
            return;
        }
        try {
            Files.createLink(route.target(), route.source());
        } catch (FileAlreadyExistsException taken) {
            throw taken;
        } catch (FileSystemException | UnsupportedOperationException acrossFileSystems) {
            verifiedCopy(route, to);
            return;
        }
        checkArrived(route.target(), source, to);
        to.force();
    }

    /** Names were made by path: what counts is whether they are where they ought to be. */
    private static void checkArrived(Path target, BasicFileAttributes source, OpenFolder to) throws IOException {
        boolean there = to.look(name(target))
                .filter(file -> source.fileKey() == null || isSame(source, file))
                .isPresent();
        if (!there) {
            throw new IOException("a folder on its way was replaced meanwhile");
        }
    }

    private Done copy(Route route) throws IOException {
        if (!Files.exists(route.source())) {
            return Files.exists(route.target())
                    ? done(route, Optional.empty())
                    : gone(route, "was not copied: it is gone, or has changed since it was read");
        }
        try (OpenFolder from = roots.openFolder(route.source().getParent())) {
            boolean finished = isThere(route.target());
            if (!finished && !isStill(route, from)) {
                return gone(route, "was not copied: it is gone, or has changed since it was read");
            }
            try (OpenFolder to = roots.makeFolder(route.target().getParent())) {
                if (finished) {
                    checkSame(route, from, to);
                    return done(route, Optional.empty());
                }
                verifiedCopy(route, to);
            }
        }
        CrashPoint.TARGET_NAMED.reached();
        return done(route, Optional.empty());
    }

    /**
     * Whether the file is what was read. A link to it, made on the way, changes the time of its attributes; the
     * content's time tells.
     */
    static boolean isStill(Route route, OpenFolder from) throws IOException {
        Optional<BasicFileAttributes> found = from.look(name(route.source()));
        if (found.filter(BasicFileAttributes::isSymbolicLink).isPresent()) {
            found = Optional.of(Files.readAttributes(route.source(), BasicFileAttributes.class));
        }
        return found.filter(now -> isStill(route, now)).isPresent();
    }

    static boolean isStill(Route route, BasicFileAttributes now) {
        return now.size() == route.seen().size()
                && now.lastModifiedTime()
                        .toInstant()
                        .truncatedTo(ChronoUnit.MICROS)
                        .equals(route.seen().modified());
    }

    /** Copies to a name of its own, reads it back, and only then gives it its name. */
    void verifiedCopy(Route route, OpenFolder to) throws IOException {
        OpenFolder.Draft draft = to.draft(draftsOf(route));
        try {
            String source;
            try (InputStream in = Channels.newInputStream(roots.open(route.source()));
                    FileChannel channel = draft.channel()) {
                source = hash(in, Channels.newOutputStream(channel));
                channel.force(true);
            }
            to.modified(draft.name(), Files.getLastModifiedTime(route.source()));
            CrashPoint.COPY_WRITTEN.reached();
            if (!hash(to, draft.name()).equals(source)
                    || (!route.seen().hash().isEmpty() && !route.seen().hash().equals(source))) {
                throw new IOException("the copy does not equal what was read");
            }
            give(draft.name(), route.target(), to);
            to.force();
        } finally {
            to.deleteIfThere(draft.name());
        }
    }

    /** Gives a draft a name that nobody has; a second name does not take one that is there, as renaming would. */
    private static void give(String draft, Path target, OpenFolder to) throws IOException {
        BasicFileAttributes own = to.look(draft).orElseThrow(() -> new IOException("the copy was removed"));
        try {
            Files.createLink(target, target.resolveSibling(draft));
            checkArrived(target, own, to);
        } catch (FileAlreadyExistsException taken) {
            throw taken;
        } catch (FileSystemException | UnsupportedOperationException noLinks) {
            if (to.look(name(target)).isPresent()) {
                throw new FileAlreadyExistsException(target.toString(), null, noLinks.getMessage());
            }
            to.rename(draft, name(target));
        }
    }

    static boolean sameContent(Path one, Path other) throws IOException {
        return Files.size(one) == Files.size(other) && hash(one).equals(hash(other));
    }

    static String hash(Path file) throws IOException {
        try (InputStream in = Files.newInputStream(file)) {
            return hash(in, OutputStream.nullOutputStream());
        }
    }

    private static String hash(OpenFolder folder, String name) throws IOException {
        try (FileChannel file = folder.read(name)) {
            return hash(file);
        }
    }

    private static String hash(FileChannel file) throws IOException {
        return hash(Channels.newInputStream(file), OutputStream.nullOutputStream());
    }

    static String hash(InputStream in, OutputStream out) throws IOException {
        ContentHash hash = new ContentHash();
        byte[] buffer = new byte[1 << 17];
        for (int count = in.read(buffer); count >= 0; count = in.read(buffer)) {
            hash.add(buffer, 0, count);
            out.write(buffer, 0, count);
        }
        return hash.value();
    }

    /** The file of reasons that stands beside a file. */
    static Path beside(Path file) {
        return file.resolveSibling(FileNames.with(name(file), Candidate.REASONS));
    }

    /** Puts the reasons beside a rejected file, and takes away those that no longer hold. */
    private void reasons(Route route) throws IOException {
        boolean leaves = !route.source().equals(route.target()) && route.kind() == Routing.Kind.MOVE;
        if (route.reasonsOf() == 0 || leaves) {
            if (beside(route.source()) instanceof RemotePath stale) {
                elsewhere.dropReasons(stale);
            } else if (isThere(beside(route.source()))) {
                dropReasons(route.source());
            }
        }
        if (route.reasonsOf() > 0 && route.target() instanceof RemotePath target) {
            elsewhere.writeReasons(route, target);
        } else if (route.reasonsOf() > 0) {
            try (OpenFolder folder = roots.makeFolder(route.target().getParent())) {
                write(route, folder);
            }
        }
    }

    private void dropReasons(Path source) throws IOException {
        try (OpenFolder folder = roots.openFolder(source.getParent())) {
            String stale = name(beside(source));
            if (isOurs(folder, stale)) {
                folder.delete(stale);
            }
        }
    }

    private void write(Route route, OpenFolder folder) throws IOException {
        Path target = beside(route.target());
        for (int number = 2; isForeign(folder, name(target)); number++) {
            target = Router.numbered(beside(route.target()), number);
        }
        OpenFolder.Draft draft = folder.draft(draftsOf(route));
        try {
            try (OutputStream out = Channels.newOutputStream(draft.channel())) {
                writeReasons(route, out);
            }
            folder.rename(draft.name(), name(target));
            CrashPoint.REASONS_WRITTEN.reached();
        } finally {
            folder.deleteIfThere(draft.name());
        }
    }

    /** Why a file, or rows of it, are rejected, as delimited text (RFC 4180). */
    void writeReasons(Route route, OutputStream to) throws IOException {
        try (OutputStream out = new BufferedOutputStream(to);
                CsvWriter csv =
                        CsvWriter.builder().build(new java.io.OutputStreamWriter(out, StandardCharsets.UTF_8))) {
            csv.writeRecord(RejectStore.BESIDE_COLUMNS);
            rejects.each(route.reasonsOf(), line -> {
                if (line.isIn(route.identity(), route.file())) {
                    csv.writeRecord(fields(line));
                }
            });
        }
    }

    private static String[] fields(Reject line) {
        return new String[] {
            line.file(),
            line.line() == 0 ? "" : Long.toString(line.line()),
            line.column(),
            line.value(),
            line.code(),
            line.reason(),
            line.original()
        };
    }

    private static boolean isForeign(OpenFolder folder, String name) throws IOException {
        return folder.look(name).isPresent() && !isOurs(folder, name);
    }

    private static boolean isOurs(OpenFolder folder, String name) throws IOException {
        if (folder.look(name).filter(BasicFileAttributes::isRegularFile).isEmpty()) {
            return false;
        }
        try (InputStream file = Channels.newInputStream(folder.read(name))) {
            return isOurs(file);
        }
    }

    /** Whether a file of reasons begins like those that we write. */
    static boolean isOurs(InputStream file) throws IOException {
        byte[] start = file.readNBytes(FIRST_LINE.length() + 1);
        return new String(start, StandardCharsets.UTF_8).stripTrailing().equals(FIRST_LINE);
    }
}
