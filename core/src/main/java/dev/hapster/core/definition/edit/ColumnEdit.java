package dev.hapster.core.definition.edit;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Changes what a definition file says of one column, and nothing else in it. */
public final class ColumnEdit extends YamlText {

    private ColumnEdit(String text) {
        super(text);
    }

    /**
     * Sets a key of how a job's column comes about, such as {@code pattern}.
     *
     * @param value texts, numbers, booleans, and lists and maps of these
     * @throws IllegalArgumentException with a sentence for people, where that cannot be done
     */
    public static String inJob(String text, String column, String key, Object value) {
        return new ColumnEdit(text).inJob(column, key, value);
    }

    private String inJob(String column, String key, Object value) {
        Optional<NodeTuple> section = root == null ? Optional.empty() : pair(root, "map");
        Map<String, Object> only = Map.of(key, value);
        if (section.isEmpty() || !(section.get().getValueNode() instanceof MappingNode map)) {
            return section.isPresent()
                    ? put(
                            end(section.get().getKeyNode()) + 1,
                            Math.max(
                                    end(section.get().getKeyNode()) + 1,
                                    end(section.get().getValueNode())),
                            " {" + column + ": " + written(only, true) + "}")
                    : withSection("map", "map:" + lineBreak() + "  " + column + ": " + written(only, true));
        }
        Optional<NodeTuple> known = pair(map, column);
        if (known.isEmpty()) {
            return add(map, column, only);
        }
        Node node = known.get().getValueNode();
        if (node instanceof MappingNode how) {
            return set(how, key, value);
        }
        Map<String, Object> both = new LinkedHashMap<>();
        both.put("from", plain(node));
        both.put(key, value);
        return put(start(node), end(node), written(both, true));
    }

    /** Sets a key of a dataset's column, such as {@code length}; the text as it is where there is no such column. */
    public static String inDataset(String text, String column, String key, Object value) {
        ColumnEdit edit = new ColumnEdit(text);
        Optional<Node> columns = edit.root == null
                ? Optional.empty()
                : pair(edit.root, "columns").map(NodeTuple::getValueNode);
        if (columns.isPresent() && columns.get() instanceof SequenceNode list) {
            for (Node item : list.getValue()) {
                if (item instanceof MappingNode map
                        && pair(map, "name")
                                .filter(name -> plain(name.getValueNode()).equals(column))
                                .isPresent()) {
                    return edit.set(map, key, value);
                }
            }
        }
        return text;
    }
}
