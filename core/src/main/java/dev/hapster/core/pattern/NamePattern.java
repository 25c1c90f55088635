package dev.hapster.core.pattern;

import com.google.re2j.Matcher;
import com.google.re2j.Pattern;
import com.google.re2j.PatternSyntaxException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A pattern of file names: {@code *} any run of characters, {@code ?} exactly one, {@code [a-z]} and {@code [!a-z]} one
 * of a set, {@code {a,b}} alternatives, {@code **} any run of folders; a backslash takes away the next character's
 * meaning. A named piece, {@code {lab}}, {@code {batch:integer}} or {@code {month:yyyy-MM}}, is any run of characters
 * (at least one, as few as possible, without {@code /}) whose value becomes a fact about the file. In a regular
 * expression, named groups {@code (?P<lab>…)} do the same.
 *
 * <p>A pattern without {@code /} is compared with the file's name, one with {@code /} with its path below the folder.
 * What lies in an archive has the archive's path, {@code !/} and its own path there. Matching takes linear time,
 * whatever the pattern. Immutable.
 */
public final class NamePattern {

    private static final java.util.regex.Pattern PIECE =
            java.util.regex.Pattern.compile("([A-Za-z][A-Za-z0-9_]{0,62})(?::([^{}]*))?\\}");

    /** Stands between the path of an archive and the path of what lies in it. */
    public static final String INSIDE = "!/";

    private static final Optional<String> NO_SHAPE = Optional.of("");
    private static final String SPECIAL = "*?[]{},\\";

    private final String written;
    /** Only one of these is there. */
    private final NameProgram program;

    /**
     * The same in which dates may have any length: what does not match the program is told by it to have a date that
     * cannot be read. Null where there are no dates.
     */
    private final NameProgram loose;

    private final Pattern regex;
    private final List<Piece> pieces;
    private final List<String> facts;
    private final boolean folders;
    /** For a pattern of what lies in archives, that of the archives; null for all others. */
    private final NamePattern archive;
    /** The same without regard to case; null where there is no other case. */
    private final NamePattern anyCase;
    /** What each name begins and ends with, so that most that do not match are told at once. */
    private final String beginning;

    private final String end;

    private NamePattern(
            String written,
            NameProgram program,
            NameProgram loose,
            Pattern regex,
            List<Piece> pieces,
            NamePattern archive,
            NamePattern anyCase) {
        this.archive = archive;
        this.anyCase = anyCase;
        this.loose = loose;
        this.written = written;
        this.program = program;
        this.regex = regex;
        boolean plain = program != null && program.minds();
        beginning = plain ? written.substring(0, special(written, 0, 1)) : "";
        String last = plain ? written.substring(special(written, written.length() - 1, -1) + 1) : "";
        end = last.startsWith("/") ? last.substring(1) : last; // the slash belongs to **/ and may be absent with it
        folders = written.indexOf('/') >= 0 || (program != null && written.contains("**"));
        this.pieces = List.copyOf(pieces);
        facts = pieces.stream().map(piece -> piece.name).toList();
    }

    /** The first character that means something other than itself, from a position on in a direction. */
    private static int special(String written, int from, int step) {
        int at = from;
        while (at >= 0 && at < written.length() && SPECIAL.indexOf(written.charAt(at)) < 0) {
            at += step;
        }
        return at;
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
        Translation translation = new Translation(written, anyCase, true);
        NameProgram program = translation.program();
        boolean dated = translation.pieces.stream().anyMatch(piece -> piece.width() > 0);
        int inside = written.indexOf(INSIDE);
        return new NamePattern(
                written,
                program,
                dated ? new Translation(written, anyCase, false).program() : null,
                null,
                translation.pieces,
                inside > 0 ? of(written.substring(0, inside), anyCase) : null,
                anyCase ? null : of(written, true));
    }

    /**
     * A regular expression (RE2 syntax, linear time) that the whole name must match, or the whole path where it speaks
     * of {@code /}.
     *
     * @throws IllegalArgumentException with a sentence for people, where it is none
     */
    public static NamePattern regex(String written, boolean anyCase) {
        if (RegexSize.of(written) > RegexSize.MOST) {
            throw new IllegalArgumentException(
                    "'" + written + "' has more than " + RegexSize.MOST + " steps, with all that it repeats");
        }
        try {
            Pattern regex = Pattern.compile(written, Pattern.DOTALL | (anyCase ? Pattern.CASE_INSENSITIVE : 0));
            List<Piece> pieces = new ArrayList<>();
            regex.namedGroups().entrySet().stream()
                    .sorted(Comparator.comparing(Map.Entry::getValue))
                    .forEach(group -> pieces.add(Piece.of(group.getKey(), Optional.empty(), pieces)));
            return new NamePattern(written, null, null, regex, pieces, null, anyCase ? null : regex(written, true));
        } catch (PatternSyntaxException wrong) {
            throw new IllegalArgumentException(
                    "'" + written + "' is not a regular expression (RE2): " + wrong.getDescription(), wrong);
        }
    }

    /** The pattern in the words of a job file. */
    public String words() {
        return (regex != null ? "regex " : "") + "\"" + written + "\"";
    }

    /** Whether the pattern speaks of folders, not just of names. */
    public boolean hasFolders() {
        return folders;
    }

    /** Names of the facts that a match yields. */
    public List<String> facts() {
        return facts;
    }

    /** Those of the facts that are dates. */
    public List<String> dates() {
        return pieces.stream().filter(Piece::isDate).map(piece -> piece.name).toList();
    }

    /** For a pattern such as {@code *.zip!/2026/*.csv}, of what lies in archives: the one that the archives match. */
    public Optional<NamePattern> archive() {
        return Optional.ofNullable(archive);
    }

    /** For a pattern such as {@code *.part}: what stands behind its one {@code *}; empty for all others. */
    public Optional<String> ending() {
        boolean plain = regex == null
                && written.length() > 1
                && written.charAt(0) == '*'
                && written.chars().skip(1).noneMatch(c -> "*?[]{}\\/".indexOf(c) >= 0);
        return plain ? Optional.of(written.substring(1)) : Optional.empty();
    }

    /** @param relative the file's path below the folder, with {@code /} between its pieces */
    public boolean matches(String relative) {
        return refusal(relative).isEmpty();
    }

    /**
     * Why a file does not match: an empty text where its path has not the pattern's shape, a sentence where a piece
     * cannot be read. Empty where it does.
     *
     * @param relative the file's path below the folder, with {@code /} between its pieces
     */
    private Optional<String> refusal(String relative) {
        int from = folders ? 0 : relative.lastIndexOf('/') + 1;
        if (!relative.startsWith(beginning, from) || !relative.endsWith(end)) {
            return NO_SHAPE;
        }
        String text = relative.substring(from);
        if (regex == null) {
            int[] strict = program.match(text);
            int[] places = strict == null && loose != null ? loose.match(text) : strict;
            if (places == null) {
                return NO_SHAPE;
            }
            for (int i = 0; i < pieces.size(); i++) {
                String value = text.substring(places[2 * i], places[2 * i + 1]);
                if (!pieces.get(i).reads(value)) {
                    return Optional.of(pieces.get(i).refusal(value));
                }
            }
            return strict == null ? NO_SHAPE : Optional.empty();
        }
        return regex.matches(text) ? Optional.empty() : NO_SHAPE; // pieces of expressions are plain texts
    }

    /**
     * Why a file that does not match nearly does, as a clause for people: a piece of its name cannot be read, or only
     * case differs. Empty where its path has another shape, and where it matches.
     *
     * @param relative the file's path below the folder, with {@code /} between its pieces
     */
    public Optional<String> nearly(String relative) {
        Optional<String> unread = refusal(relative);
        if (unread.isEmpty() || !unread.get().isEmpty()) {
            return unread;
        }
        return anyCase != null && anyCase.matches(relative)
                ? Optional.of("only case differs from " + words() + "; any_case: true takes it")
                : Optional.empty();
    }

    /**
     * What the pieces of a path say.
     *
     * @param relative the file's path below the folder, with {@code /} between its pieces
     * @return empty where it does not match
     */
    public Optional<Map<String, Fact>> says(String relative) {
        if (refusal(relative).isPresent()) {
            return Optional.empty();
        }
        String text = folders ? relative : relative.substring(relative.lastIndexOf('/') + 1);
        Map<String, Fact> facts = new LinkedHashMap<>();
        int[] places = regex == null ? program.match(text) : null;
        Matcher matcher = regex == null ? null : regex.matcher(text);
        boolean found = matcher != null && matcher.matches();
        for (int i = 0; i < pieces.size(); i++) {
            Piece piece = pieces.get(i);
            String value = places != null
                    ? text.substring(places[2 * i], places[2 * i + 1])
                    : found ? matcher.group(piece.name) : null;
            if (value != null) { // null for a group in an alternative that was not taken
                piece.read(value).ifPresent(fact -> facts.put(piece.name, fact));
            }
        }
        return Optional.of(facts);
    }

    @Override
    public String toString() {
        return written;
    }

    /** Reads a pattern and makes a program of it. */
    private static final class Translation {

        /**
         * Alternatives that are open: the choice that leads to the next one, and the jumps from the end of each to
         * behind them all.
         */
        private record Alternatives(int[] choice, List<Integer> ends) {}

        private final String text;
        private final NameProgram.Builder program;
        private final List<Piece> pieces = new ArrayList<>();
        private final Deque<Alternatives> open = new ArrayDeque<>();
        private int at;

        /** Whether a date is as long as its pattern has it, so that what stands before it may have the same marks. */
        private final boolean measured;

        Translation(String text, boolean anyCase, boolean measured) {
            this.text = text;
            this.measured = measured;
            program = new NameProgram.Builder(anyCase);
        }

        NameProgram program() {
            while (at < text.length()) {
                int c = text.codePointAt(at);
                at += Character.charCount(c);
                switch (c) {
                    case '*' -> star();
                    case '?' -> program.one();
                    case '[' -> set();
                    case '{' -> {
                        if (!piece()) {
                            open.push(new Alternatives(new int[] {program.choice()}, new ArrayList<>()));
                        }
                    }
                    case '}' -> close();
                    case ',' -> comma();
                    case '\\' -> {
                        if (at == text.length()) {
                            throw new IllegalArgumentException(
                                    "a backslash at the end of " + text + " has nothing to act on");
                        }
                        c = text.codePointAt(at);
                        at += Character.charCount(c);
                        program.character(c);
                    }
                    default -> program.character(c);
                }
            }
            if (!open.isEmpty()) {
                throw new IllegalArgumentException("'{' is never closed in " + text);
            }
            return program.build();
        }

        private void comma() {
            if (open.isEmpty()) {
                program.character(',');
                return;
            }
            Alternatives now = open.peek();
            now.ends.add(program.jump(0));
            program.orElse(now.choice[0]);
            now.choice[0] = program.choice();
        }

        private void close() {
            if (open.isEmpty()) {
                throw new IllegalArgumentException("'}' closes nothing at position " + at + " of " + text);
            }
            Alternatives now = open.pop();
            now.ends.forEach(program::land);
            program.noElse(now.choice[0]);
        }

        /** A named piece: a name, and perhaps a colon and what it is. Anything else in braces is alternatives. */
        private boolean piece() {
            java.util.regex.Matcher form = PIECE.matcher(text).region(at, text.length());
            if (!form.lookingAt()) {
                return false;
            }
            if (!open.isEmpty()) {
                throw new IllegalArgumentException("the piece {" + form.group(1) + "} stands among alternatives in "
                        + text + "; write two patterns instead");
            }
            at = form.end();
            Piece piece = Piece.of(form.group(1), Optional.ofNullable(form.group(2)), pieces);
            if (at < text.length() && "*{?[".indexOf(text.charAt(at)) >= 0) {
                program.piece(piece.width(text));
            } else if (measured && piece.width() > 0) {
                program.piece(piece.width());
            } else {
                program.piece();
            }
            pieces.add(piece);
            return true;
        }

        private void star() {
            if (at == text.length() || text.charAt(at) != '*') {
                program.many(false);
                return;
            }
            at++;
            if (at < text.length() && text.charAt(at) == '/') {
                at++;
                int choice = program.choice();
                program.many(true);
                program.character('/');
                program.orElse(choice);
            } else {
                program.many(true);
                while (at < text.length() && text.charAt(at) == '*') {
                    at++; // more stars mean nothing more, and each would be tried in every way
                }
            }
        }

        private void set() {
            int end = text.indexOf(
                    ']', at + (at < text.length() && (text.charAt(at) == '!' || text.charAt(at) == ']') ? 1 : 0));
            if (end < 0) {
                throw new IllegalArgumentException("'[' is never closed in " + text);
            }
            boolean not = text.charAt(at) == '!';
            int[] members = text.substring(at + (not ? 1 : 0), end).codePoints().toArray();
            if (members.length == 0) {
                throw new IllegalArgumentException("the set [] in " + text + " holds nothing");
            }
            int[] ranges = new int[members.length * 2];
            int used = 0;
            for (int i = 0; i < members.length; i++) {
                boolean range = i + 2 < members.length && members[i + 1] == '-';
                int high = range ? members[i + 2] : members[i];
                if (high < members[i]) {
                    throw new IllegalArgumentException(
                            "the range " + new String(members, i, 3) + " in " + text + " runs backwards");
                }
                ranges[used++] = members[i];
                ranges[used++] = high;
                i += range ? 2 : 0;
            }
            program.set(java.util.Arrays.copyOf(ranges, used), not);
            at = end + 1;
        }
    }
}
