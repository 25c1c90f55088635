package dev.hapster.core.read.preview;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.Encodings;
import dev.hapster.core.read.Signature;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import java.io.BufferedInputStream;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.channels.Channels;
import java.nio.channels.SeekableByteChannel;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CoderResult;
import java.nio.charset.CodingErrorAction;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Optional;

/**
 * A look at the lines of a text file as they are, whatever is wrong with it. Invisible characters are made visible, and
 * bytes that the encoding does not know are shown as {@code \xE4}. The first and the last lines of a file of any size
 * are there at once.
 *
 * @param lines in the order of the file
 * @param packed with what it is compressed; empty where it is not
 * @param lineEnds how the lines shown end: {@code LF}, {@code CRLF}, {@code CR}, several of them, or nothing where none
 *     ends
 * @param more whether the file goes on behind the last line shown
 * @param kind what the lines are where they are no lines of a text, such as {@code rows of sheet Mar}; empty otherwise
 * @param encoding in which a text is shown; empty for what is none
 * @param merged of a sheet the areas whose cells are merged into one, such as {@code A1:C1}
 */
public record Peek(
        List<Line> lines,
        Optional<String> packed,
        String lineEnds,
        boolean more,
        String kind,
        String encoding,
        List<String> merged) {

    /** Lines that are shown at most. */
    public static final int MOST_LINES = 500;

    private static final int MOST_CHARACTERS = 4_000;
    /** What stands between the cells of a row where it is shown as one line. */
    static final String BAR = " │ ";

    private static final int BLOCK = 1 << 16;
    /** How far back the last lines are looked for. */
    private static final int MOST_BACK = 1 << 24;

    /**
     * @param number counted from 1; from the end, the last is -1, where the lines before were not read
     * @param cut whether the line is longer than is shown
     * @param cells of a row of a sheet its cells, the first in column A; empty otherwise
     */
    public record Line(long number, String text, boolean cut, List<String> cells) {
        public Line {
            cells = List.copyOf(cells);
        }
    }

    private record Raw(long number, byte[] bytes, String end, boolean cut) {}

    /**
     * @param from the first line wanted, counted from 1
     * @param count how many
     */
    public static Peek from(InputStream bytes, Charset charset, long from, int count) throws IOException {
        try (bytes) {
            Opened opened = open(bytes, charset);
            List<Raw> lines = new ArrayList<>();
            Splitter splitter = new Splitter(opened.content);
            Raw line = splitter.next(from == 1);
            while (line != null && lines.size() < Math.min(count, MOST_LINES)) {
                if (line.number >= from) {
                    lines.add(line);
                }
                line = splitter.next(line.number + 1 >= from);
            }
            return peek(lines, opened, line != null);
        }
    }

    /**
     * @param file closed when this returns
     * @param count how many lines at the end of the file are wanted
     */
    public static Peek last(SeekableByteChannel file, Charset charset, int count) throws IOException {
        int most = Math.min(count, MOST_LINES);
        try (file) {
            Opened opened = open(Channels.newInputStream(file), charset);
            if (opened.isPlain && isLineByLine(charset)) {
                return peek(backwards(file, most), opened, false);
            }
            return last(opened, most);
        }
    }

    private static Peek last(Opened opened, int most) throws IOException {
        try (InputStream content = opened.content) {
            Deque<Raw> lines = new ArrayDeque<>();
            Splitter splitter = new Splitter(content);
            for (Raw line = splitter.next(true); line != null; line = splitter.next(true)) {
                lines.add(line);
                if (lines.size() > most) {
                    lines.remove();
                }
            }
            return peek(List.copyOf(lines), opened, false);
        }
    }

    /**
     * A look at whatever it is: lines of a text, rows of a sheet with their cells between bars, records of a Parquet
     * file, the entries of an archive.
     *
     * @param plain whether it is a file, and not an entry of an archive
     * @param sheet the sheet of a workbook; empty for its first one
     * @param from the first line wanted, counted from 1; below 1 the last ones are wanted
     */
    public static Peek of(Content content, boolean plain, Read declared, Optional<String> sheet, long from, int count)
            throws IOException {
        int most = Math.max(1, Math.min(count, MOST_LINES));
        try {
            Signature found;
            try {
                found = Signature.of(content);
            } catch (FileRejectedException unreadable) {
                found = Signature.TEXT; // its bytes can still be shown
            }
            if (found == Signature.XLSX
                    || found == Signature.XLS
                    || found == Signature.PARQUET
                    || found == Signature.ZIP) {
                return PeekRows.of(content, found, declared, sheet, from, most);
            }
            Read rules = Encodings.chosen(content, declared);
            if (plain && from < 1) {
                InputStream stream = content.stream();
                if (!(stream instanceof Unpacked)) {
                    return last(content.seekable(), rules.encoding(), most).in(rules.encoding());
                }
            }
            Peek lines = from < 1
                    ? last(open(content.stream(), rules.encoding()), most)
                    : from(content.stream(), rules.encoding(), from, most);
            return lines.in(rules.encoding());
        } catch (FileRejectedException wrong) {
            throw new IOException("it " + wrong.reason().sentence(), wrong);
        }
    }

    private record Opened(InputStream content, Charset charset, Optional<String> packed, boolean isPlain) {}

    private static Opened open(InputStream bytes, Charset charset) throws IOException {
        InputStream content = bytes instanceof Unpacked ? bytes : Unpacked.of(bytes);
        Optional<String> packed =
                content instanceof Unpacked unpacked ? Optional.of(unpacked.format()) : Optional.empty();
        if (isLineByLine(charset)) {
            return new Opened(new BufferedInputStream(content, BLOCK), charset, packed, packed.isEmpty());
        }
        return new Opened(
                new BufferedInputStream(new Transcoded(content, charset), BLOCK),
                java.nio.charset.StandardCharsets.UTF_8,
                packed,
                false);
    }

    /** Whether a line feed is one byte in this encoding and stands for nothing else. */
    private static boolean isLineByLine(Charset charset) {
        return charset.canEncode()
                && java.util.Arrays.equals("\n".getBytes(charset), new byte[] {'\n'})
                && !charset.name().startsWith("UTF-16")
                && !charset.name().startsWith("UTF-32");
    }

    private static Peek peek(List<Raw> raw, Opened opened, boolean more) {
        List<String> ends = raw.stream()
                .map(Raw::end)
                .filter(end -> !end.isEmpty())
                .distinct()
                .sorted()
                .toList();
        return new Peek(
                raw.stream()
                        .map(line -> new Line(line.number, visible(line.bytes, opened.charset), line.cut, List.of()))
                        .toList(),
                opened.packed,
                String.join(", ", ends),
                more,
                "",
                "",
                List.of());
    }

    private Peek in(Charset charset) {
        return new Peek(lines, packed, lineEnds, more, kind, charset.name(), List.of());
    }

    /** Finds the last lines from the end of the file. */
    private static List<Raw> backwards(SeekableByteChannel file, int count) throws IOException {
        long size = file.size();
        int want = BLOCK;
        while (true) {
            int length = (int) Math.min(size, want);
            byte[] tail = new byte[length];
            file.position(size - length);
            if (Channels.newInputStream(file).readNBytes(tail, 0, length) < length) {
                throw new EOFException("it became shorter while it was looked at");
            }
            List<Raw> lines = new ArrayList<>();
            Splitter splitter = new Splitter(new java.io.ByteArrayInputStream(tail));
            for (Raw line = splitter.next(true); line != null; line = splitter.next(true)) {
                lines.add(line);
            }
            boolean whole = length == size;
            if (whole || lines.size() > count || want >= MOST_BACK) {
                int skip = Math.max(
                        whole ? 0 : Math.min(1, lines.size() - 1),
                        lines.size() - count); // the first is but the end of a line
                List<Raw> last = lines.subList(skip, lines.size());
                List<Raw> numbered = new ArrayList<>();
                for (int i = 0; i < last.size(); i++) {
                    Raw line = last.get(i);
                    numbered.add(new Raw(whole ? line.number : i - (long) last.size(), line.bytes, line.end, line.cut));
                }
                return numbered;
            }
            want *= 8;
        }
    }

    /** Splits bytes into lines at LF, CRLF and CR. */
    private static final class Splitter {
        private final InputStream in;
        private long number;
        private int ahead = -2;

        Splitter(InputStream in) {
            this.in = in;
        }

        /** The next line, null at the end; its bytes only where they are wanted. */
        Raw next(boolean wanted) throws IOException {
            int c = ahead == -2 ? in.read() : ahead;
            ahead = -2;
            if (c < 0) {
                return null;
            }
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            long length = 0;
            while (c >= 0 && c != '\n' && c != '\r') {
                if (wanted && length < MOST_CHARACTERS) {
                    bytes.write(c);
                }
                length++;
                c = in.read();
            }
            String end = c == '\n' ? "LF" : c == '\r' ? "CR" : "";
            if (c == '\r') {
                ahead = in.read();
                if (ahead == '\n') {
                    end = "CRLF";
                    ahead = -2;
                }
            }
            return new Raw(++number, bytes.toByteArray(), end, length > MOST_CHARACTERS);
        }
    }

    /** Bytes as text, with everything that cannot be seen in a form that can. */
    static String visible(byte[] bytes, Charset charset) {
        StringBuilder text = new StringBuilder();
        CharsetDecoder decoder = charset.newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        ByteBuffer in = ByteBuffer.wrap(bytes);
        CharBuffer out = CharBuffer.allocate(bytes.length + 2);
        while (true) {
            CoderResult result = decoder.decode(in, out, true);
            out.flip();
            out.codePoints().forEach(c -> show(c, text));
            out.clear();
            if (!result.isError()) {
                break;
            }
            for (int i = 0; i < result.length(); i++) {
                text.append(String.format("\\x%02X", in.get()));
            }
            decoder.reset();
        }
        int end = text.length();
        while (end > 0 && text.charAt(end - 1) == ' ') {
            text.setCharAt(--end, '·'); // spaces at the end of a line
        }
        return text.toString();
    }

    /** A text with everything that cannot be seen in a form that can, up to the length of a line that is shown. */
    static Line line(long number, String text) {
        boolean cut = text.length() > MOST_CHARACTERS;
        StringBuilder shown = new StringBuilder();
        (cut ? text.substring(0, MOST_CHARACTERS) : text).codePoints().forEach(c -> show(c, shown));
        return new Line(number, shown.toString(), cut, List.of());
    }

    /** A row of a sheet, with its cells. */
    static Line row(long number, List<String> cells) {
        Line whole = line(number, String.join(BAR, cells));
        List<String> shown = new ArrayList<>();
        int room = MOST_CHARACTERS;
        for (String cell : cells) {
            String text = line(number, cell).text();
            room -= text.length();
            if (room < 0) {
                break;
            }
            shown.add(text);
        }
        return new Line(number, whole.text(), whole.cut(), shown);
    }

    private static void show(int c, StringBuilder text) {
        int type = Character.getType(c);
        if (c == '\t') {
            text.append("\\t");
        } else if (c < 0x20 || c == 0x7f) {
            text.append(String.format("\\x%02X", c));
        } else if (Character.isISOControl(c)
                || type == Character.FORMAT
                || type == Character.LINE_SEPARATOR
                || type == Character.PARAGRAPH_SEPARATOR
                || (type == Character.SPACE_SEPARATOR && c != ' ')
                || type == Character.SURROGATE
                || type == Character.UNASSIGNED) {
            text.append(String.format("\\u%04X", c));
        } else {
            text.appendCodePoint(c);
        }
    }
}
