package dev.hapster.core.definition.section;

import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.key.Shapes;
import dev.hapster.core.due.Each;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** The keys of {@code due} in a job. */
public final class DueSection {

    public static final Key<Each> EACH =
            Key.of("each", Shapes.word(Each.class), Each.DAY, "for which periods files are due");
    public static final Key<Optional<String>> DATED = Key.of(
            "dated",
            Shapes.some(),
            Optional.<String>empty(),
            "the piece of names, such as `{month:yyyy-MM}`, that says which period a file is about; not needed where "
                    + "names have one date. `arrival`: a file belongs to the period in which it arrives");
    public static final Key<Boolean> FACTS = Key.of(
            "facts",
            Shapes.form(Map.of(
                    "type",
                    "object",
                    "additionalProperties",
                    Map.of("oneOf", List.of(Shapes.scalar(), Map.of("type", "array", "items", Shapes.scalar()))))),
            false,
            "other pieces of names, and all that they are to say in each period: `{lab: [north, east]}`. Files of each "
                    + "combination are due");
    public static final Key<Optional<String>> BY = Key.of(
            "by",
            Shapes.some(),
            Optional.<String>empty(),
            "when they are late: `day 5 08:00`, `last day`, `Tuesday 12:00`, `08:00`. Files that bear the date of a "
                    + "period are awaited in the one after it, or with `of the same month` behind it within their own. "
                    + "Without it, at the end of the period in which they are awaited");
    public static final Key<String> FILES = Key.of(
            "files",
            Shapes.text(),
            "at least 1",
            "how many are due for each period and combination: `3`, `at least 1`, `2 to 4`, `at most 9`");
    public static final Key<Optional<String>> ROWS = Key.of(
            "rows",
            Shapes.some(),
            Optional.<String>empty(),
            "how many rows these usually have together, in the same words; otherwise they are unusual");
    public static final Key<Optional<String>> FROM = Key.of(
            "from",
            Shapes.some(),
            Optional.<String>empty(),
            "the first period for which files are due, such as `2026-01`; without it the first for which one arrived, "
                    + "or in which the job first ran");
    public static final Key<Optional<String>> UNTIL =
            Key.of("until", Shapes.some(), Optional.<String>empty(), "the last period for which files are due");
    public static final Key<List<String>> NOT_FOR = Key.of(
            "not_for",
            Shapes.texts(),
            List.<String>of(),
            "periods for which nothing is due: `2026-08`, `2026-12-24 to 2027-01-06`, a list of them, or texts with "
                    + "commas; with `each: day` also days of the week, such as `Sunday`");
    public static final Key<Optional<ZoneId>> ZONE = Key.of(
            "zone",
            Shapes.zone(),
            Optional.<ZoneId>empty(),
            "time zone of times and days, such as `Europe/Vienna`; without it the machine's");

    public static final Section SECTION = Section.of(EACH, DATED, FACTS, BY, FILES, ROWS, FROM, UNTIL, NOT_FOR, ZONE);

    private DueSection() {}
}
