package dev.hapster.core.remote;

import dev.hapster.core.work.LogMark;
import dev.hapster.core.work.Wanted;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.BooleanSupplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Fetches files that will be read soon, some at once and no more than there is room for, so that readers seldom wait
 * for the network. What cannot be fetched is left to whoever reads it, who will meet the same. To be closed when
 * nothing more is read.
 */
public final class Ahead implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(Ahead.class);
    private static final int AT_ONCE = 4;
    /** Nothing more is fetched ahead while copies are larger than this together. */
    private static final long ROOM = 256L << 20;

    private static final long PAUSE = 10;

    private final BooleanSupplier over = Wanted.over();
    private final List<RemotePath> files;
    private final Spool spool;
    private final AtomicInteger next = new AtomicInteger();
    private volatile boolean closed;

    private Ahead(List<RemotePath> files, Spool spool) {
        this.files = List.copyOf(files);
        this.spool = spool;
    }

    /** Begins; the first of the files come first. */
    static Ahead begin(List<RemotePath> files, Spool spool) {
        Ahead ahead = new Ahead(files, spool);
        for (int i = 0; i < Math.min(AT_ONCE, files.size()); i++) {
            Thread thread = new Thread(LogMark.alike(ahead::fetch), "fetch-ahead-" + (i + 1));
            thread.setDaemon(true);
            thread.start();
        }
        return ahead;
    }

    @SuppressWarnings("try") // it acts by being open
    private void fetch() {
        try (Wanted wanted = Wanted.until(() -> closed || over.getAsBoolean())) {
            fetchAll();
        }
    }

    private void fetchAll() {
        for (int i = next.getAndIncrement(); i < files.size() && !Wanted.isOver(); i = next.getAndIncrement()) {
            try {
                while (spool.bytes() > ROOM && !Wanted.isOver()) {
                    Thread.sleep(PAUSE);
                }
                try (FileChannel copy = spool.open(files.get(i))) {
                    LOG.trace("{} is here, {} bytes", files.get(i), copy.size());
                }
            } catch (IOException | RuntimeException wrong) {
                LOG.debug("{} could not be fetched ahead", files.get(i), wrong);
                return; // perhaps nothing can be had any more
            } catch (InterruptedException nobody) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    @Override
    public void close() {
        closed = true;
    }
}
