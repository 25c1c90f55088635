package dev.hapster.core.draft.column;

/**
 * One value, gone through once: how it looks, how long it is, and where its runs of digits and letters stand. Used anew
 * for each value. Not thread-safe.
 */
final class Scan {

    private static final int LONGEST_LOOK = 40;
    private static final int MOST_LETTER_RUNS = 4;
    private static final int LONGEST_COUNTED = 18;

    /** How the value looks, as in {@link Look}. */
    final byte[] look = new byte[LONGEST_LOOK];

    int lookLength;
    int hash;
    /** Characters of the value. */
    int characters;

    /** Runs of digits, of which the first {@link Look#MOST_GROUPS} are kept. */
    int runs;

    final long[] numbers = new long[Look.MOST_GROUPS];
    final int[] digits = new int[Look.MOST_GROUPS];
    final boolean[] zeroLed = new boolean[Look.MOST_GROUPS];

    /** Runs of letters, of which the first {@link Look#MOST_LETTERS} are kept. */
    int words;

    final int[] wordFrom = new int[Look.MOST_LETTERS];
    final int[] wordTo = new int[Look.MOST_LETTERS];

    static boolean isLetter(byte b) {
        return b < 0 || (b >= 'a' && b <= 'z') || (b >= 'A' && b <= 'Z');
    }

    static boolean isDigit(byte b) {
        return b >= '0' && b <= '9';
    }

    static int characters(byte[] bytes, int from, int to) {
        int length = 0;
        for (int i = from; i < to; i++) {
            length += (bytes[i] & 0xc0) == 0x80 ? 0 : 1;
        }
        return length;
    }

    /** Goes through a value; false where it is free text, of which nothing but its length is known then. */
    boolean of(byte[] bytes, int from, int to) {
        lookLength = 0;
        hash = 0;
        characters = 0;
        runs = 0;
        words = 0;
        for (int at = from; at < to; ) {
            byte b = bytes[at];
            int next;
            if (isDigit(b)) {
                next = digits(bytes, at, to);
                characters += next - at;
                b = lookLength > 0 && look[lookLength - 1] == 'a' ? Look.behindLetter(next - at) : Look.RUN;
            } else if (isLetter(b)) {
                int wide = firmSpace(bytes, at, to);
                if (wide > 0) {
                    next = at + wide;
                    characters++;
                    b = Look.FIRM_SPACE;
                } else {
                    next = letters(bytes, at, to);
                    b = 'a';
                }
            } else {
                next = at + 1;
                characters++;
            }
            if (lookLength >= LONGEST_LOOK || words > MOST_LETTER_RUNS) {
                characters = characters(bytes, from, to);
                return false;
            }
            look[lookLength++] = b;
            hash = hash * 31 + b;
            at = next;
        }
        return true;
    }

    private int digits(byte[] bytes, int from, int to) {
        int at = from;
        long number = 0;
        while (at < to && isDigit(bytes[at])) {
            number = at - from < LONGEST_COUNTED ? number * 10 + bytes[at] - '0' : number;
            at++;
        }
        if (runs < Look.MOST_GROUPS) {
            numbers[runs] = number;
            digits[runs] = at - from;
            zeroLed[runs] = bytes[from] == '0' && at - from > 1;
        }
        runs++;
        return at;
    }

    private int letters(byte[] bytes, int from, int to) {
        int at = from;
        while (at < to && isLetter(bytes[at])) {
            characters += (bytes[at] & 0xc0) == 0x80 ? 0 : 1;
            at++;
        }
        if (words < Look.MOST_LETTERS) {
            wordFrom[words] = from;
            wordTo[words] = at;
        }
        words++;
        return at;
    }

    /** Bytes of a space at which no line breaks; 0 where there is none. */
    private static int firmSpace(byte[] bytes, int at, int to) {
        if (bytes[at] == (byte) 0xc2 && at + 1 < to && bytes[at + 1] == (byte) 0xa0) {
            return 2;
        }
        boolean narrow =
                bytes[at] == (byte) 0xe2 && at + 2 < to && bytes[at + 1] == (byte) 0x80 && bytes[at + 2] == (byte) 0xaf;
        return narrow ? 3 : 0;
    }
}
