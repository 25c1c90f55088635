package dev.hapster.core.shape;

import dev.hapster.core.pattern.Fact;
import java.util.Map;

/**
 * What is the same in every row of a file.
 *
 * @param path by which the file is known
 * @param size in bytes
 * @param facts what its name, and the lines and cells beside its table, say; by the name of the fact
 */
public record FileSays(String name, String path, long size, Map<String, Fact> facts) {

    /** Of a file that is not there, or of which nothing matters. */
    public static final FileSays NOTHING = new FileSays("", "", 0, Map.of());

    public FileSays {
        facts = Map.copyOf(facts);
    }
}
