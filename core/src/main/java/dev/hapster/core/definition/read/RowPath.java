package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;

/** Which elements of a nested file are its rows: names from the outermost element inwards. */
final class RowPath {

    private static final int MOST_NAMES = 32;

    private RowPath() {}

    static Shape<List<String>> shape() {
        return Shape.of((map, key, usual) -> read(map, key), Map.of("type", "string"), path -> "");
    }

    private static List<String> read(YamlMap map, String key) {
        String text = map.text(key, "");
        boolean xml = map.text(ReadSection.AS_NAME, "").equals(Format.XML.word());
        String path = text.startsWith("$") ? text.substring(1) : text;
        List<String> names = new ArrayList<>();
        for (String name : path.split(Pattern.quote(xml ? "/" : "."), -1)) {
            String plain = name.replaceAll("(\\[\\*?\\])+$", "");
            if (!plain.isEmpty()) {
                names.add(plain);
            }
        }
        boolean broken =
                names.stream().anyMatch(name -> name.indexOf('[') >= 0 || name.indexOf(']') >= 0 || name.isBlank());
        if (broken || (names.isEmpty() && !text.matches("\\$?(\\[\\*?\\])?")) || names.size() > MOST_NAMES) {
            map.wrong(
                    key,
                    "'" + text + "' is not a path to rows",
                    xml ? "Write it like report/visit/sample" : "Write it like visits[].samples[]");
        }
        return names;
    }
}
