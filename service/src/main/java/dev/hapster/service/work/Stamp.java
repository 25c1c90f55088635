package dev.hapster.service.work;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;

/**
 * By which it is told whether a file of a workspace changed.
 *
 * @param key what the file system calls the file, by which one put in its place is told
 * @param modified milliseconds since 1970
 * @param size bytes; -1 where there is no such file
 */
public record Stamp(Object key, long modified, long size) {

    /** Of a file that is not there. */
    public static final Stamp NONE = new Stamp("", 0, -1);

    public static Stamp of(Path file) {
        try {
            BasicFileAttributes now = Files.readAttributes(file, BasicFileAttributes.class);
            return new Stamp(
                    String.valueOf(now.fileKey()), now.lastModifiedTime().toMillis(), now.size());
        } catch (IOException gone) {
            return NONE;
        }
    }
}
