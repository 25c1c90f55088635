package dev.hapster.core.pattern;

import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;

/**
 * A pattern of file names: {@code *} any run of characters, {@code ?} exactly one, {@code [a-z]} and {@code [!a-z]} one
 * of a set, {@code {a,b}} alternatives, {@code **} any run of folders; a backslash takes away the next character's meaning.
 *
 * <p>A pattern without {@code /} is compared with the file's name, one with {@code /} with its path below the folder.
 * Matching takes linear time, whatever the pattern. Immutable.
 */
public final class NamePattern {

    private final String written;
    private final boolean isRegex;
    private final Pattern regex;

    private NamePattern(String written, boolean isRegex, Pattern regex) {
        this.written = written;
        this.isRegex = isRegex;
        this.regex = regex;
    }

    /** A pattern in which upper and lower case differ. */
    public static NamePattern of(String written) {
        return of(written, false);
    }

    /**
     * @param anyCase whether upper and lower case are the same
     * @throws IllegalArgumentException with a sentence for people, where the pattern is not well-formed
     */
    public static NamePattern of(String written, boolean anyCase) {
        if (written.isEmpty()) {
            throw new IllegalArgumentException("a name pattern must not be empty");
        }
        if (written.startsWith("/")) {
            throw new IllegalArgumentException("a name pattern is relative to its folder and does not begin with /");
        }
        return new NamePattern(written, false, Pattern.compile(new Translation(written).regex(), flags(anyCase)));
    }

    /**
     * A regular expression (RE2 syntax, linear time) that the whole name must match, or the whole path where it speaks of
     * {@code /}.
     *
     * @throws IllegalArgumentException with a sentence for people, where it is none
     */
    public static NamePattern regex(String written, boolean anyCase) {
        try {
            return new NamePattern(written, true, Pattern.compile(written, flags(anyCase)));
        } catch (PatternSyntaxException wrong) {
            throw new IllegalArgumentException("'" + written + "' is no regular expression (RE2): " + wrong.getDescription(), wrong);
        }
    }

    private static int flags(boolean anyCase) {
        return Pattern.DOTALL | (anyCase ? Pattern.CASE_INSENSITIVE : 0);
    }

    /** The pattern in the words of a job file. */
    public String words() {
        return (isRegex ? "regex " : "") + "\"" + written + "\"";
    }

    /** Whether the pattern speaks of folders, not just of names. */
    public boolean hasFolders() {
        return written.indexOf('/') >= 0 || !isRegex && written.contains("**");
    }

    /**
     * @param relative the file's path below the folder, with {@code /} between its pieces
     */
    public boolean matches(String relative) {
        return regex.matches(hasFolders() ? relative : relative.substring(relative.lastIndexOf('/') + 1));
    }

    @Override
    public String toString() {
        return written;
    }

    private static final class Translation {
        private final String text;
        private final StringBuilder regex = new StringBuilder();
        private int at;

        Translation(String text) {
            this.text = text;
        }

        String regex() {
            int open = 0;
            while (at < text.length()) {
                int c = text.codePointAt(at);
                at += Character.charCount(c);
                switch (c) {
                    case '*' -> star();
                    case '?' -> regex.append("[^/]");
                    case '[' -> set();
                    case '{' -> {
                        open++;
                        regex.append("(?:");
                    }
                    case '}' -> {
                        if (open-- == 0) {
                            throw new IllegalArgumentException("'}' closes nothing at position " + at + " of " + text);
                        }
                        regex.append(')');
                    }
                    case ',' -> regex.append(open > 0 ? "|" : ",");
                    case '\\' -> {
                        if (at == text.length()) {
                            throw new IllegalArgumentException("a backslash at the end of " + text + " has nothing to act on");
                        }
                        c = text.codePointAt(at);
                        at += Character.charCount(c);
                        literal(c);
                    }
                    default -> literal(c);
                }
            }
            if (open > 0) {
                throw new IllegalArgumentException("'{' is never closed in " + text);
            }
            return regex.toString();
        }

        private void star() {
            if (at < text.length() && text.charAt(at) == '*') {
                at++;
                if (at < text.length() && text.charAt(at) == '/') {
                    at++;
                    regex.append("(?:.*/)?");
                } else {
                    regex.append(".*");
                }
            } else {
                regex.append("[^/]*");
            }
        }

        private void set() {
            int end = text.indexOf(']', at + (at < text.length() && (text.charAt(at) == '!' || text.charAt(at) == ']') ? 1 : 0));
            if (end < 0) {
                throw new IllegalArgumentException("'[' is never closed in " + text);
            }
            boolean not = text.charAt(at) == '!';
            String members = text.substring(at + (not ? 1 : 0), end);
            if (members.isEmpty()) {
                throw new IllegalArgumentException("the set [] in " + text + " holds nothing");
            }
            regex.append(not ? "[^/" : "[");
            for (int i = 0; i < members.length();) {
                int c = members.codePointAt(i);
                i += Character.charCount(c);
                boolean range = c == '-' && i > 1 && i < members.length();
                if (range) {
                    int low = members.codePointBefore(i - 1);
                    int high = members.codePointAt(i);
                    if (low > high) {
                        throw new IllegalArgumentException("the range " + members.substring(i - 2, i + 1) + " in " + text + " runs backwards");
                    }
                    regex.append('-');
                } else {
                    literal(c);
                }
            }
            regex.append(']');
            at = end + 1;
        }

        private void literal(int c) {
            boolean plain = Character.isLetterOrDigit(c) || c > 0x7f || c == '_' || c == ' ';
            if (!plain) {
                regex.append(c < ' ' ? String.format("\\x%02x", c) : "\\" + Character.toString(c));
            } else {
                regex.appendCodePoint(c);
            }
        }
    }
}
