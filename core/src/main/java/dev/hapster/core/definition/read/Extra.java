package dev.hapster.core.definition.read;

import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.key.Shapes;
import java.util.List;
import java.util.Map;

/**
 * What is done with columns of a file that the job does not use.
 *
 * @param ignoreExtra whether any of them is skipped; otherwise the file is rejected
 * @param ignored names of those that are skipped all the same
 */
public record Extra(boolean ignoreExtra, List<String> ignored) {

    public static final Extra REJECT = new Extra(false, List.of());

    public Extra {
        ignored = List.copyOf(ignored);
    }

    static Shape<Extra> shape() {
        return Shape.of(
                (map, key, usual) -> {
                    if (!map.isText(key)) {
                        return new Extra(false, map.texts(key));
                    }
                    String word = map.text(key, "reject");
                    if (!word.equals("reject") && !word.equals("ignore")) {
                        map.wrong(
                                key,
                                "'" + key + "' must be reject, ignore or a list of names, not '" + word + "'",
                                "Write `" + key + ": [" + word + "]` to skip this one");
                    }
                    return new Extra(word.equals("ignore"), List.of());
                },
                Map.of(
                        "oneOf",
                        List.of(
                                Map.of("enum", List.of("reject", "ignore")),
                                Map.of("type", "array", "items", Shapes.scalar()))),
                extra -> extra.equals(REJECT) ? "reject" : "");
    }
}
