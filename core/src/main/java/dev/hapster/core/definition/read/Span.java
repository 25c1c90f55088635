package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A column of fixed width.
 *
 * @param from its first character, counted from 1
 * @param to its last; {@link Integer#MAX_VALUE} where it goes to the end of the line
 */
public record Span(String name, int from, int to) {

    private static final Pattern FORM = Pattern.compile("([1-9]\\d{0,5})(?:\\s*-\\s*([1-9]\\d{0,5})?)?");

    static Shape<List<Span>> shape() {
        return Shape.of(
                (map, key, usual) -> read(map, key),
                Map.of("type", "object", "additionalProperties", Shapes.scalar()),
                spans -> "");
    }

    private static List<Span> read(YamlMap read, String key) {
        YamlMap map = read.map(key);
        List<Span> spans = new ArrayList<>();
        for (String name : map.keys()) {
            Span span = of(name, map.text(name, ""), map);
            spans.stream()
                    .filter(other -> span.from <= other.to && other.from <= span.to)
                    .findFirst()
                    .ifPresent(other -> map.wrong(
                            name, "the positions of '" + name + "' overlap those of '" + other.name + "'", ""));
            spans.add(span);
        }
        if (spans.isEmpty()) {
            read.wrong(
                    key,
                    "'" + key + "' is empty",
                    "Say where each column stands: `columns: {station: 1-6, value: 7-14}`");
        }
        spans.sort(Comparator.comparingInt(Span::from));
        return spans;
    }

    private static Span of(String name, String text, YamlMap map) {
        Matcher form = FORM.matcher(text);
        boolean fits = form.matches();
        int from = fits ? Integer.parseInt(form.group(1)) : 1;
        int to = !fits || text.indexOf('-') < 0
                ? from
                : form.group(2) == null ? Integer.MAX_VALUE : Integer.parseInt(form.group(2));
        if (!fits || to < from) {
            map.wrong(
                    name,
                    "'" + text + "' is not a position",
                    "Write it like 7-14, 7 for one character, or 7- to the end of the line");
        }
        return new Span(name, from, to);
    }

    @Override
    public String toString() {
        return name + " " + from + "-" + (to == Integer.MAX_VALUE ? "" : to);
    }
}
