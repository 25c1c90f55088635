package dev.hapster.core.read.text;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.read.Span;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Reads lines whose columns stand at declared positions, counted in characters (code points). White space around a
 * value belongs to the width and is taken off.
 */
public final class FixedReader implements RecordReader {

    private final DelimitedReader lines;
    private final Read rules;
    private final Span[] spans;
    private final int end;
    private RawBatch raw;
    private long filled;
    private long cut;

    public FixedReader(DelimitedReader lines, Read rules) {
        this.lines = lines;
        this.rules = rules;
        spans = rules.get(ReadSection.COLUMNS).toArray(Span[]::new);
        end = spans[spans.length - 1].to();
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        lines.header();
        return new Header(rules.names(), "");
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        if (raw == null) {
            raw = new RawBatch(1, batch.capacity);
        }
        boolean some = lines.next(raw);
        batch.bytes = raw.bytes;
        batch.rows = raw.rows;
        for (int row = 0; row < raw.rows; row++) {
            batch.recordFrom[row] = raw.recordFrom[row];
            batch.recordTo[row] = raw.recordTo[row];
            batch.line[row] = raw.line[row];
            slice(batch, row);
        }
        return some;
    }

    private void slice(RawBatch batch, int row) {
        byte[] b = batch.bytes;
        int to = batch.recordTo[row];
        int at = batch.recordFrom[row];
        int character = 1;
        int fields = 0;
        int base = row * batch.width;
        for (Span span : spans) {
            while (character < span.from() && at < to) {
                at = step(b, at, to);
                character++;
            }
            int from = at;
            while (character <= span.to() && at < to) {
                at = step(b, at, to);
                character++;
            }
            if (from < to) {
                fields++;
            }
            int last = at;
            while (from < last && b[from] <= ' ' && b[from] >= 0) {
                from++;
            }
            while (from < last && b[last - 1] <= ' ' && b[last - 1] >= 0) {
                last--;
            }
            batch.from[base++] = from;
            batch.to[base - 1] = last;
        }
        if (fields < spans.length && rules.get(ReadSection.FILL_SHORT)) {
            fields = spans.length;
            filled++;
        }
        if (end != Integer.MAX_VALUE && !blank(b, at, to)) {
            fields += rules.get(ReadSection.CUT_LONG) ? 0 : 1;
            cut += rules.get(ReadSection.CUT_LONG) ? 1 : 0;
        }
        batch.fields[row] = fields;
    }

    private static int step(byte[] b, int at, int to) {
        int next = at + 1;
        while (next < to && (b[next] & 0xc0) == 0x80) {
            next++;
        }
        return next;
    }

    private static boolean blank(byte[] b, int from, int to) {
        for (int i = from; i < to; i++) {
            if (b[i] > ' ' || b[i] < 0) {
                return false;
            }
        }
        return true;
    }

    @Override
    public Optional<Bookmark> bookmark() {
        return lines.bookmark();
    }

    @Override
    public long records() {
        return lines.records();
    }

    @Override
    public List<String> notes() {
        List<String> notes = new ArrayList<>(lines.notes());
        RecordReader.note(notes, filled, "line that is too short filled up", "lines that are too short filled up");
        RecordReader.note(notes, cut, "line that is too long cut", "lines that are too long cut");
        return notes;
    }
}
