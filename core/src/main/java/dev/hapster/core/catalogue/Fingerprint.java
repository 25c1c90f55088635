package dev.hapster.core.catalogue;

import dev.hapster.core.find.Candidate;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;

/**
 * By what a file is known again.
 *
 * @param size bytes
 * @param modified when its content was last written
 * @param changed when its content or its attributes were last changed (on systems that tell; else as {@code modified})
 * @param hash XXH3-128 of its content in hexadecimal (as {@code xxh128sum} prints it); empty where it was not read
 */
public record Fingerprint(long size, Instant modified, Instant changed, String hash) {

    /** A time stamp this close to the reading may hide a later change within the same tick of the clock. */
    private static final Duration TICK = Duration.ofSeconds(2);

    /** Looks at a file without reading it. */
    public static Fingerprint look(Path path) throws IOException {
        BasicFileAttributes attributes = Files.readAttributes(path, BasicFileAttributes.class);
        Instant modified = micros(attributes.lastModifiedTime().toInstant());
        boolean unix = path.getFileSystem().supportedFileAttributeViews().contains("unix");
        Instant changed = unix ? micros(((FileTime) Files.getAttribute(path, "unix:ctime")).toInstant()) : modified;
        return new Fingerprint(attributes.size(), modified, changed, "");
    }

    /** Looks at a file that was found; of an entry of an archive the size is as it was listed. */
    public static Fingerprint look(Candidate file) throws IOException {
        Fingerprint seen = look(file.path());
        return file.entry().isEmpty() ? seen : new Fingerprint(file.size(), seen.modified, seen.changed, "");
    }

    /** Databases keep microseconds; so do we, that what is kept compares equal with what is seen. */
    private static Instant micros(Instant instant) {
        return instant.truncatedTo(java.time.temporal.ChronoUnit.MICROS);
    }

    public Fingerprint withHash(String content) {
        return new Fingerprint(size, modified, changed, content);
    }

    /** Whether size and times are the same. */
    public boolean looksLike(Fingerprint other) {
        return size == other.size && modified.equals(other.modified) && changed.equals(other.changed);
    }

    /** Whether the times lie far enough before {@code read} that an equal look proves equal content. */
    public boolean settledAt(Instant read) {
        return modified.isBefore(read.minus(TICK)) && changed.isBefore(read.minus(TICK));
    }
}
