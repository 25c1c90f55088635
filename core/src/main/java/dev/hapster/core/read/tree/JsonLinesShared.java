package dev.hapster.core.read.tree;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.row.RawBatch;
import dev.hapster.core.work.Meanwhile;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.Iterator;
import java.util.Optional;
import java.util.concurrent.ExecutionException;

/**
 * JSON lines of which each holds rows of its own: one thread cuts the file into lines, and every core that has nothing
 * else to do works on some of them. The results come in the order of the file, and so does what is wrong with it. Used
 * by one thread.
 *
 * @param <T> what comes of some lines
 */
final class JsonLinesShared<T> implements AutoCloseable {

    /** Pieces that are worked on, or wait for that. */
    private static final int BEGUN = 2 * Runtime.getRuntime().availableProcessors();
    /** How many there are: the others are the caller's, and the one that is cut off. */
    static final int PIECES = BEGUN + 2;

    /** Lines that are a piece; fewer where they have many fields. */
    static final int LINES = 256;

    /** What is done with some lines. */
    interface Work<T> {
        /**
         * @param piece below {@link #PIECES}; used anew when the caller asks for what comes next but one
         * @param lines each of them one field, for {@link #give}
         */
        T on(int piece, RawBatch lines) throws IOException, FileRejectedException;
    }

    private final InputStream in;
    private final DelimitedReader lines;
    private final Work<T> work;
    private final RawBatch cut;
    private final RawBatch[] pieces;
    private final Deque<Meanwhile<T>> begun = new ArrayDeque<>();
    private int turn;
    private boolean ended;
    /** Why no more lines can be had; null where that is the file's end. */
    private Exception unreadable;

    /**
     * @param in closed with this
     * @param rules of the job, which say how its files are encoded
     * @param most lines that are worked on as one piece
     */
    JsonLinesShared(InputStream in, Read rules, int most, Work<T> work) throws IOException, FileRejectedException {
        this.in = in;
        this.work = work;
        lines = new DelimitedReader(in, DelimitedReader.lines(rules));
        cut = new RawBatch(1, most);
        pieces = new RawBatch[PIECES];
        lines.header();
    }

    /** What came of the next lines; empty behind the last. */
    Optional<T> next() throws IOException, FileRejectedException {
        while (!ended && begun.size() < BEGUN) {
            begin();
        }
        if (begun.isEmpty()) {
            if (unreadable instanceof FileRejectedException wrong) {
                throw wrong;
            }
            if (unreadable instanceof IOException wrong) {
                throw wrong;
            }
            return Optional.empty();
        }
        Meanwhile<T> oldest = begun.remove();
        oldest.perform();
        for (Iterator<Meanwhile<T>> others = begun.iterator(); !oldest.isDone() && others.hasNext(); ) {
            others.next().perform(); // rather than wait
        }
        try {
            return Optional.of(oldest.get());
        } catch (ExecutionException fault) {
            if (fault.getCause() instanceof FileRejectedException wrong) {
                throw wrong;
            }
            throw new IllegalStateException(fault.getCause());
        }
    }

    private void begin() {
        try {
            ended = !lines.next(cut);
        } catch (FileRejectedException | IOException wrong) { // what stands before that comes first
            unreadable = wrong;
            ended = true;
        }
        if (!ended) {
            int piece = turn++ % PIECES;
            if (pieces[piece] == null) { // a small file has but one
                pieces[piece] = new RawBatch(1, cut.capacity);
            }
            pieces[piece].take(cut);
            begun.add(Meanwhile.begin(() -> work.on(piece, pieces[piece])));
        }
    }

    /** Gives what all lines hold to a sink. */
    static void give(RawBatch lines, TreeSink sink) throws IOException, FileRejectedException {
        for (int row = 0; row < lines.rows; row++) {
            JsonLinesSource.give(lines, row, sink);
        }
    }

    @Override
    public void close() throws IOException {
        begun.forEach(Meanwhile::drop);
        in.close();
    }
}
