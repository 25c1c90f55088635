package dev.hapster.core.query;

import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.Supplier;

/**
 * Goes through parts on several cores. Whoever asks works, too, and never waits for a helper that has not begun: a
 * question comes to its end however busy the others are.
 */
final class Spread {

    private static final int CORES = Runtime.getRuntime().availableProcessors();

    private Spread() {}

    /** What is done with one part. Called by one thread at a time for each {@code result}. */
    interface PartWork<T> {
        void perform(int part, T result) throws IOException, QueryException;
    }

    /**
     * Each worker has a result of its own, into which it gathers what it finds in the parts that it comes to, in
     * ascending order. The first fault ends the work of all.
     *
     * @param parts how many there are, numbered from 0
     * @return the results, of which there is at least one
     */
    static <T> List<T> over(int parts, Supplier<T> begin, PartWork<T> work) throws IOException, QueryException {
        AtomicInteger next = new AtomicInteger();
        AtomicBoolean over = new AtomicBoolean();
        List<T> results = new ArrayList<>();
        List<Helper<T>> helpers = new ArrayList<>();
        for (int i = 1; i < Math.min(CORES, parts); i++) {
            Helper<T> helper = new Helper<>(() -> gather(parts, next, over, begin.get(), work));
            helpers.add(helper);
            ForkJoinPool.commonPool().execute(helper);
        }
        try {
            results.add(gather(parts, next, over, begin.get(), work));
        } catch (Exception | Error fault) {
            over.set(true);
            throw fault;
        } finally {
            for (Helper<T> helper : helpers) {
                helper.end();
            }
        }
        for (Helper<T> helper : helpers) {
            helper.addTo(results);
        }
        return results;
    }

    private static <T> T gather(int parts, AtomicInteger next, AtomicBoolean over, T result, PartWork<T> work)
            throws IOException, QueryException {
        try {
            for (int part = next.getAndIncrement(); part < parts && !over.get(); part = next.getAndIncrement()) {
                work.perform(part, result);
            }
            return result;
        } catch (IOException | QueryException | RuntimeException | Error fault) {
            over.set(true);
            throw fault;
        }
    }

    private interface Gathering<T> {
        T gather() throws IOException, QueryException;
    }

    /** Work that somebody else may take on, or nobody. */
    private static final class Helper<T> implements Runnable {
        private final AtomicBoolean taken = new AtomicBoolean();
        private final FutureTask<T> task;
        private boolean needless;

        Helper(Gathering<T> gathering) {
            task = new FutureTask<>(gathering::gather);
        }

        @Override
        public void run() {
            if (taken.compareAndSet(false, true)) {
                task.run();
            }
        }

        /** Waits for it, where it has begun. */
        void end() {
            needless = taken.compareAndSet(false, true);
            boolean interrupted = false;
            while (!needless && !task.isDone()) {
                try {
                    task.get();
                } catch (InterruptedException hurried) {
                    interrupted = true; // it reads on, and must not outlive the question
                } catch (ExecutionException told) {
                    break; // told by addTo
                }
            }
            if (interrupted) {
                Thread.currentThread().interrupt();
            }
        }

        void addTo(List<T> results) throws IOException, QueryException {
            if (needless) {
                return;
            }
            try {
                results.add(task.get());
            } catch (InterruptedException impossible) {
                Thread.currentThread().interrupt();
                throw new IllegalStateException("It is done", impossible);
            } catch (ExecutionException fault) {
                if (fault.getCause() instanceof IOException wrong) {
                    throw wrong;
                }
                if (fault.getCause() instanceof QueryException wrong) {
                    throw wrong;
                }
                if (fault.getCause() instanceof RuntimeException wrong) {
                    throw wrong;
                }
                throw new IllegalStateException(fault.getCause());
            }
        }
    }
}
