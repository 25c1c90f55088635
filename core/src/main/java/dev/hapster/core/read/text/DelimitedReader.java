package dev.hapster.core.read.text;

import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.bytes.Shortened;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.bytes.Utf8Check;
import dev.hapster.core.read.record.Bookmark;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Reads delimited text (RFC 4180 with any separator and quote) in batches of slices, without an object a cell.
 *
 * <p>Lines end with LF, CRLF or CR. A blank line is not a row. A quote counts only at the beginning of a field; within
 * a quoted field it is doubled. One window of fixed size holds the bytes, so memory does not depend on the file. What
 * makes the whole file unfit is thrown as {@link FileRejectedException}; rows with a wrong number of fields are
 * delivered and marked. Not thread-safe; the stream is closed by its owner.
 */
public final class DelimitedReader implements RecordReader {

    /** Bytes (in UTF-8) that one record may have. */
    public static final int MOST_RECORD_BYTES = 1 << 20;
    /** Columns that a header may have. */
    public static final int MOST_COLUMNS = 10_000;

    private static final int USUAL_COLUMNS = 256;

    private static final int WINDOW = MOST_RECORD_BYTES + 8;
    /** Read at a time: few enough bytes that they stay close to the processor until they are typed. */
    private static final int CHUNK = 128 << 10;
    /** Files of fewer bytes need no more room than this: thousands of them are read in a moment. */
    private static final int SMALL = 16 << 10;

    private static final byte LF = '\n';
    private static final byte CR = '\r';
    /** A byte that no well-formed text holds: what stands between the fields of a line that is one field. */
    private static final byte NEVER = (byte) 0xff;

    private final InputStream in;
    private final Read rules;
    private final boolean utf8;
    /** Whether the quick way will do: one byte between fields, and nothing escaped. */
    private final boolean plain;

    private final byte[] between;
    private final boolean escapes;
    private final byte escape;
    /** What lines begin with that are skipped, and the one behind which nothing is read; null where there are none. */
    private final byte[] comment;

    private final byte[] endsAt;
    private final byte separator;
    private final byte quote;
    private final boolean quotes;
    private final boolean[] ends = new boolean[256];

    /**
     * Grows where a file is not small, and where a record is long. The first half holds what was read, the second the
     * fields that had doubled quotes.
     */
    private int half = SMALL + 8;

    private byte[] window = new byte[2 * half];
    private int arena;
    private int pos;
    /** End of what is known to be well-formed text; a line feed is put there to stop the scan. */
    private int limit;

    private int filled;
    private byte held;
    private long before;
    private boolean ended;
    private boolean opened;
    private long line = 1;
    private long records;
    private boolean headed;
    private byte[] header;
    private final boolean shared;
    private long repeatedHeaders;
    private long comments;
    private long filledRows;
    private long cutRows;

    public DelimitedReader(InputStream bytes, Read rules) {
        this(bytes, rules, "");
    }

    /**
     * @param shared the header's text, where one file names the columns of all: the line is skipped wherever it stands
     */
    public DelimitedReader(InputStream bytes, Read rules, String shared) {
        this.rules = rules;
        this.shared = !shared.isEmpty();
        header = shared.getBytes(StandardCharsets.UTF_8);
        utf8 = rules.encoding().equals(StandardCharsets.UTF_8)
                || rules.encoding().equals(StandardCharsets.US_ASCII);
        InputStream text = utf8 ? bytes : new Transcoded(bytes, rules.encoding());
        in = rules.get(ReadSection.LINES_BELOW) > 0 ? new Shortened(text, rules.get(ReadSection.LINES_BELOW)) : text;
        between = rules.separator().getBytes(StandardCharsets.UTF_8);
        escapes = rules.get(ReadSection.ESCAPE).isPresent();
        escape = escapes ? (byte) (char) rules.get(ReadSection.ESCAPE).get() : 0;
        boolean whole = rules.as() != Format.DELIMITED;
        plain = whole || (between.length == 1 && between[0] > 0 && !escapes);
        separator = whole ? NEVER : between[0];
        comment = rules.get(ReadSection.COMMENT)
                .map(start -> start.getBytes(StandardCharsets.UTF_8))
                .orElse(null);
        endsAt = rules.get(ReadSection.ENDS_AT)
                .map(start -> start.getBytes(StandardCharsets.UTF_8))
                .orElse(null);
        quotes = !whole && rules.get(ReadSection.QUOTE).isPresent();
        quote = quotes ? (byte) (char) rules.get(ReadSection.QUOTE).get() : 0;
        if (plain) {
            ends[separator & 0xff] = true;
        }
        ends[LF] = true;
        ends[CR] = true;
    }

    /**
     * Reads on from a place that another reader of the same file named; there is no header to be asked for.
     *
     * @param bytes the file's bytes from there on
     * @param known the file's header, as that reader gave it
     */
    public static DelimitedReader from(Bookmark place, InputStream bytes, Read rules, Header known)
            throws IOException, FileRejectedException {
        DelimitedReader reader = new DelimitedReader(bytes, rules, known.original());
        reader.before = place.at();
        reader.line = place.line();
        reader.headed = true;
        reader.fill();
        reader.opened = true;
        return reader;
    }

    @Override
    public Optional<Bookmark> bookmark() {
        return utf8 && rules.get(ReadSection.LINES_BELOW) == 0
                ? Optional.of(new Bookmark(before + pos, line))
                : Optional.empty();
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        fill(); // the first look at the bytes
        opened = true;
        if (filled == 0) {
            throw new FileRejectedException(
                    rules.get(ReadSection.LINES_BELOW) > 0 ? Reasons.noHeader(0, 0) : Reasons.fileEmpty());
        }
        for (int i = 0; i < rules.get(ReadSection.LINES_ABOVE); i++) {
            if (!skipLine()) {
                throw new FileRejectedException(Reasons.noHeader(line - 1, rules.get(ReadSection.LINES_ABOVE)));
            }
        }
        headed = !rules.hasHeader();
        if (!rules.hasHeader()) {
            return new Header(rules.names(), "");
        }
        if (rules.get(ReadSection.HEADER_CONTAINS).isPresent()) {
            seek(rules.get(ReadSection.HEADER_CONTAINS).get());
        }
        RawBatch one = new RawBatch(USUAL_COLUMNS, 1);
        if (!next(one)) {
            throw new FileRejectedException(Reasons.noHeader(line - 1, rules.get(ReadSection.LINES_ABOVE)));
        }
        if (one.fields[0] > USUAL_COLUMNS) {
            pos = one.recordFrom[0];
            line = one.line[0];
            one = new RawBatch(MOST_COLUMNS, 1);
            next(one);
        }
        records = 0;
        if (one.fields[0] > MOST_COLUMNS) {
            throw new FileRejectedException(Reasons.tooManyColumns(MOST_COLUMNS));
        }
        List<String> names = new ArrayList<>();
        for (int i = 0; i < one.fields[0]; i++) {
            names.add(one.text(0, i));
        }
        headed = true;
        header = java.util.Arrays.copyOfRange(window, one.recordFrom[0], one.recordTo[0]);
        return new Header(names, one.original(0));
    }

    /** Skips all lines above the one that holds a text. */
    private void seek(String text) throws IOException, FileRejectedException {
        byte[] wanted = text.getBytes(StandardCharsets.UTF_8);
        while (!lineHolds(wanted)) {
            if (!skipLine()) {
                throw new FileRejectedException(Reasons.headerNotFound(text, line - 1));
            }
        }
    }

    private boolean lineHolds(byte[] wanted) throws IOException, FileRejectedException {
        while (true) {
            int end = pos;
            while (end < limit && window[end] != LF && window[end] != CR) {
                end++;
            }
            if (end < limit || ended) {
                for (int at = pos; at + wanted.length <= end; at++) {
                    if (begins(at, wanted)) {
                        return true;
                    }
                }
                return false;
            }
            if (!fill()) {
                throw new FileRejectedException(Reasons.recordTooLong(line, MOST_RECORD_BYTES));
            }
        }
    }

    private boolean begins(int at, byte[] wanted) {
        return at + wanted.length <= limit
                && java.util.Arrays.equals(window, at, at + wanted.length, wanted, 0, wanted.length);
    }

    /** Lines between the rows that were the header once more, and were skipped. */
    public long repeatedHeaders() {
        return repeatedHeaders;
    }

    public long comments() {
        return comments;
    }

    /** Rows with too few fields that were filled up as declared. */
    public long filled() {
        return filledRows;
    }

    /** Rows with too many fields that were cut as declared. */
    public long cut() {
        return cutRows;
    }

    @Override
    public List<String> notes() {
        List<String> notes = new ArrayList<>();
        RecordReader.note(
                notes,
                shared ? repeatedHeaders : 0,
                "line with the header of all files skipped",
                "lines with the header of all files skipped");
        RecordReader.note(
                notes,
                shared ? 0 : repeatedHeaders,
                "header that was repeated between the rows skipped",
                "headers that were repeated between the rows skipped");
        RecordReader.note(notes, comments, "comment skipped", "comments skipped");
        RecordReader.note(notes, filledRows, "row with too few fields filled up", "rows with too few fields filled up");
        RecordReader.note(notes, cutRows, "row with too many fields cut", "rows with too many fields cut");
        return notes;
    }

    @Override
    public long records() {
        return records;
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        batch.bytes = window;
        batch.rows = 0;
        arena = half;
        while (batch.rows < batch.capacity) {
            if (pos == limit && ended) {
                break;
            }
            if (pos < limit) {
                int before = arena;
                Found found = line(batch);
                if (found == Found.ONE) {
                    continue;
                }
                if (found == Found.END) {
                    in.transferTo(
                            java.io.OutputStream.nullOutputStream()); // whoever hashes the bytes must see them all
                    pos = limit;
                    ended = true;
                    break;
                }
                arena = before;
            }
            if (batch.rows > 0) {
                break; // the window moves only when nobody refers to it
            }
            if (!ended && !fill()) {
                throw new FileRejectedException(tooLong());
            }
        }
        batch.bytes = window; // it may have grown, for a long record
        records += batch.rows;
        return batch.rows > 0;
    }

    private Reason tooLong() {
        long at = line;
        boolean inside = false;
        boolean start = true;
        long openedAt = 0;
        for (int i = pos; i < limit; i++) {
            byte c = window[i];
            if (quotes && c == quote && (inside || start)) {
                inside = !inside;
                openedAt = at;
            }
            start = !inside && (c == separator || c == LF);
            at += c == LF ? 1 : 0;
        }
        return inside ? Reasons.quoteOpen(openedAt) : Reasons.recordTooLong(line, MOST_RECORD_BYTES);
    }

    private enum Found {
        ONE,
        MORE_NEEDED,
        END
    }

    /** Takes what begins at {@code pos}: a record, or a line that is none. */
    private Found line(RawBatch batch) throws FileRejectedException {
        if (comment != null || endsAt != null) {
            if (!ended
                    && limit - pos
                            < Math.max(comment == null ? 0 : comment.length, endsAt == null ? 0 : endsAt.length)) {
                return Found.MORE_NEEDED;
            }
            if (endsAt != null && headed && begins(pos, endsAt)) {
                return Found.END;
            }
            if (comment != null && begins(pos, comment)) {
                int p = pos;
                while (p < limit && window[p] != LF && window[p] != CR) {
                    p++;
                }
                if (p >= limit - 1 && !ended) {
                    return Found.MORE_NEEDED;
                }
                pos = Math.min(limit, p + (p + 1 < limit && window[p] == CR && window[p + 1] == LF ? 2 : 1));
                line++;
                comments++;
                return Found.ONE;
            }
        }
        int row = batch.rows;
        if (!(plain ? record(batch) : anyRecord(batch))) {
            return Found.MORE_NEEDED;
        }
        if (batch.rows > row && headed) {
            if (header.length > 0
                    && batch.recordTo[row] - batch.recordFrom[row] == header.length
                    && begins(batch.recordFrom[row], header)) {
                batch.rows--;
                repeatedHeaders++;
            } else if (batch.fields[row] != batch.width) {
                ragged(batch, row);
            }
        }
        return Found.ONE;
    }

    /** Makes a row with too few or too many fields fit, where the job says so. */
    private void ragged(RawBatch batch, int row) {
        int fields = batch.fields[row];
        if (fields < batch.width && rules.get(ReadSection.FILL_SHORT)) {
            for (int at = row * batch.width + fields; at < (row + 1) * batch.width; at++) {
                batch.from[at] = batch.recordTo[row];
                batch.to[at] = batch.recordTo[row];
            }
            batch.fields[row] = batch.width;
            filledRows++;
        } else if (fields > batch.width && rules.get(ReadSection.CUT_LONG)) {
            batch.fields[row] = batch.width;
            cutRows++;
        }
    }

    /** As {@link #record}, for separators of several bytes and escaped characters. */
    private boolean anyRecord(RawBatch batch) throws FileRejectedException {
        int row = batch.rows;
        int base = row * batch.width;
        int p = pos;
        int field = 0;
        long inner = 0;
        boolean misquoted = false;
        while (true) {
            int from = arena;
            boolean quoted = quotes && p < limit && window[p] == quote;
            if (quoted) {
                long quoteLine = line + inner;
                p++;
                while (true) {
                    if (p + 1 >= limit && !ended) {
                        return false;
                    }
                    if (p >= limit) {
                        throw new FileRejectedException(Reasons.quoteOpen(quoteLine));
                    }
                    byte c = window[p];
                    boolean takes = (escapes && c == escape && p + 1 < limit)
                            || (c == quote && p + 1 < limit && window[p + 1] == quote);
                    if (c == quote && !takes) {
                        p++;
                        break;
                    }
                    p += takes ? 1 : 0;
                    inner += window[p] == LF || (window[p] == CR && !(p + 1 < limit && window[p + 1] == LF)) ? 1 : 0;
                    window[arena++] = window[p++];
                }
            }
            int to = arena;
            while (true) {
                if (p + between.length >= limit && !ended) {
                    return false;
                }
                if (p >= limit || window[p] == LF || window[p] == CR || begins(p, between)) {
                    break;
                }
                misquoted |= quoted;
                p += escapes && window[p] == escape && p + 1 < limit ? 1 : 0;
                inner += window[p] == LF ? 1 : 0;
                window[arena++] = window[p++];
            }
            if (field < batch.width) {
                batch.from[base + field] = from;
                batch.to[base + field] = quoted ? to : arena;
            }
            field++;
            if (p >= limit || !begins(p, between)) {
                break;
            }
            p += between.length;
        }
        int end = p;
        p = p >= limit ? limit : p + (window[p] == CR && p + 1 < limit && window[p + 1] == LF ? 2 : 1);
        keep(batch, end, field, misquoted);
        line += inner + 1;
        pos = p;
        return true;
    }

    /** Parses one record at {@code pos}; false where its end is not in the window yet. Blank lines are skipped. */
    private boolean record(RawBatch batch) throws FileRejectedException {
        final byte[] b = window;
        final int row = batch.rows;
        final int width = batch.width;
        final int base = row * width;
        int p = pos;
        int field = 0;
        long inner = 0;
        boolean misquoted = false;
        while (true) {
            int from = p;
            int to;
            if (quotes && b[p] == quote && p < limit) {
                boolean doubled = false;
                long quoteLine = line + inner;
                p++;
                while (true) {
                    byte c = b[p];
                    while (c != quote && c != LF && c != CR) {
                        c = b[++p];
                    }
                    if (p == limit) {
                        if (ended) {
                            throw new FileRejectedException(Reasons.quoteOpen(quoteLine));
                        }
                        return false;
                    }
                    if (p + 1 == limit && !ended) {
                        return false;
                    }
                    if (c == quote) {
                        if (p + 1 < limit && b[p + 1] == quote) {
                            doubled = true;
                            p += 2;
                            continue;
                        }
                        break;
                    }
                    inner++;
                    p += c == CR && p + 1 < limit && b[p + 1] == LF ? 2 : 1;
                }
                from++;
                to = p++;
                if (!ends[b[p] & 0xff]) {
                    misquoted = true;
                    while (!ends[b[p] & 0xff]) {
                        p++;
                    }
                }
                if (doubled) {
                    int copy = arena;
                    arena = unescape(from, to);
                    from = copy;
                    to = arena;
                }
            } else {
                while (!ends[b[p] & 0xff]) {
                    p++;
                }
                to = p;
            }
            if (field < width) {
                batch.from[base + field] = from;
                batch.to[base + field] = to;
            }
            field++;
            if (b[p] != separator) {
                break;
            }
            p++;
        }
        int end = p;
        if (p == limit) {
            if (!ended) {
                return false;
            }
        } else if (b[p] == CR) {
            if (p + 1 == limit && !ended) {
                return false;
            }
            p += p + 1 < limit && b[p + 1] == LF ? 2 : 1;
        } else {
            p++;
        }
        keep(batch, end, field, misquoted);
        line += inner + 1;
        pos = p;
        return true;
    }

    /** Adds the record that begins at {@code pos} to the batch; a blank line is none. */
    private void keep(RawBatch batch, int end, int fields, boolean misquoted) {
        if (end > pos) {
            int row = batch.rows++;
            batch.recordFrom[row] = pos;
            batch.recordTo[row] = end;
            batch.line[row] = line;
            batch.fields[row] = fields;
            batch.misquoted[row] = misquoted;
        }
    }

    private int unescape(int from, int to) {
        int out = arena;
        for (int i = from; i < to; i++) {
            window[out++] = window[i];
            if (window[i] == quote) {
                i++;
            }
        }
        return out;
    }

    private boolean skipLine() throws IOException, FileRejectedException {
        while (true) {
            int p = pos;
            while (window[p] != LF && window[p] != CR) {
                p++;
            }
            boolean whole = p < limit && (window[p] == LF || p + 1 < limit || ended);
            if (whole) {
                pos = p + (window[p] == CR && p + 1 < limit && window[p + 1] == LF ? 2 : 1);
                line++;
                return true;
            }
            if (ended) {
                boolean something = pos < limit;
                pos = limit;
                line += something ? 1 : 0;
                return false;
            }
            if (!fill()) {
                throw new FileRejectedException(Reasons.recordTooLong(line, MOST_RECORD_BYTES));
            }
        }
    }

    /** Moves the unread rest to the front and reads on; false where the window was full already. */
    private boolean fill() throws IOException, FileRejectedException {
        if (opened) {
            window[limit] = held;
        }
        if (opened && half < CHUNK) {
            half = CHUNK + 8;
            moveTo(new byte[2 * half]);
            arena = half;
        } else if (pos > 0) {
            moveTo(window);
        } else if (filled == half - 1) {
            if (half == WINDOW) {
                window[limit] = LF;
                return false;
            }
            half = Math.min(WINDOW, half * 4); // nobody refers to the old one: the batch is empty
            window = java.util.Arrays.copyOf(window, 2 * half);
            arena = half;
        }
        try {
            int enough = Math.min(half - 1, filled + CHUNK);
            while (filled < enough && !ended) {
                int count = in.read(window, filled, enough - filled);
                ended = count < 0;
                filled += Math.max(count, 0);
            }
        } catch (Transcoded.WrongByteException wrong) {
            throw new FileRejectedException(Reasons.encodingDiffers(
                    rules.encoding().name(), lineAt(filled), wrong.offset, hex(wrong.value), ""));
        } catch (Unpacked.DamagedException wrong) {
            throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
        }
        if (!opened) {
            recognise();
        }
        int good = Utf8Check.wellFormedUntil(window, limit, filled);
        if (good < filled && (ended || !Utf8Check.mayContinue(window, good, filled))) {
            throw new FileRejectedException(wrongByte(good));
        }
        limit = good;
        held = window[limit];
        window[limit] = LF;
        return true;
    }

    /** Puts the unread rest at the front of a window. */
    private void moveTo(byte[] target) {
        System.arraycopy(window, pos, target, 0, filled - pos);
        window = target;
        before += pos;
        filled -= pos;
        limit -= pos;
        pos = 0;
    }

    /** Recognises another encoding, and takes off a byte-order mark. */
    private void recognise() throws FileRejectedException {
        if (utf8 && (starts(0xff, 0xfe) || starts(0xfe, 0xff))) {
            throw new FileRejectedException(
                    Reasons.encodingMarked(rules.encoding().name(), "UTF-16"));
        }
        if (starts(0xef, 0xbb, 0xbf)) {
            pos = 3;
        }
        if (utf8
                && filled >= 4
                && (window[0] == 0) != (window[1] == 0)
                && window[0] == 0 == (window[2] == 0)
                && window[1] == 0 == (window[3] == 0)) {
            throw new FileRejectedException(Reasons.encodingDiffers(
                    rules.encoding().name(),
                    1,
                    window[0] == 0 ? 0 : 1,
                    "0x00",
                    window[0] == 0 ? "UTF-16BE" : "UTF-16LE"));
        }
    }

    private boolean starts(int... bytes) {
        for (int i = 0; i < bytes.length; i++) {
            if (i >= filled || (window[i] & 0xff) != bytes[i]) {
                return false;
            }
        }
        return true;
    }

    private Reason wrongByte(int at) {
        if (window[at] == 0) {
            return Reasons.notText(lineAt(at), before + at);
        }
        boolean western = utf8 && (window[at] & 0xff) >= 0x80;
        return Reasons.encodingDiffers(
                rules.encoding().name(), lineAt(at), before + at, hex(window[at]), western ? "windows-1252" : "");
    }

    private long lineAt(int index) {
        long at = line;
        for (int i = pos; i < index; i++) {
            at += window[i] == LF || (window[i] == CR && window[i + 1] != LF) ? 1 : 0;
        }
        return at;
    }

    private static String hex(byte value) {
        return String.format("0x%02X", value);
    }

    /** Rules by which every line is one field. */
    public static Read lines(Read rules) {
        return rules.whole(Format.LINES);
    }
}
