package dev.hapster.core.definition.edit;

import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.section.MappingSection.Cleaning;
import dev.hapster.core.definition.yaml.YamlNodes;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.snakeyaml.engine.v2.api.LoadSettings;
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
 * The text of a definition file with the places of what stands in it. Only the characters concerned by a change are
 * touched: comments, order, spaces and everything else stay as somebody wrote them, and what is added looks as somebody
 * would write it.
 */
class YamlText {

    private static final String PLAIN = "[\\p{L}\\p{N}_./$][\\p{L}\\p{N}_./${}: -]*";
    /** Words in lists that nobody puts in quotes. */
    private static final List<String> STEPS = Cleaning.WORDS;

    private static final int MOST_LEVELS = 20;
    private static final List<String> WORDS = List.of("true", "false", "null", "yes", "no", "on", "off", "~");

    final String text;
    /** Offset of each code point: marks count code points, strings do not. */
    private final int[] offsets;

    final MappingNode root;

    YamlText(String text) {
        this.text = text;
        int[] starts = new int[text.length() + 1];
        int count = 0;
        for (int at = 0; at < text.length(); at += Character.charCount(text.codePointAt(at))) {
            starts[count++] = at;
        }
        starts[count++] = text.length();
        offsets = java.util.Arrays.copyOf(starts, count);
        try {
            Optional<Node> node = YamlNodes.of(
                    text, LoadSettings.builder().setAllowDuplicateKeys(true).build());
            root = node.filter(MappingNode.class::isInstance)
                    .map(MappingNode.class::cast)
                    .orElse(null);
        } catch (YamlNodes.NestingException wrong) {
            throw new IllegalArgumentException("a value in the file is nested too deep, or refers to itself", wrong);
        } catch (YamlEngineException wrong) {
            throw new IllegalArgumentException("the file is no YAML; correct its text first", wrong);
        }
        if (root == null && !text.isBlank()) {
            throw new IllegalArgumentException("the file is not a list of keys with values; correct its text first");
        }
    }

    static Object plain(Node node) {
        return plain(node, MOST_LEVELS);
    }

    static Object plain(Node node, int levels) {
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

    static String key(NodeTuple pair) {
        return pair.getKeyNode() instanceof ScalarNode scalar ? scalar.getValue() : "";
    }

    static Optional<NodeTuple> pair(MappingNode map, String key) {
        return map.getValue().stream().filter(pair -> key(pair).equals(key)).findFirst();
    }

    int offset(Optional<Mark> mark) {
        return offsets[Math.min(mark.orElseThrow().getIndex(), offsets.length - 1)];
    }

    int start(Node node) {
        return offset(node.getStartMark());
    }

    /** Where a node's own characters end; a block's mark lies further on, behind blank lines and comments. */
    int end(Node node) {
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

    static boolean isBlock(Node node) {
        return node instanceof CollectionNode<?> many && many.getFlowStyle() == FlowStyle.BLOCK;
    }

    int lineEnd(int at) {
        int end = text.indexOf('\n', at);
        return end < 0 ? text.length() : end > at && text.charAt(end - 1) == '\r' ? end - 1 : end;
    }

    int lineStart(int at) {
        return text.lastIndexOf('\n', at - 1) + 1;
    }

    String lineBreak() {
        return text.contains("\r\n") ? "\r\n" : "\n";
    }

    String put(int from, int to, String with) {
        return text.substring(0, from) + with + text.substring(to);
    }

    /** End of a pair with what belongs to it: in a block, the comment at the end of its line. */
    int end(MappingNode map, NodeTuple pair) {
        int end = Math.max(end(pair.getValueNode()), end(pair.getKeyNode()));
        return isBlock(map) ? lineEnd(end) : end;
    }

    String indent(MappingNode map) {
        int first = start(map.getValue().get(0).getKeyNode());
        return " ".repeat(first - lineStart(first));
    }

    /** Sets a key, or adds it. */
    String set(MappingNode map, String key, Object value) {
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
    String setBlock(SequenceNode list, List<?> items) {
        Map<Object, String> kept = new LinkedHashMap<>();
        list.getValue().forEach(item -> kept.put(plain(item), text.substring(start(item), lineEnd(end(item)))));
        int from = text.lastIndexOf('-', start(list.getValue().get(0)) - 1);
        String between = lineBreak() + " ".repeat(from - lineStart(from)) + "- ";
        List<String> lines = new ArrayList<>();
        items.forEach(item -> lines.add(kept.getOrDefault(texts(item), written(item, false))));
        return put(from, lineEnd(end(list)), "- " + String.join(between, lines));
    }

    /** Adds a key behind all others. */
    String add(MappingNode map, String key, Object value) {
        return addBehind(
                map,
                map.getValue().isEmpty()
                        ? null
                        : map.getValue().get(map.getValue().size() - 1),
                key,
                value);
    }

    String addBehind(MappingNode map, NodeTuple before, String key, Object value) {
        if (map.getValue().isEmpty()) {
            return put(start(map), end(map), "{" + key + ": " + written(value, true) + "}");
        }
        int at = end(map, before);
        String pair = key + ": " + written(value, !isBlock(map));
        return put(at, at, isBlock(map) ? lineBreak() + indent(map) + pair : ", " + pair);
    }

    /** Takes a key out that is there, with what belongs to it. */
    String without(MappingNode map, String key) {
        List<NodeTuple> pairs = map.getValue();
        int index = pairs.stream().map(YamlText::key).toList().indexOf(key);
        NodeTuple pair = pairs.get(index);
        int from = start(pair.getKeyNode());
        if (index == 0 && pairs.size() > 1) {
            return put(from, start(pairs.get(1).getKeyNode()), "");
        }
        if (!isBlock(map)) {
            return put(index == 0 ? from : end(map, pairs.get(index - 1)), end(map, pair), "");
        }
        int end = text.indexOf('\n', end(map, pair));
        return put(lineStart(from), end < 0 ? text.length() : end + 1, "");
    }

    /** The same with texts in place of numbers and booleans, as a file is read. */
    static Object texts(Object value) {
        if (value instanceof List<?> list) {
            return list.stream().map(YamlText::texts).toList();
        }
        if (value instanceof Map<?, ?> map) {
            Map<String, Object> texts = new LinkedHashMap<>();
            map.forEach((key, one) -> texts.put(String.valueOf(key), texts(one)));
            return texts;
        }
        return String.valueOf(value);
    }

    /** A value on one line. Texts in lists stand in quotes, since names mostly need them. */
    static String written(Object value, boolean inFlow) {
        if (value instanceof List<?> list) {
            return list.stream()
                    .map(item -> item instanceof Map || STEPS.contains(item)
                            ? written(item, true)
                            : quoted(String.valueOf(item)))
                    .collect(Collectors.joining(", ", "[", "]"));
        }
        if (value instanceof Map<?, ?> map) {
            return map.entrySet().stream()
                    .map(pair -> pair.getKey() + ": "
                            + (pair.getKey().equals("regex")
                                    ? quoted(String.valueOf(pair.getValue()))
                                    : written(pair.getValue(), true)))
                    .collect(Collectors.joining(", ", "{", "}"));
        }
        String word = String.valueOf(value);
        boolean isText = value instanceof String;
        boolean plain = word.matches(PLAIN)
                && !word.endsWith(" ")
                && !word.contains(": ")
                && !word.endsWith(":")
                && !word.contains(" #")
                && !(isText && WORDS.contains(word.toLowerCase(java.util.Locale.ROOT)))
                && !(inFlow && (word.indexOf('{') >= 0 || word.indexOf('}') >= 0));
        return plain ? word : quoted(word);
    }

    static String quoted(String word) {
        StringBuilder out = new StringBuilder("\"");
        word.codePoints().forEach(c -> {
            switch (c) {
                case '"' -> out.append("\\\"");
                case '\\' -> out.append("\\\\");
                case '\n' -> out.append("\\n");
                case '\r' -> out.append("\\r");
                case '\t' -> out.append("\\t");
                default -> {
                    if (c < ' ' || (c >= 0x7f && c < 0xa0) || c == 0xfeff || c == 0x2028 || c == 0x2029) {
                        out.append(String.format(c > 0xff ? "\\u%04x" : "\\x%02x", c));
                    } else {
                        out.appendCodePoint(c);
                    }
                }
            }
        });
        return out.append('"').toString();
    }

    /**
     * Puts a section of a job where files have it by custom: above the first of those that come later, together with
     * the comments right above that one.
     *
     * @param section its text, without the last line break
     */
    final String withSection(String name, String section) {
        List<String> names = JobSection.SECTION.names();
        List<String> later = names.subList(names.indexOf(name) + 1, names.size());
        Optional<NodeTuple> behind = root == null
                ? Optional.empty()
                : root.getValue().stream()
                        .filter(pair -> later.contains(key(pair)))
                        .findFirst();
        if (behind.isEmpty()) {
            return text + (text.isEmpty() || text.endsWith("\n") ? "" : lineBreak()) + section + lineBreak();
        }
        int at = start(behind.get().getKeyNode());
        while (at > 0 && text.startsWith("#", lineStart(at - 1))) {
            at = lineStart(at - 1); // comments right above a section belong to it
        }
        boolean apart = at > 1 && text.substring(lineStart(at - 1), at).isBlank();
        return put(at, at, section + lineBreak() + (apart ? lineBreak() : ""));
    }
}
