package dev.hapster.core.find;

import dev.hapster.core.pattern.Fact;
import dev.hapster.core.pattern.NamePattern;
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
 * @param birth    when it came into being there
 * @param taken    whether the job takes it
 * @param rule     the rule that took or left it, in the words of the job file
 * @param named    the pattern that took it, where its pieces say something
 * @param waiting  why a file that is taken is not complete yet
 */
public record Candidate(int place, Path path, String relative, long size, Instant modified, BirthTime birth, boolean taken, String rule,
        Optional<Named> named, Optional<Waiting> waiting) {

    /** A path that a pattern with pieces matches: the file's, or the one that it will have once it is complete. */
    record Named(NamePattern pattern, String path) {
    }

    /** Why a file is not complete: {@code young} files may be so in a moment, others need somebody else to finish them. */
    public record Waiting(boolean young, String sentence) {
    }

    /** When it came into being; empty where the file system does not tell. The first question asks the system. */
    public Optional<Instant> created() {
        return birth.get();
    }

    /** What the pieces of its name say, by the name of the piece. */
    public Map<String, Fact> facts() {
        return named.map(match -> match.pattern.says(match.path).orElseThrow()).orElse(Map.of());
    }

    public String name() {
        return relative.substring(relative.lastIndexOf('/') + 1);
    }
}
