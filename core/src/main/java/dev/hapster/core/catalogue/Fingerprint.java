package dev.hapster.core.catalogue;

import dev.hapster.core.find.Candidate;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemotePath;
import dev.hapster.core.remote.Remotes;
import java.io.IOException;
import java.nio.file.FileSystems;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Map;
import java.util.Optional;

/**
 * By what a file is known again.
 *
 * @param size bytes
 * @param modified when its content was last written
 * @param changed when its content or its attributes were last changed (on systems that tell; else as {@code modified})
 * @param tag by which another machine knows this version of its content; empty on this one, and where there is no such
 *     thing
 * @param hash XXH3-128 of its content in hexadecimal (as {@code xxh128sum} prints it); empty where it was not read
 */
public record Fingerprint(long size, Instant modified, Instant changed, String tag, String hash) {

    /** A time stamp this close to the reading may hide a later change within the same tick of the clock. */
    private static final Duration TICK = Duration.ofSeconds(2);

    private static final boolean UNIX =
            FileSystems.getDefault().supportedFileAttributeViews().contains("unix");

    /** Of a file on this machine. */
    public Fingerprint(long size, Instant modified, Instant changed, String hash) {
        this(size, modified, changed, "", hash);
    }

    private static Fingerprint of(RemoteFile file) {
        return new Fingerprint(file.size(), file.modified(), file.modified(), file.tag(), "");
    }

    /** Looks at a file without reading it. */
    public static Fingerprint look(Path path) throws IOException {
        if (Remotes.isRemote(path)) {
            return of(Files.readAttributes(path, RemoteFile.class));
        }
        Map<String, Object> seen =
                Files.readAttributes(path, UNIX ? "unix:size,lastModifiedTime,ctime" : "size,lastModifiedTime");
        Instant modified = micros(seen.get("lastModifiedTime"));
        return new Fingerprint((Long) seen.get("size"), modified, UNIX ? micros(seen.get("ctime")) : modified, "");
    }

    /** Looks at a file that was found; of an entry of an archive the size is as it was listed. */
    public static Fingerprint look(Candidate file) throws IOException {
        return within(file, look(file.path()));
    }

    /** The same before it is read: on another machine nobody is asked once more what the listing has told. */
    public static Fingerprint lookFirst(Candidate file) throws IOException {
        Optional<RemoteFile> listed =
                file.path() instanceof RemotePath elsewhere ? elsewhere.listed() : Optional.empty();
        return within(file, listed.isPresent() ? of(listed.get()) : look(file.path()));
    }

    private static Fingerprint within(Candidate file, Fingerprint seen) {
        return file.entry().isEmpty() ? seen : new Fingerprint(file.size(), seen.modified, seen.changed, seen.tag, "");
    }

    /** Databases keep microseconds; so do we, that what is kept compares equal with what is seen. */
    private static Instant micros(Object time) {
        return ((FileTime) time).toInstant().truncatedTo(ChronoUnit.MICROS);
    }

    /** The same, of which the content is known now. */
    public Fingerprint withHash(String content) {
        return new Fingerprint(size, modified, changed, tag, content);
    }

    /** Whether size, times and tag are the same. */
    public boolean looksLike(Fingerprint other) {
        return size == other.size
                && modified.equals(other.modified)
                && changed.equals(other.changed)
                && tag.equals(other.tag);
    }

    /**
     * Whether the times lie far enough before {@code read} that an equal look proves equal content; an equal tag does
     * always.
     */
    public boolean settledAt(Instant read) {
        return !tag.isEmpty() || (modified.isBefore(read.minus(TICK)) && changed.isBefore(read.minus(TICK)));
    }
}
