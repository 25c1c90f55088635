package dev.hapster.core.store;

import java.nio.file.Path;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

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

    private static final Pattern IN_BUNDLE = Pattern.compile("(.+)#(\\d{1,15})\\+(\\d{1,15})");

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
        Matcher bundled = IN_BUNDLE.matcher(part);
        return bundled.matches()
                ? new Span(
                        parts.resolve(bundled.group(1)),
                        Long.parseLong(bundled.group(2)),
                        Long.parseLong(bundled.group(3)))
                : whole(parts.resolve(part));
    }

    /** The name of a part of which the rows lie in a bundle. */
    static String named(String bundle, long first, long rows) {
        return bundle + "#" + first + "+" + rows;
    }

    /** The file in which a part lies, by the part's name: {@code DATASET/FILE}. */
    public static String fileOf(String part) {
        Matcher bundled = IN_BUNDLE.matcher(part);
        return bundled.matches() ? bundled.group(1) : part;
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
