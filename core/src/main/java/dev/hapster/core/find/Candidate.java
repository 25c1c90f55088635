package dev.hapster.core.find;

import dev.hapster.core.pattern.Fact;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;

/**
 * A file that was seen, and what became of it.
 *
 * @param place    which place of the job, counted from 1
 * @param path     absolute path, as reached through the place's folder
 * @param relative path below the place's folder, with {@code /} between its pieces
 * @param size     bytes
 * @param modified when its content was last written, as the file system tells
 * @param created  when it came into being there; empty where the file system does not tell
 * @param taken    whether the job takes it
 * @param rule     the rule that took or left it, in the words of the job file
 * @param facts    what the pieces of its name say, by the name of the piece
 * @param waiting  why a file that is taken is not complete yet
 */
public record Candidate(int place, Path path, String relative, long size, Instant modified, Optional<Instant> created, boolean taken, String rule,
        Map<String, Fact> facts, Optional<Waiting> waiting) {

    /** Why a file is not complete: {@code young} files may be so in a moment, others need somebody else to finish them. */
    public record Waiting(boolean young, String sentence) {
    }

    public String name() {
        return relative.substring(relative.lastIndexOf('/') + 1);
    }
}
