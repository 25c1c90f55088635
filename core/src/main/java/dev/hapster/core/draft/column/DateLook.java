package dev.hapster.core.draft.column;

import dev.hapster.core.pattern.DateNames;
import dev.hapster.core.row.RawBatch;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * How dates and times are written, told from the looks of values: which run of digits is the day is decided by how
 * large it becomes, never by a name.
 *
 * @param pattern in the letters of CLDR (UTS #35), or {@code iso}, {@code epoch}, {@code epoch_ms}
 * @param date whether it says a day
 * @param time whether it says an hour
 * @param decided what decides between day and month; empty where nothing had to be decided
 * @param open what nothing decides; empty where all is decided
 */
record DateLook(String pattern, boolean date, boolean time, String decided, String open) {

    static final String ISO = "iso";

    private static final DateNames ENGLISH = DateNames.of("en").orElseThrow();
    private static final Set<String> HALVES = Set.of("am", "pm");
    private static final String BETWEEN = "-./ ,";
    private static final long[] EPOCH = {631_152_000L, 2_208_988_800L};
    private static final int SHORT = 3;
    /** Numbers that are likely to be moments only where they are many. */
    private static final int ENOUGH = 5;

    /** What one look may be; empty where it is no date or time. */
    static Optional<DateLook> of(Look look) {
        return of(look, ENGLISH);
    }

    /** What one look may be where months are named in a language. */
    static Optional<DateLook> of(Look look, DateNames names) {
        if (look.kind == RawBatch.MOMENT) {
            boolean time = look.text.indexOf(':') >= 0;
            return Optional.of(new DateLook(ISO, look.text.indexOf('-') >= 0, time, "", ""));
        }
        if (look.kind != RawBatch.TEXT) {
            return Optional.empty();
        }
        return new Reading(look, names).read();
    }

    /** One look while it is taken apart from left to right. */
    private static final class Reading {
        private final Look look;
        private final DateNames names;
        private final String text;
        private final StringBuilder pattern = new StringBuilder();
        private int at;
        private int group;
        private int letters;
        private boolean iso = true;
        private String decided = "";
        private String open = "";

        Reading(Look look, DateNames names) {
            this.look = look;
            this.names = names;
            text = look.text;
        }

        Optional<DateLook> read() {
            if (text.chars().filter(Look::isRun).count() > look.groups.length) {
                return Optional.empty(); // more numbers than a moment has
            }
            if (text.equals("9")) {
                return digits();
            }
            int timeless = at;
            if (time() && at == text.length()) {
                return done(false, true);
            }
            at = timeless;
            group = 0;
            letters = 0;
            pattern.setLength(0);
            iso = true;
            if (!compact() && !date()) {
                return Optional.empty();
            }
            if (at == text.length()) {
                return done(true, false);
            }
            return moment() ? done(true, true) : Optional.empty();
        }

        private Optional<DateLook> done(boolean date, boolean time) {
            return Optional.of(new DateLook(iso ? ISO : pattern.toString(), date, time, decided, open));
        }

        /** Nothing but one number. */
        private Optional<DateLook> digits() {
            Look.Group one = look.groups[0];
            if (one.days && one.longest == one.shortest && look.count > 1) {
                boolean time = one.longest == 14;
                return Optional.of(new DateLook(time ? "yyyyMMddHHmmss" : "yyyyMMdd", true, time, "", ""));
            }
            long by = one.shortest == 13 && one.longest == 13 ? 1000 : one.shortest == 10 && one.longest == 10 ? 1 : 0;
            if (by > 0 && look.count >= ENOUGH && one.least >= EPOCH[0] * by && one.most < EPOCH[1] * by) {
                return Optional.of(new DateLook(by == 1 ? "epoch" : "epoch_ms", true, true, "", ""));
            }
            return Optional.empty();
        }

        private char next() {
            return at < text.length() ? text.charAt(at) : 0;
        }

        private boolean take(char wanted) {
            if (next() == wanted || (wanted == Look.RUN && Look.isRun(next()))) {
                at++;
                return true;
            }
            return false;
        }

        /** {@code 20260131} in front of a time. */
        private boolean compact() {
            if (look.groups.length > 1 && next() == '9' && look.groups[0].days && look.groups[0].longest == 8) {
                at++;
                group++;
                pattern.append("yyyyMMdd");
                iso = false;
                return true;
            }
            return false;
        }

        private record Piece(Look.Group number, Set<String> word) {}

        /** Three pieces with something between them. */
        private boolean date() {
            List<Piece> pieces = new ArrayList<>();
            List<String> between = new ArrayList<>();
            int from = at;
            while (pieces.size() < 3) {
                if (take('9')) {
                    pieces.add(new Piece(look.groups[group++], null));
                } else if (next() == 'a' && letters < look.words.size() && look.words.get(letters) != null) {
                    at++;
                    pieces.add(new Piece(null, look.words.get(letters++)));
                } else {
                    return false;
                }
                if (pieces.size() < 3) {
                    int start = at;
                    while (at < text.length() && BETWEEN.indexOf(next()) >= 0) {
                        at++;
                    }
                    if (at == start || at - start > 2) {
                        return false;
                    }
                    String gap = text.substring(start, at);
                    between.add(gap.equals(" ") && joined() ? " 'de' " : gap);
                }
            }
            return from < at && write(pieces, between);
        }

        /** Takes the word between the parts of a date in Romance languages, as in 12 de marzo de 2026. */
        private boolean joined() {
            boolean joins = text.startsWith("a ", at)
                    && letters < look.words.size()
                    && Set.of("de").equals(look.words.get(letters));
            at += joins ? 2 : 0;
            letters += joins ? 1 : 0;
            return joins;
        }

        private boolean write(List<Piece> pieces, List<String> between) {
            String[] letters = order(pieces, between);
            if (letters == null) {
                return false;
            }
            for (int i = 0; i < 3; i++) {
                pattern.append(letters[i]);
                if (i < 2) {
                    pattern.append(between.get(i));
                }
            }
            iso &= pattern.toString().equals("yyyy-MM-dd");
            return true;
        }

        private String[] order(List<Piece> pieces, List<String> between) {
            int named =
                    (int) pieces.stream().filter(piece -> piece.word != null).count();
            if (named == 1) {
                int month = pieces.get(0).word != null ? 0 : 1;
                Set<String> words = pieces.get(month).word;
                String letters = isShort(words) ? "MMM" : names.knows(words, true) ? "MMMM" : "";
                Look.Group day = pieces.get(month == 0 ? 1 : 0).number;
                Look.Group year = pieces.get(2).number;
                return letters.isEmpty() || !isDay(day) || !isYear(year)
                        ? null
                        : month == 0
                                ? new String[] {letters, letters(day, 'd'), years(year)}
                                : new String[] {letters(day, 'd'), letters, years(year)};
            }
            if (named > 1
                    || !between.get(0).equals(between.get(1))
                    || between.get(0).length() > 1) {
                return null;
            }
            Look.Group a = pieces.get(0).number;
            Look.Group b = pieces.get(1).number;
            Look.Group c = pieces.get(2).number;
            boolean first = isYear(a) && (a.longest == 4 || a.most > 31);
            if (first && isMonth(b) && isDay(c)) {
                return new String[] {years(a), letters(b, 'M'), letters(c, 'd')};
            }
            if (!isYear(c) || a.least < 1 || b.least < 1) {
                return null;
            }
            boolean dayFirst = isDay(a) && isMonth(b);
            boolean monthFirst = isMonth(a) && isDay(b);
            if (!dayFirst && !monthFirst) {
                return null;
            }
            if (dayFirst && monthFirst) {
                undecided(between.get(0));
            } else {
                Look.Group large = dayFirst ? a : b;
                decided = "a " + large.most + " at the " + (dayFirst ? "first" : "second") + " place can only be a day";
            }
            return dayFirst
                    ? new String[] {letters(a, 'd'), letters(b, 'M'), years(c)}
                    : new String[] {letters(a, 'M'), letters(b, 'd'), years(c)};
        }

        /** Whether words are names that are shortened; a name such as May, which has no shorter one, is if all are. */
        private boolean isShort(Set<String> words) {
            return names.knows(words, false)
                    && (!names.knows(words, true) || words.stream().allMatch(word -> word.length() <= SHORT));
        }

        private void undecided(String between) {
            if (between.equals(".")) {
                decided = "with points between them the day stands first";
            } else {
                open = "no value decides whether day or month stands first (" + look.first + "); the day is taken";
            }
        }

        /** What stands behind a day. */
        private boolean moment() {
            if (next() == 'a' && letters < look.words.size() && Set.of("t").equals(look.words.get(letters))) {
                at++;
                letters++;
                pattern.append("'T'");
            } else if (next() == ' ' || next() == ',') {
                String gap = text.startsWith(", ", at) ? ", " : text.substring(at, at + 1);
                at += gap.length();
                pattern.append(gap);
                iso &= gap.equals(" ");
            } else {
                return false;
            }
            return time() && at == text.length();
        }

        private boolean time() {
            if (!take('9')) {
                return false;
            }
            Look.Group hour = look.groups[group++];
            if (next() != ':' && next() != '.') {
                return compactTime(hour);
            }
            char mark = next();
            if (mark == '.' && pattern.length() == 0) {
                return false; // a number with decimals
            }
            if (hour.longest > 2 || hour.most > 24) {
                return false;
            }
            StringBuilder own = new StringBuilder();
            own.append(mark);
            at++;
            if (!take('9') || !sixty(look.groups[group++])) {
                return false;
            }
            own.append("mm");
            boolean fraction = false;
            if (next() == mark) {
                at++;
                if (!take('9') || !sixty(look.groups[group++])) {
                    return false;
                }
                own.append(mark).append("ss");
                if ((next() == '.' || next() == ',') && mark == ':') {
                    char point = next();
                    at++;
                    if (!take('9')) {
                        return false;
                    }
                    Look.Group digits = look.groups[group++];
                    fraction = digits.shortest != digits.longest;
                    own.append(point).append("S".repeat(Math.min(9, digits.longest)));
                    iso &= point == '.';
                }
            }
            boolean half = half();
            iso &= mark == ':' && hour.shortest == 2 && !half;
            pattern.append(half ? letters(hour, 'h') : letters(hour, 'H')).append(own);
            if (half) {
                pattern.append(" a");
            }
            offset();
            return iso || !fraction;
        }

        private boolean half() {
            boolean spaced = text.startsWith(" a", at);
            if (spaced
                    && letters < look.words.size()
                    && look.words.get(letters) != null
                    && HALVES.containsAll(look.words.get(letters))) {
                at += 2;
                letters++;
                return true;
            }
            return false;
        }

        private void offset() {
            if (next() == 'a' && letters < look.words.size() && Set.of("z").equals(look.words.get(letters))) {
                at++;
                letters++;
                pattern.append("XXX");
            } else if ((text.startsWith("+9:9", at) || text.startsWith("-9:9", at))
                    && group + 2 <= look.groups.length) {
                at += 4;
                group += 2;
                pattern.append("XXX");
            }
        }

        /** {@code 123000} behind a day. */
        private boolean compactTime(Look.Group hour) {
            if (pattern.length() == 0 || hour.shortest != hour.longest || (hour.longest != 4 && hour.longest != 6)) {
                return false;
            }
            iso = false;
            pattern.append(hour.longest == 4 ? "HHmm" : "HHmmss");
            return hour.most < (hour.longest == 4 ? 2400 : 240_000);
        }

        private static boolean sixty(Look.Group group) {
            return group.longest == 2 && group.shortest == 2 && group.most < 61;
        }

        private static boolean isDay(Look.Group group) {
            return group != null && group.longest <= 2 && group.least >= 1 && group.most <= 31;
        }

        private static boolean isMonth(Look.Group group) {
            return group.longest <= 2 && group.least >= 1 && group.most <= 12;
        }

        private static boolean isYear(Look.Group group) {
            return group != null
                    && group.shortest == group.longest
                    && (group.longest == 2 || (group.longest == 4 && group.least >= 1000 && group.most <= 2999));
        }

        private static String letters(Look.Group group, char letter) {
            return String.valueOf(letter).repeat(group.shortest == 2 ? 2 : 1);
        }

        private static String years(Look.Group group) {
            return "y".repeat(group.longest);
        }
    }
}
