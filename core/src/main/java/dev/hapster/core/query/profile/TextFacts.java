package dev.hapster.core.query.profile;

import dev.hapster.core.row.Vector;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;

/** Lengths, spaces and invisible characters of texts, and which comes first and last. Not thread-safe. */
final class TextFacts {

    int shortest = Integer.MAX_VALUE;
    byte[] shortestText;
    int longest = -1;
    byte[] longestText;
    long strayRows;
    long controlRows;
    private byte[] first;
    private byte[] last;

    void add(Vector.Bytes texts, int row, long times) {
        byte[] data = texts.data;
        int from = texts.from[row];
        int to = from + texts.length[row];
        int characters = 0;
        boolean control = false;
        boolean doubled = false;
        byte before = 0;
        for (int i = from; i < to; i++) {
            byte b = data[i];
            characters += (b & 0xC0) == 0x80 ? 0 : 1;
            control |= (b >= 0 && b < ' ') || b == 0x7F;
            doubled |= b == ' ' && before == ' ';
            before = b;
        }
        strayRows += doubled || endsInSpace(data, from, to) ? times : 0;
        controlRows += control ? times : 0;
        if (characters < shortest) {
            shortest = characters;
            shortestText = Arrays.copyOfRange(data, from, to);
        }
        if (characters > longest) {
            longest = characters;
            longestText = Arrays.copyOfRange(data, from, to);
        }
        if (first == null || Arrays.compareUnsigned(data, from, to, first, 0, first.length) < 0) {
            first = Arrays.copyOfRange(data, from, to);
        }
        if (last == null || Arrays.compareUnsigned(data, from, to, last, 0, last.length) > 0) {
            last = Arrays.copyOfRange(data, from, to);
        }
    }

    /** Whether there is white space at an end: of ASCII, or a no-break space. */
    private static boolean endsInSpace(byte[] data, int from, int to) {
        return to > from
                && (isSpace(data[from])
                        || isSpace(data[to - 1])
                        || isNoBreak(data, from, to)
                        || isNoBreak(data, to - 2, to));
    }

    private static boolean isSpace(byte b) {
        return b == ' ' || (b >= '\t' && b <= '\r');
    }

    private static boolean isNoBreak(byte[] data, int at, int to) {
        return at >= 0 && at + 1 < to && data[at] == (byte) 0xC2 && data[at + 1] == (byte) 0xA0;
    }

    void merge(TextFacts other) {
        strayRows += other.strayRows;
        controlRows += other.controlRows;
        if (other.shortest < shortest) {
            shortest = other.shortest;
            shortestText = other.shortestText;
        }
        if (other.longest > longest) {
            longest = other.longest;
            longestText = other.longestText;
        }
        first = first == null || (other.first != null && Arrays.compareUnsigned(other.first, first) < 0)
                ? other.first
                : first;
        last = last == null || (other.last != null && Arrays.compareUnsigned(other.last, last) > 0) ? other.last : last;
    }

    String first() {
        return text(first);
    }

    String last() {
        return text(last);
    }

    static String text(byte[] bytes) {
        return bytes == null ? null : new String(bytes, StandardCharsets.UTF_8);
    }
}
