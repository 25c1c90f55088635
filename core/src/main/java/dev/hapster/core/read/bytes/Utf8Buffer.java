package dev.hapster.core.read.bytes;

import java.util.Arrays;

/** Characters gathered as UTF-8. Not thread-safe. */
public final class Utf8Buffer {

    public byte[] bytes = new byte[256];
    public int used;

    public void append(char[] text, int from, int count) {
        room(count * 3);
        int out = used;
        for (int i = from, end = from + count; i < end; i++) {
            char c = text[i];
            if (c < 0x80) {
                bytes[out++] = (byte) c;
            } else if (c < 0x800) {
                bytes[out++] = (byte) (0xc0 | c >> 6);
                bytes[out++] = (byte) (0x80 | (c & 0x3f));
            } else if (Character.isHighSurrogate(c) && i + 1 < end && Character.isLowSurrogate(text[i + 1])) {
                int point = Character.toCodePoint(c, text[++i]);
                bytes[out++] = (byte) (0xf0 | point >> 18);
                bytes[out++] = (byte) (0x80 | (point >> 12 & 0x3f));
                bytes[out++] = (byte) (0x80 | (point >> 6 & 0x3f));
                bytes[out++] = (byte) (0x80 | (point & 0x3f));
            } else {
                int point = Character.isSurrogate(c) ? 0xfffd : c; // half a character is none
                bytes[out++] = (byte) (0xe0 | point >> 12);
                bytes[out++] = (byte) (0x80 | (point >> 6 & 0x3f));
                bytes[out++] = (byte) (0x80 | (point & 0x3f));
            }
        }
        used = out;
    }

    private void room(int count) {
        if (bytes.length - used < count) {
            bytes = Arrays.copyOf(bytes, Math.max(bytes.length * 2, used + count));
        }
    }
}
