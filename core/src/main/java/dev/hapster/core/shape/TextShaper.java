package dev.hapster.core.shape;

import com.google.re2j.Pattern;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.Vector;
import java.util.Arrays;
import java.util.List;

/** Texts: kept as they are, checked for length, pattern and allowed values. */
final class TextShaper extends ColumnShaper {

    /** Values seen lately, by hash: what passed once passes again without a new look. A power of two. */
    private static final int REMEMBERED = 512;

    private final Vector.Bytes vector = new Vector.Bytes(1024);
    private final int length;
    private final Pattern matches;
    private final boolean remembers;
    private final byte[][] passed = new byte[REMEMBERED][];

    TextShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        super(column, source, emptyAs);
        length = column.length().orElse(Integer.MAX_VALUE);
        matches = column.matches().map(Pattern::compile).orElse(null);
        remembers = matches != null || !column.oneOf().isEmpty();
    }

    @Override
    Vector vector() {
        return vector;
    }

    @Override
    boolean trims() {
        return false;
    }

    @Override
    Reason put(int row, byte[] bytes, int from, int to) {
        if (to - from > length) {
            int characters = characters(bytes, from, to);
            if (characters > length) {
                return Reasons.textTooLong(text(bytes, from, to), characters, length);
            }
        }
        if (remembers) {
            Reason reason = look(bytes, from, to);
            if (reason != null) {
                return reason;
            }
        }
        vector.set(row, bytes, from, to - from);
        return null;
    }

    private Reason look(byte[] bytes, int from, int to) {
        int hash = 0;
        for (int i = from; i < to; i++) {
            hash = 31 * hash + bytes[i];
        }
        int slot = (hash ^ hash >>> 15) & REMEMBERED - 1;
        byte[] known = passed[slot];
        if (known != null && known.length == to - from && Arrays.equals(bytes, from, to, known, 0, known.length)) {
            return null;
        }
        String text = text(bytes, from, to);
        if (matches != null && !matches.matches(text)) {
            return Reasons.patternDiffers(text, matches.pattern());
        }
        if (!column.oneOf().isEmpty() && !column.oneOf().contains(text)) {
            return Reasons.valueNotAllowed(text, column.oneOf());
        }
        passed[slot] = Arrays.copyOfRange(bytes, from, to);
        return null;
    }

    /** Unicode code points in well-formed UTF-8: all bytes but those that continue a sequence. */
    private static int characters(byte[] bytes, int from, int to) {
        int count = 0;
        for (int i = from; i < to; i++) {
            count += (bytes[i] & 0xc0) != 0x80 ? 1 : 0;
        }
        return count;
    }
}
