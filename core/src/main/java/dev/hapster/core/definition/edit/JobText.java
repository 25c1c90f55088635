package dev.hapster.core.definition.edit;

import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** Small changes to the text of a job file. Everything else in it, comments and order and spaces, stays as it is. */
public final class JobText {

    private static final String PLAIN = "[A-Za-z0-9_./][A-Za-z0-9_./ -]*";

    private JobText() {}

    /**
     * The same job under another name.
     *
     * @param values values to set in its {@code values}, by name
     * @throws IllegalArgumentException with a sentence for people, where the text is not shaped like a job
     */
    public static String renamed(String text, String name, Map<String, String> values) {
        Node job = value(root(text), "job").orElseThrow(() -> new IllegalArgumentException("the file has no 'job'"));
        String changed = replaced(text, job, name);
        for (Map.Entry<String, String> one : values.entrySet()) {
            changed = withValue(changed, one.getKey(), one.getValue());
        }
        return changed;
    }

    private static String withValue(String text, String name, String value) {
        MappingNode root = root(text);
        Optional<Node> values = value(root, "values");
        String written = quoted(value);
        if (values.isEmpty()) {
            int at = keyStart(text, root, "find");
            return text.substring(0, at) + "values:\n  " + name + ": " + written + "\n" + text.substring(at);
        }
        if (!(values.get() instanceof MappingNode mapping)) {
            throw new IllegalArgumentException("'values' in the file is not a list of names with values");
        }
        Optional<Node> old = value(mapping, name);
        if (old.isPresent()) {
            return replaced(text, old.get(), written);
        }
        int at = offset(text, mapping.getStartMark());
        if (mapping.getFlowStyle() == FlowStyle.FLOW) {
            return text.substring(0, at + 1) + name + ": " + written
                    + (mapping.getValue().isEmpty() ? "" : ", ") + text.substring(at + 1);
        }
        int line = text.lastIndexOf('\n', at - 1) + 1;
        return text.substring(0, line) + text.substring(line, at) + name + ": " + written + "\n" + text.substring(line);
    }

    private static int keyStart(String text, MappingNode root, String key) {
        for (NodeTuple tuple : root.getValue()) {
            if (tuple.getKeyNode() instanceof ScalarNode scalar
                    && scalar.getValue().equals(key)) {
                return offset(text, scalar.getStartMark());
            }
        }
        return text.length();
    }

    private static String replaced(String text, Node node, String with) {
        return text.substring(0, offset(text, node.getStartMark()))
                + with
                + text.substring(offset(text, node.getEndMark()));
    }

    /** Marks count code points; strings do not. */
    private static int offset(String text, Optional<Mark> mark) {
        return text.offsetByCodePoints(0, mark.orElseThrow().getIndex());
    }

    private static MappingNode root(String text) {
        try {
            return new Compose(LoadSettings.builder().setUseMarks(true).build())
                    .composeString(text)
                    .filter(MappingNode.class::isInstance)
                    .map(MappingNode.class::cast)
                    .orElseThrow(() -> new IllegalArgumentException("the file is empty"));
        } catch (YamlEngineException wrong) {
            throw new IllegalArgumentException("the file is no YAML; correct it first", wrong);
        }
    }

    private static Optional<Node> value(MappingNode mapping, String key) {
        return mapping.getValue().stream()
                .filter(tuple -> tuple.getKeyNode() instanceof ScalarNode scalar
                        && scalar.getValue().equals(key))
                .map(NodeTuple::getValueNode)
                .findFirst();
    }

    private static String quoted(String value) {
        return value.matches(PLAIN) && !value.endsWith(" ") ? value : "'" + value.replace("'", "''") + "'";
    }
}
