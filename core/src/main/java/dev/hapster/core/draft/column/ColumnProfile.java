package dev.hapster.core.draft.column;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.row.RawBatch;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * What is known of the values of one column: how they look, how many are empty, which are frequent, whether any stands
 * twice. Memory does not depend on the number of values. Profiles of several files are merged in the order of the
 * files, so that the outcome does not depend on who was first. Not thread-safe.
 */
public final class ColumnProfile {

    /** Names the place of a value, such as {@code north-03.csv:88}. */
    public interface Place {
        String of(long line);
    }

    /** Different values that are counted one by one. */
    public static final int MOST_VALUES = 60;

    /** Ways to look beyond which a column is free text. */
    private static final int MOST_LOOKS = 64;
    /** Room for the values of a table that are held against each other to see whether one stands twice. */
    private static final int ROOM = 1 << 21;

    private static final int SLOTS = 64;
    private static final long KIND = 0x9e3779b97f4a7c15L;

    private final Place place;
    private long rows;
    private long empties;
    private long padded;
    private int shortest = Integer.MAX_VALUE;
    private int longest;
    private boolean free;
    private final Map<String, Look> looks = new LinkedHashMap<>();
    private final Look[] table = new Look[SLOTS];
    private final Scan scan = new Scan();
    /** Null where there are more than are counted. */
    private ValueCounts counts = new ValueCounts(MOST_VALUES);

    /** Null where a value stands twice. */
    private UniqueValues unique;

    private Look.Witness repeated;
    private Look.Witness empty;
    private Look.Witness freeText;

    /**
     * What one file shows of a column, where many files are put together.
     *
     * @param free as {@link #isFree}
     * @param looks how its values look
     */
    public record Brief(boolean free, Set<String> looks) {}

    /** @param place names the places of values, for evidence */
    public ColumnProfile(Place place) {
        this(place, new UniqueValues.Room(ROOM));
    }

    /** @param room shared by the columns of a table */
    public ColumnProfile(Place place, UniqueValues.Room room) {
        this.place = place;
        unique = new UniqueValues(room);
    }

    /** What is kept of this column of a file once it is merged with others. */
    public Brief brief() {
        return new Brief(free, Set.copyOf(looks.keySet()));
    }

    /** Values seen, empty ones included. */
    public long rows() {
        return rows;
    }

    /** Values that are nothing, or nothing but white space. */
    public long empties() {
        return empties;
    }

    /** Values with white space at an end. */
    public long padded() {
        return padded;
    }

    /** Values that are something. */
    public long filled() {
        return rows - empties;
    }

    /** Characters of the shortest text; 0 where all are empty. */
    public int shortest() {
        return filled() == 0 ? 0 : shortest;
    }

    /** Characters of the longest text; 0 where all are empty. */
    public int longest() {
        return longest;
    }

    /** Whether values look so different from each other that it says nothing. */
    public boolean isFree() {
        return free;
    }

    Collection<Look> looks() {
        settle();
        return looks.values();
    }

    /** A value that is free text, and where it stands. */
    Look.Witness freeText() {
        return freeText;
    }

    /** Where the first empty value stands; null where there is none. */
    Look.Witness empty() {
        return empty;
    }

    /** Each different value with how often it stands there; empty where they are more than {@link #MOST_VALUES}. */
    public Map<String, Long> values() {
        return counts == null ? Map.of() : counts.counts();
    }

    /** Whether {@link #values} are all values there are. */
    public boolean knowsAll() {
        return counts != null;
    }

    /** Whether no value stands twice, as far as was looked. */
    public boolean isUnique() {
        return unique != null && filled() > 0;
    }

    /** Whether the search for a value that stands twice was given up before the end. */
    public boolean isCapped() {
        return unique != null && unique.isFull();
    }

    /** A value that stands twice, where it was met again; empty text where none was. */
    public String twice() {
        return repeated == null || repeated.value().isEmpty() ? "" : repeated.toString();
    }

    /**
     * Takes a value.
     *
     * @param kind as in {@link RawBatch}
     * @param line where it stands
     */
    public void add(byte[] bytes, int start, int stop, byte kind, long line) {
        rows++;
        int from = start;
        int to = stop;
        while (from < to && isSpace(bytes[from])) {
            from++;
        }
        while (from < to && isSpace(bytes[to - 1])) {
            to--;
        }
        if (kind == RawBatch.NOTHING || from == to || kind == RawBatch.FAULT) {
            if (empties++ == 0) {
                empty = new Look.Witness("", place.of(line));
            }
            return;
        }
        padded += to - from < stop - start ? 1 : 0;
        if (counts != null || (unique != null && !unique.isFull())) {
            long hash = hash(bytes, from, to, kind);
            boolean known = counts != null && counts.again(hash);
            if (unique != null && (known || !unique.add(hash))) {
                repeated = new Look.Witness(text(bytes, from, to), place.of(line));
                unique.close();
                unique = null;
            }
            if (known) {
                return; // its look is told how often it was met when somebody asks
            }
            if (counts != null && !counts.add(hash, bytes, from, to, kind)) {
                settle();
                counts = null;
            }
        }
        if (free) {
            lengths(Scan.characters(bytes, from, to));
        } else {
            look(bytes, from, to, kind, line);
        }
    }

    /** Never 0, and never the same for values of different kinds. */
    static long hash(byte[] bytes, int from, int to, byte kind) {
        return Hashing.xxh3_64().hashBytesToLong(bytes, from, to - from) + kind * KIND | 1;
    }

    private static boolean isSpace(byte b) {
        return b >= 0 && b <= ' ';
    }

    private void lengths(int length) {
        shortest = Math.min(shortest, length);
        longest = Math.max(longest, length);
    }

    private static String text(byte[] bytes, int from, int to) {
        return new String(bytes, from, to - from, StandardCharsets.UTF_8);
    }

    private void look(byte[] bytes, int from, int to, byte kind, long line) {
        boolean looked = scan.of(bytes, from, to);
        lengths(scan.characters);
        if (!looked) {
            freeText = new Look.Witness(text(bytes, from, to), place.of(line));
            free = true;
            return;
        }
        int slot = scan.hash + kind & SLOTS - 1;
        Look known = table[slot];
        if (known == null || !known.is(kind, scan)) {
            String text = new String(scan.look, 0, scan.lookLength, StandardCharsets.ISO_8859_1);
            known = looks.computeIfAbsent(kind + text, added -> new Look(kind, text));
            table[slot] = known;
        }
        known.add(scan, bytes, from, to, 1);
        known.witness(scan, bytes, from, to, place, line);
        if (looks.size() > MOST_LOOKS) {
            freeText = known.first;
            free = true;
        }
    }

    /** Tells the looks of values how often these were met again. */
    private void settle() {
        if (counts != null && !free) {
            counts.settle((value, kind, times) -> {
                scan.of(value, 0, value.length);
                String text = new String(scan.look, 0, scan.lookLength, StandardCharsets.ISO_8859_1);
                looks.get(kind + text).add(scan, value, 0, value.length, times);
            });
        }
    }

    /** Adds what is known of the same column of another file, which comes behind. */
    public void merge(ColumnProfile other) {
        rows += other.rows;
        empties += other.empties;
        padded += other.padded;
        shortest = Math.min(shortest, other.shortest);
        longest = Math.max(longest, other.longest);
        empty = empty == null ? other.empty : empty;
        repeated = repeated == null ? other.repeated : repeated;
        freeText = freeText == null ? other.freeText : freeText;
        settle();
        other.settle();
        if (counts != null && (other.counts == null || !counts.addAll(other.counts))) {
            counts = null;
        }
        if (unique != null && (other.unique == null || !unique.addAll(other.unique))) {
            repeated = repeated == null ? new Look.Witness("", place.of(0)) : repeated;
            unique.close();
            unique = null;
        }
        for (Map.Entry<String, Look> one : other.looks.entrySet()) {
            Look own = looks.computeIfAbsent(one.getKey(), added -> new Look(one.getValue().kind, one.getValue().text));
            own.merge(one.getValue());
        }
        free |= other.free || looks.size() > MOST_LOOKS;
        if (free && freeText == null) {
            freeText = looks.values().iterator().next().first;
        }
    }

    /** Some of the values, for people: the most frequent, or the first of each look. */
    public List<String> samples(int most) {
        if (counts != null) {
            return values().entrySet().stream()
                    .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
                    .limit(most)
                    .map(Map.Entry::getKey)
                    .toList();
        }
        List<String> some = new ArrayList<>();
        looks().stream()
                .sorted(java.util.Comparator.comparing((Look look) -> -look.count))
                .limit(most)
                .forEach(look -> some.add(look.first.value()));
        return some;
    }
}
