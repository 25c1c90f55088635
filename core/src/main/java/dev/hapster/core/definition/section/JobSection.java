package dev.hapster.core.definition.section;

import dev.hapster.core.definition.Handling.Load;
import dev.hapster.core.definition.Handling.Then;
import dev.hapster.core.definition.Handling.Within;
import dev.hapster.core.definition.Values;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shape;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.definition.yaml.YamlMap;
import java.time.Duration;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of a job's file, in the order in which files give them. */
public final class JobSection {

    private JobSection() {}

    /** The keys of {@code duplicates}. */
    public static final class Duplicate {
        public static final Key<List<String>> BY = Key.of(
                "by",
                Shapes.texts(),
                List.of("key"),
                "`key`, the dataset's key; a list of columns; or `row`, all columns");
        public static final Key<Within> WITHIN = Key.of(
                "within", Shapes.word(Within.class), Within.FILE, "among which rows: `file`, `run` or `dataset`");
        public static final Key<Then> THEN = Key.of(
                "then",
                Shapes.word(Then.class),
                Then.REJECT,
                "`reject` the later row; `keep_first`, `keep_last`: the others are left out (_repeated_, with where "
                        + "the one stands that stays); `count`: all are loaded, and counted");

        public static final Section SECTION = Section.of(BY, WITHIN, THEN);

        private Duplicate() {}
    }

    /** The keys of {@code rejects}. */
    public static final class Limit {
        public static final Key<Optional<String>> FILE_AT = Key.of(
                "file_at",
                Shapes.some(),
                Optional.<String>empty(),
                "so many rejected rows (`100 rows`, `5%`) reject the whole file (`limit-reached`)");
        public static final Key<Optional<String>> RUN_AT = Key.of(
                "run_at",
                Shapes.some(),
                Optional.<String>empty(),
                "so many rejected files (`3 files`, `20%`) stop the run; where its files are committed together, the "
                        + "dataset is as it was");
        public static final Key<Boolean> REJECT_UNUSUAL = Key.of(
                "unusual",
                Shapes.either("note", "reject"),
                false,
                "`note` points out a file with less than a third or more than three times the rows of its like (those "
                        + "whose paths differ in digits only; three are needed to tell); `reject` rejects it. "
                        + "`run --again FILE` loads it nevertheless");

        public static final Section SECTION = Section.of(FILE_AT, RUN_AT, REJECT_UNUSUAL);

        private Limit() {}
    }

    /** The keys of what becomes of a file, where a word does not do. */
    public static final class Route {
        public static final Key<Optional<String>> MOVE = Key.of(
                "move",
                Shapes.some(),
                Optional.<String>empty(),
                "to which folder, with pieces such as `{run:yyyy-MM}`");
        public static final Key<Optional<String>> COPY =
                Key.of("copy", Shapes.some(), Optional.<String>empty(), "to which folder it is copied");
        public static final Key<String> AS =
                Key.of("as", Shapes.text(), "", "the name there, such as `{stem}-{run}{ending}`");
        public static final Key<Optional<String>> DELETE = Key.of(
                "delete",
                Shapes.some(),
                Optional.<String>empty(),
                "`even with rejects` deletes files also where rows of them are rejected");

        public static final Section SECTION = Section.of(MOVE, COPY, AS, DELETE);

        private static final Shape<Boolean> SHAPE =
                Shapes.form(Map.of("oneOf", List.of(Map.of("enum", List.of("leave", "delete")), SECTION.schema())));

        private Route() {}
    }

    /** The keys of {@code after}. */
    public static final class After {
        public static final Key<Boolean> LOADED = Key.of("loaded", Route.SHAPE, false, "what becomes of loaded files");
        public static final Key<Boolean> REJECTED = Key.of(
                "rejected", Route.SHAPE, false, "what becomes of rejected files; their reasons stand beside them");
        public static final Key<Boolean> WAITING =
                Key.of("waiting", Route.SHAPE, false, "what becomes of files that are not complete");

        public static final Section SECTION = Section.of(LOADED, REJECTED, WAITING);

        private After() {}
    }

    /** The keys of {@code faults}. */
    public static final class Faults {
        private static final int MOST_TRIES = 100;

        public static final Key<Integer> TRIES =
                Key.of("tries", Shapes.whole(2, MOST_TRIES), 3, "runs in all, the first included");
        public static final Key<String> PAUSE = Key.of(
                "pause",
                Shapes.text(),
                "30s to 10 min",
                "how long it waits before the second run, and at most; each pause is twice as long as the one before");

        public static final Section SECTION = Section.of(TRIES, PAUSE);

        private Faults() {}
    }

    /** The keys of {@code when}. */
    public static final class Starts {
        public static final Key<List<String>> CRON = Key.of(
                "cron",
                Shapes.texts(),
                List.<String>of(),
                "times by the clock, five fields: minute, hour, day of the month, month, day of the week, such as "
                        + "`0 6 1 */3 *`; or a list of them");
        public static final Key<Optional<String>> EVERY = Key.of(
                "every",
                Shapes.some(),
                Optional.<String>empty(),
                "every so often, such as `15 min`, counted from midnight, each day anew");
        public static final Key<Boolean> ARRIVAL = Key.of(
                "arrival", Shapes.flag(), false, "`true`: as soon as complete files are there that are new or changed");
        public static final Key<Duration> LOOK = Key.of(
                "look",
                Shapes.duration(),
                Duration.ofMinutes(1),
                "with `arrival`: how often the folders are looked at, besides being watched");
        public static final Key<List<String>> AFTER = Key.of(
                "after",
                Shapes.texts(),
                List.<String>of(),
                "a job, or a list of jobs: after each run of them that ends as finished");
        public static final Key<Optional<ZoneId>> ZONE = Key.of(
                "zone",
                Shapes.zone(),
                Optional.<ZoneId>empty(),
                "time zone of times and days, such as `Europe/Vienna`; without one the machine's");
        public static final Key<Optional<String>> NOT_BEFORE = Key.of(
                "not_before",
                Shapes.some(),
                Optional.<String>empty(),
                "nothing starts by itself earlier: `2027-01-01` or `2027-01-01T06:00`");
        public static final Key<List<String>> NOT_ON = Key.of(
                "not_on",
                Shapes.texts(),
                List.<String>of(),
                "days on which nothing starts by itself: `2026-12-25`, `2026-12-24 to 2027-01-06`, a list of them, or "
                        + "one text with commas between, so that `${holidays}` of values.yaml can stand for it");
        public static final Key<Boolean> CATCH_UP = Key.of(
                "missed",
                Shapes.either("skip", "once"),
                true,
                "what becomes of times that came while the service was down or the job was paused: `once` makes up for "
                        + "all of them by one run, `skip` leaves them out");

        public static final Section SECTION =
                Section.of(CRON, EVERY, ARRIVAL, LOOK, AFTER, ZONE, NOT_BEFORE, NOT_ON, CATCH_UP);

        private Starts() {}
    }

    public static final Key<String> JOB =
            Key.of("job", Shapes.matching(DatasetSection.FILE_NAME_RULE), "", "its name, the same as the file's");
    public static final Key<String> ABOUT = Key.of("about", Shapes.text(), "", "what it does, for people");
    public static final Key<String> INTO = Key.of("into", Shapes.text(), "", "the dataset that it loads into");
    public static final Key<Boolean> VALUES = Key.of(
            "values",
            Shapes.form(Map.of(
                    "type",
                    "object",
                    "propertyNames",
                    Map.of("pattern", "^" + Values.NAME_RULE + "$"),
                    "additionalProperties",
                    Shapes.scalar())),
            false,
            "what `${name}` stands for in this file, where nobody says otherwise");
    public static final Key<Boolean> FIND = Key.of(
            "find",
            Shapes.form(Map.of("type", "array", "minItems", 1, "items", place())),
            false,
            "the places where its files are: folders with rules");
    public static final Key<Optional<YamlMap>> READ =
            Key.of("read", Shapes.section(ReadSection.SECTION), Optional.<YamlMap>empty(), "how bytes become rows");
    public static final Key<Boolean> MAP = Key.of(
            "map",
            Shapes.form(Map.of(
                    "type",
                    "object",
                    "additionalProperties",
                    Map.of("oneOf", List.of(Shapes.scalar(), MappingSection.SECTION.schema())))),
            false,
            "how columns of the dataset come about; one that is not named is taken from the source's column of the "
                    + "same name");
    public static final Key<List<String>> KEEP = Key.of(
            "keep",
            Shapes.texts(),
            List.<String>of(),
            "a condition (CEL), or a list of them, that a row must satisfy; other rows are set aside");
    public static final Key<Optional<YamlMap>> DUPLICATES = Key.of(
            "duplicates",
            Shapes.section(Duplicate.SECTION),
            Optional.<YamlMap>empty(),
            "what is done with rows that are there already");
    public static final Key<Load> LOAD = Key.of(
            "load",
            Shapes.word(Load.class),
            Load.BY_FILE,
            "how rows get into the dataset, and so what a second run does");
    public static final Key<Optional<String>> NEWEST_BY = Key.of(
            "newest_by",
            Shapes.some(),
            Optional.<String>empty(),
            "with `load: update`, the column that says which row of a key is the newest; without it the order of "
                    + "arrival does");
    public static final Key<Boolean> NAME_ADDS = Key.of(
            "same_name",
            Shapes.either("replaces", "adds"),
            false,
            "what another content under the name of a loaded file does: it `replaces` its rows, or `adds` to them");
    public static final Key<List<String>> DELETED = Key.of(
            "deleted",
            Shapes.texts(),
            List.<String>of(),
            "with `load: update`, a condition (CEL) for rows that say that the row of their key is to go");
    public static final Key<Boolean> TOGETHER = Key.of(
            "commit",
            Shapes.either("by_file", "together"),
            false,
            "whether each file counts by itself, or all files of a run at once: `together`");
    public static final Key<Optional<YamlMap>> REJECTS =
            Key.of("rejects", Shapes.section(Limit.SECTION), Optional.<YamlMap>empty(), "how much is too much");
    public static final Key<Optional<YamlMap>> AFTER =
            Key.of("after", Shapes.section(After.SECTION), Optional.<YamlMap>empty(), "what becomes of the files");
    public static final Key<Optional<YamlMap>> WHEN =
            Key.of("when", Shapes.section(Starts.SECTION), Optional.<YamlMap>empty(), "when it runs by itself");
    public static final Key<Optional<YamlMap>> DUE = Key.of(
            "due",
            Shapes.section(DueSection.SECTION),
            Optional.<YamlMap>empty(),
            "which files are to arrive, and by when");

    public static final Key<Optional<YamlMap>> FAULTS = Key.of(
            "faults",
            Shapes.section(Faults.SECTION),
            Optional.<YamlMap>empty(),
            "whether, and how often, a run that failed for a fault that may pass is tried again "
                    + "([schedules](schedules.md#tried-again))");

    public static final Section SECTION = Section.of(
                    JOB,
                    ABOUT,
                    INTO,
                    VALUES,
                    FIND,
                    READ,
                    MAP,
                    KEEP,
                    DUPLICATES,
                    LOAD,
                    NEWEST_BY,
                    NAME_ADDS,
                    DELETED,
                    TOGETHER,
                    REJECTS,
                    AFTER,
                    WHEN,
                    DUE,
                    FAULTS,
                    NotifySection.NOTIFY)
            .requiring(JOB, INTO, FIND);

    private static Map<String, Object> place() {
        Map<String, Object> schema = new LinkedHashMap<>(PlaceSection.SECTION.schema());
        List<Map<String, Object>> either = new ArrayList<>();
        either.add(Map.of("required", List.of(PlaceSection.TAKE.name())));
        either.add(Map.of("required", List.of(PlaceSection.LIST.name())));
        schema.put("anyOf", either);
        return schema;
    }
}
