package dev.hapster.core.draft.column;

import com.dynatrace.hash4j.hashing.Hashing;
import dev.hapster.core.row.RawBatch;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

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

    private static final int LONGEST_LOOK = 40;
    private static final int MOST_LETTER_RUNS = 4;
    /** Values that are held against each other to see whether one stands twice, at most. */
    private static final int MOST_UNIQUE = 1 << 21;

    private static final int SLOTS = 256;

    private final Place place;
    private long rows;
    private long empties;
    private long padded;
    private int shortest = Integer.MAX_VALUE;
    private int longest;
    private boolean free;
    private final Map<String, Look> looks = new LinkedHashMap<>();
    private final Look[] table = new Look[SLOTS];
    private final byte[] scratch = new byte[LONGEST_LOOK + 1];
    private int scratchLength;
    private Look lastLook;
    private byte[] lastKey = new byte[0];
    /** Null where there are more than are counted. */
    private Distinct distinct = new Distinct();

    private LongSet unique = new LongSet();
    private boolean capped;
    private Look.Witness repeated;
    private Look.Witness empty;
    private Look.Witness freeText;

    /** @param place names the places of values, for evidence */
    public ColumnProfile(Place place) {
        this.place = place;
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

    public int shortest() {
        return filled() == 0 ? 0 : shortest;
    }

    public int longest() {
        return longest;
    }

    /** Whether values look so different from each other that it says nothing. */
    public boolean isFree() {
        return free;
    }

    Collection<Look> looks() {
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
        return distinct == null ? Map.of() : distinct.counts();
    }

    /** Whether {@link #values} are all values there are. */
    public boolean knowsAll() {
        return distinct != null;
    }

    /** Whether no value stands twice, as far as was looked. */
    public boolean isUnique() {
        return unique != null && filled() > 0;
    }

    /** Whether the search for a value that stands twice was given up before the end. */
    public boolean isCapped() {
        return capped;
    }

    /** A value that stands twice, where it was met again; empty text where none was. */
    public String twice() {
        return repeated == null || repeated.value().isEmpty() ? "" : repeated.toString();
    }

    static boolean isLetter(byte b) {
        return b < 0 || (b >= 'a' && b <= 'z') || (b >= 'A' && b <= 'Z');
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
        while (from < to && isSpace(bytes, from)) {
            from++;
        }
        while (from < to && isSpace(bytes, to - 1)) {
            to--;
        }
        if (kind == RawBatch.NOTHING || from == to || kind == RawBatch.FAULT) {
            if (empties++ == 0) {
                empty = new Look.Witness("", place.of(line));
            }
            return;
        }
        padded += from > start || to < stop ? 1 : 0;
        int length = length(bytes, from, to);
        shortest = Math.min(shortest, length);
        longest = Math.max(longest, length);
        if ((unique != null && !capped) || distinct != null) {
            long hash = Hashing.xxh3_64().hashBytesToLong(bytes, from, to - from) | 1;
            if (unique != null && !capped) {
                unique(hash, bytes, from, to, line);
            }
            if (distinct != null && !distinct.add(hash, bytes, from, to)) {
                distinct = null;
            }
        }
        if (!free) {
            look(bytes, from, to, kind, line);
        }
    }

    private static boolean isSpace(byte[] bytes, int at) {
        return bytes[at] >= 0 && bytes[at] <= ' ';
    }

    private static int length(byte[] bytes, int from, int to) {
        int length = 0;
        for (int i = from; i < to; i++) {
            length += (bytes[i] & 0xc0) == 0x80 ? 0 : 1;
        }
        return length;
    }

    private static String text(byte[] bytes, int from, int to) {
        return new String(bytes, from, to - from, StandardCharsets.UTF_8);
    }

    private void unique(long hash, byte[] bytes, int from, int to, long line) {
        if (!unique.add(hash)) {
            repeated = new Look.Witness(text(bytes, from, to), place.of(line));
            unique = null;
        } else {
            capped = unique.size() >= MOST_UNIQUE;
        }
    }

    private void look(byte[] bytes, int from, int to, byte kind, long line) {
        if (!key(bytes, from, to)) {
            freeText = new Look.Witness(text(bytes, from, to), place.of(line));
            free = true;
            return;
        }
        if (lastLook != null
                && lastLook.kind == kind
                && Arrays.equals(lastKey, 0, lastKey.length, scratch, 0, scratchLength)) {
            lastLook.add(bytes, from, to, place, line);
            return;
        }
        int slot = (kind * 31 + Arrays.hashCode(Arrays.copyOf(scratch, scratchLength))) & (SLOTS - 1);
        String text = new String(scratch, 0, scratchLength, StandardCharsets.ISO_8859_1);
        Look known = table[slot];
        if (known == null || known.kind != kind || !known.text.equals(text)) {
            byte of = kind;
            known = looks.computeIfAbsent(of + text, added -> new Look(of, text));
            table[slot] = known;
        }
        lastLook = known;
        lastKey = Arrays.copyOf(scratch, scratchLength);
        known.add(bytes, from, to, place, line);
        if (looks.size() > MOST_LOOKS) {
            freeText = known.first;
            free = true;
        }
    }

    /** Writes how a value looks; false where it is free text. */
    private boolean key(byte[] bytes, int from, int to) {
        int length = 0;
        int letters = 0;
        for (int at = from; at < to; ) {
            byte b = bytes[at];
            if (b >= '0' && b <= '9') {
                int run = at;
                while (at < to && bytes[at] >= '0' && bytes[at] <= '9') {
                    at++;
                }
                b = length > 0 && scratch[length - 1] == 'a' ? Look.behindLetter(at - run) : Look.RUN;
            } else if (b == (byte) 0xc2 && at + 1 < to && bytes[at + 1] == (byte) 0xa0) {
                b = Look.FIRM_SPACE;
                at += 2;
            } else if (b == (byte) 0xe2
                    && at + 2 < to
                    && bytes[at + 1] == (byte) 0x80
                    && bytes[at + 2] == (byte) 0xaf) {
                b = Look.FIRM_SPACE;
                at += 3;
            } else if (isLetter(b)) {
                while (at < to && isLetter(bytes[at])) {
                    at++;
                }
                b = 'a';
                letters++;
            } else {
                at++;
            }
            if (length >= LONGEST_LOOK || letters > MOST_LETTER_RUNS) {
                return false;
            }
            scratch[length++] = b;
        }
        scratchLength = length;
        return true;
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
        if (distinct != null && (other.distinct == null || !distinct.addAll(other.distinct))) {
            distinct = null;
        }
        if (unique != null && other.unique != null && !capped) {
            if (unique.addAll(other.unique)) {
                capped = other.capped || unique.size() >= MOST_UNIQUE;
            } else {
                repeated = repeated == null ? new Look.Witness("", place.of(0)) : repeated;
                unique = null;
            }
        } else if (other.unique == null) {
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
        if (distinct != null) {
            return values().entrySet().stream()
                    .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
                    .limit(most)
                    .map(Map.Entry::getKey)
                    .toList();
        }
        List<String> some = new ArrayList<>();
        looks.values().stream()
                .sorted(java.util.Comparator.comparing((Look look) -> -look.count))
                .limit(most)
                .forEach(look -> some.add(look.first.value()));
        return some;
    }

    /** Different values with how often each stands there, by their hashes; few of them. */
    private static final class Distinct {
        private static final int ROOM = 256;
        private final long[] hashes = new long[ROOM];
        private final long[] counts = new long[ROOM];
        private final String[] texts = new String[ROOM];
        private final int[] order = new int[MOST_VALUES];
        private int size;

        /** False where they are too many. */
        boolean add(long hash, byte[] bytes, int from, int to) {
            int at = slot(hash);
            if (hashes[at] == 0) {
                if (size == MOST_VALUES) {
                    return false;
                }
                order[size++] = at;
                hashes[at] = hash;
                texts[at] = text(bytes, from, to);
            }
            counts[at]++;
            return true;
        }

        private int slot(long hash) {
            int at = (int) (hash ^ hash >>> 32) & (ROOM - 1);
            while (hashes[at] != 0 && hashes[at] != hash) {
                at = (at + 1) & (ROOM - 1);
            }
            return at;
        }

        boolean addAll(Distinct other) {
            for (int i = 0; i < other.size; i++) {
                int theirs = other.order[i];
                int at = slot(other.hashes[theirs]);
                if (hashes[at] == 0) {
                    if (size == MOST_VALUES) {
                        return false;
                    }
                    order[size++] = at;
                    hashes[at] = other.hashes[theirs];
                    texts[at] = other.texts[theirs];
                }
                counts[at] += other.counts[theirs];
            }
            return true;
        }

        Map<String, Long> counts() {
            Map<String, Long> all = new LinkedHashMap<>();
            for (int i = 0; i < size; i++) {
                all.put(texts[order[i]], counts[order[i]]);
            }
            return all;
        }
    }

    /** A set of hashes with open addressing: eight bytes a value, twice that for room. */
    private static final class LongSet {
        private long[] slots = new long[64];
        private int size;
        private boolean zero;

        int size() {
            return size;
        }

        /** Whether it was not there. */
        boolean add(long hash) {
            if (hash == 0) {
                boolean fresh = !zero;
                zero = true;
                return fresh;
            }
            if (size * 2 >= slots.length) {
                long[] old = slots;
                slots = new long[old.length * 2];
                for (long one : old) {
                    if (one != 0) {
                        put(one);
                    }
                }
            }
            boolean fresh = put(hash);
            size += fresh ? 1 : 0;
            return fresh;
        }

        private boolean put(long hash) {
            int at = (int) (hash ^ hash >>> 32) & (slots.length - 1);
            while (slots[at] != 0) {
                if (slots[at] == hash) {
                    return false;
                }
                at = (at + 1) & (slots.length - 1);
            }
            slots[at] = hash;
            return true;
        }

        boolean addAll(LongSet other) {
            for (long one : other.slots) {
                if (one != 0 && !add(one)) {
                    return false;
                }
            }
            return !other.zero || add(0);
        }
    }
}
