package dev.hapster.core.run;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.List;
import java.util.concurrent.AbstractExecutorService;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.TimeUnit;

/**
 * What one run has of the workers that all runs share: no more than one for each core, so that files that keep them
 * busy leave some to others. Thread-safe.
 */
public final class WorkerShare extends AbstractExecutorService {

    private final ExecutorService workers;
    private final int most;
    private final Deque<Runnable> waiting = new ArrayDeque<>();
    private int busy;
    private boolean shut;

    /** @param most how many of the workers */
    public WorkerShare(ExecutorService workers, int most) {
        this.workers = workers;
        this.most = most;
    }

    @Override
    public synchronized void execute(Runnable work) {
        waiting.add(work);
        next();
    }

    private synchronized void next() {
        if (busy < most && !waiting.isEmpty()) {
            busy++;
            Runnable work = waiting.remove();
            workers.execute(() -> {
                try {
                    work.run();
                } finally {
                    over();
                }
            });
        }
    }

    private synchronized void over() {
        busy--;
        notifyAll();
        next();
    }

    @Override
    public synchronized void shutdown() {
        shut = true;
    }

    @Override
    public synchronized List<Runnable> shutdownNow() {
        shut = true;
        List<Runnable> left = List.copyOf(waiting);
        waiting.clear();
        return left;
    }

    @Override
    public synchronized boolean isShutdown() {
        return shut;
    }

    @Override
    public synchronized boolean isTerminated() {
        return shut && busy == 0 && waiting.isEmpty();
    }

    @Override
    public synchronized boolean awaitTermination(long timeout, TimeUnit unit) throws InterruptedException {
        long end = System.nanoTime() + unit.toNanos(timeout);
        while (!isTerminated() && System.nanoTime() < end) {
            TimeUnit.NANOSECONDS.timedWait(this, Math.max(1, end - System.nanoTime()));
        }
        return isTerminated();
    }
}
