package dev.hapster.core.shape;

import com.google.re2j.Pattern;
import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.JobDef.Mapping;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.ReasonCode;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.row.Vector;
import dev.hapster.core.row.Words;
import java.util.ArrayList;
import java.util.List;

/** Texts: kept as they are, checked for length, pattern and allowed values. */
final class TextShaper extends ColumnShaper {

    /** Short values seen lately, by hash: what passed once passes again without a new look. A power of two. */
    private static final int REMEMBERED = 512;

    private final Vector.Bytes vector = new Vector.Bytes(0);
    private final int length;
    private final Pattern matches;
    private final boolean remembers;
    private final int[] passedLength;
    private final long[] passedFirst;
    private final long[] passedLast;

    TextShaper(ColumnDef column, Mapping.Source source, List<String> emptyAs) {
        super(column, source, emptyAs);
        length = column.length().orElse(Integer.MAX_VALUE);
        matches = column.matches().map(Pattern::compile).orElse(null);
        remembers = matches != null || !column.oneOf().isEmpty();
        passedLength = new int[remembers ? REMEMBERED : 0];
        passedFirst = new long[passedLength.length];
        passedLast = new long[passedLength.length];
    }

    @Override
    Vector vector() {
        return vector;
    }

    @Override
    boolean trims() {
        return false;
    }

    /** Most columns are plain texts: these stay where they are. */
    @Override
    void shape(RawBatch batch, int field, Faults faults) {
        if (!isPlain(batch)) {
            super.shape(batch, field, faults);
            return;
        }
        vector.reset(batch.rows);
        int width = batch.width;
        byte[] bytes = batch.bytes;
        int[] starts = batch.from;
        int[] ends = batch.to;
        int[] fields = batch.fields;
        vector.refer(bytes);
        int[] vectorFrom = vector.from;
        int[] vectorLength = vector.length;
        for (int row = 0, at = field; row < batch.rows; row++, at += width) {
            int from = starts[at];
            int count = ends[at] - from;
            if (fields[row] != width || count == 0 || count > length) {
                one(batch, row, field, vector, faults);
                continue;
            }
            Reason reason = remembers ? look(bytes, from, from + count) : null;
            if (reason == null) {
                vectorFrom[row] = from;
                vectorLength[row] = count;
            } else {
                refuse(batch, row, field, reason, vector, faults);
            }
        }
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

    @Override
    List<Reason> others(String value, Reason first) {
        List<Reason> others = new ArrayList<>();
        boolean tooLong = first.code() == ReasonCode.TEXT_TOO_LONG;
        if (tooLong && matches != null && !matches.matches(value)) {
            others.add(Reasons.patternDiffers(value, matches.pattern()));
        }
        if ((tooLong || first.code() == ReasonCode.PATTERN_DIFFERS)
                && !column.oneOf().isEmpty()
                && !column.oneOf().contains(value)) {
            others.add(Reasons.valueNotAllowed(value, column.oneOf()));
        }
        return others;
    }

    private Reason look(byte[] bytes, int from, int to) {
        int count = to - from;
        long first = Words.first(bytes, from, count);
        long last = Words.last(bytes, from, count);
        int hash = Words.hash(bytes, from, count, first, last);
        int slot = hash & REMEMBERED - 1;
        if (count <= Words.WHOLE && passed(slot, count, first, last)) {
            return null;
        }
        int other = hash >>> 16 & REMEMBERED - 1; // two places, so that two values need not drive each other out
        if (count <= Words.WHOLE && passed(other, count, first, last)) {
            return null;
        }
        String text = text(bytes, from, to);
        if (matches != null && !matches.matches(text)) {
            return Reasons.patternDiffers(text, matches.pattern());
        }
        if (!column.oneOf().isEmpty() && !column.oneOf().contains(text)) {
            return Reasons.valueNotAllowed(text, column.oneOf());
        }
        int free = passedLength[slot] == 0 ? slot : other;
        passedLength[free] = count + 1; // 0 stands for a slot that was never used
        passedFirst[free] = first;
        passedLast[free] = last;
        return null;
    }

    private boolean passed(int slot, int count, long first, long last) {
        return passedLength[slot] == count + 1 && passedFirst[slot] == first && passedLast[slot] == last;
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
