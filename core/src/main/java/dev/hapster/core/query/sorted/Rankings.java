package dev.hapster.core.query.sorted;

import dev.hapster.core.query.filter.Where;
import dev.hapster.core.query.part.PartFile;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;

/**
 * Where the first rows of lists stand that were asked for lately, so that the next page of one is not looked for again.
 * Parts never change under their names: what is known holds for as long as a dataset has the same parts. Holds a
 * million rows at most. Thread-safe.
 */
public final class Rankings {

    private static final int MOST_ROWS = 1_000_000;
    private static final int MOST_QUESTIONS = 32;

    /** What was asked. */
    public record Question(List<PartFile> parts, List<Sort> sorts, Where where) {}

    /**
     * The first rows of a list.
     *
     * @param files for each row the number of its file
     * @param rows its number in that file
     * @param whole whether the list has no others
     */
    public record Ranking(int[] files, long[] rows, boolean whole) {

        public static Ranking of(List<Spot> spots, boolean whole) {
            return new Ranking(
                    spots.stream().mapToInt(Spot::file).toArray(),
                    spots.stream().mapToLong(Spot::row).toArray(),
                    whole);
        }

        /** Whether the first so many rows are known. */
        public boolean has(int count) {
            return whole || rows.length >= count;
        }
    }

    private final Map<Question, Ranking> rankings = new LinkedHashMap<>(16, 0.75f, true);
    private final Map<Question, Long> totals = new LinkedHashMap<>(16, 0.75f, true);
    private long held;

    /** The order that was found for the question before, if it is still kept. */
    public synchronized Optional<Ranking> find(Question question) {
        return Optional.ofNullable(rankings.get(question));
    }

    /** Keeps an order. Those not asked for longest go where all together are too large. */
    public synchronized void put(Question question, Ranking ranking) {
        Ranking before = rankings.put(question, ranking);
        held += ranking.rows.length - (before == null ? 0 : before.rows.length);
        while (rankings.size() > MOST_QUESTIONS || held > MOST_ROWS) {
            held -= removeOldest(rankings).rows.length;
        }
    }

    /** How many rows the question has, if that was found before and is still kept. */
    public synchronized OptionalLong total(Question question) {
        Long known = totals.get(question);
        return known == null ? OptionalLong.empty() : OptionalLong.of(known);
    }

    /** Keeps how many rows the question has. */
    public synchronized void putTotal(Question question, long total) {
        totals.put(question, total);
        if (totals.size() > MOST_QUESTIONS) {
            removeOldest(totals);
        }
    }

    private static <T> T removeOldest(Map<Question, T> from) {
        return from.remove(from.keySet().iterator().next());
    }
}
