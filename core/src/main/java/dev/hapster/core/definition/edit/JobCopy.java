package dev.hapster.core.definition.edit;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.NodeTuple;

/** Makes the text of a job out of that of another one. Comments, order and spaces stay as they are. */
public final class JobCopy extends YamlText {

    private JobCopy(String text) {
        super(text);
    }

    /**
     * The same job under another name.
     *
     * @param values values to set in its {@code values}, by name
     * @throws IllegalArgumentException with a sentence for people, where the text is not shaped like a job
     */
    public static String of(String text, String name, Map<String, String> values) {
        String changed = NamedText.of(text, "job", name);
        for (Map.Entry<String, String> one : values.entrySet()) {
            changed = new JobCopy(changed).withValue(one.getKey(), one.getValue());
        }
        return changed;
    }

    private Optional<NodeTuple> section(String key) {
        return root == null ? Optional.empty() : pair(root, key);
    }

    private String withValue(String name, String value) {
        Optional<NodeTuple> values = section("values");
        if (values.isEmpty()) {
            return withSection("values", "values:" + lineBreak() + "  " + name + ": " + written(value, false));
        }
        if (values.get().getValueNode() instanceof MappingNode map) {
            return set(map, name, value);
        }
        Object old = plain(values.get().getValueNode());
        if (!"".equals(old)) {
            throw new IllegalArgumentException("'values' in the file is not a list of names with values");
        }
        Map<String, Object> only = new LinkedHashMap<>();
        only.put(name, value);
        int key = end(values.get().getKeyNode()) + 1; // behind the colon
        return put(key, Math.max(key, end(values.get().getValueNode())), " " + written(only, true));
    }
}
