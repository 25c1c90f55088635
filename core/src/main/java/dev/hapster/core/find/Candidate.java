package dev.hapster.core.find;

import java.nio.file.Path;
import java.time.Instant;

/**
 * A file that was seen, and what became of it.
 *
 * @param place    which place of the job, counted from 1
 * @param path     absolute path, as reached through the place's folder
 * @param relative path below the place's folder, with {@code /} between its pieces
 * @param size     bytes
 * @param modified when its content was last written, as the file system tells
 * @param taken    whether the job takes it
 * @param rule     the rule that took or left it, in the words of the job file
 */
public record Candidate(int place, Path path, String relative, long size, Instant modified, boolean taken, String rule) {

    public String name() {
        return relative.substring(relative.lastIndexOf('/') + 1);
    }
}
