package dev.hapster.core.definition.parse;

import dev.hapster.core.definition.JobDef.Place;
import dev.hapster.core.definition.key.Key;
import dev.hapster.core.definition.section.DueSection;
import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.yaml.Nearest;
import dev.hapster.core.definition.yaml.YamlMap;
import dev.hapster.core.due.Amount;
import dev.hapster.core.due.By;
import dev.hapster.core.due.Due;
import dev.hapster.core.due.Due.Periods;
import dev.hapster.core.due.Each;
import dev.hapster.core.pattern.NamePattern;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/** Reads what a job's file says of what is to arrive. */
final class DueParser {

    private static final int MOST_COMBINATIONS = 1000;
    private static final int MOST_FILES = 1_000_000;
    private static final String ARRIVAL = "arrival";

    private final YamlMap map;
    private final Each each;
    private final List<NamePattern> names;

    private DueParser(YamlMap map, List<NamePattern> names) {
        this.map = map;
        this.names = names;
        each = DueSection.EACH.in(map);
    }

    /** @param places in which the job's files are found */
    static Optional<Due> due(YamlMap root, Collection<Place> places) {
        if (!root.has(JobSection.DUE.name())) {
            return Optional.empty();
        }
        List<NamePattern> names = places.stream()
                .flatMap(place -> place.naming().stream())
                .distinct()
                .toList();
        return Optional.of(new DueParser(JobSection.DUE.in(root).orElseThrow(), names).due());
    }

    private Due due() {
        Optional<LocalDate> from = period(DueSection.FROM);
        Optional<LocalDate> until = period(DueSection.UNTIL);
        if (from.isPresent() && until.filter(last -> last.isBefore(from.get())).isPresent()) {
            map.wrong(DueSection.UNTIL.name(), "'until' lies before 'from'", "");
        }
        Set<DayOfWeek> notOn = EnumSet.noneOf(DayOfWeek.class);
        Amount files = amount(DueSection.FILES.name(), DueSection.FILES.in(map));
        if (files.least() > MOST_FILES) {
            map.wrong(DueSection.FILES.name(), "'files' must not be more than " + MOST_FILES, "");
            files = Amount.SOME;
        }
        return new Due(
                each,
                dated(),
                facts(),
                by(),
                files,
                DueSection.ROWS
                        .in(map)
                        .map(text -> amount(DueSection.ROWS.name(), text))
                        .orElse(Amount.ANY),
                from,
                until,
                notFor(notOn),
                notOn,
                DueSection.ZONE.in(map).orElse(ZoneId.systemDefault()));
    }

    private Set<String> pieces(Function<NamePattern, List<String>> which) {
        Set<String> all = new LinkedHashSet<>();
        names.forEach(name -> all.addAll(which.apply(name)));
        return all;
    }

    private Optional<String> dated() {
        Set<String> dates = pieces(NamePattern::dates);
        Optional<String> written = DueSection.DATED.in(map);
        if (written.filter(ARRIVAL::equals).isPresent()) {
            return Optional.empty();
        }
        if (written.isPresent() && !dates.contains(written.get())) {
            boolean text = pieces(NamePattern::facts).contains(written.get());
            map.wrong(
                    DueSection.DATED.name(),
                    text
                            ? "the piece {" + written.get() + "} is not a date"
                            : "no name pattern of the job has a piece {" + written.get() + "}",
                    Nearest.word(written.get(), dates)
                            .map(near -> "Did you mean '" + near + "'?")
                            .orElse("Write it into `take` as {" + written.get() + ":" + form()
                                    + "}, or `dated: arrival`"));
            return Optional.empty();
        }
        if (written.isEmpty() && dates.size() > 1) {
            map.wrong(
                    "names have several dates (" + String.join(", ", dates) + "), and 'due' does not say by which of "
                            + "them files are due",
                    "Write `dated: " + dates.iterator().next() + "`, or `dated: arrival`");
            return Optional.empty();
        }
        Optional<String> dated = written.or(() -> dates.stream().findFirst());
        if (dated.isPresent() && !DueSection.EACH.isIn(map)) {
            map.wrong("'due' does not say for which periods files are due", "Write `each: month`, for example");
        }
        return dated;
    }

    private String form() {
        return switch (each) {
            case DAY -> "yyyy-MM-dd";
            case WEEK -> "YYYY-'W'ww";
            case MONTH -> "yyyy-MM";
            case QUARTER -> "yyyy-'Q'Q";
            case YEAR -> "yyyy";
        };
    }

    private Map<String, List<String>> facts() {
        Map<String, List<String>> all = new LinkedHashMap<>();
        if (!map.has(DueSection.FACTS.name())) {
            return all;
        }
        YamlMap facts = map.map(DueSection.FACTS.name());
        Set<String> known = pieces(NamePattern::facts);
        Set<String> dates = pieces(NamePattern::dates);
        long combinations = 1;
        for (String piece : facts.keys()) {
            if (!known.contains(piece)) {
                facts.wrongKey(
                        piece,
                        "no name pattern of the job has a piece {" + piece + "}",
                        Nearest.word(piece, known)
                                .map(near -> "Did you mean '" + near + "'?")
                                .orElse("Write it into `take`: take: [\"{" + piece + "}-*.csv\"]"));
                continue;
            }
            if (dates.contains(piece)) {
                facts.wrongKey(piece, "{" + piece + "} is a date", "`each`, `from` and `until` say which are due");
                continue;
            }
            Set<String> values = new LinkedHashSet<>(split(facts.texts(piece)));
            if (values.isEmpty()) {
                facts.wrong(piece, "'" + piece + "' names nothing", "Write `" + piece + ": [north, east]`");
            }
            combinations *= Math.min(values.size(), MOST_COMBINATIONS + 1);
            if (combinations > MOST_COMBINATIONS) {
                facts.wrong(piece, "files of more than " + MOST_COMBINATIONS + " combinations would be due", "");
                return Map.of();
            }
            all.put(piece, List.copyOf(values));
        }
        return all;
    }

    private static List<String> split(List<String> texts) {
        return texts.stream()
                .flatMap(text -> Arrays.stream(text.split(",")))
                .map(String::strip)
                .filter(text -> !text.isEmpty())
                .toList();
    }

    private By by() {
        Optional<String> written = DueSection.BY.in(map);
        if (written.isEmpty()) {
            return By.END;
        }
        try {
            return By.of(written.get(), each);
        } catch (IllegalArgumentException wrong) {
            map.wrong(
                    DueSection.BY.name(),
                    wrong.getMessage(),
                    switch (each) {
                        case DAY -> "Write it like \"08:00\"";
                        case WEEK -> "Write it like \"Tuesday 08:00\"";
                        default ->
                            "Write it like \"day 5 08:00\", \"last day\", or \"day 20 of the same " + each.word()
                                    + "\"";
                    });
            return By.END;
        }
    }

    private Amount amount(String key, String text) {
        try {
            return Amount.of(text);
        } catch (IllegalArgumentException wrong) {
            map.wrong(key, wrong.getMessage(), "Write it like 3, at least 1, at most 9, or 100 to 10000");
            return Amount.ANY;
        }
    }

    private Optional<LocalDate> period(Key<Optional<String>> key) {
        return key.in(map).flatMap(text -> period(key.name(), text));
    }

    private Optional<LocalDate> period(String key, String text) {
        Optional<LocalDate> start = each.parse(text);
        if (start.isEmpty()) {
            map.wrong(
                    key,
                    "'" + text + "' is not a " + each.word(),
                    "Write it like " + each.name(each.start(LocalDate.of(2026, 3, 1))));
        }
        return start;
    }

    /** @param notOn takes the days of the week among them */
    private List<Periods> notFor(Set<DayOfWeek> notOn) {
        List<Periods> all = new ArrayList<>();
        for (String text : split(DueSection.NOT_FOR.in(map))) {
            Optional<DayOfWeek> weekday = Arrays.stream(DayOfWeek.values())
                    .filter(day -> day.name().equals(text.toUpperCase(Locale.ROOT)))
                    .findFirst();
            if (weekday.isPresent() && each == Each.DAY) {
                notOn.add(weekday.get());
                continue;
            }
            String[] ends = text.split("\\s+to\\s+", 2);
            Optional<LocalDate> from = period(DueSection.NOT_FOR.name(), ends[0]);
            Optional<LocalDate> to = ends.length == 1 ? from : period(DueSection.NOT_FOR.name(), ends[1]);
            if (from.isPresent() && to.isPresent()) {
                if (to.get().isBefore(from.get())) {
                    map.wrong(DueSection.NOT_FOR.name(), "'" + text + "' ends before it begins", "");
                }
                all.add(new Periods(from.get(), to.get()));
            }
        }
        return all;
    }
}
