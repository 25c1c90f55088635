package dev.hapster.core.read;

import dev.hapster.core.definition.JobDef.Read;
import dev.hapster.core.reason.FileRefusedException;
import dev.hapster.core.reason.Reason;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;

/**
 * Reads delimited text (RFC 4180 with any separator and quote) in batches of slices, without an object a cell.
 *
 * <p>Lines end with LF, CRLF or CR. A blank line is no row. A quote counts only at the beginning of a field; within a
 * quoted field it is doubled. One window of fixed size holds the bytes, so memory does not depend on the file. What makes
 * the whole file unfit is thrown as {@link FileRefusedException}; rows with a wrong number of fields are delivered and
 * marked. Not thread-safe; the stream is closed by its owner.
 */
public final class DelimitedReader {

    /** Bytes (in UTF-8) that one record may have. */
    public static final int MOST_RECORD_BYTES = 1 << 20;
    /** Columns that a header may have. */
    public static final int MOST_COLUMNS = 10_000;

    private static final int WINDOW = MOST_RECORD_BYTES + 8;
    private static final byte LF = '\n';
    private static final byte CR = '\r';

    private final InputStream in;
    private final Read rules;
    private final boolean utf8;
    private final byte separator;
    private final byte quote;
    private final boolean quotes;
    private final boolean[] ends = new boolean[256];

    /** The first half holds what was read, the second the fields that had doubled quotes. */
    private final byte[] window = new byte[2 * WINDOW];
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

    public DelimitedReader(InputStream bytes, Read rules) {
        this.rules = rules;
        utf8 = rules.encoding().equals(StandardCharsets.UTF_8) || rules.encoding().equals(StandardCharsets.US_ASCII);
        in = utf8 ? bytes : new Transcoded(bytes, rules.encoding());
        separator = (byte) rules.separator();
        quotes = rules.quote().isPresent();
        quote = quotes ? (byte) (char) rules.quote().get() : 0;
        ends[separator] = true;
        ends[LF] = true;
        ends[CR] = true;
    }

    /** Reads up to and including the header. Must be called once, before the first batch. */
    public Header header() throws IOException, FileRefusedException {
        fill();
        opened = true;
        if (filled == 0) {
            throw new FileRefusedException(Reasons.fileEmpty());
        }
        for (int i = 0; i < rules.linesAbove(); i++) {
            if (!skipLine()) {
                throw new FileRefusedException(Reasons.noHeader(line - 1, rules.linesAbove()));
            }
        }
        if (!rules.hasHeader()) {
            return new Header(rules.names(), "");
        }
        RawBatch one = new RawBatch(MOST_COLUMNS, 1);
        if (!next(one)) {
            throw new FileRefusedException(Reasons.noHeader(line - 1, rules.linesAbove()));
        }
        records = 0;
        if (one.fields[0] > MOST_COLUMNS) {
            throw new FileRefusedException(Reasons.tooManyColumns(MOST_COLUMNS));
        }
        List<String> names = new ArrayList<>();
        for (int i = 0; i < one.fields[0]; i++) {
            names.add(one.text(0, i));
        }
        return new Header(names, one.original(0));
    }

    /** A batch of the right width for this file. */
    public static RawBatch batchFor(Header header) {
        int width = Math.max(1, header.names().size());
        return new RawBatch(width, Math.max(16, Math.min(4096, (1 << 18) / width)));
    }

    /** Records delivered so far, the header not among them. */
    public long records() {
        return records;
    }

    /** Fills the batch with the next records; false where there are no more. */
    public boolean next(RawBatch batch) throws IOException, FileRefusedException {
        batch.bytes = window;
        batch.rows = 0;
        arena = WINDOW;
        while (batch.rows < batch.capacity) {
            if (pos == limit && ended) {
                break;
            }
            if (pos < limit && record(batch)) {
                continue;
            }
            if (batch.rows > 0) {
                break; // the window moves only when nobody refers to it
            }
            if (!ended && !fill()) {
                throw new FileRefusedException(tooLong());
            }
        }
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

    /** Parses one record at {@code pos}; false where its end is not in the window yet. Blank lines are passed over. */
    private boolean record(RawBatch batch) throws FileRefusedException {
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
                            throw new FileRefusedException(Reasons.quoteOpen(quoteLine));
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
        if (end > pos) {
            batch.recordFrom[row] = pos;
            batch.recordTo[row] = end;
            batch.line[row] = line;
            batch.fields[row] = field;
            batch.misquoted[row] = misquoted;
            batch.rows++;
        }
        line += inner + 1;
        pos = p;
        return true;
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

    private boolean skipLine() throws IOException, FileRefusedException {
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
                throw new FileRefusedException(Reasons.recordTooLong(line, MOST_RECORD_BYTES));
            }
        }
    }

    /** Moves the unread rest to the front and reads on; false where the window was full already. */
    private boolean fill() throws IOException, FileRefusedException {
        if (opened) {
            window[limit] = held;
        }
        if (pos > 0) {
            System.arraycopy(window, pos, window, 0, filled - pos);
            before += pos;
            filled -= pos;
            limit -= pos;
            pos = 0;
        } else if (filled == WINDOW - 1) {
            window[limit] = LF;
            return false;
        }
        try {
            while (filled < WINDOW - 1 && !ended) {
                int count = in.read(window, filled, WINDOW - 1 - filled);
                ended = count < 0;
                filled += Math.max(count, 0);
            }
        } catch (Transcoded.WrongByteException wrong) {
            throw new FileRefusedException(Reasons.encodingDiffers(rules.encoding().name(), lineAt(filled), wrong.offset, hex(wrong.value), ""));
        }
        if (!opened) {
            recognise();
        }
        int good = Utf8Check.wellFormedUntil(window, limit, filled);
        if (good < filled && (ended || !Utf8Check.mayContinue(window, good, filled))) {
            throw new FileRefusedException(wrongByte(good));
        }
        limit = good;
        held = window[limit];
        window[limit] = LF;
        return true;
    }

    /** Recognises what is plainly no delimited text, and takes off a byte-order mark. */
    private void recognise() throws FileRefusedException {
        if (utf8 && (starts(0xff, 0xfe) || starts(0xfe, 0xff))) {
            throw new FileRefusedException(Reasons.encodingMarked(rules.encoding().name(), "UTF-16"));
        }
        String what = starts('P', 'K', 3, 4) ? "a zip archive or a workbook (xlsx)" : starts('P', 'A', 'R', '1') ? "a Parquet file"
                : starts(0x1f, 0x8b) ? "compressed with gzip" : starts('%', 'P', 'D', 'F') ? "a PDF document"
                : starts(0xd0, 0xcf, 0x11, 0xe0) ? "an old or an encrypted workbook" : "";
        if (!what.isEmpty()) {
            throw new FileRefusedException(Reasons.looksLike(what));
        }
        if (starts(0xef, 0xbb, 0xbf)) {
            pos = 3;
        }
        if (utf8 && filled >= 4 && (window[0] == 0) != (window[1] == 0) && window[0] == 0 == (window[2] == 0) && window[1] == 0 == (window[3] == 0)) {
            throw new FileRefusedException(Reasons.encodingDiffers(rules.encoding().name(), 1, window[0] == 0 ? 0 : 1, "0x00",
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
        return Reasons.encodingDiffers(rules.encoding().name(), lineAt(at), before + at, hex(window[at]), western ? "windows-1252" : "");
    }

    private long lineAt(int index) {
        long at = line;
        for (int i = pos; i < index; i++) {
            at += window[i] == LF || window[i] == CR && window[i + 1] != LF ? 1 : 0;
        }
        return at;
    }

    private static String hex(byte value) {
        return String.format("0x%02X", value);
    }
}
