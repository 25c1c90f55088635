package dev.hapster.core.pattern;

import java.util.Optional;

/**
 * The name of a cell as spreadsheets write it: {@code B3}.
 *
 * @param row counted from 1; 0 where the name has none
 * @param column counted from 1; 0 where the name has none
 */
public record CellName(int row, int column) {

    private static final int MOST_LETTERS = 3;
    private static final int MOST_ROWS = 10_000_000;
    private static final int LETTERS = 26;

    /**
     * Reads {@code B3}, {@code $B$3}, {@code B} or {@code 3}, in upper or lower case.
     *
     * @return empty where the text is none of them
     */
    public static Optional<CellName> of(String text) {
        String plain = text.replace("$", "");
        int letters = 0;
        while (letters < plain.length() && Character.isLetter(plain.charAt(letters))) {
            letters++;
        }
        int column = column(plain);
        int row = 0;
        for (int at = letters; at < plain.length(); at++) {
            int digit = plain.charAt(at) - '0';
            if (digit < 0 || digit > 9 || row > MOST_ROWS) {
                return Optional.empty();
            }
            row = row * 10 + digit;
        }
        boolean fits = letters <= MOST_LETTERS && (letters == 0) == (column == 0);
        return fits && (row > 0 || letters == plain.length()) && !plain.isEmpty()
                ? Optional.of(new CellName(row, column))
                : Optional.empty();
    }

    /** The column that a name begins with, counted from 1; 0 where it begins with none. */
    public static int column(String name) {
        int column = 0;
        for (int at = 0; at < name.length() && at <= MOST_LETTERS; at++) {
            int letter = (name.charAt(at) & ~0x20) - 'A';
            if (letter < 0 || letter >= LETTERS || name.charAt(at) > 'z') {
                break;
            }
            column = column * LETTERS + letter + 1;
        }
        return column;
    }

    /** The letters of a column. */
    public static String letters(int column) {
        StringBuilder letters = new StringBuilder();
        for (int rest = column; rest > 0; rest = (rest - 1) / LETTERS) {
            letters.insert(0, (char) ('A' + (rest - 1) % LETTERS));
        }
        return letters.toString();
    }
}
