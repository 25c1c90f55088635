package dev.hapster.core.work;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.function.IntConsumer;

/** Pieces of work of which each is done by whoever comes to it first. */
public final class Together {

    private static final int CORES = Runtime.getRuntime().availableProcessors();

    private Together() {}

    /**
     * Does all pieces. What others wrote is seen by whoever called.
     *
     * @param pieces how many there are, numbered from 0
     * @param shared whether other cores may do some; otherwise they are done in their order
     * @param work done once for each piece, where it is shared by several threads at a time; what it throws is thrown
     *     here, once nobody is at work any more
     */
    public static void each(int pieces, boolean shared, IntConsumer work) {
        AtomicInteger next = new AtomicInteger();
        List<Meanwhile<Boolean>> others = new ArrayList<>();
        for (int i = 1; i < Math.min(shared ? CORES : 1, pieces); i++) {
            others.add(Meanwhile.begin(() -> some(next, pieces, work)));
        }
        try {
            some(next, pieces, work);
            for (Meanwhile<Boolean> other : others) {
                other.getIfBegun();
            }
        } catch (IOException | ExecutionException impossible) {
            throw new IllegalStateException(impossible);
        } finally {
            others.forEach(Meanwhile::drop);
        }
    }

    private static boolean some(AtomicInteger next, int pieces, IntConsumer work) {
        for (int piece = next.getAndIncrement(); piece < pieces; piece = next.getAndIncrement()) {
            work.accept(piece);
        }
        return true;
    }
}
