package dev.hapster.core.due;

import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** How many of something are usual, from a least to a most, both included. */
public record Amount(long least, long most) {

    public static final Amount ANY = new Amount(0, Long.MAX_VALUE);
    public static final Amount SOME = new Amount(1, Long.MAX_VALUE);

    private static final Pattern FORM = Pattern.compile("(at least |at most )?(\\d{1,15})(?: to (\\d{1,15}))?");

    /**
     * Reads {@code 3}, {@code at least 1}, {@code at most 5}, {@code 100 to 10000}.
     *
     * @throws IllegalArgumentException with a sentence for people
     */
    public static Amount of(String text) {
        Matcher form = FORM.matcher(text.strip().toLowerCase(Locale.ROOT).replaceAll("\\s+", " "));
        if (!form.matches() || (form.group(1) != null && form.group(3) != null)) {
            throw new IllegalArgumentException("'" + text + "' is not an amount");
        }
        long number = Long.parseLong(form.group(2));
        if (form.group(1) != null) {
            return form.group(1).startsWith("at least") ? new Amount(number, Long.MAX_VALUE) : new Amount(0, number);
        }
        long most = form.group(3) == null ? number : Long.parseLong(form.group(3));
        if (most < number) {
            throw new IllegalArgumentException("'" + text + "' ends before it begins");
        }
        return new Amount(number, most);
    }

    /** Whether a number is as many as wanted, both limits included. */
    public boolean holds(long number) {
        return number >= least && number <= most;
    }

    /** As {@link #of} reads it. */
    @Override
    public String toString() {
        return least == most
                ? String.valueOf(least)
                : most == Long.MAX_VALUE ? "at least " + least : least == 0 ? "at most " + most : least + " to " + most;
    }
}
