package dev.hapster.core.store;

import java.nio.file.Path;

/**
 * Where the rows of one part lie: a file of the store from its first row to its last, or some rows of a bundle, which
 * is a file that many small parts share.
 *
 * @param file the file
 * @param first number of the first row in it, counted from 0
 * @param rows how many there are; {@link #ALL} where the part is the whole file
 */
public record Span(Path file, long first, long rows) {

    /** All rows that the file has. */
    public static final long ALL = Long.MAX_VALUE;

    private static final int MOST_DIGITS = 15;

    /** A part that has a file for itself. */
    public static Span whole(Path file) {
        return new Span(file, 0, ALL);
    }

    /**
     * Finds a part by its name.
     *
     * @param parts the folder of parts
     * @param part {@code DATASET/FILE}, or {@code DATASET/FILE#FIRST+ROWS} for one in a bundle
     */
    static Span of(Path parts, String part) {
        int mark = mark(part);
        if (mark == part.length()) {
            return whole(parts.resolve(part));
        }
        int plus = part.indexOf('+', mark);
        return new Span(
                parts.resolve(part.substring(0, mark)),
                Long.parseLong(part, mark + 1, plus, 10),
                Long.parseLong(part, plus + 1, part.length(), 10));
    }

    /** Where the name of a bundle ends within that of a part; the name's length where the part is in none. */
    private static int mark(String part) {
        int plus = part.lastIndexOf('+');
        int mark = part.lastIndexOf('#', plus);
        return mark > 0 && isNumber(part, mark + 1, plus) && isNumber(part, plus + 1, part.length())
                ? mark
                : part.length();
    }

    private static boolean isNumber(String text, int from, int to) {
        boolean digits = from < to && to - from <= MOST_DIGITS;
        for (int i = from; digits && i < to; i++) {
            digits = text.charAt(i) >= '0' && text.charAt(i) <= '9';
        }
        return digits;
    }

    /** The name of a part of which the rows lie in a bundle. */
    static String named(String bundle, long first, long rows) {
        return bundle + "#" + first + "+" + rows;
    }

    /** The file in which a part lies, by the part's name: {@code DATASET/FILE}. */
    public static String fileOf(String part) {
        return part.substring(0, mark(part));
    }

    /** Whether it is all of its file. */
    public boolean isWhole() {
        return rows == ALL;
    }

    /** The row behind the last one, where the part is in a bundle. */
    public long end() {
        return isWhole() ? ALL : first + rows;
    }
}
