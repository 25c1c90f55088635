package dev.hapster.core.read.tree;

import dev.hapster.core.read.tree.TreeShape.Leaf;
import dev.hapster.core.read.tree.TreeShape.Node;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** The second pass through a nested file: puts rows together, with the fields that they share. */
final class TreeRows implements TreeSink {

    private record Broken(Reason reason, String original) {}

    /** Bytes that all values of one row may have. */
    private static final int MOST_ROW_BYTES = 16 << 20;

    private final TreeShape shape;
    private final int width;
    private final Node[] fields;
    private Node at;
    private Node marked;
    private int markedRows;
    private int markedArena;
    /** Rows that were begun so far, in the whole file. */
    private long numbered;

    private long markedNumbered;

    private byte[] arena = new byte[1 << 16];
    private int used;
    private int rowStart;
    private int rows;
    private int given;
    private int[] from = new int[0];
    private int[] to = new int[0];
    private byte[] kinds = new byte[0];
    private long[] lines = new long[0];
    private final List<RawBatch.Mark> marks = new ArrayList<>();
    private final Map<Integer, Broken> broken = new HashMap<>();

    /** Values of shared fields, and where they stand in the arena since it was cleared (-1 where they do not). */
    private final byte[][] sharedBytes;

    private final byte[] sharedKinds;
    private final boolean[] sharedTwice;
    private final int[] sharedFrom;
    private long withoutRows;

    TreeRows(TreeShape shape) {
        this.shape = shape;
        fields = shape.fields().toArray(Node[]::new);
        width = Math.max(1, fields.length);
        sharedBytes = new byte[fields.length][];
        sharedKinds = new byte[fields.length];
        Arrays.fill(sharedKinds, RawBatch.NOTHING);
        sharedTwice = new boolean[fields.length];
        sharedFrom = new int[fields.length];
    }

    /** Elements that should hold rows and hold none. */
    long withoutRows() {
        return withoutRows;
    }

    /** Rows put together and not given away yet. */
    int waiting() {
        return rows - given;
    }

    /** Bytes that the waiting rows take. */
    int bytes() {
        return used;
    }

    /** Forgets the rows that were given away; to be called where none is waiting. */
    void clear() {
        rows = 0;
        given = 0;
        used = 0;
        marks.clear();
        broken.clear();
        Arrays.fill(sharedFrom, -1);
    }

    @Override
    public void begin(String name, long line) throws FileRejectedException {
        at = shape.enter(at, name);
        if (at.isAbove) {
            at.begun++;
            at.rowsSince = 0;
            for (Node field : at.shared) {
                share(field, field.late == null ? null : field.late.get(at.begun));
            }
        } else if (at.isRow) {
            room();
            int base = rows * width;
            Arrays.fill(kinds, base, base + width, RawBatch.NOTHING);
            lines[rows] = place(line);
            rowStart = used;
        }
    }

    /** The place of the next row: its line, or its number where several rows stand on one line. */
    private long place(long line) {
        numbered++;
        return shape.isNumbered ? numbered : line;
    }

    private void share(Node field, Leaf leaf) {
        int i = field.field;
        sharedBytes[i] = leaf == null ? null : leaf.bytes();
        sharedKinds[i] = leaf == null ? RawBatch.NOTHING : leaf.kind();
        sharedTwice[i] = false;
        sharedFrom[i] = -1;
    }

    private void room() {
        if (lines.length == rows) {
            int more = Math.max(64, rows * 2);
            lines = Arrays.copyOf(lines, more);
            from = Arrays.copyOf(from, more * width);
            to = Arrays.copyOf(to, more * width);
            kinds = Arrays.copyOf(kinds, more * width);
        }
    }

    @Override
    public boolean wantsText() {
        return at.field >= 0;
    }

    @Override
    public void value(byte kind, byte[] bytes, int start, int length) throws FileRejectedException {
        int field = at.field;
        if (field < 0) {
            return; // a field that no row shares
        }
        if (at.isWithin) {
            int cell = rows * width + field;
            if (kinds[cell] != RawBatch.NOTHING) {
                twice(field, cell);
                return;
            }
            if (used + (long) length - rowStart > MOST_ROW_BYTES) {
                throw new FileRejectedException(Reasons.recordTooLong(lines[rows], MOST_ROW_BYTES));
            }
            from[cell] = append(bytes, start, length);
            to[cell] = used;
            kinds[cell] = kind;
        } else if (at.level.rowsSince == 0) {
            sharedTwice[field] = sharedBytes[field] != null && at.late == null;
            sharedBytes[field] = Arrays.copyOfRange(bytes, start, start + length);
            sharedKinds[field] = kind;
            sharedFrom[field] = -1;
        }
    }

    private void twice(int field, int cell) {
        if (kinds[cell] != RawBatch.FAULT) {
            marks.add(new RawBatch.Mark(
                    rows, field, Reasons.valueRepeated(shape.fields().get(field).name)));
        }
        kinds[cell] = RawBatch.FAULT;
    }

    private int append(byte[] bytes, int start, int length) {
        if (arena.length - used < length) {
            arena = Arrays.copyOf(arena, Math.max(arena.length * 2, used + length));
        }
        System.arraycopy(bytes, start, arena, used, length);
        used += length;
        return used - length;
    }

    @Override
    public void end() {
        if (at.isRow) {
            int base = rows * width;
            for (Node field : fields) {
                if (!field.isWithin) {
                    shared(field.field, base + field.field);
                }
            }
            rows++;
            for (Node above = at.parent; above != null; above = above.parent) {
                above.rowsSince++;
            }
        } else if (at.isAbove && at.rowsSince == 0) {
            boolean last = at.depth == deepest();
            withoutRows += last ? 1 : 0;
        }
        at = at.parent;
    }

    private int deepest() {
        return shape.pathLength() - 1;
    }

    private void shared(int field, int cell) {
        kinds[cell] = sharedKinds[field];
        if (sharedKinds[field] == RawBatch.NOTHING) {
            return;
        }
        if (sharedFrom[field] < 0) {
            sharedFrom[field] = append(sharedBytes[field], 0, sharedBytes[field].length);
        }
        from[cell] = sharedFrom[field];
        to[cell] = sharedFrom[field] + sharedBytes[field].length;
        if (sharedTwice[field]) {
            kinds[cell] = RawBatch.FAULT;
            marks.add(new RawBatch.Mark(
                    rows, field, Reasons.valueRepeated(shape.fields().get(field).name)));
        }
    }

    @Override
    public void mark() {
        marked = at;
        markedRows = rows;
        markedArena = used;
        markedNumbered = numbered;
    }

    @Override
    public void broken(long line, String original, String why) {
        at = marked;
        rows = markedRows;
        used = markedArena;
        marks.removeIf(mark -> mark.row() >= rows);
        for (int i = 0; i < sharedFrom.length; i++) {
            sharedFrom[i] = sharedFrom[i] >= used ? -1 : sharedFrom[i];
        }
        room();
        Arrays.fill(kinds, rows * width, (rows + 1) * width, RawBatch.NOTHING);
        numbered = markedNumbered;
        lines[rows] = place(line);
        broken.put(rows, new Broken(Reasons.recordUnreadable(why), original));
        rows++;
    }

    /** Gives away as many rows as the batch can hold. */
    void give(RawBatch batch) {
        int count = Math.min(batch.capacity, waiting());
        batch.bytes = arena;
        batch.rows = count;
        batch.withKinds();
        batch.marks.clear();
        batch.unread.clear();
        int first = given;
        System.arraycopy(from, first * width, batch.from, 0, count * width);
        System.arraycopy(to, first * width, batch.to, 0, count * width);
        System.arraycopy(kinds, first * width, batch.kinds, 0, count * width);
        for (int row = 0; row < count; row++) {
            batch.line[row] = lines[first + row];
            batch.fields[row] = batch.width;
            batch.misquoted[row] = false;
            Broken wrong = broken.get(first + row);
            if (wrong != null) {
                batch.marks.add(new RawBatch.Mark(row, -1, wrong.reason));
                batch.unread.put(row, wrong.original);
            }
            for (int cell = row * width; cell < (row + 1) * width; cell++) {
                if (batch.kinds[cell] == RawBatch.NOTHING) {
                    batch.from[cell] = 0;
                    batch.to[cell] = 0;
                }
            }
        }
        for (RawBatch.Mark mark : marks) {
            if (mark.row() >= first && mark.row() < first + count) {
                batch.marks.add(new RawBatch.Mark(mark.row() - first, mark.field(), mark.reason()));
            }
        }
        given += count;
    }
}
