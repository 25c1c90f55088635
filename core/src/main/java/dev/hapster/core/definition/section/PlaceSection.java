package dev.hapster.core.definition.section;

import dev.hapster.core.definition.Completeness;
import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.read.Format;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.ZoneId;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of a place of {@code find}: a folder with its rules. */
public final class PlaceSection {

    private PlaceSection() {}

    /** The keys of a file that names the files. */
    public static final class Listed {
        public static final Key<String> FILE = Key.of(
                "file", Shapes.text(), "", "text, delimited text or workbook; absolute, or relative to the workspace");
        public static final Key<Optional<String>> COLUMN = Key.of(
                "column",
                Shapes.some(),
                Optional.<String>empty(),
                "the column that holds the names; without one, each line is a name");
        public static final Key<Optional<Character>> SEPARATOR = Key.of(
                "separator",
                Shapes.character(',').optional(','),
                Optional.<Character>empty(),
                "of a delimited file; without one it is detected from the header");
        public static final Key<Charset> ENCODING =
                Key.of("encoding", Shapes.encoding(), StandardCharsets.UTF_8, "any that Java knows");
        public static final Key<Optional<String>> SHEET = Key.of(
                "sheet",
                Shapes.some(),
                Optional.<String>empty(),
                "of a workbook: its name, or its position counted from 1; without one the first");
        public static final Key<Boolean> REPORT_MISSING = Key.of(
                "missing",
                Shapes.either("stop", "report"),
                false,
                "what a name with no file behind it does: `stop` the run, or `report` it");

        public static final Section SECTION = Section.of(FILE, COLUMN, SEPARATOR, ENCODING, SHEET, REPORT_MISSING)
                .requiring(FILE);

        private Listed() {}
    }

    /** The bounds of {@code size}. */
    public static final class Size {
        public static final Key<Optional<String>> FROM =
                Key.of("from", Shapes.some(), Optional.<String>empty(), "the least size, such as `1 kB`");
        public static final Key<Optional<String>> TO =
                Key.of("to", Shapes.some(), Optional.<String>empty(), "the greatest size, such as `10 MiB`");

        public static final Section SECTION = Section.of(FROM, TO);

        private Size() {}
    }

    /** The long form of {@code rank}. */
    public static final class Rank {
        public static final Key<String> KEEP = Key.of("keep", Shapes.text(), "", "`newest 3` and the like");
        public static final Key<Boolean> PER_FOLDER = Key.of(
                "per", Shapes.either("all", "folder"), false, "whether so many of `all` files, or of each `folder`");

        public static final Section SECTION = Section.of(KEEP, PER_FOLDER).requiring(KEEP);

        private Rank() {}
    }

    /** A name given as a regular expression. */
    public static final Key<String> REGEX = Key.of("regex", Shapes.text(), "", "a regular expression (RE2)");
    /** A sheet given by its position. */
    public static final Key<String> POSITION = Key.of("position", Shapes.text(), "", "counted from 1, or `last`");

    public static final Section NAME_SECTION = Section.of(REGEX).requiring(REGEX);
    public static final Section SHEET_SECTION = Section.of(POSITION).requiring(POSITION);

    private static final Map<String, Object> PATTERN =
            Map.of("oneOf", List.of(Map.of("type", "string"), NAME_SECTION.schema()));
    private static final Map<String, Object> SHEET = Map.of("anyOf", List.of(PATTERN, SHEET_SECTION.schema()));

    public static final Key<String> FOLDER = Key.of(
            "folder",
            Shapes.text(),
            "",
            "absolute, or relative to the workspace; below the workspace or a folder given with `--root`; or "
                    + "[on another machine](elsewhere.md)");
    public static final Key<Optional<String>> NAME = Key.of(
            "name",
            Shapes.some(),
            Optional.<String>empty(),
            "by which the place and its files are known, wherever the folder lies; without one they are known by "
                    + "the folder ([model](model.md#four-words))");
    public static final Key<Boolean> LIST = Key.of(
            "list",
            Shapes.form(Map.of("oneOf", List.of(Map.of("type", "string", "minLength", 1), Listed.SECTION.schema()))),
            false,
            "a file that names the files, each relative to the folder, instead of searching: its path, or "
                    + "`{file, column, separator, encoding, sheet, missing: stop or report}`");
    public static final Key<Integer> DEPTH =
            Key.of("depth", Shapes.whole(0, 32), 0, "levels of subfolders to search; 0 is the folder alone");
    public static final Key<Boolean> TAKE = Key.of(
            "take",
            Shapes.form(Shapes.oneOrMore(PATTERN, 1)),
            false,
            "names to take: patterns with `*` `?` `[a-z]` `[!a-z]` `{a,b}` `**`, pieces such as `{lab}` and "
                    + "`{month:yyyy-MM}`, or `{regex: …}`; at least one, where there is no `list`");
    public static final Key<Boolean> SKIP =
            Key.of("skip", Shapes.form(Shapes.oneOrMore(PATTERN, 1)), false, "names not to take, written the same way");
    public static final Key<Boolean> ANY_CASE =
            Key.of("any_case", Shapes.flag(), false, "whether upper and lower case are the same in names");
    public static final Key<Boolean> SIZE = Key.of(
            "size",
            Shapes.form(withLeast(Size.SECTION.schema(), 1)),
            false,
            "`{from: 1 kB, to: 10 MB}`, both included; kB, MB and GB count 1000, KiB, MiB and GiB 1024");
    public static final Key<Optional<String>> MODIFIED = Key.of(
            "modified",
            Shapes.some(),
            Optional.<String>empty(),
            "when the file was last written: `last 7 days`, `last month`, `since 2026-01-01`, "
                    + "`2026-01-01 to 2026-03-31`, …");
    public static final Key<Optional<String>> CREATED = Key.of(
            "created",
            Shapes.some(),
            Optional.<String>empty(),
            "the same words: when it came into being on this file system");
    public static final Key<Optional<ZoneId>> ZONE = Key.of(
            "zone",
            Shapes.zone(),
            Optional.<ZoneId>empty(),
            "time zone in which days begin and end, such as `Europe/Vienna`; without one the machine's");
    public static final Key<Boolean> RANK = Key.of(
            "rank",
            Shapes.form(Map.of("oneOf", List.of(Map.of("type", "string"), Rank.SECTION.schema()))),
            false,
            "only the first few: `newest 3`, `oldest 1`, `largest 1`, `smallest 2`; or "
                    + "`{keep: newest 1, per: folder}`");
    public static final Key<Duration> SETTLE = Key.of(
            "settle",
            Shapes.duration(),
            Completeness.SETTLE,
            "how long a file's size and time must have been still before it counts as complete");
    public static final Key<Optional<Duration>> LOOK = Key.of(
            "look",
            Shapes.duration().optional(Duration.ofMinutes(1)),
            Optional.<Duration>empty(),
            "with `when: {arrival: true}`: how often this folder is looked at, where not as often as `when` says "
                    + "([schedules](schedules.md#when-files-arrive))");
    public static final Key<Boolean> UNFINISHED = Key.of(
            "unfinished",
            Shapes.form(Shapes.oneOrMore(PATTERN, 0)),
            false,
            "names that mark unfinished files; without it `*.part`, `*.tmp`, `~$*` and `.~lock*`");
    public static final Key<Boolean> SHEETS = Key.of(
                    "sheets",
                    Shapes.form(Shapes.oneOrMore(SHEET, 1)),
                    false,
                    "which sheets of workbooks to take, by name, pattern or `{position: 1}`; without it all "
                            + "([reading.md](reading.md#workbooks-as-workbook))")
            .with(Format.WORKBOOK);
    public static final Key<Boolean> SKIP_SHEETS = Key.of(
                    "skip_sheets", Shapes.form(Shapes.oneOrMore(PATTERN, 1)), false, "names of sheets not to take")
            .with(Format.WORKBOOK);
    public static final Key<Boolean> LOAD_COPIES = Key.of(
            "copies",
            Shapes.either("reject", "load"),
            false,
            "what becomes of a file that has the same content as another one of the job: `reject`, or `load`");
    public static final Key<Integer> SCAN_AT_MOST = Key.of(
            "scan_at_most",
            Shapes.whole(1, 10_000_000),
            Place.MOST_ENTRIES,
            "entries (files and folders) that are looked at before the search is given up");

    public static final Section SECTION = Section.of(
                    FOLDER,
                    NAME,
                    LIST,
                    DEPTH,
                    TAKE,
                    SKIP,
                    ANY_CASE,
                    SIZE,
                    MODIFIED,
                    CREATED,
                    ZONE,
                    RANK,
                    SETTLE,
                    LOOK,
                    UNFINISHED,
                    SHEETS,
                    SKIP_SHEETS,
                    LOAD_COPIES,
                    SCAN_AT_MOST)
            .requiring(FOLDER);

    /** The keys that are rules: they act in the order in which a file gives them. */
    public static final List<String> RULES =
            Section.of(TAKE, SKIP, SIZE, MODIFIED, CREATED, RANK).names();

    private static Map<String, Object> withLeast(Map<String, Object> schema, int least) {
        Map<String, Object> more = new LinkedHashMap<>(schema);
        more.put("minProperties", least);
        return more;
    }
}
