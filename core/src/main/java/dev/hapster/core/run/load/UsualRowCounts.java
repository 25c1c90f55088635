package dev.hapster.core.run.load;

import dev.hapster.core.catalogue.Part;
import java.util.Arrays;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Pattern;

/**
 * How many rows files of one kind usually have. Of one kind are those whose paths differ in digits only. Three others
 * are needed to tell, and what has less than a third of the rows in their middle, or more than three times as many, and
 * differs by ten at least, is unusual.
 */
public final class UsualRowCounts {

    private static final Pattern DIGITS = Pattern.compile("[0-9]+");
    private static final int FEWEST = 3;
    private static final int FACTOR = 3;
    private static final int LEAST_DIFFERENCE = 10;

    /** Rows of each file, by its path, by its kind. */
    private final Map<String, Map<String, Long>> rows = new HashMap<>();
    /** The same of each kind, sorted; so that judging thousands of files is quick. */
    private final Map<String, long[]> sorted = new HashMap<>();

    private UsualRowCounts() {}

    public static UsualRowCounts of(Collection<Part> parts, String job) {
        UsualRowCounts families = new UsualRowCounts();
        parts.stream().filter(part -> part.job().equals(job)).forEach(part -> families.rows
                .computeIfAbsent(kind(part.source()), kind -> new HashMap<>())
                .merge(part.source(), part.rows(), Long::sum));
        families.rows.forEach((kind, counts) -> families.sorted.put(
                kind,
                counts.values().stream().mapToLong(Long::longValue).sorted().toArray()));
        return families;
    }

    private static String kind(String path) {
        return DIGITS.matcher(path).replaceAll("#");
    }

    /**
     * @param usual rows in the middle of the others
     * @param others how many others there are
     */
    public record Unusual(long usual, int others) {}

    /** Empty where the number of rows is nothing special, or too few others are known. */
    public Optional<Unusual> judge(String path, long count) {
        String kind = kind(path);
        long[] all = sorted.getOrDefault(kind, new long[0]);
        Long own = rows.getOrDefault(kind, Map.of()).get(path);
        int others = all.length - (own == null ? 0 : 1);
        if (others < FEWEST) {
            return Optional.empty();
        }
        int middle = others / 2;
        boolean behindOwn = own != null && Arrays.binarySearch(all, own) <= middle; // the file itself does not count
        long usual = all[behindOwn ? middle + 1 : middle];
        boolean odd = Math.abs(usual - count) >= LEAST_DIFFERENCE && (count * FACTOR < usual || count > usual * FACTOR);
        return odd ? Optional.of(new Unusual(usual, others)) : Optional.empty();
    }
}
