package dev.hapster.core.query.filter;

import dev.hapster.core.query.part.PartReader;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;

/**
 * What must hold of rows, asked batch by batch. The columns of its conditions ({@link Where#fields}) are asked for one
 * behind the other. Not thread-safe.
 */
public final class Filter {

    private final Node root;
    private int next;
    private int[] selected = new int[0];

    /** @param first place of the first condition's column among those that readers are asked for */
    public Filter(Where where, int first) {
        next = first;
        root = node(where);
    }

    private Node node(Where where) {
        if (where instanceof Condition condition) {
            return new Test(condition, next++);
        }
        return where instanceof Where.All all
                ? new Node.All(nodes(all.of()))
                : new Node.Any(nodes(((Where.Any) where).of()));
    }

    private List<Node> nodes(List<Where> of) {
        List<Node> nodes = new ArrayList<>();
        of.forEach(one -> nodes.add(node(one)));
        return nodes;
    }

    /**
     * Looks for the rows of the present batch for which it holds.
     *
     * @return how many there are; their numbers in the batch are the first of {@link #selected}, ascending
     */
    public int select(PartReader reader, int rows) throws IOException {
        if (selected.length < rows) {
            selected = new int[rows];
        }
        for (int row = 0; row < rows; row++) {
            selected[row] = row;
        }
        return root.keep(reader, selected, rows);
    }

    /** The rows that were found last; to be made fewer by who asked. */
    public int[] selected() {
        return selected;
    }

    /** Whether it holds for one row of the present batch. */
    public boolean holds(PartReader reader, int row) throws IOException {
        return root.holds(reader, row);
    }

    /** Whether there may be rows in a row group for which it holds, by what is known of its columns. */
    public boolean mayHold(PartReader reader, int group) {
        return root.mayHold(reader, group);
    }
}
