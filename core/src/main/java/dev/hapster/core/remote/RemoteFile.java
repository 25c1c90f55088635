package dev.hapster.core.remote;

import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.FileTime;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;

/**
 * A file or a folder as its server tells of it.
 *
 * @param path below the account's top, with {@code /} between its names and none in front
 * @param size bytes
 * @param modified when its content was last written, by the server's clock
 * @param tag by which the server knows this version of its content; empty where it has no such thing
 */
public record RemoteFile(String path, Kind kind, long size, Instant modified, String tag)
        implements BasicFileAttributes {

    private static final Duration ALIKE = Duration.ofMinutes(1);

    /** What it is; links have been followed where they can be. */
    public enum Kind {
        FILE,
        FOLDER,
        /** Neither of both, or a link to nowhere or to a folder. */
        OTHER
    }

    public RemoteFile {
        modified = modified.truncatedTo(ChronoUnit.MICROS);
    }

    /**
     * Whether a version of this size and time may have other content than this one: without a tag, two changes within
     * the time that the server's clock tells apart look alike.
     *
     * @param now by the clock of this machine, which may differ from the server's by less than a minute
     */
    boolean mayLookLikeAnother(Instant now) {
        return tag.isEmpty() && modified.isAfter(now.minus(ALIKE));
    }

    /** Whether its content is the same, as far as the server tells. */
    public boolean isSameVersion(RemoteFile other) {
        return size == other.size && modified.equals(other.modified) && tag.equals(other.tag);
    }

    @Override
    public FileTime lastModifiedTime() {
        return FileTime.from(modified);
    }

    @Override
    public FileTime lastAccessTime() {
        return lastModifiedTime();
    }

    @Override
    public FileTime creationTime() {
        return FileTime.fromMillis(0); // servers do not tell
    }

    @Override
    public boolean isRegularFile() {
        return kind == Kind.FILE;
    }

    @Override
    public boolean isDirectory() {
        return kind == Kind.FOLDER;
    }

    @Override
    public boolean isSymbolicLink() {
        return false;
    }

    @Override
    public boolean isOther() {
        return kind == Kind.OTHER;
    }

    /** The tag; null where there is none. */
    @Override
    public Object fileKey() {
        return tag.isEmpty() ? null : tag;
    }
}
