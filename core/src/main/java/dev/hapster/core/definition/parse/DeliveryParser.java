package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.FilePattern;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.DatasetSection.Deliver;
import dev.hapster.core.definition.yaml.YamlMap;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Reads what a dataset's file says of deliveries. */
final class DeliveryParser {

    /** What rows can be written as, by the ending of a file. */
    private static final Map<String, String> FORMATS = Map.of(
            "csv", "csv",
            "xlsx", "xlsx",
            "json", "json",
            "jsonl", "json_lines",
            "ndjson", "json_lines",
            "xml", "xml",
            "parquet", "parquet");

    private DeliveryParser() {}

    static List<DeliveryDef> deliveries(YamlMap root, List<ColumnDef> columns) {
        List<DeliveryDef> deliveries = new ArrayList<>();
        if (!root.has("deliver")) {
            return deliveries;
        }
        List<YamlMap> maps = root.maps("deliver");
        if (maps.size() > DatasetSection.MOST_DELIVERIES) {
            root.wrong("deliver", "a dataset has at most " + DatasetSection.MOST_DELIVERIES + " deliveries", "");
            return deliveries;
        }
        Set<String> names = new HashSet<>();
        Set<String> targets = new HashSet<>();
        for (YamlMap map : maps) {
            Deliver.SECTION.check(map);
            String name = map.required("name", "Call it by whom it is for, such as `name: ministry`");
            if (map.has("name") && !name.matches(DatasetSection.FILE_NAME_RULE)) {
                map.wrong(
                        "name",
                        "a delivery cannot be called '" + name + "'",
                        "Use letters, digits, - and _, beginning with a letter or digit");
            } else if (map.has("name") && !names.add(name)) {
                map.wrong("name", "the delivery '" + name + "' is declared twice", "Keep one of them");
            }
            String to = map.required("to", "Name the file, such as `to: out/{lab}.csv`");
            if (map.has("to")) {
                if (!targets.add(to)) {
                    map.wrong("to", "another delivery writes '" + to + "'", "Let each have files of its own");
                }
                pattern(map, to, columns).ifPresent(pattern -> deliveries.add(delivery(map, name, pattern)));
            }
        }
        return deliveries;
    }

    private static Optional<FilePattern> pattern(YamlMap map, String to, List<ColumnDef> columns) {
        try {
            return Optional.of(FilePattern.of(to, columns));
        } catch (IllegalArgumentException wrong) {
            map.wrong("to", wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static DeliveryDef delivery(YamlMap map, String name, FilePattern to) {
        return new DeliveryDef(
                name,
                Deliver.ABOUT.in(map),
                to,
                format(map, to.toString()),
                Deliver.WHERE.in(map),
                Deliver.COLUMNS.in(map),
                Deliver.SORT.in(map),
                Deliver.ORIGINS.in(map),
                Deliver.WHEN.in(map),
                new DeliveryDef.Style(
                        Deliver.SEPARATOR.in(map),
                        Deliver.ENCODING.in(map),
                        Deliver.DECIMAL.in(map),
                        Deliver.DATES.in(map),
                        Deliver.TIMESTAMPS.in(map),
                        Deliver.QUOTE_ALL.in(map),
                        Deliver.HEADER.in(map),
                        Deliver.SAFE.in(map),
                        Deliver.ROOT.in(map),
                        Deliver.ROW.in(map)));
    }

    private static String format(YamlMap map, String to) {
        Optional<String> named = Deliver.AS.in(map);
        if (named.isPresent()) {
            if (!FORMATS.containsValue(named.get())) {
                map.wrong(
                        "as",
                        "'as' must be one of csv, xlsx, json, json_lines, xml, parquet, not '" + named.get() + "'",
                        "");
            }
            return named.get();
        }
        String format = FORMATS.get(to.substring(to.lastIndexOf('.') + 1));
        if (format == null) {
            map.wrong("to", "the ending of '" + to + "' says nothing of a format", "Say it: `as: csv`");
            return "csv";
        }
        return format;
    }
}
