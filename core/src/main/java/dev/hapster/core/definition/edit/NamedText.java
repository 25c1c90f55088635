package dev.hapster.core.definition.edit;

import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;

/** The names at the top of a definition: its own, and that of the dataset that a job loads into. */
public final class NamedText extends YamlText {

    private NamedText(String text) {
        super(text);
    }

    /**
     * The same text with another name. Comments, order and spaces stay as they are.
     *
     * @param key {@code job}, {@code dataset} or {@code into}
     * @throws IllegalArgumentException with a sentence for people, where the text does not have the key
     */
    public static String of(String text, String key, String name) {
        NamedText named = new NamedText(text);
        NodeTuple pair =
                named.named(key).orElseThrow(() -> new IllegalArgumentException("the file has no '" + key + "'"));
        return named.put(named.start(pair.getValueNode()), named.end(pair.getValueNode()), name);
    }

    /**
     * The name that stands there; empty where none does.
     *
     * @throws IllegalArgumentException with a sentence for people, where the text is no YAML
     */
    public static Optional<String> in(String text, String key) {
        return new NamedText(text).named(key).map(pair -> plain(pair.getValueNode())
                .toString());
    }

    private Optional<NodeTuple> named(String key) {
        return root == null
                ? Optional.empty()
                : pair(root, key).filter(pair -> pair.getValueNode() instanceof ScalarNode);
    }
}
