package dev.hapster.core.draft.reading;

import dev.hapster.core.definition.read.Span;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Text in which columns stand one below the other.
 *
 * @param spans where each column stands
 * @param header whether the first line names them
 * @param why what this rests on
 */
record FixedLook(List<Span> spans, boolean header, String why) {

    private static final int LINES = 500;
    private static final int ENOUGH = 3;

    /** @return empty where the lines have no places in common that are blank */
    static Optional<FixedLook> of(String text) {
        List<String> lines =
                text.lines().filter(line -> !line.isBlank()).limit(LINES).toList();
        if (lines.size() < ENOUGH || lines.stream().anyMatch(line -> line.indexOf('\t') >= 0)) {
            return Optional.empty();
        }
        int width = lines.stream()
                .mapToInt(line -> line.stripTrailing().length())
                .max()
                .orElse(0);
        BitSet filled = new BitSet();
        for (String line : lines) {
            for (int i = 0; i < line.length(); i++) {
                if (line.charAt(i) != ' ') {
                    filled.set(i);
                }
            }
        }
        List<int[]> places = new ArrayList<>();
        for (int from = filled.nextSetBit(0); from >= 0 && from < width; ) {
            int to = filled.nextClearBit(from);
            places.add(new int[] {from, to});
            from = filled.nextSetBit(to);
        }
        if (places.size() < 2 || places.stream().anyMatch(place -> place[0] == 0 && place[1] == width)) {
            return Optional.empty();
        }
        List<Row> rows = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i);
            rows.add(new Row(
                    i + 1,
                    places.size(),
                    places.stream().map(place -> cut(line, place)).toList(),
                    new byte[places.size()],
                    false));
        }
        TableStart start = TableStart.of(rows, places.size());
        Set<String> seen = new HashSet<>();
        List<Span> spans = new ArrayList<>();
        for (int i = 0; i < places.size(); i++) {
            String name = start.header() ? rows.get(0).cells().get(i) : "";
            name = name.isBlank() || !seen.add(name) ? "column_" + (i + 1) : name;
            int end = i + 1 < places.size() ? places.get(i + 1)[0] : Integer.MAX_VALUE;
            spans.add(new Span(name, places.get(i)[0] + 1, end));
        }
        return Optional.of(new FixedLook(spans, start.header(), start.why()));
    }

    private static String cut(String line, int[] place) {
        return place[0] >= line.length()
                ? ""
                : line.substring(place[0], Math.min(place[1], line.length())).strip();
    }
}
