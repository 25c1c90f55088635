package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.CellName;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;

/**
 * Where a value stands beside the table.
 *
 * @param line counted from 1; 0 where it is the first one that holds {@code after}, or a cell is meant
 * @param cell as the job writes it, such as {@code B2} or {@code Summary!B2}
 * @param after the text behind which the value stands
 * @param field which field of the line it is, counted from 1; 0 for all of the line
 */
public record FactPlace(int line, Optional<String> cell, Optional<String> after, int field) {

    /** Lines that are looked at. */
    public static final int MOST_LINES = 1_000;

    public static final Key<Integer> LINE = Key.of(
            "line",
            Shapes.whole(0, MOST_LINES),
            0,
            "in which line of the file it stands, counted from 1; without it the first one that holds `after`");
    public static final Key<Optional<String>> AFTER = Key.of(
            "after", Shapes.some(), Optional.<String>empty(), "the text behind which it stands, such as `\"Client:\"`");
    public static final Key<Integer> FIELD = Key.of(
            "field",
            Shapes.whole(0, 1_000),
            0,
            "which field of the line it is, counted from 1; without it all of the line");
    public static final Key<Optional<String>> CELL = Key.of(
            "cell",
            Shapes.some(),
            Optional.<String>empty(),
            "in workbooks: the cell, such as `B2`, or `Summary!B2` on another sheet");

    public static final Section SECTION = Section.of(LINE, AFTER, FIELD, CELL);

    static Shape<Map<String, FactPlace>> shape() {
        return Shape.of(
                (map, key, usual) -> read(map.map(key)),
                Map.of("type", "object", "additionalProperties", SECTION.schema()),
                places -> "");
    }

    private static Map<String, FactPlace> read(YamlMap facts) {
        Map<String, FactPlace> places = new LinkedHashMap<>();
        for (String name : facts.keys()) {
            if (!name.matches("[A-Za-z][A-Za-z0-9_]*")) {
                facts.wrongKey(
                        name,
                        "a fact cannot be called '" + name + "'",
                        "Use letters, digits and _, beginning with a letter");
            }
            YamlMap map = SECTION.check(facts.map(name));
            places.put(name, new FactPlace(LINE.in(map), CELL.in(map), AFTER.in(map), FIELD.in(map)));
        }
        return places;
    }

    /** Reports places that a format does not have. */
    static void check(YamlMap read, String key, Format format) {
        YamlMap facts = read.map(key);
        for (String name : facts.keys()) {
            YamlMap map = facts.map(name);
            boolean book = format == Format.WORKBOOK;
            Optional<String> cell = CELL.in(map);
            if (book && cell.isEmpty()) {
                map.wrong("a fact of a workbook stands in a cell", "Write `" + name + ": {cell: B2}`");
            } else if (book
                    && CellName.of(inSheet(cell.get()))
                            .filter(named -> named.row() > 0 && named.column() > 0)
                            .isEmpty()) {
                map.wrong(CELL.name(), "'" + cell.get() + "' is not a cell", "Write it like B2, or Summary!B2");
            } else if (!book && cell.isPresent()) {
                map.wrongKey(
                        CELL.name(),
                        "'cell' goes with workbooks; this is " + format.noun(),
                        "Write `" + name + ": {line: 2, after: \"Client:\"}`");
            } else if (!book && !LINE.isIn(map) && !AFTER.isIn(map)) {
                map.wrong(
                        "nothing says where '" + name + "' stands",
                        "Write `" + name + ": {line: 2, after: \"Client:\"}`");
            }
        }
    }

    /** The cell's name without its sheet. */
    public static String inSheet(String cell) {
        return cell.substring(cell.lastIndexOf('!') + 1);
    }

    @Override
    public String toString() {
        return cell.map(name -> "cell " + name)
                        .orElseGet(() -> line > 0 ? "line " + line : "the first line that holds it")
                + (field > 0 ? ", field " + field : "")
                + after.map(text -> ", after \"" + text + "\"").orElse("");
    }
}
