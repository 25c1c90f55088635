package dev.hapster.core.draft.column;

import dev.hapster.core.reason.Reasons;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;

/**
 * Values that are written alike: {@code 12.05.2026} and {@code 3.1.2025} are both {@code 9.9.9}, since every run of
 * digits counts as one 9 and every run of letters as one a. Of the runs it is known how long and how large they are, so
 * that no value need be kept. Not thread-safe.
 */
final class Look {

    /** Runs of digits that are looked at. */
    static final int MOST_GROUPS = 8;
    /** Runs of letters of which the words are kept. */
    static final int MOST_LETTERS = 4;

    /** Stands for a run of digits. */
    static final byte RUN = '9';

    /** Stands for a space at which no line breaks, as between thousands. */
    static final byte FIRM_SPACE = 1;

    private static final int MOST_WORDS = 40;
    private static final int MOST_VALUES = 8;

    /** A run of digits at one place of the value. */
    static final class Group {
        int shortest = Integer.MAX_VALUE;
        int longest;
        long least = Long.MAX_VALUE;
        long most;
        /** Values in which the run begins with a zero and goes on. */
        long zeroLed;
        /** Whether all runs of eight digits, or the first eight of fourteen, are days of the calendar. */
        boolean days = true;

        void add(long value, int length, long zeros) {
            shortest = Math.min(shortest, length);
            longest = Math.max(longest, length);
            least = Math.min(least, value);
            most = Math.max(most, value);
            zeroLed += zeros;
            if (days) {
                days = length == 8
                        ? isDay(value)
                        : length == 14 && isDay(value / 1_000_000) && isHour(value % 1_000_000);
            }
        }

        private static boolean isDay(long value) {
            long month = value / 100 % 100;
            long day = value % 100;
            return value / 10_000 >= 1800
                    && value / 10_000 < 2200
                    && month >= 1
                    && month <= 12
                    && day >= 1
                    && day <= 31;
        }

        private static boolean isHour(long value) {
            return value / 10_000 < 24 && value / 100 % 100 < 60 && value % 100 < 60;
        }

        void merge(Group other) {
            shortest = Math.min(shortest, other.shortest);
            longest = Math.max(longest, other.longest);
            least = Math.min(least, other.least);
            most = Math.max(most, other.most);
            zeroLed += other.zeroLed;
            days &= other.days;
        }
    }

    /** A value and where it stands. */
    record Witness(String value, String place) {
        @Override
        public String toString() {
            String shortened = value.length() > 40 ? value.substring(0, 39) + "…" : value;
            return place + " " + Reasons.quote(shortened);
        }
    }

    /** Of times without marks, as in 20260131T0830, the number of digits belongs to the look. */
    static byte behindLetter(int digits) {
        return digits == 4 ? (byte) '4' : digits == 6 ? (byte) '6' : RUN;
    }

    static boolean isRun(int c) {
        return c == RUN || c == '4' || c == '6';
    }

    final byte kind;
    final String text;
    private final byte[] bytes;
    final Group[] groups;
    /** Words at each run of letters, in lower case; null where they are too many. */
    final List<Set<String>> words = new ArrayList<>();
    /** All values that look so, with how many there are; null where they are too many. */
    Map<String, Long> values = new LinkedHashMap<>();

    private String lastValue = "";
    private final byte[][] lastWord;
    long count;
    Witness first;
    /** The first value with a run that begins with a zero and goes on. */
    Witness zero;

    Look(byte kind, String text) {
        this.kind = kind;
        this.text = text;
        bytes = text.getBytes(StandardCharsets.ISO_8859_1);
        groups = new Group
                [(int) Math.min(MOST_GROUPS, text.chars().filter(Look::isRun).count())];
        for (int i = 0; i < groups.length; i++) {
            groups[i] = new Group();
        }
        int letters =
                (int) Math.min(MOST_LETTERS, text.chars().filter(c -> c == 'a').count());
        lastWord = new byte[letters][];
        for (int i = 0; i < letters; i++) {
            words.add(new TreeSet<>());
        }
    }

    /** Whether a value looks so. */
    boolean is(byte of, Scan scan) {
        return kind == of && Arrays.equals(bytes, 0, bytes.length, scan.look, 0, scan.lookLength);
    }

    /** Takes a value that looks so, and was met some times. */
    void add(Scan scan, byte[] value, int from, int to, long times) {
        for (int i = 0; i < groups.length; i++) {
            groups[i].add(scan.numbers[i], scan.digits[i], scan.zeroLed[i] ? times : 0);
        }
        for (int i = 0; i < lastWord.length; i++) {
            word(i, value, scan.wordFrom[i], scan.wordTo[i]);
        }
        count += times;
        if (values != null && groups.length == 0) {
            value(value, from, to, times);
        }
    }

    /** Keeps a value and its place where it is the first that looks so. */
    void witness(Scan scan, byte[] value, int from, int to, ColumnProfile.Place place, long line) {
        if (first == null) {
            first = new Witness(text(value, from, to), place.of(line));
        }
        if (zero == null && groups.length > 0 && scan.zeroLed[0]) {
            zero = new Witness(text(value, from, to), place.of(line));
        }
    }

    private void word(int place, byte[] bytes, int from, int to) {
        Set<String> known = words.get(place);
        byte[] last = lastWord[place];
        if (known == null || (last != null && Arrays.equals(last, 0, last.length, bytes, from, to))) {
            return;
        }
        lastWord[place] = Arrays.copyOfRange(bytes, from, to);
        known.add(text(bytes, from, to).toLowerCase(java.util.Locale.ROOT));
        if (known.size() > MOST_WORDS) {
            words.set(place, null);
        }
    }

    private void value(byte[] bytes, int from, int to, long times) {
        String value = text(bytes, from, to);
        lastValue = value.equals(lastValue) ? lastValue : value;
        values.merge(lastValue, times, Long::sum);
        if (values.size() > MOST_VALUES) {
            values = null;
        }
    }

    private static String text(byte[] bytes, int from, int to) {
        return new String(bytes, from, to - from, StandardCharsets.UTF_8);
    }

    void merge(Look other) {
        for (int i = 0; i < groups.length; i++) {
            groups[i].merge(other.groups[i]);
        }
        for (int i = 0; i < words.size(); i++) {
            if (words.get(i) != null && other.words.get(i) != null) {
                words.get(i).addAll(other.words.get(i));
            }
            if (other.words.get(i) == null
                    || (words.get(i) != null && words.get(i).size() > MOST_WORDS)) {
                words.set(i, null);
            }
        }
        if (values != null && other.values != null) {
            other.values.forEach((value, many) -> values.merge(value, many, Long::sum));
        }
        if (other.values == null || (values != null && values.size() > MOST_VALUES)) {
            values = null;
        }
        count += other.count;
        first = first == null ? other.first : first;
        zero = zero == null ? other.zero : zero;
    }
}
