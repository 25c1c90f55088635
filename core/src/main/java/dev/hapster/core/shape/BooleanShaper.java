package dev.hapster.core.shape;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.Vector;
import java.util.Arrays;
import java.util.List;

/** True and false, by the words declared for them, without regard to case. */
final class BooleanShaper extends ColumnShaper {

    private final Vector.Longs vector = new Vector.Longs(0);
    private final List<String> trueAs;
    private final List<String> falseAs;
    /** What was seen last as true and as false: in most files there is no other. */
    private byte[] lastTrue;

    private byte[] lastFalse;

    BooleanShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        super(column, source, emptyAs);
        trueAs = source.trueAs();
        falseAs = source.falseAs();
    }

    @Override
    Vector vector() {
        return vector;
    }

    @Override
    Reason put(int row, byte kind, byte[] bytes, int from, int to) {
        if (kind == RawBatch.TRUTH) {
            vector.values[row] = (bytes[from] | 0x20) == 't' ? 1 : 0;
            return null;
        }
        return put(row, bytes, from, to);
    }

    @Override
    Reason put(int row, byte[] bytes, int from, int to) {
        if (lastTrue != null
                && to - from == lastTrue.length
                && Arrays.equals(bytes, from, to, lastTrue, 0, lastTrue.length)) {
            vector.values[row] = 1;
            return null;
        }
        if (lastFalse != null
                && to - from == lastFalse.length
                && Arrays.equals(bytes, from, to, lastFalse, 0, lastFalse.length)) {
            vector.values[row] = 0;
            return null;
        }
        String text = text(bytes, from, to);
        if (trueAs.stream().anyMatch(text::equalsIgnoreCase)) {
            vector.values[row] = 1;
            lastTrue = Arrays.copyOfRange(bytes, from, to);
        } else if (falseAs.stream().anyMatch(text::equalsIgnoreCase)) {
            vector.values[row] = 0;
            lastFalse = Arrays.copyOfRange(bytes, from, to);
        } else {
            return Reasons.booleanUnreadable(text);
        }
        return null;
    }
}
