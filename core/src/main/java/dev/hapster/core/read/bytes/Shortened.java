package dev.hapster.core.read.bytes;

import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayDeque;
import java.util.Arrays;
import java.util.Deque;

/** A text without its last lines. Holds back as many lines as it leaves out, and no more. Not thread-safe. */
public final class Shortened extends BlockInput {

    private static final int CHUNK = 64 * 1024;

    private final InputStream source;
    private final int lines;
    /** What was read and not yet given on. */
    private byte[] held = new byte[CHUNK];

    private int from;
    private int to;
    /** Where lines end in what is held, behind their line feed; of those that are held back and the one before them. */
    private final Deque<Integer> ends = new ArrayDeque<>();

    private int free;
    private boolean ended;

    public Shortened(InputStream source, int lines) {
        this.source = source;
        this.lines = lines;
    }

    @Override
    public int read(byte[] target, int offset, int length) throws IOException {
        while (from == free) {
            if (ended) {
                return -1;
            }
            more();
        }
        int count = Math.min(length, free - from);
        System.arraycopy(held, from, target, offset, count);
        from += count;
        return count;
    }

    private void more() throws IOException {
        if (from > 0) {
            System.arraycopy(held, from, held, 0, to - from);
            int moved = from;
            ends.addAll(drain(moved));
            to -= moved;
            free -= moved;
            from = 0;
        }
        if (held.length - to < CHUNK) {
            held = Arrays.copyOf(held, held.length * 2);
        }
        int count = source.read(held, to, CHUNK);
        if (count < 0) {
            ended = true;
            if (to > 0 && held[to - 1] != '\n') {
                end(to); // the last line has no line end
            }
            return;
        }
        for (int at = to; at < to + count; at++) {
            if (held[at] == '\n') {
                end(at + 1);
            }
        }
        to += count;
    }

    private Deque<Integer> drain(int moved) {
        Deque<Integer> shifted = new ArrayDeque<>();
        while (!ends.isEmpty()) {
            shifted.add(ends.poll() - moved);
        }
        return shifted;
    }

    /** Another line is known to end here: the one that lies so many lines before may go. */
    private void end(int at) {
        ends.add(at);
        if (ends.size() > lines) {
            free = ends.poll();
        }
    }
}
