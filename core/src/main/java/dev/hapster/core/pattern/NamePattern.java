package dev.hapster.core.pattern;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A pattern of file names: {@code *} any run of characters, {@code ?} exactly one, {@code [a-z]} and {@code [!a-z]} one
 * of a set, {@code {a,b}} alternatives, {@code **} any run of folders; a backslash takes away the next character's meaning.
 * A named piece, {@code {lab}}, {@code {batch:integer}} or {@code {month:yyyy-MM}}, is any run of characters (at least one,
 * as few as possible, without {@code /}) whose value becomes a fact about the file. In a regular expression, named groups
 * {@code (?P<lab>…)} do the same.
 *
 * <p>A pattern without {@code /} is compared with the file's name, one with {@code /} with its path below the folder.
 * Matching takes linear time, whatever the pattern. Immutable.
 */
public final class NamePattern {

    private static final java.util.regex.Pattern PIECE = java.util.regex.Pattern.compile("([A-Za-z][A-Za-z0-9_]{0,62})(?::([^{}]*))?\\}");

    private final String written;
    private final boolean isRegex;
    private final Pattern regex;
    private final List<Piece> pieces;

    private NamePattern(String written, boolean isRegex, Pattern regex, List<Piece> pieces) {
        this.written = written;
        this.isRegex = isRegex;
        this.regex = regex;
        this.pieces = List.copyOf(pieces);
    }

    /**
     * A name that has the pattern's shape.
     *
     * @param facts      what its pieces say, in the order of the pattern
     * @param unreadable why a piece cannot be read as it is declared, so that the name does not match after all
     */
    public record Match(Map<String, Fact> facts, Optional<String> unreadable) {
        private static final Match PLAIN = new Match(Map.of(), Optional.empty());
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
        Translation translation = new Translation(written);
        return new NamePattern(written, false, Pattern.compile(translation.regex(), flags(anyCase)), translation.pieces);
    }

    /**
     * A regular expression (RE2 syntax, linear time) that the whole name must match, or the whole path where it speaks of
     * {@code /}.
     *
     * @throws IllegalArgumentException with a sentence for people, where it is none
     */
    public static NamePattern regex(String written, boolean anyCase) {
        try {
            Pattern regex = Pattern.compile(written, flags(anyCase));
            List<Piece> pieces = new ArrayList<>();
            regex.namedGroups().entrySet().stream().sorted(Comparator.comparing(Map.Entry::getValue))
                    .forEach(group -> pieces.add(Piece.of(group.getKey(), Optional.empty(), pieces)));
            return new NamePattern(written, true, regex, pieces);
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

    /** Names of the facts that a match yields. */
    public List<String> facts() {
        return pieces.stream().map(piece -> piece.name).toList();
    }

    /** For a pattern such as {@code *.part}: what stands behind its one {@code *}; empty for all others. */
    public Optional<String> ending() {
        boolean plain = !isRegex && written.length() > 1 && written.charAt(0) == '*' && written.chars().skip(1).noneMatch(c -> "*?[]{}\\/".indexOf(c) >= 0);
        return plain ? Optional.of(written.substring(1)) : Optional.empty();
    }

    /**
     * @param relative the file's path below the folder, with {@code /} between its pieces
     */
    public boolean matches(String relative) {
        return match(relative).filter(match -> match.unreadable.isEmpty()).isPresent();
    }

    /**
     * Compares a file with the pattern.
     *
     * @param relative the file's path below the folder, with {@code /} between its pieces
     * @return empty where it does not have the pattern's shape
     */
    public Optional<Match> match(String relative) {
        String text = hasFolders() ? relative : relative.substring(relative.lastIndexOf('/') + 1);
        if (pieces.isEmpty()) {
            return regex.matches(text) ? Optional.of(Match.PLAIN) : Optional.empty();
        }
        Matcher matcher = regex.matcher(text);
        if (!matcher.matches()) {
            return Optional.empty();
        }
        Map<String, Fact> facts = new LinkedHashMap<>();
        for (int i = 0; i < pieces.size(); i++) {
            Piece piece = pieces.get(i);
            String value = isRegex ? matcher.group(piece.name) : matcher.group(i + 1);
            if (value == null) {
                continue; // a group in an alternative that was not taken
            }
            Optional<Fact> fact = piece.read(value);
            if (fact.isEmpty()) {
                return Optional.of(new Match(Map.of(), Optional.of(piece.refusal(value))));
            }
            facts.put(piece.name, fact.get());
        }
        return Optional.of(new Match(facts, Optional.empty()));
    }

    @Override
    public String toString() {
        return written;
    }

    private static final class Translation {
        private final String text;
        private final StringBuilder regex = new StringBuilder();
        private final List<Piece> pieces = new ArrayList<>();
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
                        if (!piece(open)) {
                            open++;
                            regex.append("(?:");
                        }
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

        /** A named piece: a name, and perhaps a colon and what it is. Anything else in braces is alternatives. */
        private boolean piece(int open) {
            java.util.regex.Matcher form = PIECE.matcher(text).region(at, text.length());
            if (!form.lookingAt()) {
                return false;
            }
            if (open > 0) {
                throw new IllegalArgumentException("the piece {" + form.group(1) + "} stands among alternatives in " + text + "; write two patterns instead");
            }
            at = form.end();
            Piece piece = Piece.of(form.group(1), Optional.ofNullable(form.group(2)), pieces);
            boolean endless = at < text.length() && (text.charAt(at) == '*' || text.charAt(at) == '{' || text.charAt(at) == '?' || text.charAt(at) == '[');
            regex.append(piece.regex(endless, text));
            pieces.add(piece);
            return true;
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
