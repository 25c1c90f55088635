package dev.hapster.core.pattern;

import java.util.List;
import java.util.Optional;

/**
 * A named piece of a name pattern, such as <code>{lab}</code> or <code>{month:yyyy-MM}</code>. What follows the colon
 * is {@code text}, {@code integer} or a date pattern (CLDR). Immutable.
 */
final class Piece {

    private static final int MOST_DIGITS = 18;
    /** The run's date is put in before a pattern is read, so no piece may bear its name. */
    private static final String RUN_DATE = "date";

    final String name;
    private final String kind;
    private final DatePattern date;

    private Piece(String name, String kind, DatePattern date) {
        this.name = name;
        this.kind = kind;
        this.date = date;
    }

    /** @throws IllegalArgumentException with a sentence for people */
    static Piece of(String name, Optional<String> kind, List<Piece> before) {
        if (name.equals(RUN_DATE)) {
            throw new IllegalArgumentException(
                    "{date} stands for the run's date and needs a form, such as {date:yyyy-MM}; a piece of the "
                            + "name must be called otherwise");
        }
        if (before.stream().anyMatch(piece -> piece.name.equals(name))) {
            throw new IllegalArgumentException("the piece {" + name + "} stands twice in one pattern");
        }
        String what = kind.orElse("text");
        boolean isDate = !what.equals("text") && !what.equals("integer");
        return new Piece(name, what, isDate ? DatePattern.partial(what) : null);
    }

    boolean isDate() {
        return date != null;
    }

    /** How many characters it has; 0 where that differs from text to text. */
    int width() {
        return date == null ? 0 : date.width();
    }

    /** How many characters it has, where nothing behind it tells where it ends. */
    int width(String pattern) {
        int width = width();
        if (width == 0) {
            throw new IllegalArgumentException("nothing tells where {" + name + "} ends in " + pattern
                    + "; write a character between it and what follows");
        }
        return width;
    }

    /** What a text says; empty where it cannot be read as what the piece declares. */
    Optional<Fact> read(String text) {
        if (date != null) {
            return date.fact(text);
        }
        return reads(text) ? Optional.of(new Fact(text, Optional.empty())) : Optional.empty();
    }

    /** Whether a text can be read. */
    boolean reads(String text) {
        return date != null
                ? date.reads(text)
                : kind.equals("text") || (text.length() <= MOST_DIGITS && text.matches("-?[0-9]+"));
    }

    /** Why a text cannot be read. */
    String refusal(String text) {
        return name + " in its name, \"" + text + "\", is "
                + (date == null ? "not a whole number" : "not a date written as " + kind);
    }
}
