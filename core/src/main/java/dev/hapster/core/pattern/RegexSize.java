package dev.hapster.core.pattern;

/**
 * How large a regular expression becomes when it is made ready: what is repeated counts so many times as it may be. A
 * few characters can stand for millions of steps.
 */
public final class RegexSize {

    /** Steps that an expression may have. */
    public static final int MOST = 10_000;

    private final String regex;
    private int at;
    private int depth;

    private RegexSize(String regex) {
        this.regex = regex;
    }

    /**
     * @return steps, or one more than {@link #MOST} for all that has more; what is not an expression has some number
     */
    public static int of(String regex) {
        RegexSize size = new RegexSize(regex);
        long all = 0;
        while (size.at < regex.length() && all <= MOST) {
            all += size.alternatives();
            size.at++; // a bracket that closes nothing
        }
        return (int) Math.min(all, MOST + 1L);
    }

    private long alternatives() {
        if (++depth > 200) {
            at = regex.length();
            return MOST + 1L;
        }
        long all = 0;
        while (at < regex.length() && regex.charAt(at) != ')') {
            all = Math.min(all + repeated(atom()), MOST + 1L);
        }
        depth--;
        return all;
    }

    private long atom() {
        char c = regex.charAt(at++);
        switch (c) {
            case '(' -> {
                long inside = alternatives();
                at++;
                return inside + 2;
            }
            case '[' -> {
                boolean first = true;
                while (at < regex.length() && (regex.charAt(at) != ']' || first)) {
                    first = first && regex.charAt(at) == '^';
                    at += regex.charAt(at) == '\\' ? 2 : 1;
                }
                at++;
                return 1;
            }
            case '\\' -> {
                if (at < regex.length() && regex.charAt(at) == 'Q') {
                    int end = regex.indexOf("\\E", at);
                    long length = (long) (end < 0 ? regex.length() : end) - at;
                    at = end < 0 ? regex.length() : end + 2;
                    return length;
                }
                at++;
                return 1;
            }
            default -> {
                return 1;
            }
        }
    }

    private long repeated(long size) {
        long all = size;
        while (at < regex.length()) {
            char c = regex.charAt(at);
            if (c == '*' || c == '+' || c == '?') {
                at++;
                all++;
                continue;
            }
            int end = c == '{' ? regex.indexOf('}', at) : -1;
            if (end < 0 || !regex.substring(at + 1, end).matches("\\d{1,9}(,\\d{0,9})?")) {
                return all;
            }
            String[] counts = regex.substring(at + 1, end).split(",");
            long most = Long.parseLong(counts[counts.length - 1]);
            all = Math.min(all * Math.max(1, most), MOST + 1L);
            at = end + 1;
        }
        return all;
    }
}
