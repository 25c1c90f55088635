package dev.hapster.service.work;

import java.io.IOException;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;

/**
 * Does something again and again, in a thread of its own, until it is stopped. What goes wrong is logged once, as long
 * as it is the same, and tried again with the next turn; so is a turn for which there was too little memory. Nobody is
 * interrupted: that would close the catalogue's file. Who stops it waits for a turn, never for a pause.
 */
public final class Repeating {

    private static final long PATIENCE = 10_000;

    private final String name;
    private final long pause;
    private final Turn turn;
    private final Logger log;
    private final String trouble;
    private final CountDownLatch stopped = new CountDownLatch(1);
    private Thread thread;

    /** What is done in each turn. */
    public interface Turn {
        void perform() throws IOException;
    }

    /**
     * @param name of the thread
     * @param pause milliseconds between two turns
     * @param trouble what is logged where a turn fails
     */
    public Repeating(String name, long pause, Turn turn, Logger log, String trouble) {
        this.name = name;
        this.pause = pause;
        this.turn = turn;
        this.log = log;
        this.trouble = trouble;
    }

    /** Begins, once. */
    public void start() {
        thread = new Thread(this::follow, name);
        thread.setDaemon(true);
        thread.start();
    }

    /** Whether it has been stopped; a turn that takes long asks for it. */
    public boolean isStopping() {
        return stopped.getCount() == 0;
    }

    /** Stops it, and waits up to ten seconds for the turn that is going on. */
    public void stop() throws InterruptedException {
        stopped.countDown();
        if (thread != null) {
            thread.join(PATIENCE);
        }
    }

    private void follow() {
        String before = "";
        boolean over = isStopping();
        while (!over) {
            try {
                turn.perform();
                before = "";
            } catch (IOException | RuntimeException | OutOfMemoryError | StackOverflowError wrong) {
                String why = String.valueOf(wrong.getMessage());
                if (!why.equals(before)) {
                    log.warn(trouble, wrong);
                }
                before = why;
            }
            over = isStoppedWithinPause();
        }
    }

    private boolean isStoppedWithinPause() {
        try {
            return stopped.await(pause, TimeUnit.MILLISECONDS);
        } catch (InterruptedException nobody) {
            Thread.currentThread().interrupt();
            return true;
        }
    }
}
