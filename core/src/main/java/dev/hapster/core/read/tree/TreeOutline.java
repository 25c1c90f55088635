package dev.hapster.core.read.tree;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** Which elements a nested file has, and how many of each: what a look at it needs to find its rows. */
public final class TreeOutline implements TreeSink {

    private static final int MOST_PATHS = 20_000;

    /**
     * The elements of one path.
     *
     * @param path names from the top; empty for the outermost
     * @param count how many there are
     * @param fewest how many of them one parent that has any holds at least
     * @param most how many of them one parent holds at most
     * @param branches whether any has elements of its own
     */
    public record Element(List<String> path, long count, int fewest, int most, boolean branches) {
        public Element {
            path = List.copyOf(path);
        }
    }

    private static final class Node {
        final Node parent;
        final String name;
        final Map<String, Node> children = new LinkedHashMap<>();
        long count;
        int here;
        int fewest = Integer.MAX_VALUE;
        int most;

        Node(Node parent, String name) {
            this.parent = parent;
            this.name = name;
        }

        void closed() {
            for (Node child : children.values()) {
                if (child.here > 0) {
                    child.fewest = Math.min(child.fewest, child.here);
                    child.most = Math.max(child.most, child.here);
                    child.here = 0;
                }
            }
        }
    }

    private final Node root = new Node(null, "");
    private Node at;
    private Node marked;
    private int paths;
    private long elements;

    private TreeOutline() {}

    /**
     * Goes through a file.
     *
     * @param most elements that are looked at
     * @return every path, in the order in which the file first has it
     * @throws FileRejectedException where the file cannot be read
     */
    public static List<Element> of(Content content, Read rules, long most) throws IOException, FileRejectedException {
        TreeOutline outline = new TreeOutline();
        try (TreeSource source = TreeReader.open(content, rules)) {
            if (rules.as() == Format.PARQUET) {
                throw new IllegalArgumentException("Parquet files say themselves what they hold");
            }
            while (outline.elements < most && source.advance(outline)) {
                continue;
            }
        } catch (Unpacked.DamagedException damaged) {
            throw new FileRejectedException(Reasons.damaged(damaged.getMessage()));
        }
        for (Node open = outline.at; open != null; open = open.parent) {
            open.closed();
        }
        List<Element> all = new ArrayList<>();
        outline.root.most = (int) Math.min(Integer.MAX_VALUE, outline.root.count);
        outline.root.fewest = outline.root.most;
        add(outline.root, new ArrayList<>(), all);
        return all;
    }

    private static void add(Node node, List<String> path, List<Element> all) {
        all.add(new Element(path, node.count, Math.min(node.fewest, node.most), node.most, !node.children.isEmpty()));
        for (Node child : node.children.values()) {
            path.add(child.name);
            add(child, path, all);
            path.remove(path.size() - 1);
        }
    }

    @Override
    public void begin(String name, long line) throws FileRejectedException {
        elements++;
        if (at == null) {
            at = root;
        } else {
            Node child = at.children.get(name);
            if (child == null) {
                if (++paths > MOST_PATHS) {
                    throw new FileRejectedException(Reasons.structureRejected(
                            "has more than " + Reasons.grouped(MOST_PATHS) + " different paths"));
                }
                child = new Node(at, name);
                at.children.put(name, child);
            }
            at = child;
        }
        at.count++;
        at.here++;
    }

    @Override
    public boolean wantsText() {
        return false;
    }

    @Override
    public void value(byte kind, byte[] bytes, int from, int length) {
        // only the structure is looked at
    }

    @Override
    public void end() {
        at.closed();
        at = at.parent;
    }

    @Override
    public void mark() {
        marked = at;
    }

    @Override
    public void broken(long line, String original, String why) {
        at = marked;
    }
}
