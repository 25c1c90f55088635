package dev.hapster.core.read.tree;

import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;

/**
 * What the elements of a nested file are called, and which of them are rows, above rows, or fields. Grows with every
 * new path that is met; once {@link #names} were asked for, new paths are no fields any more.
 */
final class TreeShape {

    /** What the members of an array within an array are called. */
    static final String UNNAMED = "[]";

    private static final Pattern MEMBER = Pattern.compile("\\[(\\d{1,6})]");
    private static final int MOST_NODES = 100_000;
    private static final int MOST_DEPTH = 1_000;

    /** One path of the file. */
    static final class Node {
        final Node parent;
        final String name;
        final int depth;
        private final Map<String, Node> children = new HashMap<>();
        /** The child that began last. */
        private Node latest;
        /** The one that came behind this one last. */
        private Node next;
        /** Whether elements here are rows, lie above rows, or lie within one. */
        final boolean isRow;

        final boolean isAbove;
        final boolean isWithin;
        /** The nearest element that lies above rows (or is it), for fields that are shared by rows. */
        final Node level;
        /** Number of the field; -1 where nothing here ever had a value. */
        int field = -1;
        /** For an element above rows: the fields that its rows share. */
        final List<Node> shared = new ArrayList<>();
        /** For an array of which single members are columns: those, by their position counted from 0. */
        Map<Integer, Node> members = Map.of();
        /** Arrays below it of which single members are columns. */
        private final List<Node> arrays = new ArrayList<>();
        /** Members of it that were met since the element that holds it began. */
        private int met;
        /** How often it began, and how many rows came since. */
        long begun;

        long rowsSince;
        /** Values that stand behind the rows that share them, by the number of the element they belong to. */
        Map<Long, Leaf> late;

        Node(Node parent, String name, int depth, boolean isRow, boolean isAbove) {
            this.parent = parent;
            this.name = name;
            this.depth = depth;
            this.isRow = isRow;
            this.isAbove = isAbove;
            isWithin = isRow || (parent != null && parent.isWithin);
            level = isAbove ? this : parent == null ? null : parent.level;
        }
    }

    /** A value. */
    record Leaf(byte kind, byte[] bytes) {}

    private final List<String> path;
    private final String separator;
    private final String fromRoot;
    /** Positions of members that are columns of their own, by the name of their array. */
    private final Map<String, Set<Integer>> wanted = new HashMap<>();

    final Node root;
    private final List<Node> fields = new ArrayList<>();
    private int nodes;
    /** Whether rows are named by their number, since several stand on one line. */
    boolean isNumbered;

    private boolean complete;

    /**
     * @param path names of the elements that lead to the rows; {@code *} is any
     * @param separator between names in a column's name
     * @param fromRoot what the name of a shared field begins with where the rows have a field of the same name
     * @param members names of single members of arrays that are columns, such as {@code position[0]}
     */
    TreeShape(List<String> path, String separator, String fromRoot, Collection<String> members) {
        this.path = path;
        this.separator = separator;
        this.fromRoot = fromRoot;
        root = new Node(null, "", 0, path.isEmpty(), !path.isEmpty());
        for (String member : members) {
            // an array within an array has no name of its own
            String full = member.replace("][", "]" + separator + UNNAMED + "[");
            MEMBER.matcher(full.startsWith(fromRoot) ? full.substring(fromRoot.length()) : full)
                    .results()
                    .forEach(found -> wanted.computeIfAbsent(full.substring(0, found.start()), array -> new HashSet<>())
                            .add(Integer.parseInt(found.group(1))));
        }
    }

    /** The element that begins below another one. */
    Node enter(Node parent, String name) throws FileRejectedException {
        Node child = parent == null ? root : child(parent, name);
        if (!child.members.isEmpty()) {
            child = child.members.getOrDefault(child.met++, child);
        }
        for (Node array : child.arrays) {
            array.met = 0;
        }
        return child;
    }

    /** Elements mostly have their children in the same order as the one before. */
    Node child(Node parent, String name) throws FileRejectedException {
        Node before = parent.latest;
        Node child = before == null ? null : before.next;
        if (child == null || !child.name.equals(name)) {
            child = found(parent, name);
            if (before != null) {
                before.next = child;
            }
        }
        parent.latest = child;
        return child;
    }

    private Node found(Node parent, String name) throws FileRejectedException {
        Node child = parent.children.get(name);
        if (child == null) {
            if (++nodes > MOST_NODES) {
                throw new FileRejectedException(Reasons.tooManyColumns(DelimitedReader.MOST_COLUMNS));
            }
            int depth = parent.depth + 1;
            if (depth > MOST_DEPTH) {
                throw new FileRejectedException(
                        Reasons.structureRejected("nests deeper than " + Reasons.grouped(MOST_DEPTH) + " levels"));
            }
            boolean leads = parent.isAbove
                    && depth <= path.size()
                    && (path.get(depth - 1).equals("*") || path.get(depth - 1).equals(name));
            child = new Node(parent, name, depth, leads && depth == path.size(), leads && depth < path.size());
            parent.children.put(name, child);
            Set<Integer> positions = wanted.isEmpty() || child.isAbove || child.isRow ? null : wanted.get(name(child));
            if (positions != null) {
                Map<Integer, Node> members = new HashMap<>();
                for (int position : positions) {
                    members.put(position, new Node(parent, name + "[" + position + "]", depth, false, false));
                }
                child.members = members;
                parent.arrays.add(child);
            }
        }
        return child;
    }

    /** The node is a field from now on. */
    void field(Node node) throws FileRejectedException {
        if (node.field < 0 && !complete) {
            if (fields.size() == DelimitedReader.MOST_COLUMNS) {
                throw new FileRejectedException(Reasons.tooManyColumns(DelimitedReader.MOST_COLUMNS));
            }
            node.field = fields.size();
            fields.add(node);
            if (!node.isWithin) {
                node.level.shared.add(node);
            }
        }
    }

    /** A shape like this one was before it met anything, for a piece of a file; without single members of arrays. */
    TreeShape fresh() {
        return new TreeShape(path, separator, fromRoot, List.of());
    }

    /** A shape with the same fields, for another thread. */
    TreeShape copy() throws FileRejectedException {
        TreeShape copy = fresh();
        copy.meet(this);
        copy.complete = true;
        return copy;
    }

    /** What the next piece of the file has is met, in the order in which the piece first has it. */
    void meet(TreeShape piece) throws FileRejectedException {
        isNumbered |= piece.isNumbered;
        for (Node field : piece.fields) {
            field(same(field));
        }
    }

    private Node same(Node other) throws FileRejectedException {
        return other.parent == null ? root : child(same(other.parent), other.name);
    }

    /** Whether every row stands by itself: it shares nothing with others, and no array is counted through. */
    boolean isFlat() {
        return path.isEmpty() && wanted.isEmpty();
    }

    /** How many elements lead to a row, itself among them. */
    int pathLength() {
        return path.size();
    }

    List<Node> fields() {
        return fields;
    }

    /** The columns' names, in the order in which the file first has them. */
    List<String> names() {
        complete = true;
        Set<String> own = new HashSet<>();
        Map<Node, String> names = new LinkedHashMap<>();
        for (Node field : fields) {
            String name = name(field);
            names.put(field, name);
            if (field.isWithin) {
                own.add(name);
            }
        }
        return fields.stream()
                .map(field -> !field.isWithin && own.contains(names.get(field))
                        ? fromRoot + names.get(field)
                        : names.get(field))
                .toList();
    }

    private String name(Node field) {
        List<String> names = new ArrayList<>();
        for (Node node = field; node.parent != null && !(node.isRow && node != field); node = node.parent) {
            names.add(0, node.name);
            if (node.isRow) {
                break;
            }
        }
        return names.isEmpty() ? "value" : String.join(separator, names).replace("]" + separator + UNNAMED + "[", "][");
    }

    /** Whether any element of the path was met. */
    boolean hasRows() {
        return has(root);
    }

    private static boolean has(Node node) {
        return (node.isRow && (node.begun > 0 || node.parent == null))
                || (node.isAbove && node.children.values().stream().anyMatch(TreeShape::has));
    }

    /** Forgets what was met, but for the fields themselves. */
    void forget() {
        rewind(root);
        fields.forEach(field -> field.late = null);
    }

    /** Begins anew, with the fields as they are. */
    void rewind() {
        rewind(root);
    }

    private static void rewind(Node node) {
        node.begun = 0;
        node.rowsSince = 0;
        node.met = 0;
        node.members.values().forEach(TreeShape::rewind);
        node.children.values().forEach(TreeShape::rewind);
    }
}
