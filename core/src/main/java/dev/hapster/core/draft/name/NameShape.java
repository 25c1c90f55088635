package dev.hapster.core.draft.name;

import dev.hapster.core.pattern.NamePattern;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The pattern that takes some names and their like: what all have in common stays, dates become facts, and what differs
 * becomes {@code *}.
 *
 * @param takes patterns for `take`; one of them, or the names themselves where none tells them from the others
 * @param skips names that the patterns take and that are not to be taken
 * @param why how they came about
 */
public record NameShape(List<String> takes, List<String> skips, String why) {

    private static final Pattern TOKEN = Pattern.compile("\\d+|\\p{L}+|[^\\d\\p{L}]");
    private static final String SPECIAL = "*?[]{}!\\";
    private static final int MOST_NAMES = 20;
    private static final int MOST_WORDS = 6;
    private static final int MOST_SKIPPED = 3;

    private record Dated(Pattern form, String name, String letters) {}

    private static final String YEAR = "(?:19|20)\\d\\d";
    private static final String MONTH = "(?:0[1-9]|1[0-2])";
    private static final String DAY = "(?:0[1-9]|[12]\\d|3[01])";
    /** Dates that stand in names, the longest first. */
    private static final List<Dated> DATES = List.of(
            dated(YEAR + "-" + MONTH + "-" + DAY, "day", "yyyy-MM-dd"),
            dated(YEAR + "_" + MONTH + "_" + DAY, "day", "yyyy_MM_dd"),
            dated(DAY + "[.]" + MONTH + "[.]" + YEAR, "day", "dd.MM.yyyy"),
            dated(YEAR + MONTH + DAY, "day", "yyyyMMdd"),
            dated(YEAR + "-" + MONTH, "month", "yyyy-MM"),
            dated(YEAR + "_" + MONTH, "month", "yyyy_MM"),
            dated(YEAR + MONTH, "month", "yyyyMM"),
            dated("(?<!\\p{L})" + YEAR, "year", "yyyy"));

    private static Dated dated(String form, String name, String letters) {
        return new Dated(Pattern.compile("(?<!\\d)" + form + "(?!\\d)"), name, letters);
    }

    /**
     * Finds the pattern.
     *
     * @param names that are to be taken
     * @param others that lie beside them and are not
     */
    public static NameShape of(List<String> names, List<String> others) {
        List<String> dates = new ArrayList<>();
        List<List<String>> tokens =
                names.stream().map(name -> tokens(name, dates)).toList();
        Set<String> shapes = new TreeSet<>();
        for (String made : List.of(joined(tokens, false), joined(tokens, true), ending(names))) {
            if (!made.isEmpty() && shapes.add(made) && names.stream().allMatch(NamePattern.of(made)::matches)) {
                NamePattern pattern = NamePattern.of(made);
                long strangers = others.stream().filter(pattern::matches).count();
                if (strangers == 0) {
                    return new NameShape(List.of(made), List.of(), why(names, made));
                }
                if (strangers <= MOST_SKIPPED && strangers * 2 <= names.size()) {
                    List<String> skips = others.stream()
                            .filter(pattern::matches)
                            .map(NameShape::escaped)
                            .toList();
                    return new NameShape(
                            List.of(made),
                            skips,
                            why(names, made) + "; " + String.join(", ", skips) + " beside them "
                                    + (strangers == 1 ? "is" : "are") + " of another kind");
                }
            }
        }
        return names.size() <= MOST_NAMES
                ? new NameShape(
                        names.stream().map(NameShape::escaped).toList(),
                        List.of(),
                        "no pattern tells these files from those beside them, so each is named")
                : new NameShape(
                        List.of(joined(tokens, false).isEmpty() ? ending(names) : joined(tokens, false)),
                        List.of(),
                        "no pattern tells these files from those beside them: it takes others too");
    }

    private static String why(List<String> names, String made) {
        String what = names.size() == 1
                ? "made from 1 name"
                : names.size() == 2 ? "takes both names" : "takes all " + names.size() + " names";
        return made.indexOf('{') >= 0 && made.indexOf(':') > 0 ? what + "; the date in them is a fact" : what;
    }

    /** Pieces of a name; a date is one piece, written as a fact. */
    private static List<String> tokens(String name, List<String> dates) {
        List<String> pieces = new ArrayList<>();
        int from = 0;
        Matcher first = null;
        Dated found = null;
        for (Dated date : DATES) {
            Matcher matcher = date.form.matcher(name);
            if (matcher.find()) {
                first = matcher;
                found = date;
                break;
            }
        }
        if (first != null) {
            split(name.substring(0, first.start()), pieces);
            pieces.add("{" + found.name + ":" + found.letters + "}");
            dates.add(found.letters);
            from = first.end();
        }
        split(name.substring(from), pieces);
        return pieces;
    }

    private static void split(String text, List<String> pieces) {
        Matcher matcher = TOKEN.matcher(text);
        while (matcher.find()) {
            pieces.add(matcher.group());
        }
    }

    /**
     * Numbers become a star, but for those that belong to a word of a single name, such as utf8.
     *
     * @param words whether words that differ are listed; otherwise anything may stand there
     */
    private static String joined(List<List<String>> names, boolean words) {
        List<String> first = names.get(0);
        if (names.stream().anyMatch(name -> !kinds(name).equals(kinds(first)))) {
            return "";
        }
        StringBuilder made = new StringBuilder();
        for (int i = 0; i < first.size(); i++) {
            Set<String> at = new LinkedHashSet<>();
            for (List<String> name : names) {
                at.add(name.get(i));
            }
            String one = first.get(i);
            boolean ending = i == first.size() - 1 && i > 0 && first.get(i - 1).equals(".");
            boolean ofWord = names.size() == 1 && (isWord(first, i - 1) || isWord(first, i + 1));
            boolean number = Character.isDigit(one.charAt(0)) && !ending && !ofWord;
            if (at.size() == 1 && (!number || words)) {
                made.append(one.startsWith("{") && one.length() > 1 ? one : escaped(one));
            } else if (words && at.size() <= MOST_WORDS && !one.startsWith("{")) {
                made.append('{').append(String.join(",", new TreeSet<>(at))).append('}');
            } else if (made.length() == 0 || made.charAt(made.length() - 1) != '*') {
                made.append('*');
            }
        }
        return made.toString();
    }

    private static boolean isWord(List<String> pieces, int at) {
        return at >= 0
                && at < pieces.size()
                && Character.isLetter(pieces.get(at).codePointAt(0));
    }

    private static String kinds(List<String> name) {
        StringBuilder kinds = new StringBuilder();
        for (String piece : name) {
            int c = piece.codePointAt(0);
            kinds.append(
                    piece.startsWith("{") && piece.length() > 1
                            ? piece
                            : Character.isDigit(c) ? "9" : Character.isLetter(c) ? "a" : piece);
        }
        return kinds.toString();
    }

    /** The beginning and the end that all names share. */
    private static String ending(List<String> names) {
        String start = names.get(0);
        String end = names.get(0);
        for (String name : names) {
            while (!name.startsWith(start)) {
                start = start.substring(0, start.length() - 1);
            }
            while (!name.endsWith(end)) {
                end = end.substring(1);
            }
        }
        if (names.size() == 1) {
            return escaped(names.get(0));
        }
        int shortest = names.stream().mapToInt(String::length).min().orElse(0);
        String common = start.length() + end.length() > shortest ? "" : start;
        String plain = common.replaceAll("\\d+$", "");
        return escaped(plain) + "*" + escaped(end);
    }

    /** A piece of a name in a pattern, where it stands for itself. */
    static String escaped(String text) {
        StringBuilder out = new StringBuilder();
        text.codePoints().forEach(c -> out.appendCodePoint(SPECIAL.indexOf(c) >= 0 ? '?' : c));
        return out.toString();
    }
}
