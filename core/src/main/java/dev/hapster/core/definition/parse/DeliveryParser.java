package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.ColumnDef;
import dev.hapster.core.definition.DeliveryDef;
import dev.hapster.core.definition.DeliveryDef.Style;
import dev.hapster.core.definition.DeliveryDef.Target;
import dev.hapster.core.definition.DeliveryDef.ToFiles;
import dev.hapster.core.definition.DeliveryDef.ToTable;
import dev.hapster.core.definition.FilePattern;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.DatasetSection.Deliver;
import dev.hapster.core.definition.yaml.YamlMap;
import java.nio.charset.StandardCharsets;
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

    /** Bytes that the name of a table may have. */
    private static final int MOST_IDENTIFIER = 63;

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
            Optional<Target> to = target(map, columns);
            to.ifPresent(target -> {
                if (!targets.add(target.toString())) {
                    map.wrong("to", "another delivery writes '" + target + "'", "Let each have a place of its own");
                }
                deliveries.add(new DeliveryDef(
                        name,
                        Deliver.ABOUT.in(map),
                        target,
                        Deliver.WHERE.in(map),
                        Deliver.COLUMNS.in(map),
                        Deliver.ORIGINS.in(map),
                        Deliver.WHEN.in(map)));
            });
        }
        return deliveries;
    }

    private static Optional<Target> target(YamlMap map, List<ColumnDef> columns) {
        if (map.has("to") && !map.isText("to")) {
            return Optional.of(table(map, map.map("to")));
        }
        String to = map.required("to", "Name the file, such as `to: out/{lab}.csv`");
        if (!map.has("to")) {
            return Optional.empty();
        }
        try {
            FilePattern pattern = FilePattern.of(to, columns);
            String format = format(map, to);
            Optional<String> sheet = Deliver.SHEET.in(map);
            if (sheet.isPresent()
                    && (!format.equals("xlsx") || !pattern.pieces().isEmpty())) {
                map.wrong(
                        "sheet",
                        "a sheet lies in a workbook (xlsx) that is there already, which has one name",
                        "Write `to: out/report.xlsx`, without pieces");
            }
            return Optional.of(new ToFiles(pattern, format, sheet, Deliver.SORT.in(map), style(map)));
        } catch (IllegalArgumentException wrong) {
            map.wrong("to", wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static ToTable table(YamlMap map, YamlMap to) {
        DatasetSection.Table.SECTION.check(to);
        for (Key<?> key : Deliver.OF_FILES) {
            if (key.isIn(map)) {
                map.wrongKey(key.name(), "'" + key.name() + "' does not go with a table", "Remove it");
            }
        }
        String account = to.required("database", "Name an account of accounts.yaml: `database: warehouse`");
        String path = to.required("table", "Name the table: `table: samples`");
        int dot = path.indexOf('.');
        String schema = dot < 0 ? "" : path.substring(0, dot);
        String table = path.substring(dot + 1);
        if (to.has("table") && (!isIdentifier(table) || (dot >= 0 && !isIdentifier(schema)))) {
            to.wrong(
                    "table",
                    "a table cannot be called '" + path + "'",
                    "Write `table` or `schema.table`, each of 1 to " + MOST_IDENTIFIER + " bytes");
        }
        return new ToTable(account, schema, table, DatasetSection.Table.MODE.in(to));
    }

    private static boolean isIdentifier(String name) {
        return !name.isEmpty()
                && name.indexOf('.') < 0
                && name.getBytes(StandardCharsets.UTF_8).length <= MOST_IDENTIFIER
                && name.chars().noneMatch(Character::isISOControl);
    }

    private static Style style(YamlMap map) {
        return new Style(
                Deliver.SEPARATOR.in(map),
                Deliver.ENCODING.in(map),
                Deliver.DECIMAL.in(map),
                Deliver.DATES.in(map),
                Deliver.TIMESTAMPS.in(map),
                Deliver.QUOTE_ALL.in(map),
                Deliver.HEADER.in(map),
                Deliver.SAFE.in(map),
                Deliver.ROOT.in(map),
                Deliver.ROW.in(map));
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
