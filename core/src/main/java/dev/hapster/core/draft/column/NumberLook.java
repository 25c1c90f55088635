package dev.hapster.core.draft.column;

import dev.hapster.core.row.RawBatch;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * How a look is read as numbers.
 *
 * @param decimal the mark in front of decimals; 0 where there are none
 * @param thousands the mark between groups of three digits; 0 where there is none
 * @param before most digits in front of the decimal mark
 * @param behind most digits behind it
 * @param exponent whether it has one
 */
record NumberLook(char decimal, char thousands, int before, int behind, boolean exponent) {

    private static final String MARKS = ".,";
    private static final String GROUPS = ".,' \u0001";

    /** Every way to read a look; none where it is not a number. */
    static List<NumberLook> of(Look look) {
        String text = look.text;
        boolean typed = look.kind == RawBatch.NUMBER || look.kind == RawBatch.BINARY;
        if ((look.kind != RawBatch.TEXT && !typed) || look.zero != null) {
            return List.of();
        }
        int at = !text.isEmpty() && "+-".indexOf(text.charAt(0)) >= 0 ? 1 : 0;
        int end = text.length();
        boolean exponent = false;
        int letter = text.indexOf('a');
        if (letter > 0) {
            String rest = text.substring(letter + 1);
            if (!List.of("9", "-9", "+9").contains(rest)
                    || look.words.get(0) == null
                    || !look.words.get(0).equals(java.util.Set.of("e"))) {
                return List.of();
            }
            exponent = true;
            end = letter;
        }
        String body = text.substring(at, end);
        List<NumberLook> ways = new ArrayList<>();
        if (body.equals("9")) {
            ways.add(new NumberLook((char) 0, (char) 0, look.groups[0].longest, 0, exponent));
        } else if (body.startsWith(".9") && body.length() == 2) {
            ways.add(new NumberLook('.', (char) 0, 1, look.groups[0].longest, exponent));
        } else if (body.length() >= 3 && body.matches("9([^9a]9)+") && look.groups.length >= (body.length() + 1) / 2) {
            marked(look, body, exponent, ways);
        }
        return typed
                ? ways.stream()
                        .filter(way -> way.thousands == 0 && way.decimal != ',')
                        .map(way -> new NumberLook((char) 0, (char) 0, way.before, way.behind, way.exponent))
                        .limit(1)
                        .toList()
                : ways;
    }

    private static void marked(Look look, String body, boolean exponent, List<NumberLook> ways) {
        int marks = body.length() / 2;
        char last = body.charAt(body.length() - 2);
        Look.Group tail = look.groups[marks];
        if (marks == 1 && MARKS.indexOf(last) >= 0) {
            ways.add(new NumberLook(last, (char) 0, look.groups[0].longest, tail.longest, exponent));
        }
        if (marks > 1 && MARKS.indexOf(last) >= 0) {
            grouped(look, body, marks - 1)
                    .filter(mark -> mark != last)
                    .ifPresent(
                            mark -> ways.add(new NumberLook(last, mark, digits(look, marks), tail.longest, exponent)));
        }
        grouped(look, body, marks)
                .ifPresent(mark -> ways.add(new NumberLook((char) 0, mark, digits(look, marks + 1), 0, exponent)));
    }

    private static int digits(Look look, int groups) {
        return look.groups[0].longest + 3 * (groups - 1);
    }

    /** The mark between the first groups, if those are groups of three. */
    private static Optional<Character> grouped(Look look, String body, int marks) {
        char mark = body.charAt(1);
        if (GROUPS.indexOf(mark) < 0 || look.groups[0].longest > 3 || look.groups[0].zeroLed > 0) {
            return Optional.empty();
        }
        for (int i = 1; i <= marks; i++) {
            if (body.charAt(i * 2 - 1) != mark || look.groups[i].shortest != 3 || look.groups[i].longest != 3) {
                return Optional.empty();
            }
        }
        return look.groups[0].least == 0 && marks == 1 ? Optional.empty() : Optional.of(mark);
    }

    /** Whether it can be read with these marks as well. */
    boolean suits(char decimalMark, char thousandsMark) {
        return (decimal == 0 || decimal == decimalMark) && (thousands == 0 || thousands == thousandsMark);
    }
}
