package dev.hapster.core.draft.reading;

import com.ibm.icu.text.CharsetDetector;
import com.ibm.icu.text.CharsetMatch;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.reason.FileRejectedException;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.ByteBuffer;
import java.nio.CharBuffer;
import java.nio.charset.Charset;
import java.nio.charset.CharsetDecoder;
import java.nio.charset.CoderResult;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.Optional;

/**
 * The beginning of a text file in characters, and what its bytes say of the encoding.
 *
 * @param text the first whole lines
 * @param whole whether that is all of the file
 * @param charset in which it is written
 * @param ascii whether it holds nothing but ASCII, so that most encodings would do
 * @param why what the encoding rests on
 * @param doubt what nothing decides about the encoding; empty where it is sure
 */
record Head(String text, boolean whole, Charset charset, boolean ascii, String why, String doubt) {

    /** Bytes of a file of which lines are looked at. */
    static final int BYTES = 1 << 18;
    /** Bytes of a file that are looked at for the encoding. */
    private static final long ENCODING_BYTES = 32L << 20;

    private static final int STRANGE = 1 << 16;
    private static final Charset WINDOWS = Charset.forName("windows-1252");
    /** What another encoding must have ahead of the most common one of western texts, of 100. */
    private static final int AHEAD = 15;

    /** @param chosen the encoding that people say it is; empty where it is found out */
    static Head of(Content content, Optional<Charset> chosen) throws IOException, FileRejectedException {
        if (chosen.isPresent()) {
            try (InputStream in = content.stream()) {
                byte[] start = in.readNBytes(BYTES);
                return head(start, start.length < BYTES, chosen.get(), false, ReadChoice.WHY, "");
            }
        }
        return of(content);
    }

    private static Head of(Content content) throws IOException, FileRejectedException {
        byte[] first;
        boolean whole;
        ByteArrayOutputStream strange = new ByteArrayOutputStream();
        Utf8 utf8 = new Utf8();
        try (InputStream in = content.stream()) {
            first = in.readNBytes(BYTES);
            whole = first.length < BYTES;
            utf8.add(first, first.length, strange);
            byte[] more = new byte[1 << 16];
            for (long seen = first.length; !whole && seen < ENCODING_BYTES; ) {
                int count = in.readNBytes(more, 0, more.length);
                utf8.add(more, count, strange);
                seen += count;
                if (count < more.length) {
                    break;
                }
            }
        }
        if (marked(first, StandardCharsets.UTF_8) != null) {
            return head(first, whole, StandardCharsets.UTF_8, false, "begins with the mark of UTF-8", "");
        }
        for (Charset wide : new Charset[] {StandardCharsets.UTF_16LE, StandardCharsets.UTF_16BE}) {
            if (marked(first, wide) != null || zeros(first, wide)) {
                String why = marked(first, wide) != null ? "begins with the mark of " : "every other byte is 0, as in ";
                return head(first, whole, wide, false, why + wide.name(), "");
            }
        }
        if (utf8.valid) {
            boolean ascii = !utf8.any;
            return head(
                    first,
                    whole,
                    StandardCharsets.UTF_8,
                    ascii,
                    ascii
                            ? "nothing but ASCII"
                            : "all bytes are valid UTF-8, " + utf8.characters + " characters beyond ASCII",
                    "");
        }
        return single(first, whole, strange.toByteArray(), utf8.wrong);
    }

    private static Head single(byte[] first, boolean whole, byte[] strange, long wrong) {
        CharsetDetector detector = new CharsetDetector();
        detector.setText(strange);
        CharsetMatch best = null;
        int western = 0;
        for (CharsetMatch match : detector.detectAll()) {
            if (!Charset.isSupported(match.getName()) || match.getName().startsWith("UTF")) {
                continue;
            }
            boolean latin =
                    match.getName().equals("ISO-8859-1") || match.getName().equals("windows-1252");
            western = latin ? Math.max(western, match.getConfidence()) : western;
            best = best == null ? match : best;
        }
        boolean west = best == null
                || best.getName().equals("ISO-8859-1")
                || best.getConfidence() < western + AHEAD
                || best.getConfidence() < 2 * AHEAD;
        Charset charset = west ? WINDOWS : Charset.forName(best.getName());
        String word = word(strange, charset);
        return head(
                first,
                whole,
                charset,
                false,
                "byte " + wrong + " is not UTF-8; read so it gives " + word,
                west && western < 2 * AHEAD && best != null && !best.getName().equals("ISO-8859-1")
                        ? "few characters beyond ASCII (" + word + "), so the encoding is not sure"
                        : "");
    }

    /** A word with a character beyond ASCII. */
    private static String word(byte[] strange, Charset charset) {
        String text = new String(strange, charset);
        int at = 0;
        while (at < text.length() && text.charAt(at) < 0x80) {
            at++;
        }
        int from = at;
        int to = Math.min(at + 1, text.length());
        while (from > 0 && Character.isLetter(text.charAt(from - 1))) {
            from--;
        }
        while (to < text.length() && Character.isLetter(text.charAt(to))) {
            to++;
        }
        return '"' + text.substring(from, Math.min(to, from + 40)) + '"';
    }

    private static byte[] marked(byte[] bytes, Charset charset) {
        byte[] mark = "\ufeff".getBytes(charset);
        for (int i = 0; i < mark.length; i++) {
            if (i >= bytes.length || bytes[i] != mark[i]) {
                return null;
            }
        }
        return mark;
    }

    private static boolean zeros(byte[] bytes, Charset charset) {
        int side = charset.equals(StandardCharsets.UTF_16LE) ? 1 : 0;
        int pairs = Math.min(bytes.length, 4096) / 2;
        int zeros = 0;
        for (int i = 0; i < pairs; i++) {
            zeros += bytes[2 * i + side] == 0 && bytes[2 * i + 1 - side] != 0 ? 1 : 0;
        }
        return pairs > 4 && zeros > pairs * 0.7;
    }

    private static Head head(byte[] first, boolean whole, Charset charset, boolean ascii, String why, String doubt) {
        String text = new String(first, charset);
        text = text.startsWith("\ufeff") ? text.substring(1) : text;
        if (!whole) {
            int end = Math.max(text.lastIndexOf('\n'), text.lastIndexOf('\r'));
            text = end < 0 ? text : text.substring(0, end + 1);
        }
        return new Head(text, whole, charset, ascii, why, doubt);
    }

    /** Sees whether bytes are UTF-8, and keeps the lines of which some are not ASCII. */
    private static final class Utf8 {
        private final CharsetDecoder decoder = StandardCharsets.UTF_8
                .newDecoder()
                .onMalformedInput(CodingErrorAction.REPORT)
                .onUnmappableCharacter(CodingErrorAction.REPORT);
        private final CharBuffer sink = CharBuffer.allocate(1 << 12);
        private byte[] rest = new byte[0];
        private long seen;
        boolean valid = true;
        boolean any;
        long characters;
        long wrong;

        void add(byte[] bytes, int count, ByteArrayOutputStream strange) {
            for (int i = 0; i < count; i++) {
                if (bytes[i] < 0) {
                    any = true;
                    int from = i;
                    int to = i + 1;
                    while (from > 0 && i - from < 24 && bytes[from - 1] >= ' ') {
                        from--;
                    }
                    while (to < count && to - i < 24 && (bytes[to] < 0 || bytes[to] >= ' ')) {
                        to++;
                    }
                    if (strange.size() < STRANGE) {
                        strange.write(bytes, from, to - from);
                        strange.write(' ');
                    }
                    characters += (bytes[i] & 0xc0) != 0x80 ? 1 : 0;
                    i = valid ? i : to;
                }
            }
            if (valid && any) {
                decode(bytes, count);
            } else {
                seen += count;
            }
        }

        private void decode(byte[] bytes, int count) {
            ByteBuffer in = ByteBuffer.allocate(rest.length + count);
            in.put(rest).put(bytes, 0, count).flip();
            while (in.hasRemaining()) {
                sink.clear();
                CoderResult result = decoder.decode(in, sink, false);
                if (result.isError()) {
                    valid = false;
                    wrong = seen - rest.length + in.position() + 1;
                    return;
                }
                if (result.isUnderflow()) {
                    break;
                }
            }
            seen += count;
            rest = new byte[in.remaining()];
            in.get(rest);
        }
    }
}
