package dev.hapster.core.shape;

import dev.hapster.core.definition.JobDef.Clean;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * Applies the cleaning steps of one column to one value after another. The result is a slice, in {@link #bytes} from
 * {@link #from} to {@link #to}, valid until the next call. Works on UTF-8 bytes: since no sequence is part of another,
 * searching and replacing bytes is searching and replacing text. Not thread-safe.
 */
final class Cleaner {

    byte[] bytes;
    int from;
    int to;

    private final List<Step> steps = new ArrayList<>();
    private byte[] scratch = new byte[256];
    private byte[] spare = new byte[256];

    private sealed interface Step {
        record Trim() implements Step {}

        record Case(boolean upper) implements Step {}

        record Swap(byte[] old, byte[] fresh) implements Step {}
    }

    Cleaner(List<Clean> cleaning) {
        for (Clean clean : cleaning) {
            if (clean instanceof Clean.Trim) {
                steps.add(new Step.Trim());
            } else if (clean instanceof Clean.Upper) {
                steps.add(new Step.Case(true));
            } else if (clean instanceof Clean.Lower) {
                steps.add(new Step.Case(false));
            } else if (clean instanceof Clean.Remove remove) {
                remove.texts().forEach(text -> steps.add(new Step.Swap(utf8(text), new byte[0])));
            } else if (clean instanceof Clean.Replace replace) {
                replace.pairs().forEach((old, fresh) -> steps.add(new Step.Swap(utf8(old), utf8(fresh))));
            }
        }
    }

    /** A text after some steps. */
    static String clean(List<Clean> steps, String text) {
        Cleaner cleaner = new Cleaner(steps);
        byte[] bytes = utf8(text);
        cleaner.apply(bytes, 0, bytes.length);
        return cleaner.text();
    }

    void apply(byte[] source, int start, int end) {
        bytes = source;
        from = start;
        to = end;
        for (int i = 0; i < steps.size(); i++) {
            Step step = steps.get(i);
            if (step instanceof Step.Trim) {
                trim();
            } else if (step instanceof Step.Case change) {
                changeCase(change.upper);
            } else if (step instanceof Step.Swap swap) {
                swap(swap.old, swap.fresh);
            }
        }
    }

    /** Takes white space off both ends of the slice. */
    void trim() {
        while (from < to && bytes[from] <= ' ' && bytes[from] >= 0) {
            from++;
        }
        while (from < to && bytes[to - 1] <= ' ' && bytes[to - 1] >= 0) {
            to--;
        }
        if (from < to && (bytes[from] < 0 || bytes[to - 1] < 0)) {
            String text = text();
            int first = 0;
            int last = text.length();
            while (first < last && isSpace(text.codePointAt(first))) {
                first += Character.charCount(text.codePointAt(first));
            }
            while (first < last && isSpace(text.codePointBefore(last))) {
                last -= Character.charCount(text.codePointBefore(last));
            }
            if (last - first < text.length()) {
                take(text.substring(first, last));
            }
        }
    }

    /** White space of any kind: also the no-break spaces, the byte-order mark and the space of no width. */
    static boolean isSpace(int c) {
        return c <= ' ' || Character.isWhitespace(c) || Character.isSpaceChar(c) || c == 0xfeff || c == 0x200b;
    }

    private void changeCase(boolean upper) {
        int count = to - from;
        byte[] target = room(count);
        for (int i = 0; i < count; i++) {
            byte c = bytes[from + i];
            if (c < 0) {
                String text = text();
                take(upper ? text.toUpperCase(Locale.ROOT) : text.toLowerCase(Locale.ROOT));
                return;
            }
            boolean changes = upper ? c >= 'a' && c <= 'z' : c >= 'A' && c <= 'Z';
            target[i] = (byte) (changes ? c ^ 0x20 : c);
        }
        use(target, count);
    }

    private void swap(byte[] old, byte[] fresh) {
        int found = find(old, from);
        if (found < 0) {
            return;
        }
        int most = Math.toIntExact(
                (long) (to - from) + (long) (to - from) / old.length * Math.max(0, fresh.length - old.length));
        byte[] target = room(most);
        int used = 0;
        int at = from;
        while (found >= 0) {
            System.arraycopy(bytes, at, target, used, found - at);
            used += found - at;
            System.arraycopy(fresh, 0, target, used, fresh.length);
            used += fresh.length;
            at = found + old.length;
            found = find(old, at);
        }
        System.arraycopy(bytes, at, target, used, to - at);
        use(target, used + to - at);
    }

    private int find(byte[] wanted, int start) {
        for (int i = start; i <= to - wanted.length; i++) {
            if (bytes[i] == wanted[0] && Arrays.equals(bytes, i, i + wanted.length, wanted, 0, wanted.length)) {
                return i;
            }
        }
        return -1;
    }

    private String text() {
        return new String(bytes, from, to - from, StandardCharsets.UTF_8);
    }

    private void take(String text) {
        bytes = utf8(text);
        from = 0;
        to = bytes.length;
    }

    /** A buffer that does not hold the present slice. */
    private byte[] room(int count) {
        if (bytes == scratch) {
            byte[] other = spare;
            spare = scratch;
            scratch = other;
        }
        if (scratch.length < count) {
            scratch = new byte[count * 2];
        }
        return scratch;
    }

    private void use(byte[] target, int count) {
        bytes = target;
        from = 0;
        to = count;
    }

    static byte[] utf8(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }
}
