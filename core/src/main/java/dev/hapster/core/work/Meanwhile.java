package dev.hapster.core.work;

import java.io.IOException;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ForkJoinPool;
import java.util.concurrent.FutureTask;
import java.util.concurrent.atomic.AtomicBoolean;

/**
 * Work that another core may do while whoever began it does something else. Where none has come to it by the time its
 * result is wanted, whoever wants it does the work: nobody waits for work that has not begun, however busy all are.
 * What it writes is seen by whoever has its result. For one owner; its methods are to be called by one thread at a
 * time.
 */
public final class Meanwhile<T> {

    private final AtomicBoolean taken = new AtomicBoolean();
    private final FutureTask<T> task;

    private Meanwhile(Callable<T> work) {
        task = new FutureTask<>(work);
    }

    /** Offers work to other cores. */
    public static <T> Meanwhile<T> begin(Callable<T> work) {
        Meanwhile<T> begun = new Meanwhile<>(work);
        if (ForkJoinPool.getCommonPoolParallelism() > 0) { // otherwise it would be kept there for ever
            ForkJoinPool.commonPool().execute(begun::perform);
        }
        return begun;
    }

    /** Does the work at once, unless somebody has begun; does not wait for it then. */
    public void perform() {
        if (taken.compareAndSet(false, true)) {
            task.run();
        }
    }

    /** Whether it has ended, in whatever way. */
    public boolean isDone() {
        return task.isDone();
    }

    /**
     * What came of it.
     *
     * @throws java.util.concurrent.CancellationException where the work was left before
     * @throws IOException as the work threw it
     * @throws ExecutionException with another exception that is to be caught, as the work threw it
     */
    public T get() throws IOException, ExecutionException {
        perform();
        boolean interrupted = false;
        try {
            while (true) {
                try {
                    return task.get();
                } catch (InterruptedException hurried) {
                    interrupted = true; // what the work uses must not go before it ends
                }
            }
        } catch (ExecutionException fault) {
            if (fault.getCause() instanceof IOException wrong) {
                throw wrong;
            }
            if (fault.getCause() instanceof RuntimeException wrong) {
                throw wrong;
            }
            if (fault.getCause() instanceof Error wrong) {
                throw wrong;
            }
            throw fault;
        } finally {
            if (interrupted) {
                Thread.currentThread().interrupt();
            }
        }
    }

    /**
     * What came of it where somebody has begun; otherwise the work is left.
     *
     * @throws IOException as {@link #get} does
     */
    public Optional<T> getIfBegun() throws IOException, ExecutionException {
        return left() ? Optional.empty() : Optional.of(get());
    }

    /** Whether the work is left for good, now or before; work that has begun is not. */
    private boolean left() {
        if (taken.compareAndSet(false, true)) {
            task.cancel(false); // so that nobody waits for what will never be
        }
        return task.isCancelled();
    }

    /** Waits for its end, whatever that is, where somebody has begun; otherwise the work is left. */
    public void drop() {
        if (left()) {
            return;
        }
        try {
            get();
        } catch (IOException | ExecutionException | RuntimeException given) {
            // nobody wants what came of it
        }
    }
}
