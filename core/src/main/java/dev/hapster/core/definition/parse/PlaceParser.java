package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.Completeness;
import dev.hapster.core.definition.FindRule;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.JobDef.Sheets;
import dev.hapster.core.definition.NameList;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.PlaceSection;
import dev.hapster.core.definition.section.PlaceSection.Listed;
import dev.hapster.core.definition.section.PlaceSection.Rank;
import dev.hapster.core.definition.section.PlaceSection.Size;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.pattern.ByteSize;
import dev.hapster.core.pattern.NamePattern;
import dev.hapster.core.pattern.TimeRange;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Reads a place of a job: where to look, and by which rules. */
final class PlaceParser {

    private PlaceParser() {}

    private static final Pattern RANK_FORM = Pattern.compile("(newest|oldest|largest|smallest)\\s+([1-9]\\d{0,5})");

    static Place place(YamlMap map, Format format) {
        PlaceSection.SECTION.check(map, format, format.noun());
        String folder = map.required("folder", "Name the folder to look into");
        if (map.text("folder").filter(String::isBlank).isPresent()) {
            map.wrong("folder", "'folder' is empty", "Use . for the workspace itself");
        }
        Optional<String> name = map.text("name");
        if (name.filter(word -> !word.matches(DatasetSection.FILE_NAME_RULE)).isPresent()) {
            map.wrong("name", "'" + name.get() + "' cannot be the name of a place", "Use letters, digits, - and _");
        }
        int depth = PlaceSection.DEPTH.in(map);
        boolean anyCase = PlaceSection.ANY_CASE.in(map);
        Optional<ZoneId> zone = PlaceSection.ZONE.in(map);
        Optional<NameList> list = map.has("list") ? list(map) : Optional.empty();
        if (!map.has("take") && !map.has("list")) {
            map.missing("take", "Say which names to take, for example `take: [\"*.csv\"]`");
        }
        if (list.isPresent() && map.has("depth")) {
            map.wrongKey("depth", "'depth' does not go with 'list': the list names each file", "");
        }
        List<FindRule> rules = new ArrayList<>();
        for (String key : map.keys()) {
            switch (key) {
                case "take" -> rules.add(new FindRule.Take(names(map, key, anyCase, depth)));
                case "skip" -> rules.add(new FindRule.Skip(names(map, key, anyCase, depth)));
                case "size" -> size(map).ifPresent(rules::add);
                case "modified" -> range(map, key).map(FindRule.Modified::new).ifPresent(rules::add);
                case "created" -> range(map, key).map(FindRule.Created::new).ifPresent(rules::add);
                case "rank" -> rank(map).ifPresent(rules::add);
                default -> { // no rule: the other keys say where to look and how the rules are meant
                }
            }
        }
        return new Place(
                folder,
                depth,
                rules,
                zone,
                list,
                arrival(map, anyCase),
                PlaceSection.LOAD_COPIES.in(map),
                PlaceSection.SCAN_AT_MOST.in(map),
                sheets(map, format),
                name,
                look(map));
    }

    private static Optional<Sheets> sheets(YamlMap map, Format format) {
        if (format != Format.WORKBOOK) {
            return Optional.empty();
        }
        List<NamePattern> names = new ArrayList<>();
        List<Integer> positions = new ArrayList<>();
        for (YamlMap item : map.has("sheets") ? map.words("sheets") : List.<YamlMap>of()) {
            if (!item.isWord() && !item.has("regex")) {
                PlaceSection.SHEET_SECTION.check(item);
                boolean last = item.text("position", "").equals("last");
                positions.add(last ? -1 : item.has("position") ? item.number("position", 1, 1, 10_000) : 1);
            } else {
                name(item, true, 32).ifPresent(names::add);
            }
        }
        return Optional.of(
                new Sheets(names, positions, map.has("skip_sheets") ? names(map, "skip_sheets", true, 32) : List.of()));
    }

    private static Completeness arrival(YamlMap map, boolean anyCase) {
        Duration settle = PlaceSection.SETTLE.in(map);
        if (settle.compareTo(Duration.ofDays(1)) > 0) {
            map.wrong(
                    "settle",
                    "'settle' is longer than a day",
                    "A run waits so long for young files; give it seconds or minutes");
        }
        return new Completeness(
                settle,
                map.has("unfinished") ? names(map, "unfinished", anyCase, 32) : Completeness.USUAL.unfinished());
    }

    private static Optional<Duration> look(YamlMap map) {
        Optional<Duration> look = PlaceSection.LOOK.in(map);
        look.ifPresent(every -> WhenParser.between(map, PlaceSection.LOOK.name(), every, Duration.ofSeconds(1)));
        return look;
    }

    private static Optional<NameList> list(YamlMap place) {
        boolean isText = place.isText("list");
        YamlMap map = isText ? place : Listed.SECTION.check(place.map("list"));
        String file = map.required(isText ? "list" : "file", "Name the file that holds the list");
        if (isText) {
            return Optional.of(new NameList(
                    file, Optional.empty(), Optional.empty(), StandardCharsets.UTF_8, Optional.empty(), true));
        }
        if (!map.has("column")) {
            map.keys().stream()
                    .filter(List.of("separator", "sheet")::contains)
                    .findFirst()
                    .ifPresent(key -> map.wrongKey(
                            key,
                            "'" + key + "' goes with a column only",
                            "Name it with `column`; without one each line is a name"));
        }
        return Optional.of(new NameList(
                file,
                Listed.COLUMN.in(map),
                Listed.SEPARATOR.in(map),
                Listed.ENCODING.in(map),
                Listed.SHEET.in(map),
                !Listed.REPORT_MISSING.in(map)));
    }

    /** Patterns and regular expressions, mixed as people like. */
    private static List<NamePattern> names(YamlMap map, String key, boolean anyCase, int depth) {
        List<NamePattern> names = new ArrayList<>();
        map.words(key).forEach(item -> name(item, anyCase, depth).ifPresent(names::add));
        return names;
    }

    private static Optional<NamePattern> name(YamlMap item, boolean anyCase, int depth) {
        boolean isRegex = item.has("regex");
        if (!item.isWord()) {
            PlaceSection.NAME_SECTION.check(item);
        }
        String text = isRegex
                ? item.text("regex", "")
                : item.isWord() ? item.keys().iterator().next() : "";
        if (!isRegex && !item.isWord()) {
            return Optional.empty(); // reported above as unknown
        }
        try {
            NamePattern name = isRegex ? NamePattern.regex(text, anyCase) : NamePattern.of(text, anyCase);
            boolean folders = name.archive().map(NamePattern::hasFolders).orElseGet(name::hasFolders);
            if (folders && depth == 0) {
                item.wrong("the pattern '" + text + "' speaks of subfolders, and depth is 0", "Add `depth: 1` or more");
            }
            return Optional.of(name);
        } catch (IllegalArgumentException wrong) {
            item.wrong(wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static Optional<FindRule> size(YamlMap place) {
        YamlMap map = Size.SECTION.check(place.map("size"));
        long from = bytes(map, "from", 0);
        long to = bytes(map, "to", Long.MAX_VALUE);
        if (from > to) {
            map.wrong("'from' is larger than 'to'", "");
        }
        String written = (map.has("from") ? "from " + map.text("from", "") : "")
                + (map.has("from") && map.has("to") ? " " : "")
                + (map.has("to") ? "to " + map.text("to", "") : "");
        return Optional.of(new FindRule.Size(from, to, written));
    }

    private static long bytes(YamlMap map, String key, long fallback) {
        try {
            return map.has(key) ? ByteSize.parse(map.text(key, "")) : fallback;
        } catch (IllegalArgumentException wrong) {
            map.wrong(key, wrong.getMessage(), "");
            return fallback;
        }
    }

    private static Optional<TimeRange> range(YamlMap place, String key) {
        try {
            return place.text(key).map(TimeRange::of);
        } catch (IllegalArgumentException wrong) {
            place.wrong(key, wrong.getMessage(), "");
            return Optional.empty();
        }
    }

    private static Optional<FindRule> rank(YamlMap place) {
        boolean isText = place.isText("rank");
        YamlMap map = isText ? place : Rank.SECTION.check(place.map("rank"));
        String key = isText ? "rank" : "keep";
        String text = map.required(key, "Write `newest 3`");
        boolean perFolder = !isText && Rank.PER_FOLDER.in(map);
        Matcher words = RANK_FORM.matcher(text);
        if (map.has(key) && !words.matches()) {
            map.wrong(key, "'" + text + "' is not a rank", "Write `newest 3`, `oldest 1`, `largest 1` or `smallest 2`");
        }
        return words.matches()
                ? Optional.of(new FindRule.Rank(
                        FindRule.Order.valueOf(words.group(1).toUpperCase(Locale.ROOT)),
                        Integer.parseInt(words.group(2)),
                        perFolder))
                : Optional.empty();
    }
}
