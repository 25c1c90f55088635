package dev.hapster.core.definition.edit;

import dev.hapster.core.definition.section.JobSection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/**
 * Changes one key of a definition file, wherever it stands, and nothing else in it. A key is named by its path, such as
 * {@code read, separator}, {@code map, value, decimal}, {@code keep}; a column of a dataset by its name:
 * {@code columns, value, max}. A column that is not there is added; one of which the path ends with the name is taken
 * out.
 */
public final class SectionEdit extends YamlText {

    private SectionEdit(String text) {
        super(text);
    }

    /**
     * What a file says, by section: texts, and lists and maps of them.
     *
     * @throws IllegalArgumentException with a sentence for people, where the file is not made of keys with values
     */
    public static Map<String, Object> plainly(String text) {
        SectionEdit edit = new SectionEdit(text);
        Map<String, Object> sections = new LinkedHashMap<>();
        if (edit.root != null) {
            edit.root.getValue().forEach(pair -> sections.put(key(pair), plain(pair.getValueNode())));
        }
        return sections;
    }

    /**
     * Sets a key; what is above it is added where it is not there.
     *
     * @param value texts, numbers, booleans, and lists and maps of these; null takes the key out
     * @throws IllegalArgumentException with a sentence for people, where that cannot be done
     */
    public static String set(String text, List<String> path, Object value) {
        if (path.isEmpty() || path.stream().anyMatch(String::isEmpty)) {
            throw new IllegalArgumentException("the change names no key");
        }
        return value == null ? new SectionEdit(text).remove(path) : new SectionEdit(text).put(path, value);
    }

    private String put(List<String> path, Object value) {
        Optional<NodeTuple> section = root == null ? Optional.empty() : pair(root, path.get(0));
        if (section.isEmpty()) {
            String name = path.get(0);
            Object inside = nested(path.subList(1, path.size()), value);
            boolean lines = path.size() > 2 && inside instanceof Map; // a line for each column, as with `map`
            String written = lines
                    ? ":" + lineBreak() + "  " + path.get(1) + ": "
                            + written(((Map<?, ?>) inside).get(path.get(1)), true)
                    : ": " + written(inside, false);
            return JobSection.SECTION.names().contains(name)
                    ? withSection(name, name + written)
                    : text + (text.isEmpty() || text.endsWith("\n") ? "" : lineBreak()) + name + written + lineBreak();
        }
        MappingNode map = root;
        for (int depth = 0; depth < path.size() - 1; depth++) {
            String name = path.get(depth);
            Optional<NodeTuple> pair = pair(map, name);
            List<String> rest = path.subList(depth + 1, path.size());
            if (pair.isEmpty()) {
                return set(map, name, nested(rest, value));
            }
            Node node = pair.get().getValueNode();
            if (node instanceof SequenceNode list) {
                Optional<MappingNode> named = named(list, rest.get(0));
                if (rest.size() < 2) {
                    throw new IllegalArgumentException("the change names no key of `" + rest.get(0) + "`");
                }
                if (named.isEmpty()) {
                    return addItem(list, rest, value);
                }
                map = named.get();
                depth++;
            } else if (node instanceof MappingNode inside) {
                map = inside;
            } else {
                return replaceScalar(pair.get(), depth, path, value);
            }
        }
        return set(map, path.get(path.size() - 1), value);
    }

    /** A word becomes a map: of a column what it said is the source's column, elsewhere it goes. */
    private String replaceScalar(NodeTuple pair, int depth, List<String> path, Object value) {
        List<String> rest = path.subList(depth + 1, path.size());
        Map<String, Object> both = new LinkedHashMap<>();
        Object before = plain(pair.getValueNode());
        if (path.get(0).equals("map") && depth == 1 && !"".equals(before)) {
            both.put("from", before);
        }
        both.put(rest.get(0), nested(rest.subList(1, rest.size()), value));
        int from = end(pair.getKeyNode()) + 1;
        return put(from, Math.max(from, end(pair.getValueNode())), " " + written(both, true));
    }

    private static Object nested(List<String> path, Object value) {
        return path.isEmpty() ? value : Map.of(path.get(0), nested(path.subList(1, path.size()), value));
    }

    private static Optional<MappingNode> named(SequenceNode list, String name) {
        return list.getValue().stream()
                .filter(MappingNode.class::isInstance)
                .map(MappingNode.class::cast)
                .filter(map -> pair(map, "name")
                        .filter(pair -> plain(pair.getValueNode()).equals(name))
                        .isPresent())
                .findFirst();
    }

    /** An entry on a line of its own, or within the brackets. */
    private String addItem(SequenceNode list, List<String> path, Object value) {
        Map<String, Object> item = new LinkedHashMap<>();
        item.put("name", path.get(0));
        item.put(path.get(1), nested(path.subList(2, path.size()), value));
        List<Node> known = list.getValue();
        if (known.isEmpty()) {
            return put(start(list), end(list), "[" + written(item, true) + "]");
        }
        int at = end(known.get(known.size() - 1));
        if (!isBlock(list)) {
            return put(at, at, ", " + written(item, true));
        }
        int dash = dash(known.get(0));
        return put(
                lineEnd(at),
                lineEnd(at),
                lineBreak() + " ".repeat(dash - lineStart(dash)) + "- " + written(item, true));
    }

    private int dash(Node item) {
        return text.lastIndexOf('-', start(item) - 1);
    }

    private String removeItem(SequenceNode list, Node item) {
        List<Node> all = list.getValue();
        int index = all.indexOf(item);
        if (all.size() == 1) {
            throw new IllegalArgumentException("nothing would be left of the list");
        }
        if (isBlock(list)) {
            int end = text.indexOf('\n', end(item));
            return put(lineStart(dash(item)), end < 0 ? text.length() : end + 1, "");
        }
        return index == 0 ? put(start(item), start(all.get(1)), "") : put(end(all.get(index - 1)), end(item), "");
    }

    private String remove(List<String> path) {
        MappingNode map = root;
        if (path.size() == 2
                && map != null
                && pair(map, path.get(0)).map(NodeTuple::getValueNode).orElse(null) instanceof SequenceNode list) {
            return named(list, path.get(1)).map(item -> removeItem(list, item)).orElse(text);
        }
        for (int depth = 0; depth < path.size() - 1; depth++) {
            Optional<Node> node =
                    map == null ? Optional.empty() : pair(map, path.get(depth)).map(NodeTuple::getValueNode);
            if (node.isPresent() && node.get() instanceof SequenceNode list) {
                node = named(list, path.get(depth + 1)).map(Node.class::cast);
                depth++;
            }
            if (node.isEmpty() || !(node.get() instanceof MappingNode inside)) {
                return text;
            }
            map = inside;
        }
        String last = path.get(path.size() - 1);
        if (map == null || pair(map, last).isEmpty()) {
            return text;
        }
        return map.getValue().size() == 1 && path.size() > 1
                ? remove(path.subList(0, path.size() - 1)) // what says nothing any more goes as well
                : without(map, last);
    }
}
