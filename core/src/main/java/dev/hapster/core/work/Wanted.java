package dev.hapster.core.work;

import java.util.function.BooleanSupplier;

/**
 * Says until when somebody wants what a thread is doing, so that work far below that may take hours, such as fetching a
 * file, need not be done to its end. To be closed by the thread that opened it.
 */
public final class Wanted implements AutoCloseable {

    private static final ThreadLocal<BooleanSupplier> OVER = ThreadLocal.withInitial(() -> () -> false);

    private final BooleanSupplier before;

    private Wanted() {
        before = OVER.get();
    }

    /** @param over whether it is not wanted any more; may be asked by several threads, often */
    public static Wanted until(BooleanSupplier over) {
        Wanted wanted = new Wanted();
        OVER.set(over);
        return wanted;
    }

    /** Whether nobody wants any more what this thread does. */
    public static boolean isOver() {
        return OVER.get().getAsBoolean();
    }

    /** What tells other threads whether that which this one does is wanted. */
    public static BooleanSupplier over() {
        return OVER.get();
    }

    @Override
    public void close() {
        OVER.set(before);
    }
}
