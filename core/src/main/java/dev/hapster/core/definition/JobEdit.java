package dev.hapster.core.definition;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.CollectionNode;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/**
 * Changes the places of a job in the text of its file. Only the characters concerned are touched: comments, order, spaces and everything
 * else stay as somebody wrote them, and what is added looks as somebody would write it.
 */
public final class JobEdit {

    private static final List<String> RULES = List.of("take", "leave", "size", "modified", "created", "rank");
    /** Sections that stand behind `find` in a job file. */
    private static final List<String> BEHIND = List.of("read", "map");
    private static final String PLAIN = "[\\p{L}\\p{N}_./$][\\p{L}\\p{N}_./${}: -]*";
    private static final int MOST_LEVELS = 20;
    private static final List<String> WORDS = List.of("true", "false", "null", "yes", "no", "on", "off", "~");

    private final String text;
    /** Offset of each code point: marks count code points, strings do not. */
    private final int[] offsets;
    private final MappingNode root;

    private JobEdit(String text) {
        this.text = text;
        int[] starts = new int[text.length() + 1];
        int count = 0;
        for (int at = 0; at < text.length(); at += Character.charCount(text.codePointAt(at))) {
            starts[count++] = at;
        }
        starts[count++] = text.length();
        offsets = java.util.Arrays.copyOf(starts, count);
        try {
            Optional<Node> node = new Compose(LoadSettings.builder().setAllowDuplicateKeys(true).build()).composeString(text);
            root = node.filter(MappingNode.class::isInstance).map(MappingNode.class::cast).orElse(null);
        } catch (YamlEngineException wrong) {
            throw new IllegalArgumentException("the file is no YAML; correct its text first", wrong);
        }
        if (root == null && !text.isBlank()) {
            throw new IllegalArgumentException("the file is no list of keys with values; correct its text first");
        }
    }

    /**
     * One change.
     *
     * @param op    {@code set} or {@code remove} a key of a place, {@code move} a rule, {@code add_place}, {@code remove_place}, or {@code text} for
     *              another text altogether
     * @param place its number, counted from 1
     * @param value texts, numbers, booleans, and lists and maps of these; for {@code text} the text
     * @param by    -1 to move a rule up, 1 to move it down
     */
    public record Change(String op, int place, String key, Object value, int by) {
    }

    /**
     * Applies changes one after another.
     *
     * @throws IllegalArgumentException with a sentence for people, where one cannot be made
     */
    public static String apply(String text, List<Change> changes) {
        String changed = text;
        for (Change change : changes) {
            changed = switch (change.op() == null ? "" : change.op()) {
                case "set" -> new JobEdit(changed).set(change.place(), change.key(), change.value());
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
        return new JobEdit(text).items().stream().filter(MappingNode.class::isInstance).map(item -> {
            Map<String, Object> keys = new LinkedHashMap<>();
            ((MappingNode) item).getValue().forEach(pair -> keys.put(key(pair), plain(pair.getValueNode())));
            return keys;
        }).toList();
    }

    private static Object plain(Node node) {
        return plain(node, MOST_LEVELS);
    }

    private static Object plain(Node node, int levels) {
        if (levels == 0) {
            throw new IllegalArgumentException("a value in the file is nested too deep, or refers to itself");
        }
        if (node instanceof SequenceNode list) {
            return list.getValue().stream().map(item -> plain(item, levels - 1)).toList();
        }
        if (node instanceof MappingNode map) {
            Map<String, Object> pairs = new LinkedHashMap<>();
            map.getValue().forEach(pair -> pairs.put(key(pair), plain(pair.getValueNode(), levels - 1)));
            return pairs;
        }
        return node instanceof ScalarNode scalar ? scalar.getValue() : "";
    }

    private static String key(NodeTuple pair) {
        return pair.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
    }

    private static Optional<NodeTuple> pair(MappingNode map, String key) {
        return map.getValue().stream().filter(pair -> key(pair).equals(key)).findFirst();
    }

    private List<Node> items() {
        return find().filter(SequenceNode.class::isInstance).map(list -> ((SequenceNode) list).getValue()).orElse(List.of());
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

    private int offset(Optional<Mark> mark) {
        return offsets[Math.min(mark.orElseThrow().getIndex(), offsets.length - 1)];
    }

    private int start(Node node) {
        return offset(node.getStartMark());
    }

    /** Where a node's own characters end; a block's mark lies further on, behind blank lines and comments. */
    private int end(Node node) {
        if (isBlock(node)) {
            List<?> inside = ((CollectionNode<?>) node).getValue();
            if (!inside.isEmpty()) {
                Object last = inside.get(inside.size() - 1);
                return end(last instanceof NodeTuple pair ? pair.getValueNode() : (Node) last);
            }
        }
        int end = offset(node.getEndMark());
        while (end > start(node) && Character.isWhitespace(text.charAt(end - 1))) {
            end--;
        }
        return end;
    }

    private static boolean isBlock(Node node) {
        return node instanceof CollectionNode<?> many && many.getFlowStyle() == FlowStyle.BLOCK;
    }

    private int lineEnd(int at) {
        int end = text.indexOf('\n', at);
        return end < 0 ? text.length() : end > at && text.charAt(end - 1) == '\r' ? end - 1 : end;
    }

    private int lineStart(int at) {
        return text.lastIndexOf('\n', at - 1) + 1;
    }

    private String lineBreak() {
        return text.contains("\r\n") ? "\r\n" : "\n";
    }

    private String put(int from, int to, String with) {
        return text.substring(0, from) + with + text.substring(to);
    }

    /** End of a pair with what belongs to it: in a block, the comment at the end of its line. */
    private int end(MappingNode map, NodeTuple pair) {
        int end = Math.max(end(pair.getValueNode()), end(pair.getKeyNode()));
        return isBlock(map) ? lineEnd(end) : end;
    }

    private String indent(MappingNode map) {
        int first = start(map.getValue().get(0).getKeyNode());
        return " ".repeat(first - lineStart(first));
    }

    private String set(int number, String key, Object value) {
        MappingNode map = place(number);
        Optional<NodeTuple> old = pair(map, key);
        if (old.isEmpty()) {
            return add(map, key, value);
        }
        Node node = old.get().getValueNode();
        if (plain(node).equals(texts(value))) {
            return text;
        }
        if (isBlock(node) && node instanceof SequenceNode list && value instanceof List<?> items && !items.isEmpty()) {
            return setBlock(list, items);
        }
        int from = isBlock(node) ? end(old.get().getKeyNode()) : start(node);
        return put(from, Math.max(from, end(node)), (isBlock(node) ? ": " : "") + written(value, !isBlock(map)));
    }

    /** Writes a list with an entry a line; entries that stay keep their line with its comment. */
    private String setBlock(SequenceNode list, List<?> items) {
        Map<Object, String> kept = new LinkedHashMap<>();
        list.getValue().forEach(item -> kept.put(plain(item), text.substring(start(item), lineEnd(end(item)))));
        int from = text.lastIndexOf('-', start(list.getValue().get(0)) - 1);
        String between = lineBreak() + " ".repeat(from - lineStart(from)) + "- ";
        List<String> lines = new ArrayList<>();
        items.forEach(item -> lines.add(kept.getOrDefault(texts(item), written(item, false))));
        return put(from, lineEnd(end(list)), "- " + String.join(between, lines));
    }

    /** Rules are added behind all others, since they act in their order; what says where and how to look goes behind the folder. */
    private String add(MappingNode map, String key, Object value) {
        if (map.getValue().isEmpty()) {
            return put(start(map), end(map), "{" + key + ": " + written(value, true) + "}");
        }
        NodeTuple last = map.getValue().get(map.getValue().size() - 1);
        NodeTuple before = RULES.contains(key) ? last : pair(map, "folder").orElse(last);
        int at = end(map, before);
        String pair = key + ": " + written(value, !isBlock(map));
        return put(at, at, isBlock(map) ? lineBreak() + indent(map) + pair : ", " + pair);
    }

    private String remove(int number, String key) {
        MappingNode map = place(number);
        int index = map.getValue().stream().map(JobEdit::key).toList().indexOf(key);
        if (index < 0) {
            return text;
        }
        List<NodeTuple> pairs = map.getValue();
        if (pairs.size() == 1) {
            throw new IllegalArgumentException("'" + key + "' is all that place " + number + " says; remove the place instead");
        }
        NodeTuple pair = pairs.get(index);
        int from = start(pair.getKeyNode());
        if (index == 0) {
            return put(from, start(pairs.get(1).getKeyNode()), "");
        }
        if (!isBlock(map)) {
            return put(end(map, pairs.get(index - 1)), end(map, pair), "");
        }
        int end = end(map, pair);
        return put(lineStart(from), Math.min(text.length(), text.indexOf('\n', end) < 0 ? end : text.indexOf('\n', end) + 1), "");
    }

    private String move(int number, String key, int by) {
        MappingNode map = place(number);
        List<NodeTuple> rules = map.getValue().stream().filter(pair -> RULES.contains(key(pair))).toList();
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
        return text.substring(0, a) + text.substring(c, d) + text.substring(b, c) + text.substring(a, b) + text.substring(d);
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
            return put(start(empty.getKeyNode()), Math.max(end(empty.getKeyNode()) + 1, end(empty.getValueNode())), section);
        }
        Optional<NodeTuple> behind = root == null ? Optional.empty() : root.getValue().stream().filter(pair -> BEHIND.contains(key(pair))).findFirst();
        if (behind.isPresent()) {
            int at = start(behind.get().getKeyNode());
            while (at > 0 && text.startsWith("#", lineStart(at - 1))) {
                at = lineStart(at - 1); // comments right above a section belong to it
            }
            boolean apart = at > 1 && text.substring(lineStart(at - 1), at).isBlank();
            return put(at, at, section + lineBreak() + (apart ? lineBreak() : ""));
        }
        return text + (text.isEmpty() || text.endsWith("\n") ? "" : lineBreak()) + section + lineBreak();
    }

    private String block(Map<?, ?> keys, String indent) {
        return indent + "- " + keys.entrySet().stream().map(pair -> pair.getKey() + ": " + written(pair.getValue(), false))
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

    /** The same with texts in place of numbers and booleans, as a file is read. */
    private static Object texts(Object value) {
        if (value instanceof List<?> list) {
            return list.stream().map(JobEdit::texts).toList();
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> texts = new LinkedHashMap<>();
            map.forEach((key, one) -> texts.put(String.valueOf(key), texts(one)));
            return texts;
        }
        return String.valueOf(value);
    }

    /** A value on one line. Texts in lists stand in quotes, since names mostly need them. */
    private static String written(Object value, boolean inFlow) {
        if (value instanceof List<?> list) {
            return list.stream().map(item -> item instanceof Map ? written(item, true) : quoted(String.valueOf(item))).collect(Collectors.joining(", ", "[", "]"));
        }
        if (value instanceof Map<?, ?> map) {
            return map.entrySet().stream().map(pair -> pair.getKey() + ": " + (pair.getKey().equals("regex") ? quoted(String.valueOf(pair.getValue())) : written(pair.getValue(), true)))
                    .collect(Collectors.joining(", ", "{", "}"));
        }
        String word = String.valueOf(value);
        boolean isText = value instanceof String;
        boolean plain = word.matches(PLAIN) && !word.endsWith(" ") && !word.contains(": ") && !word.endsWith(":") && !word.contains(" #")
                && !(isText && WORDS.contains(word.toLowerCase(java.util.Locale.ROOT))) && !(inFlow && (word.indexOf('{') >= 0 || word.indexOf('}') >= 0));
        return plain ? word : quoted(word);
    }

    private static String quoted(String word) {
        StringBuilder out = new StringBuilder("\"");
        word.codePoints().forEach(c -> {
            switch (c) {
                case '"' -> out.append("\\\"");
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default -> {
                    if (c < ' ' || c >= 0x7f && c < 0xa0 || c == 0xfeff || c == 0x2028 || c == 0x2029) {
                        out.append(String.format(c > 0xff ? "\\u%04x" : "\\x%02x", c));
                    } else {
                        out.appendCodePoint(c);
                    }
                }
            }
        });
        return out.append('"').toString();
    }
}
