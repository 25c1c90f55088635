package dev.hapster.service.catalogue.transaction;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.util.concurrent.Callable;
import java.util.function.ToIntFunction;

/**
 * Answers that were got from one table of the catalogue, each of them as long as nothing is written to that table,
 * whoever writes. Bounded, and let go of where memory is short. Thread-safe; who gets an answer must not change it.
 */
public final class Kept<T> {

    /** Bytes of the heap's greatest size for each piece that is kept. */
    private static final long HEAP_FOR_EACH = 16 << 10;

    private final Transactions transactions;
    private final String table;
    private final Cache<String, Answer<T>> answers;

    private record Answer<T>(Transactions.State state, T value) {}

    /**
     * @param table its name in the catalogue
     * @param pieces how many pieces an answer has, of about a kilobyte each
     */
    public Kept(Transactions transactions, String table, ToIntFunction<T> pieces) {
        this.transactions = transactions;
        this.table = table;
        answers = Caffeine.newBuilder()
                .maximumWeight(Runtime.getRuntime().maxMemory() / HEAP_FOR_EACH)
                .weigher((String key, Answer<T> answer) -> 1 + pieces.applyAsInt(answer.value()))
                .softValues()
                .build();
    }

    /**
     * What the question answers, asked within a transaction of its own where it is not known.
     *
     * @param key what is asked about; the question depends on nothing else
     */
    public T get(String key, Callable<T> question) {
        return transactions.read(() -> {
            Transactions.State now = transactions.state(table);
            Answer<T> kept = answers.getIfPresent(key);
            if (kept != null && kept.state().isSame(now)) {
                return kept.value();
            }
            T value = question.call();
            if (transactions.isQuietSince(now)) {
                answers.put(key, new Answer<>(now, value));
            }
            return value;
        });
    }
}
