package dev.hapster.core.disk;

import com.dynatrace.hash4j.hashing.Hashing;
import java.nio.charset.StandardCharsets;

/** Names for files that file systems take: of no more than 255 bytes. */
public final class FileNames {

    private static final int MOST_BYTES = 255;
    private static final int LONGEST_ENDING = 40;

    private FileNames() {}

    /**
     * A name with something behind it. Where both together are too long, the name is cut off in front of that, and what
     * is cut off is replaced by a mark that differs with it.
     */
    public static String with(String name, String behind) {
        if (bytes(name + behind) <= MOST_BYTES) {
            return name + behind;
        }
        String mark = String.format("~%08x", (int) Hashing.xxh3_64().hashCharsToLong(name));
        int end = name.length();
        while (end > 0
                && (bytes(name.substring(0, end)) + bytes(mark + behind) > MOST_BYTES
                        || Character.isHighSurrogate(name.charAt(end - 1)))) {
            end--;
        }
        return name.substring(0, end) + mark + behind;
    }

    /** The same name where it is short enough, or one that ends like it. */
    public static String fitting(String name) {
        int dot = ending(name);
        return with(name.substring(0, dot), name.substring(dot));
    }

    /** Where the ending of a name begins, its point included; at its end where it has none. */
    public static int ending(String name) {
        int first = name.indexOf('.', 1);
        int last = name.lastIndexOf('.');
        return first < 0
                ? name.length()
                : name.length() - first <= LONGEST_ENDING
                        ? first
                        : name.length() - last <= LONGEST_ENDING ? last : name.length();
    }

    private static int bytes(String name) {
        return name.getBytes(StandardCharsets.UTF_8).length;
    }
}
