package dev.hapster.core.definition.edit;

import dev.hapster.core.definition.section.PlaceSection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Changes the places of a job in the text of its file, and nothing else in it. */
public final class JobEdit extends YamlText {

    private JobEdit(String text) {
        super(text);
    }

    /**
     * One change.
     *
     * @param op {@code set} or {@code remove} a key of a place, {@code move} a rule, {@code add_place},
     *     {@code remove_place}, or {@code text} for another text altogether
     * @param place its number, counted from 1
     * @param value texts, numbers, booleans, and lists and maps of these; for {@code text} the text
     * @param by -1 to move a rule up, 1 to move it down
     */
    public record Change(String op, int place, String key, Object value, int by) {}

    /**
     * Applies changes one after another.
     *
     * @throws IllegalArgumentException with a sentence for people, where one cannot be made
     */
    public static String apply(String text, List<Change> changes) {
        String changed = text;
        for (Change change : changes) {
            changed = switch (change.op() == null ? "" : change.op()) {
                case "set" -> {
                    JobEdit edit = new JobEdit(changed);
                    yield edit.set(edit.place(change.place()), change.key(), change.value());
                }
                case "remove" -> new JobEdit(changed).remove(change.place(), change.key());
                case "move" -> new JobEdit(changed).move(change.place(), change.key(), change.by());
                case "add_place" -> new JobEdit(changed).addPlace(change.value());
                case "remove_place" -> new JobEdit(changed).removePlace(change.place());
                case "text" -> String.valueOf(change.value());
                default -> throw new IllegalArgumentException("there is no change '" + change.op() + "'");
            };
        }
        return changed;
    }

    /** What each place says, as it is written: texts, and lists and maps of texts, by key in their order. */
    public static List<Map<String, Object>> places(String text) {
        return new JobEdit(text)
                .items().stream()
                        .filter(MappingNode.class::isInstance)
                        .map(item -> {
                            Map<String, Object> keys = new LinkedHashMap<>();
                            ((MappingNode) item)
                                    .getValue()
                                    .forEach(pair -> keys.put(key(pair), plain(pair.getValueNode())));
                            return keys;
                        })
                        .toList();
    }

    private List<Node> items() {
        return find().filter(SequenceNode.class::isInstance)
                .map(list -> ((SequenceNode) list).getValue())
                .orElse(List.of());
    }

    private Optional<Node> find() {
        return root == null ? Optional.empty() : pair(root, "find").map(NodeTuple::getValueNode);
    }

    private MappingNode place(int number) {
        items().forEach(JobEdit::plain); // nothing refers to itself
        if (number < 1 || number > items().size() || !(items().get(number - 1) instanceof MappingNode map)) {
            throw new IllegalArgumentException("the job has no place " + number);
        }
        return map;
    }

    /**
     * Rules are added behind all others, since they act in their order; what says where and how to look goes behind the
     * folder.
     */
    @Override
    String add(MappingNode map, String key, Object value) {
        if (PlaceSection.RULES.contains(key) || map.getValue().isEmpty()) {
            return super.add(map, key, value);
        }
        return addBehind(
                map,
                pair(map, "folder").orElse(map.getValue().get(map.getValue().size() - 1)),
                key,
                value);
    }

    private String remove(int number, String key) {
        MappingNode map = place(number);
        if (pair(map, key).isEmpty()) {
            return text;
        }
        if (map.getValue().size() == 1) {
            throw new IllegalArgumentException(
                    "'" + key + "' is all that place " + number + " says; remove the place instead");
        }
        return without(map, key);
    }

    private String move(int number, String key, int by) {
        MappingNode map = place(number);
        List<NodeTuple> rules = map.getValue().stream()
                .filter(pair -> PlaceSection.RULES.contains(key(pair)))
                .toList();
        int from = rules.stream().map(JobEdit::key).toList().indexOf(key);
        int to = from + Integer.signum(by);
        if (from < 0 || to < 0 || to >= rules.size()) {
            return text;
        }
        NodeTuple first = rules.get(Math.min(from, to));
        NodeTuple second = rules.get(Math.max(from, to));
        int a = start(first.getKeyNode());
        int b = end(map, first);
        int c = start(second.getKeyNode());
        int d = end(map, second);
        return text.substring(0, a)
                + text.substring(c, d)
                + text.substring(b, c)
                + text.substring(a, b)
                + text.substring(d);
    }

    private String addPlace(Object value) {
        if (!(value instanceof Map<?, ?> keys) || keys.isEmpty()) {
            throw new IllegalArgumentException("a new place needs a folder");
        }
        List<Node> items = items();
        if (!items.isEmpty() && !isBlock(find().orElseThrow())) {
            int at = end(items.get(items.size() - 1));
            return put(at, at, ", " + written(value, true));
        }
        if (!items.isEmpty()) {
            Node last = items.get(items.size() - 1);
            int dash = text.lastIndexOf('-', start(last) - 1);
            int at = lineEnd(end(last));
            return put(at, at, lineBreak() + block(keys, " ".repeat(dash - lineStart(dash))));
        }
        String section = "find:" + lineBreak() + block(keys, "  ");
        if (root != null && pair(root, "find").isPresent()) {
            NodeTuple empty = pair(root, "find").get();
            return put(
                    start(empty.getKeyNode()),
                    Math.max(end(empty.getKeyNode()) + 1, end(empty.getValueNode())),
                    section);
        }
        return withSection("find", section);
    }

    private String block(Map<?, ?> keys, String indent) {
        return indent + "- "
                + keys.entrySet().stream()
                        .map(pair -> pair.getKey() + ": " + written(pair.getValue(), false))
                        .collect(Collectors.joining(lineBreak() + indent + "  "));
    }

    private String removePlace(int number) {
        Node item = place(number);
        SequenceNode list = (SequenceNode) find().orElseThrow();
        if (list.getValue().size() == 1) {
            NodeTuple find = pair(root, "find").orElseThrow();
            return put(end(find.getKeyNode()), lineEnd(end(item)), ": []");
        }
        if (!isBlock(list)) {
            int from = number > 1 ? end(list.getValue().get(number - 2)) : start(item);
            return put(from, number > 1 ? end(item) : start(list.getValue().get(1)), "");
        }
        int dash = text.lastIndexOf('-', start(item) - 1);
        int end = text.indexOf('\n', end(item));
        return put(lineStart(dash), end < 0 ? text.length() : end + 1, "");
    }
}
