package dev.hapster.core.query.part;

import dev.hapster.core.query.value.QueryException;
import dev.hapster.core.work.Meanwhile;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
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
        List<Meanwhile<T>> others = new ArrayList<>();
        for (int i = 1; i < Math.min(CORES, parts); i++) {
            others.add(Meanwhile.begin(() -> gather(parts, next, over, begin.get(), work)));
        }
        try {
            results.add(gather(parts, next, over, begin.get(), work));
            for (Meanwhile<T> other : others) {
                other.getIfBegun().ifPresent(results::add);
            }
            return results;
        } catch (ExecutionException fault) {
            if (fault.getCause() instanceof QueryException wrong) {
                throw wrong;
            }
            throw new IllegalStateException(fault.getCause());
        } finally {
            over.set(true);
            others.forEach(Meanwhile::drop); // none outlives the question
        }
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
}
