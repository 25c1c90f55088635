package dev.hapster.core.definition.edit;

import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.NodeTuple;

/** Changes what a job file says of how its files are read, and nothing else in it. */
public final class ReadEdit extends YamlText {

    private ReadEdit(String text) {
        super(text);
    }

    /**
     * Sets a key of the section {@code read}, which is added where there is none.
     *
     * @param value texts, numbers, booleans, and lists and maps of these
     * @return the whole text with the change
     * @throws IllegalArgumentException with a sentence for people, where that cannot be done
     */
    public static String set(String text, String key, Object value) {
        ReadEdit edit = new ReadEdit(text);
        Optional<NodeTuple> section = edit.root == null ? Optional.empty() : pair(edit.root, "read");
        if (section.isPresent() && section.get().getValueNode() instanceof MappingNode map) {
            return edit.set(map, key, value);
        }
        if (section.isPresent()) {
            throw new IllegalArgumentException("`read` is not a list of keys with values");
        }
        return edit.withSection("read", "read: " + written(Map.of(key, value), false));
    }

    /** A value as it can be put into a definition file, on one line, whatever it holds. */
    public static String inLine(Object value) {
        return written(value, true);
    }
}
