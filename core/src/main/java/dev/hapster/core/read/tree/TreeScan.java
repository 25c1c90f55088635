package dev.hapster.core.read.tree;

import dev.hapster.core.read.tree.TreeShape.Leaf;
import dev.hapster.core.read.tree.TreeShape.Node;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import java.util.Arrays;
import java.util.HashMap;

/**
 * The first pass through a nested file: learns its columns, and keeps the values that stand behind the rows that share
 * them.
 */
final class TreeScan implements TreeSink {

    private static final long MOST_LATE_BYTES =
            Math.min(64L << 20, Runtime.getRuntime().maxMemory() / 8);

    private final TreeShape shape;
    private Node at;
    private Node marked;
    private long lateBytes;
    private long rows;
    private long lastLine = -1;

    TreeScan(TreeShape shape) {
        this.shape = shape;
    }

    /** Rows met so far. */
    long rows() {
        return rows;
    }

    @Override
    public void begin(String name, long line) throws FileRejectedException {
        at = shape.enter(at, name);
        at.begun++;
        if (at.isAbove) {
            at.rowsSince = 0;
        } else if (at.isRow) {
            rows++;
            shape.isNumbered |= line == lastLine;
            lastLine = line;
            for (Node above = at.parent; above != null; above = above.parent) {
                above.rowsSince++;
            }
        }
    }

    @Override
    public boolean wantsText() {
        return !at.isWithin && at.level != null;
    }

    @Override
    public void value(byte kind, byte[] bytes, int from, int length) throws FileRejectedException {
        if (!at.isWithin && at.level == null) {
            return;
        }
        shape.field(at);
        if (!at.isWithin && at.level.rowsSince > 0) {
            if (at.late == null) {
                at.late = new HashMap<>();
            }
            lateBytes += length + 64L;
            if (lateBytes > MOST_LATE_BYTES) {
                throw new FileRejectedException(Reasons.structureRejected("has the values of " + at.name
                        + " behind the rows that share them, and more of them than fit into memory"));
            }
            at.late.put(at.level.begun, new Leaf(kind, Arrays.copyOfRange(bytes, from, from + length)));
        }
    }

    @Override
    public void end() {
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
