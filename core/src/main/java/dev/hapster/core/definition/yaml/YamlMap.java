package dev.hapster.core.definition.yaml;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.exceptions.Mark;
import org.snakeyaml.engine.v2.exceptions.MarkedYamlEngineException;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/**
 * A mapping of a YAML file that collects every mistake with its line and column instead of stopping at the first.
 *
 * <p>Reading a key that is absent or wrong gives the fallback and, where it is wrong, adds a problem.
 */
public final class YamlMap {

    private static final int MOST_CHARACTERS = 1_000_000;

    private final String file;
    private final List<Problem> problems;
    private final UnaryOperator<String> expansion;
    private final Node at;
    private final Map<String, Node> keys = new LinkedHashMap<>();
    private final Map<String, Node> values = new LinkedHashMap<>();

    private YamlMap(String file, List<Problem> problems, UnaryOperator<String> expansion, Node at) {
        this.file = file;
        this.problems = problems;
        this.expansion = expansion;
        this.at = at;
    }

    /** Parses a whole file. What is not even YAML, or no mapping, is a problem and gives an empty map. */
    public static YamlMap parse(String file, String text, List<Problem> problems) {
        LoadSettings settings = LoadSettings.builder()
                .setLabel(file)
                .setAllowDuplicateKeys(true)
                .setMaxAliasesForCollections(20)
                .setCodePointLimit(MOST_CHARACTERS)
                .build();
        try {
            Optional<Node> root = YamlNodes.of(text, settings);
            if (root.isEmpty()) {
                problems.add(new Problem(file, 1, 1, "the file is empty", ""));
                return new YamlMap(file, problems, UnaryOperator.identity(), null);
            }
            return of(file, problems, UnaryOperator.identity(), root.get());
        } catch (MarkedYamlEngineException wrong) {
            Mark mark = wrong.getProblemMark().or(wrong::getContextMark).orElse(null);
            problems.add(new Problem(
                    file,
                    line(mark),
                    column(mark),
                    "this is not YAML: " + wrong.getProblem(),
                    "Check indentation, colons and quotes here and in the line above"));
            return new YamlMap(file, problems, UnaryOperator.identity(), null);
        } catch (YamlEngineException wrong) {
            problems.add(new Problem(file, 0, 0, "this is not YAML: " + wrong.getMessage(), ""));
            return new YamlMap(file, problems, UnaryOperator.identity(), null);
        }
    }

    private static YamlMap of(String file, List<Problem> problems, UnaryOperator<String> expansion, Node node) {
        YamlMap map = new YamlMap(file, problems, expansion, node);
        if (!(node instanceof MappingNode mapping)) {
            map.problem(node, "keys with values are expected here", "Write `key: value`");
            return map;
        }
        for (NodeTuple tuple : mapping.getValue()) {
            if (!(tuple.getKeyNode() instanceof ScalarNode key)) {
                map.problem(tuple.getKeyNode(), "a key must be plain text", "");
            } else if (map.keys.containsKey(key.getValue())) {
                map.problem(key, "the key '" + key.getValue() + "' stands here twice", "Keep one of them");
            } else {
                map.keys.put(key.getValue(), key);
                map.values.put(key.getValue(), tuple.getValueNode());
            }
        }
        return map;
    }

    /** The same mapping with every text passed through {@code how}; what that throws becomes a problem at the text. */
    public YamlMap expanding(UnaryOperator<String> how) {
        YamlMap map = new YamlMap(file, problems, how, at);
        map.keys.putAll(keys);
        map.values.putAll(values);
        return map;
    }

    /** The keys in the order of the file. */
    public Set<String> keys() {
        return keys.keySet();
    }

    /** Whether the key is there, with whatever value; one without a value counts as there. */
    public boolean has(String key) {
        return values.containsKey(key);
    }

    /** Whether the value is a single one, not a list and not a map; false where the key is not there. */
    public boolean isText(String key) {
        return values.get(key) instanceof ScalarNode;
    }

    /** Reports every key that is not among those known. */
    public YamlMap only(List<String> known) {
        keys.forEach((key, node) -> {
            if (!known.contains(key)) {
                boolean valueless = values.get(key) instanceof ScalarNode value
                        && value.getTag().equals(Tag.NULL);
                String hint = valueless && Nearest.word(key, known).isEmpty()
                        ? "If it belongs to the text before it, put that text in quotes: inside { } a comma ends a text"
                        : Nearest.hint(key, known);
                problem(node, "unknown key '" + key + "'", hint);
            }
        });
        return this;
    }

    /** A single value as text. Another kind of value becomes a problem, and the fallback is given. */
    public String text(String key, String fallback) {
        return has(key) ? scalar(values.get(key), "'" + key + "'").orElse(fallback) : fallback;
    }

    /** The same; empty where the key is not there, or its value is no single one, which is then a problem. */
    public Optional<String> text(String key) {
        return has(key) ? scalar(values.get(key), "'" + key + "'") : Optional.empty();
    }

    /** A text that must be there. */
    public String required(String key, String hint) {
        if (!has(key)) {
            missing(key, hint);
            return "";
        }
        return text(key, "");
    }

    /** Notes that a key is missing, at the place of the map. Once the map itself was a problem, nothing is noted. */
    public void missing(String key, String hint) {
        if (at != null) {
            problem(at, "'" + key + "' is missing", hint);
        }
    }

    /** A value of yes or no. Another one becomes a problem, and the fallback is given. */
    public boolean flag(String key, boolean fallback) {
        Optional<String> text = text(key);
        if (text.isEmpty()) {
            return fallback;
        }
        if (!text.get().equals("true") && !text.get().equals("false")) {
            wrong(key, "'" + key + "' must be true or false, not '" + text.get() + "'", "");
            return fallback;
        }
        return text.get().equals("true");
    }

    /** A whole number, both limits included. Another value becomes a problem, and the fallback is given. */
    public int number(String key, int fallback, int least, int most) {
        Optional<String> text = text(key);
        if (text.isEmpty()) {
            return fallback;
        }
        try {
            int number = Integer.parseInt(text.get());
            if (number >= least && number <= most) {
                return number;
            }
        } catch (NumberFormatException notOne) {
            // said below, in the same words
        }
        wrong(
                key,
                "'" + key + "' must be a whole number from " + least + " to " + most + ", not '" + text.get() + "'",
                "");
        return fallback;
    }

    /** A list of texts; a single text counts as a list of one. */
    public List<String> texts(String key) {
        return has(key) ? texts(values.get(key), "'" + key + "'") : List.of();
    }

    private List<String> texts(Node node, String name) {
        if (node instanceof SequenceNode sequence) {
            List<String> texts = new ArrayList<>();
            sequence.getValue()
                    .forEach(item -> scalar(item, "an entry of " + name).ifPresent(texts::add));
            return texts;
        }
        return scalar(node, name).map(List::of).orElse(List.of());
    }

    /** A text of the file, of which a single character may be wrong. */
    public final class Written {
        private final Node node;
        public final String text;

        private Written(Node node, String text) {
            this.node = node;
            this.text = text;
        }

        /** Reports a problem at a character of the text, counted from 0. */
        public void wrong(int at, String what, String hint) {
            ScalarNode scalar = (ScalarNode) node;
            Mark start = scalar.getStartMark().orElse(null);
            Mark end = scalar.getEndMark().orElse(null);
            boolean asIs = start != null
                    && end != null
                    && start.getLine() == end.getLine()
                    && scalar.getValue().equals(text)
                    && (scalar.isPlain()
                            || end.getIndex() - start.getIndex() == text.codePointCount(0, text.length()) + 2);
            if (!asIs) {
                problem(node, what + " (character " + (at + 1) + " of " + text + ")", hint);
                return;
            }
            problems.add(new Problem(file, line(start), column(start) + at + (scalar.isPlain() ? 0 : 1), what, hint));
        }
    }

    /** The texts of a key, or of its list, with their places. */
    public List<Written> written(String key) {
        List<Written> all = new ArrayList<>();
        Node value = values.get(key);
        List<Node> nodes = value == null
                ? List.of()
                : value instanceof SequenceNode sequence ? sequence.getValue() : List.of(value);
        nodes.forEach(node -> scalar(node, "'" + key + "'").ifPresent(text -> all.add(new Written(node, text))));
        return all;
    }

    /** The map below a key; an empty one where it is not there, and a problem where it is none. */
    public YamlMap map(String key) {
        return of(file, problems, expansion, values.get(key));
    }

    /** Pairs of texts, in the order written. */
    public Map<String, String> pairs(String key) {
        YamlMap map = map(key);
        Map<String, String> pairs = new LinkedHashMap<>();
        map.keys().forEach(name -> map.text(name).ifPresent(value -> pairs.put(name, value)));
        return pairs;
    }

    /** A list of mappings. */
    public List<YamlMap> maps(String key) {
        if (!(values.get(key) instanceof SequenceNode sequence)) {
            wrong(key, "'" + key + "' must be a list", "Begin each entry with `- `");
            return List.of();
        }
        return sequence.getValue().stream()
                .map(item -> of(file, problems, expansion, item))
                .toList();
    }

    /** Whether this is an entry that is a word alone. */
    public boolean isWord() {
        return at instanceof ScalarNode;
    }

    /** Entries that are a word, or a mapping with one key; the word alone has no value. */
    public List<YamlMap> words(String key) {
        Node node = values.get(key);
        List<Node> items = node instanceof SequenceNode sequence ? sequence.getValue() : List.of(node);
        List<YamlMap> words = new ArrayList<>();
        for (Node item : items) {
            if (item instanceof ScalarNode word) {
                YamlMap map = new YamlMap(file, problems, expansion, item);
                scalar(item, "an entry of '" + key + "'").ifPresent(text -> {
                    map.keys.put(text, word);
                    words.add(map);
                });
            } else {
                words.add(of(file, problems, expansion, item));
            }
        }
        return words;
    }

    /** Reports a problem at the value of a key, or at the key itself where it has none. */
    public void wrong(String key, String what, String hint) {
        problem(values.getOrDefault(key, keys.getOrDefault(key, at)), what, hint);
    }

    /** Notes a problem at the place of a key, which must be there; {@code wrong} does so at that of its value. */
    public void wrongKey(String key, String what, String hint) {
        problem(keys.get(key), what, hint);
    }

    /** Reports a problem at the mapping itself. */
    public void wrong(String what, String hint) {
        problem(at, what, hint);
    }

    private Optional<String> scalar(Node node, String name) {
        if (node instanceof ScalarNode scalar && !scalar.getTag().equals(Tag.NULL)) {
            try {
                return Optional.of(expansion.apply(scalar.getValue()));
            } catch (IllegalArgumentException wrong) {
                problem(node, wrong.getMessage(), "");
                return Optional.empty();
            }
        }
        problem(
                node,
                node instanceof ScalarNode ? name + " has no value" : name + " must be a single value",
                node instanceof ScalarNode ? "Write a value, or take the key out" : "");
        return Optional.empty();
    }

    private void problem(Node node, String what, String hint) {
        Mark mark = node == null ? null : node.getStartMark().orElse(null);
        Problem problem = new Problem(file, line(mark), column(mark), what, hint);
        if (!problems.contains(problem)) { // a value may be asked for more than once
            problems.add(problem);
        }
    }

    private static int line(Mark mark) {
        return mark == null ? 0 : mark.getLine() + 1;
    }

    private static int column(Mark mark) {
        return mark == null ? 0 : mark.getColumn() + 1;
    }
}
