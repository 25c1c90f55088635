package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.IntStream;

/**
 * A separator with what it gives.
 *
 * @param width fields that rows have
 * @param alike of 100 rows, how many have so many
 * @param dirty of 10 rows, how many hold in a field what would separate others
 * @param range how many fields there are, such as {@code 2 to 9}
 * @param rows the first ones
 */
record Split(String separator, int width, int alike, int dirty, String range, List<Row> rows) {

    private static final int MOST_LENGTHS = 3;
    /** One row in so many must be as long as the longest. */
    private static final int MOST_OFTEN = 10;

    /**
     * The beginning of a file.
     *
     * @param utf8 the same lines as bytes
     * @param whole whether that is all of the file
     */
    record Text(List<String> lines, byte[] utf8, boolean whole) {}

    /** How the lines are taken apart. */
    record Marks(String separator, Optional<String> comment, Optional<Character> quote, Optional<Character> escape) {}

    /** @param most rows that are looked at */
    static Split of(Text text, Marks marks, int most) throws IOException, FileRejectedException {
        int widest = 1;
        for (String line : text.lines()) {
            widest = Math.max(widest, count(line, marks.separator()) + 1);
        }
        Read read = Read.USUAL
                .with(ReadSection.SEPARATOR, List.of(marks.separator()))
                .with(ReadSection.COMMENT, marks.comment())
                .with(ReadSection.QUOTE, marks.quote())
                .with(ReadSection.ESCAPE, marks.escape())
                .with(
                        ReadSection.NAMES,
                        IntStream.rangeClosed(1, Math.min(widest, DelimitedReader.MOST_COLUMNS))
                                .mapToObj(i -> "c" + i)
                                .toList());
        DelimitedReader reader = new DelimitedReader(new ByteArrayInputStream(text.utf8()), read);
        List<Row> rows = Row.first(reader, most);
        if (!text.whole() && rows.size() > 1 && rows.size() < most) {
            rows.remove(rows.size() - 1); // it may be cut off
        }
        TreeMap<Integer, Integer> counts = new TreeMap<>();
        rows.forEach(row -> counts.merge(row.fields(), 1, Integer::sum));
        int width = counts.entrySet().stream()
                .filter(one -> one.getKey() > 1)
                .max(Map.Entry.<Integer, Integer>comparingByValue().thenComparing(Map.Entry.comparingByKey()))
                .map(Map.Entry::getKey)
                .orElse(1);
        int alike = counts.getOrDefault(width, 0);
        if (leavesOut(marks.separator(), counts, rows.size())) {
            width = counts.lastKey();
            alike = rows.size();
        }
        int dirty = 0;
        for (Row row : rows) {
            dirty += isDirty(row, marks.separator()) ? 1 : 0;
        }
        return new Split(
                marks.separator(),
                width,
                rows.isEmpty() ? 0 : alike * 100 / rows.size(),
                rows.isEmpty() ? 0 : dirty * 10 / rows.size(),
                counts.isEmpty()
                        ? "0"
                        : counts.size() == 1 ? String.valueOf(width) : counts.firstKey() + " to " + counts.lastKey(),
                rows);
    }

    /**
     * Whether many rows leave out their last fields, and all others have them: as many fields as the longest, or not
     * much fewer. Commas and colons stand in sentences as well, so they prove nothing.
     */
    private static boolean leavesOut(String separator, NavigableMap<Integer, Integer> counts, int rows) {
        return !separator.equals(",")
                && !separator.equals(":")
                && counts.size() > 1
                && counts.size() <= MOST_LENGTHS
                && counts.firstKey() > 1
                && counts.firstKey() * 2 > counts.lastKey()
                && counts.lastEntry().getValue() * MOST_OFTEN >= rows;
    }

    /** Whether any cell of a row holds what would separate others. */
    private static boolean isDirty(Row row, String separator) {
        for (String cell : row.cells()) {
            for (int other = 1; other < 4; other++) {
                if (cell.contains(TextReading.SEPARATORS.get(other))
                        && !TextReading.SEPARATORS.get(other).equals(separator)) {
                    return true;
                }
            }
        }
        return false;
    }

    private static int count(String line, String part) {
        int count = 0;
        for (int at = line.indexOf(part); at >= 0; at = line.indexOf(part, at + part.length())) {
            count++;
        }
        return count;
    }
}
