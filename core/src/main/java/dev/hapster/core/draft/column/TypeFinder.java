package dev.hapster.core.draft.column;

import dev.hapster.core.definition.ColumnType;
import dev.hapster.core.definition.ColumnType.Kind;
import dev.hapster.core.row.RawBatch;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.OptionalInt;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;

/**
 * Finds the narrowest type that holds every value of a column. Words that stand for nothing are left out of account;
 * whatever else does not suit makes the column text, and is named. Says for everything what it rests on.
 */
public final class TypeFinder {

    /** What people write where there is no value, in lower case. */
    private static final Set<String> NOTHING = Set.of(
            "-", "--", "---", ".", "..", "...", "?", "*", "n/a", "na", "n.a.", "n.d.", "nd", "nan", "null", "nil",
            "none", "\\n", "#n/a", "#na", "k.a.", "\u2013", "\u2014", "(null)", "<null>", "(none)", "missing",
            "unknown");

    private static final List<List<String>> TRUTHS = List.of(
            List.of("true", "false"),
            List.of("yes", "no"),
            List.of("y", "n"),
            List.of("t", "f"),
            List.of("ja", "nein"),
            List.of("j", "n"),
            List.of("oui", "non"),
            List.of("wahr", "falsch"),
            List.of("vrai", "faux"),
            List.of("si", "no"),
            List.of("on", "off"));
    private static final Set<String> KNOWN_TRUTHS = Set.of("true", "yes", "false", "no");

    /** Rows from which on something that holds for all of them is taken for a rule. */
    private static final int ENOUGH = 10;

    private static final int MOST_ALLOWED = 12;
    private static final int LONGEST_ALLOWED = 40;
    /** One value in so many may be wrong without making the others text, if it holds no letters. */
    private static final int MOST_WRONG = 50;

    private static final int LARGEST_INTEGER = 18;
    /** More digits behind the point are written by programs, and not meant one by one. */
    private static final int MOST_BEHIND = 12;

    private static final int[] PRECISIONS = {9, 18, ColumnType.MOST_DIGITS};

    private final ColumnProfile profile;
    private final List<ColumnProfile.Brief> files;
    private final Set<Look> nothing = new LinkedHashSet<>();
    private final List<Look> something = new ArrayList<>();
    private final List<String> doubts = new ArrayList<>();
    private final char usualDecimal;

    /**
     * @param profile of all files together
     * @param files of each by itself, for evidence
     * @param usualDecimal the decimal mark of the other columns of these files; 0 where none decides it
     */
    public TypeFinder(ColumnProfile profile, List<ColumnProfile.Brief> files, char usualDecimal) {
        this.profile = profile;
        this.files = files;
        this.usualDecimal = usualDecimal;
        for (Look look : profile.looks()) {
            if (look.values != null
                    && !look.values.isEmpty()
                    && look.values.keySet().stream()
                            .allMatch(value -> NOTHING.contains(value.toLowerCase(Locale.ROOT)))) {
                nothing.add(look);
            } else {
                something.add(look);
            }
        }
    }

    /** The decimal mark that the values of a column prove; 0 where they prove none. */
    public static char provenDecimal(ColumnProfile profile) {
        Set<Character> marks = new TreeSet<>();
        for (Look look : profile.looks()) {
            List<NumberLook> ways = look.kind == RawBatch.TEXT ? NumberLook.of(look) : List.of();
            if (ways.size() == 1 && ways.get(0).decimal() != 0) {
                marks.add(ways.get(0).decimal());
            }
        }
        return marks.size() == 1 && !profile.isFree() ? marks.iterator().next() : 0;
    }

    /** The narrowest type that holds all values. */
    public Conclusion find() {
        if (profile.filled() == 0) {
            doubts.add("no file has a value in it, so nothing says what it holds");
            return text("text: it is always empty", "");
        }
        if (something.isEmpty() || profile.isFree()) {
            return text(freeText(), "");
        }
        Conclusion truth = truth();
        if (truth != null) {
            return truth;
        }
        Conclusion moments = moments();
        if (moments != null) {
            return moments;
        }
        Conclusion numbers = numbers();
        return numbers != null ? numbers : texts();
    }

    private String freeText() {
        Look.Witness first = profile.freeText();
        return first == null ? "text" : "free text, such as " + first;
    }

    // true or false

    private Conclusion truth() {
        boolean typed = something.stream().allMatch(look -> look.kind == RawBatch.TRUTH);
        if (typed) {
            return conclude(ColumnType.of(Kind.BOOLEAN), "boolean: " + all() + "true or false");
        }
        if (!profile.knowsAll()) {
            return null;
        }
        Map<String, Long> words = new LinkedHashMap<>();
        profile.values().forEach((value, count) -> {
            String word = value.toLowerCase(Locale.ROOT);
            if (!NOTHING.contains(word) || isTruthWord(word)) {
                words.merge(word, count, Long::sum);
            }
        });
        for (List<String> pair : TRUTHS) {
            if (words.size() == 2 && words.keySet().containsAll(pair)) {
                String why = "boolean: only \"" + pair.get(0) + "\" (" + words.get(pair.get(0)) + ") and \""
                        + pair.get(1) + "\" (" + words.get(pair.get(1)) + ")";
                boolean known = KNOWN_TRUTHS.containsAll(pair);
                Conclusion found = conclude(ColumnType.of(Kind.BOOLEAN), why);
                return known ? found : found.worded(pair.get(0), pair.get(1));
            }
        }
        return null;
    }

    private static boolean isTruthWord(String word) {
        return TRUTHS.stream().anyMatch(pair -> pair.contains(word));
    }

    // dates and times

    private Conclusion moments() {
        return MomentSearch.of(something)
                .map(found -> {
                    found.doubts().stream()
                            .filter(doubt -> !doubts.contains(doubt))
                            .forEach(doubts::add);
                    return conclude(ColumnType.of(found.kind()), found.kind().word() + ": " + all() + found.why())
                            .written(found.patterns(), found.language());
                })
                .orElse(null);
    }

    // numbers

    private Conclusion numbers() {
        Map<Look, List<NumberLook>> ways = new LinkedHashMap<>();
        for (Look look : something) {
            ways.put(look, NumberLook.of(look));
        }
        if (ways.values().stream().anyMatch(List::isEmpty)) {
            return null;
        }
        boolean point = suits(ways, '.', (char) 0);
        boolean comma = suits(ways, ',', (char) 0);
        if (point || comma) {
            boolean plain = point && comma;
            char decimal = plain || point ? '.' : ',';
            char thousands = grouping(ways, decimal);
            if (thousands != 0) {
                boolean asGroups = usualDecimal != 0 && usualDecimal != decimal;
                Look witness = ways.keySet().stream()
                        .filter(look -> NumberLook.of(look).size() > 1)
                        .findFirst()
                        .orElseThrow();
                if (asGroups) {
                    return number(
                            ways,
                            usualDecimal,
                            thousands,
                            "; other columns write decimals with " + words(usualDecimal));
                }
                if (usualDecimal == 0) {
                    doubts.add("'" + decimal + "' may stand before decimals or between thousands (" + witness.first
                            + "); it is taken as the decimal mark");
                }
            }
            return number(ways, decimal, (char) 0, "");
        }
        for (char decimal : new char[] {'.', ','}) {
            for (char thousands : new char[] {',', '.', ' ', Look.FIRM_SPACE, '\''}) {
                if (decimal != thousands && suits(ways, decimal, thousands)) {
                    return number(ways, decimal, thousands, "");
                }
            }
        }
        return null;
    }

    private static boolean suits(Map<Look, List<NumberLook>> ways, char decimal, char thousands) {
        return ways.values().stream().allMatch(all -> all.stream().anyMatch(way -> way.suits(decimal, thousands)));
    }

    /** The mark that may be one of thousands where every look with a decimal mark may be read so; 0 where none may. */
    private static char grouping(Map<Look, List<NumberLook>> ways, char decimal) {
        boolean all = true;
        boolean any = false;
        for (Map.Entry<Look, List<NumberLook>> one : ways.entrySet()) {
            boolean marked = one.getValue().get(0).decimal() != 0;
            any |= marked;
            all &= marked
                    ? one.getValue().stream().anyMatch(way -> way.decimal() == 0 && way.thousands() == decimal)
                    : one.getKey().groups[0].longest <= 3;
        }
        return any && all ? decimal : 0;
    }

    private static String words(char mark) {
        return mark == ',' ? "a comma" : "a point";
    }

    private Conclusion number(Map<Look, List<NumberLook>> ways, char decimal, char thousands, String because) {
        int before = 1;
        int behind = 0;
        boolean exponent = false;
        boolean binary = false;
        long least = Long.MAX_VALUE;
        long most = Long.MIN_VALUE;
        for (Map.Entry<Look, List<NumberLook>> one : ways.entrySet()) {
            NumberLook way = one.getValue().stream()
                    .filter(some -> some.suits(decimal, thousands))
                    .findFirst()
                    .orElseThrow();
            before = Math.max(before, way.before());
            behind = Math.max(behind, way.behind());
            exponent |= way.exponent();
            binary |= one.getKey().kind == RawBatch.BINARY && way.behind() > 0;
            if (one.getKey().groups.length == 1) {
                boolean negative = one.getKey().text.startsWith("-");
                least = Math.min(least, negative ? -one.getKey().groups[0].most : one.getKey().groups[0].least);
                most = Math.max(most, negative ? -one.getKey().groups[0].least : one.getKey().groups[0].most);
            }
        }
        ColumnType type;
        String why;
        boolean asBinary = behind > MOST_BEHIND || (binary && behind > 8);
        if (exponent || before + behind > ColumnType.MOST_DIGITS || asBinary) {
            type = ColumnType.of(Kind.DOUBLE);
            why = "double: " + all() + (isOne() ? "a number" : "numbers") + (exponent ? ", some with an exponent" : "")
                    + (asBinary && !exponent
                            ? ", with up to " + behind + " digits behind the point, as programs write binary numbers"
                            : "");
        } else if (behind == 0 && before <= LARGEST_INTEGER) {
            type = ColumnType.of(Kind.INTEGER);
            why = "integer: " + all() + (isOne() ? "a whole number" : "whole numbers")
                    + (least < most ? ", " + grouped(least) + " to " + grouped(most) : "");
            if (least == 0 && most == 1 && profile.filled() >= ENOUGH) {
                why += "; boolean would hold them as well";
            }
        } else {
            int needed = before + behind;
            int precision = ColumnType.MOST_DIGITS;
            for (int one : PRECISIONS) {
                if (one > needed) {
                    precision = one;
                    break;
                }
            }
            type = new ColumnType(Kind.DECIMAL, precision, behind);
            why = type + ": " + all() + (isOne() ? "a number" : "numbers") + " with at most " + before
                    + (before == 1 ? " digit" : " digits") + " before and " + behind + " behind the decimal "
                    + (decimal == ',' ? "comma" : "point");
        }
        if (thousands != 0) {
            why += ", grouped by "
                    + (thousands == Look.FIRM_SPACE || thousands == ' ' ? "spaces" : "'" + thousands + "'");
        }
        char mark =
                decimal == ',' && ways.values().stream().flatMap(List::stream).anyMatch(way -> way.decimal() == ',')
                        ? ','
                        : 0;
        return conclude(type, why + because)
                .marked(
                        mark == 0 && decimal == ',' && thousands == '.' ? ',' : mark,
                        thousands == Look.FIRM_SPACE ? '\u00a0' : thousands);
    }

    private static String grouped(long value) {
        return String.format(Locale.ROOT, "%,d", value).replace(',', '\u202f');
    }

    // texts

    private Conclusion texts() {
        MomentSearch.almost(something).ifPresent(doubts::add);
        Look zero =
                something.stream().filter(look -> look.zero != null).findFirst().orElse(null);
        boolean digits = something.stream().allMatch(look -> look.text.equals("9"));
        if (zero != null && something.stream().allMatch(look -> look.text.matches("[-+]?9([.,]9)?"))) {
            return text("text: " + zero.zero + ": as a number it would lose its zeros", "");
        }
        if (digits) {
            return text("text: numbers of " + profile.longest() + " digits, such as " + something.get(0).first, "");
        }
        for (Predicate<Look> number :
                List.<Predicate<Look>>of(look -> !NumberLook.of(look).isEmpty(), look -> DateLook.of(look)
                        .isPresent())) {
            long suits = something.stream()
                    .filter(number)
                    .mapToLong(look -> look.count)
                    .sum();
            if (suits > 0 && suits * 2 > profile.filled()) {
                return conflict(number);
            }
        }
        if (profile.knowsAll()) {
            return text("text: " + sentence(profile.values()), "");
        }
        Look common = something.stream()
                .max(Comparator.comparing((Look look) -> look.count))
                .orElseThrow();
        return text("text, such as " + common.first, "");
    }

    private static String sentence(Map<String, Long> values) {
        List<String> some = values.entrySet().stream()
                .sorted(Map.Entry.<String, Long>comparingByValue().reversed())
                .map(one -> '"' + one.getKey() + "\" (" + one.getValue() + ")")
                .limit(4)
                .toList();
        return (values.size() == 1 ? "only " : values.size() + " different values: ")
                + String.join(", ", some)
                + (values.size() > 4 ? ", …" : "");
    }

    /** Most values are of one kind, and some are not. */
    private Conclusion conflict(Predicate<Look> suits) {
        List<Look> others = something.stream().filter(suits.negate()).toList();
        List<Look> fitting = something.stream().filter(suits).toList();
        Look first = others.get(0);
        long count = others.stream().mapToLong(look -> look.count).sum();
        boolean letters = others.stream().anyMatch(look -> look.text.indexOf('a') >= 0);
        if (!letters && count * MOST_WRONG <= profile.filled()) {
            Conclusion without = new TypeFinder(profile, files, usualDecimal).of(fitting);
            if (without != null) {
                without.doubts()
                        .add((count == 1 ? "1 value is not a " : grouped(count) + " values are not ")
                                + (without.type().isNumber() ? "number" : "date") + (count == 1 ? "" : "s") + " ("
                                + first.first + ") and would be rejected");
                return without;
            }
        }
        Set<String> odd = others.stream().map(look -> look.kind + look.text).collect(Collectors.toSet());
        long with = files.stream()
                .filter(file -> file.free() || !Collections.disjoint(file.looks(), odd))
                .count();
        Conclusion without = new TypeFinder(profile, files, usualDecimal).of(fitting);
        String word = without == null ? "text" : without.type().toString();
        String what;
        String rest;
        if (files.size() > 1 && with < files.size()) {
            long left = files.size() - with;
            what = with + " of " + files.size() + " files " + (with == 1 ? "holds" : "hold")
                    + (letters ? " letters here" : " something else here");
            rest = left == 1 ? "the other file" : "the other " + left;
        } else {
            what = grouped(count) + (count == 1 ? " value is" : " values are") + " something else";
            rest = "the other " + grouped(profile.filled() - count);
        }
        return text("text, because " + what + " (" + first.first + "); " + rest + " would be " + word, word);
    }

    /** What some of the looks alone would be; null where nothing in particular. */
    private Conclusion of(Collection<Look> looks) {
        something.retainAll(looks);
        Conclusion moments = moments();
        return moments == null ? numbers() : moments;
    }

    private Conclusion text(String why, String second) {
        long filled = profile.filled();
        List<String> allowed = profile.knowsAll()
                        && profile.values().size() > 1
                        && profile.values().size() <= MOST_ALLOWED
                        && filled >= 50
                        && filled >= profile.values().size() * 10L
                        && profile.longest() <= LONGEST_ALLOWED
                        && !profile.isFree()
                        && second.isEmpty()
                ? new TreeSet<>(profile.values().keySet()).stream().toList()
                : List.of();
        boolean fixed = allowed.isEmpty()
                && filled >= 2 * ENOUGH
                && profile.shortest() == profile.longest()
                && profile.longest() > 1
                && profile.values().size() != 1;
        return new Conclusion(
                ColumnType.of(Kind.TEXT),
                List.of(),
                "",
                (char) 0,
                (char) 0,
                List.of(),
                List.of(),
                List.of(),
                profile.empties() == 0 && profile.rows() >= ENOUGH,
                fixed ? OptionalInt.of(profile.longest()) : OptionalInt.empty(),
                allowed,
                trim(),
                why + (fixed ? "; all have " + profile.longest() + " characters" : "") + emptiness(),
                doubts,
                second);
    }

    private Conclusion conclude(ColumnType type, String why) {
        return new Conclusion(
                type,
                List.of(),
                "",
                (char) 0,
                (char) 0,
                nothing(),
                List.of(),
                List.of(),
                required(),
                OptionalInt.empty(),
                List.of(),
                trim(),
                why + emptiness(),
                doubts,
                "");
    }

    // what all have in common

    private String all() {
        long count = something.stream().mapToLong(look -> look.count).sum();
        return count == 1
                ? "its only value is "
                : count == 2 ? "both values are " : "all " + grouped(count) + " values are ";
    }

    private boolean isOne() {
        return something.stream().mapToLong(look -> look.count).sum() == 1;
    }

    private List<String> nothing() {
        return nothing.stream()
                .flatMap(look -> look.values.keySet().stream())
                .distinct()
                .sorted()
                .toList();
    }

    private long nothings() {
        return nothing.stream().mapToLong(look -> look.count).sum();
    }

    private boolean required() {
        return profile.empties() == 0 && nothing.isEmpty() && profile.rows() >= ENOUGH;
    }

    private boolean trim() {
        return profile.padded() > 0;
    }

    private String emptiness() {
        List<String> parts = new ArrayList<>();
        if (profile.empties() > 0) {
            parts.add(grouped(profile.empties()) + " of " + grouped(profile.rows()) + " empty");
        }
        if (nothings() > 0) {
            parts.add(nothing().stream().map(word -> '"' + word + '"').collect(Collectors.joining(", ")) + " stands "
                    + nothings() + (nothings() == 1 ? " time" : " times") + " for nothing");
        }
        return parts.isEmpty() ? "" : "; " + String.join("; ", parts);
    }
}
